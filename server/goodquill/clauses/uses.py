"""Versions of clauses in blanks: the origin of a line names them."""

from __future__ import annotations

import re
from collections.abc import Iterable
from typing import NamedTuple
from uuid import UUID

from django.db.models import Q

from goodquill.changelog.entries import Line
from goodquill.changelog.models import FactEntry, Record
from goodquill.clauses.models import Clause, ClauseVersion, Use

_REF = re.compile(r"c-([0-9a-f]{32})\.([0-9]{1,6})(?:$|\s)")


class ClauseRef(NamedTuple):
    """A version of a clause."""

    clause: UUID
    number: int


def ref_to(clause: Clause | ClauseVersion) -> str:
    """Return how the origin of a line names a version of a clause, or a clause's newest."""
    key = clause.clause_id if isinstance(clause, ClauseVersion) else clause.pk
    return f"c-{key.hex}.{clause.number}"


def refs_in(origin: str) -> list[ClauseRef]:
    """Return the versions of clauses that an origin names."""
    return [ClauseRef(UUID(found[1]), int(found[2])) for found in _REF.finditer(origin)]


def keep_uses(record: Record, before: Iterable[Line], rows: Iterable[FactEntry]) -> None:
    """Keep, after lines were written, those ``before`` them replaced: what stands where now.  No query for
    lines that no clause had to do with."""
    gone = [line for line in before if refs_in(line.origin)]
    come = [row for row in rows if row.newest and refs_in(row.origin)]
    if gone:
        places = Q()
        for line in gone:
            places |= Q(scope=line.scope, key=line.key)
        Use.objects.filter(places, record=record).delete()
    if not come:
        return
    stated = [(row, ref) for row in come for ref in refs_in(row.origin)]
    known = set(Clause.objects.filter(pk__in={ref.clause for _, ref in stated}).values_list("pk", flat=True))
    Use.objects.bulk_create(
        Use(clause_id=ref.clause, number=ref.number, record=record, scope=row.scope, key=row.key)
        for row, ref in stated
        if ref.clause in known
    )
