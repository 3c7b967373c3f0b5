"""Between the kept entries and the core's ledger."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import Any

from quillcore.facts import Act, Entry, Ledger, Source, load_catalog
from quillcore.values import EMPTY, KINDS, Value

from goodquill.facts.models import FactEntry

KindOf = Callable[[str], str]


def to_core(row: FactEntry, kind_of: KindOf) -> Entry:
    """A kept line as the core reads it.  ``kind_of`` gives the value kind of a stored key."""
    source = Source(row.source) if row.source else None
    if row.act == "formula":
        return Entry(row.key, Act.FORMULA, row.pk, source, formula=row.value, origin=row.origin, locked=row.locked)
    if row.act in ("clear", "choose"):
        return Entry(row.key, Act(row.act), row.pk, source)
    value: Value = EMPTY if row.act == "empty" else KINDS[kind_of(row.key)].restore(row.value)
    return Entry(row.key, Act.STATE, row.pk, source, value, origin=row.origin, locked=row.locked)


def to_row(entry: Entry, kind_of: KindOf) -> FactEntry:
    """A core entry as an unsaved line; deal, offer and change are the caller's to set."""
    row = FactEntry(key=entry.key, source=entry.source or "", act=entry.act.value, origin=entry.origin[:200], locked=entry.locked)
    if entry.act is Act.FORMULA:
        row.value = entry.formula or ""
    elif entry.value is EMPTY:
        row.act = "empty"
    elif entry.value is not None:
        row.value = KINDS[kind_of(entry.key)].keep(entry.value)
    return row


def slot(row: FactEntry) -> str:
    """Which of a key's lines this one replaces."""
    return "chosen" if row.act == "choose" else row.source


def standing(rows: Iterable[FactEntry]) -> list[FactEntry]:
    """The newest line of each key's slot, as far as it states something."""
    newest = {(row.key, slot(row)): row for row in rows}
    return [row for row in newest.values() if row.act != "clear"]


def stated_anew(row: FactEntry, key: str, **scope: Any) -> FactEntry:
    """An unsaved line that says the same under a key elsewhere."""
    return FactEntry(key=key, source=row.source, act=row.act, value=row.value, origin=row.origin, locked=row.locked, **scope)


def says_the_same(one: FactEntry, other: FactEntry) -> bool:
    """Whether two lines of one slot leave the same in force."""
    return (one.act, one.value, one.source, one.locked) == (other.act, other.value, other.source, other.locked)


def build_ledger(side: str, profile: Iterable[Entry], rows: Iterable[FactEntry], kind_of: KindOf) -> Ledger:
    """The ledger of a deal: the profile's values below, then every line in order."""
    ledger = Ledger(load_catalog(), side, profile)
    for row in rows:
        ledger.add(to_core(row, kind_of))
    return ledger


def restoring(row: FactEntry, before: FactEntry | None) -> FactEntry:
    """The line that takes ``row`` back: what stood before it, or nothing."""
    undone = FactEntry(key=row.key, offer_id=row.offer_id, source=row.source, act="clear")
    if before is not None:
        undone.source, undone.act, undone.value = before.source, before.act, before.value
        undone.origin, undone.locked = before.origin, before.locked
    elif row.act == "choose":
        undone.source, undone.act = "", "choose"
    return undone
