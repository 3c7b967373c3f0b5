"""Clauses that a member may use, and what became of those that stand in a record."""

from __future__ import annotations

from collections.abc import Iterable
from typing import TYPE_CHECKING
from uuid import UUID

from django.db.models import Count, F, Q, QuerySet
from django.shortcuts import get_object_or_404
from quillcore.facts import load_catalog
from quillcore.facts.wording import read_wording
from quillcore.values import Fault

from goodquill.clauses.models import Clause, ClauseReach, ClauseVersion, Use
from goodquill.clauses.uses import ClauseRef, ref_to
from goodquill.http.limits import MOST_CLAUSES
from goodquill.offices.access import may_see_clauses, may_see_deals, may_write_clauses
from goodquill.offices.models import User

if TYPE_CHECKING:
    from goodquill.http import wire


def find_clause(user: User, clause: UUID, *, writing: bool = False) -> Clause:
    """Return one that the user may use, or change (locked, in a transaction); 404 for any other."""
    if writing:
        own = Clause.objects.filter(may_write_clauses(user), removed=False)
        return get_object_or_404(own.select_for_update(), pk=clause)
    rows = Clause.objects.filter(may_see_clauses(user), removed=False)
    return get_object_or_404(rows.select_related("owner", "office", "approved_by"), pk=clause)


def clauses_of(user: User, find: str = "") -> list[wire.Clause]:
    """Return those that the user may use, by name, with every word of ``find`` in name or wording.  Three
    queries."""
    rows = Clause.objects.filter(may_see_clauses(user), removed=False)
    for word in find.split()[:6]:
        rows = rows.filter(Q(name__icontains=word) | Q(wording__icontains=word))
    return rows_of(user, rows.select_related("owner", "office", "approved_by")[:MOST_CLAUSES])


def rows_of(user: User, clauses: Iterable[Clause]) -> list[wire.Clause]:
    """Return clauses as they are shown."""
    listed = list(clauses)
    used = used_in(user, [c.pk for c in listed])
    writable = set(
        Clause.objects.filter(may_write_clauses(user), pk__in=[c.pk for c in listed]).values_list(
            "pk", flat=True
        )
    )
    return [_row(c, used.get(c.pk, 0), c.pk in writable) for c in listed]


def used_in(user: User, clauses: list[UUID]) -> dict[UUID, int]:
    """Return in how many deals that the user may see each stands."""
    rows = _in_deals(user).filter(clause__in=clauses)
    return dict(rows.values_list("clause").annotate(n=Count("record", distinct=True)))


def _in_deals(user: User) -> QuerySet[Use]:
    return Use.objects.filter(may_see_deals(user, "record__deal__"), record__deal__template=None)


def _row(clause: Clause, used: int, may_write: bool) -> wire.Clause:
    catalog = load_catalog()
    parts = read_wording(clause.wording, catalog)
    known = () if isinstance(parts, Fault) else parts
    return {
        "id": clause.pk,
        "ref": ref_to(clause),
        "name": clause.name,
        "wording": clause.wording,
        "parts": [
            {"words": p.words, "key": p.key, "label": catalog.label_of(p.key) if p.key else ""} for p in known
        ],
        "reach": clause.reach,
        "of": {
            ClauseReach.MINE: clause.owner.name,
            ClauseReach.OFFICE: clause.office.name if clause.office else "",
        }.get(ClauseReach(clause.reach), ""),
        "number": clause.number,
        "approved_by": clause.approved_by.name if clause.approved_by else "",
        "approved_on": clause.approved_on,
        "used": used,
        "may_write": may_write,
    }


def whole_clause(user: User, clause: Clause) -> wire.WholeClause:
    """Return one with what it said before, and where it stands in deals that the user may see."""
    [row] = rows_of(user, [clause])
    versions = clause.versions.select_related("by")[:MOST_CLAUSES]
    uses = _in_deals(user).filter(clause=clause).order_by("record__deal__name", "pk")
    stands = uses.values_list("record__deal", "record__deal__name", "key", "number")
    return {
        **row,
        "versions": [
            {"number": v.number, "name": v.name, "wording": v.wording, "by": v.by.name, "at": v.at}
            for v in versions
        ],
        "uses": [
            {"deal": deal, "name": name, "label": load_catalog().label_of(key), "number": number}
            for deal, name, key, number in stands[:MOST_CLAUSES]
        ],
    }


def changed_since(user: User, refs: Iterable[ClauseRef]) -> list[ClauseVersion]:
    """Return, of versions of clauses in use, those whose clause has changed. One query, none without
    clauses."""
    wanted = set(refs)
    if not wanted:
        return []
    rows = ClauseVersion.objects.filter(
        may_see_clauses(user, "clause__"),
        clause__in={ref.clause for ref in wanted},
        clause__removed=False,
        number__lt=F("clause__number"),
    ).select_related("clause")
    return [v for v in rows if ClauseRef(v.clause_id, v.number) in wanted and v.wording != v.clause.wording]
