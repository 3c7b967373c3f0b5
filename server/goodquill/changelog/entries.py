"""Between the kept lines and the core's entries."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from functools import lru_cache
from typing import NamedTuple
from uuid import UUID

from django.db import connection
from django.db.models import QuerySet
from quillcore.facts import Act, Entry, Ledger, Source, load_catalog
from quillcore.values import EMPTY, KINDS, Value

from goodquill.changelog.models import FactEntry, Record

KindOf = Callable[[str], str]
Place = tuple[int | None, str, str]
"""Scope, key and slot: where a line stands, and the next one replaces it."""
CHOSEN = "chosen"


class Line(NamedTuple):
    """A kept line as it is read: what it says, without the model around it, since a deal has hundreds."""

    pk: int
    scope: int | None
    key: str
    slot: str
    source: str
    act: str
    value: str
    origin: str
    locked: bool


def read_lines(rows: QuerySet[FactEntry]) -> Iterator[Line]:
    """Return kept lines in the order in which they were written."""
    return map(Line._make, rows.order_by("pk").values_list(*Line._fields))


_NEWEST = """
SELECT id, scope, `key`, slot, source, act, value, origin, locked
FROM record_factentry WHERE record_id = %s AND newest = 1 ORDER BY id
"""
"""As text: each opening asks it, and a deal has hundreds of lines that the ORM would look at one by one."""


def newest_lines(record: UUID) -> list[Line]:
    """Return the lines of a record that nothing has replaced, in the order in which they were written."""
    with connection.cursor() as cursor:
        cursor.execute(_NEWEST, [str(record)])
        return [Line._make((*row[:-1], bool(row[-1]))) for row in cursor.fetchall()]


def line_of(row: FactEntry) -> Line:
    """Return a line that was just written."""
    return Line(*(getattr(row, name) for name in Line._fields))


def to_core(row: FactEntry | Line, kind_of: KindOf) -> Entry:
    """Return a kept line as the core reads it.  ``kind_of`` gives the value kind of a stored key."""
    line = row if isinstance(row, Line) else line_of(row)
    return _read(line, kind_of(row.key))


@lru_cache(maxsize=10_000)
def _read(row: Line, kind: str) -> Entry:
    """Return the entry of a line. A line never changes once it is written, and each save of a deal reads all
    that stand: so they are read once, for some fifty deals at hand."""
    source = Source(row.source) if row.source else None
    if row.act == "formula":
        return Entry(
            row.key, Act.FORMULA, row.pk, source, formula=row.value, origin=row.origin, locked=row.locked
        )
    if row.act in ("clear", "choose", "leave"):
        return Entry(row.key, Act(row.act), row.pk, source)
    value: Value = EMPTY if row.act == "empty" else KINDS[kind].restore(row.value)
    return Entry(row.key, Act.STATE, row.pk, source, value, origin=row.origin, locked=row.locked)


def to_row(entry: Entry, kind_of: KindOf, scope: int | None) -> FactEntry:
    """Return a core entry as an unsaved line; record and change are the step's to set."""
    row = FactEntry(
        key=entry.key,
        scope=scope,
        source=entry.source or "",
        act=entry.act.value,
        origin=entry.origin[:200],
        locked=entry.locked,
    )
    row.slot = CHOSEN if entry.act is Act.CHOOSE else row.source
    if entry.act is Act.FORMULA:
        row.value = entry.formula or ""
    elif entry.value is EMPTY:
        row.act = "empty"
    elif entry.value is not None:
        row.value = KINDS[kind_of(entry.key)].keep(entry.value)
    return row


def place_of(row: FactEntry | Line) -> Place:
    """Return where the line stands, and the next one replaces it."""
    return row.scope, row.key, row.slot


def standing(rows: Iterable[Line]) -> list[Line]:
    """Return those of the newest lines that state something."""
    return [row for row in rows if row.act != "clear"]


def stated_anew(row: Line, key: str, scope: int | None) -> FactEntry:
    """Return an unsaved line that says the same under a key elsewhere."""
    return FactEntry(
        key=key,
        scope=scope,
        slot=row.slot,
        source=row.source,
        act=row.act,
        value=row.value,
        origin=row.origin,
        locked=row.locked,
    )


def says_the_same(one: Line, other: Line) -> bool:
    """Return whether two lines of one place leave the same in force."""
    return (one.act, one.value, one.source, one.locked) == (
        other.act,
        other.value,
        other.source,
        other.locked,
    )


def restoring(row: Line, before: Line | None) -> FactEntry:
    """Return the line that takes ``row`` back: what stood before it, or nothing."""
    if before is not None:
        return stated_anew(before, row.key, row.scope)
    if row.slot == CHOSEN:
        return FactEntry(key=row.key, scope=row.scope, slot=CHOSEN, act="choose")
    return FactEntry(key=row.key, scope=row.scope, slot=row.slot, source=row.source, act="clear")


def build_ledger(side: str, profile: Iterable[Entry], rows: Iterable[Line], kind_of: KindOf) -> Ledger:
    """Return the ledger of a deal: the profile's values below, then every line in order."""
    ledger = Ledger(load_catalog(), side, profile)
    for row in rows:
        ledger.add(to_core(row, kind_of))
    return ledger


def stood_before(record: Record, rows: Iterable[Line]) -> dict[Place, Line]:
    """Return, for each of these lines, the line that it replaced; one query, over the lines of their keys
    alone."""
    first: dict[Place, int] = {}
    for row in rows:
        first[place_of(row)] = min(row.pk, first.get(place_of(row), row.pk))
    if not first:
        return {}
    earlier = FactEntry.objects.filter(
        record=record, key__in={key for _, key, _ in first}, pk__lt=max(first.values())
    )
    return {place_of(line): line for line in read_lines(earlier) if line.pk < first.get(place_of(line), 0)}
