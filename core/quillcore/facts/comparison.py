"""A comparison of the sources with the deal, before anything changes."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal

from quillcore.facts.catalog import Fact
from quillcore.facts.ledger import Act, Entry, Ledger, Source
from quillcore.values import Value
from quillcore.values.kinds import area_in_square_feet

APART = Decimal("0.05")
_ORDER = {"differs": 0, "kept": 1, "new": 2, "same": 3}


@dataclass(frozen=True)
class Row:
    """One fact of a comparison.

    ``now`` is what is in force before, ``becomes`` what accepting as proposed leaves in force; ``status`` is
    new, same, differs or kept; ``heavy`` differences come first.  ``was`` holds what a source said when it
    was brought in before, where it says something else now.
    """

    key: str
    now: Value | None
    now_source: Source | None
    listing: Value | None
    roll: Value | None
    becomes: Value | None
    becomes_source: Source | None
    status: str
    heavy: bool
    was: Mapping[Source, Value]


def compare(ledger: Ledger, listing: Mapping[str, Value], roll: Mapping[str, Value]) -> list[Row]:
    """Return the comparison of what the deal holds with one listing and one parcel (either may be empty).

    Rows that differ come first, heavy ones on top, then in catalog order.
    """
    rows = []
    for key in sorted({*listing, *roll}, key=ledger.catalog.place):
        fact = ledger.catalog.find(key)
        if fact is None or not fact.compared or (fact.own_side == ledger.side and key not in roll):
            continue
        rows.append(_row(ledger, fact, listing.get(key), roll.get(key)))
    return sorted(rows, key=lambda r: (_ORDER[r.status], not r.heavy))


def _row(ledger: Ledger, fact: Fact, listing: Value | None, roll: Value | None) -> Row:
    key = fact.key
    before = ledger.in_force(key)
    after = Ledger(ledger.catalog, ledger.side)
    newest = 0
    for held in ledger.beside(key).values():
        after.add(
            Entry(
                key,
                Act.FORMULA if held.formula else Act.STATE,
                held.order,
                held.source,
                held.value,
                held.formula,
                held.origin,
                held.locked,
            )
        )
        newest = max(newest, held.order)
    for source, value in ((Source.LISTING, listing), (Source.ROLL, roll)):
        if value is not None:
            after.add(Entry(key, Act.STATE, newest + 1, source, value))
    if (choice := ledger.chosen(key)) is not None:
        after.add(Entry(key, Act.CHOOSE, newest + 2, choice))
    outcome = after.in_force(key)
    now = before.value if before else None
    becomes = outcome.value if outcome else None
    incoming = [v for v in (listing, roll) if v is not None]
    same = fact.type.same
    apart = [v for v in incoming if now is not None and not same(now, v)]
    if now is not None and apart:
        status = (
            "kept"
            if outcome
            and before
            and outcome.source is before.source
            and before.source not in (Source.LISTING, Source.ROLL)
            else "differs"
        )
    elif len(incoming) == 2 and not same(incoming[0], incoming[1]):
        status = "differs"
    else:
        status = "same" if now is not None else "new"
    heavy = status in ("differs", "kept") and _is_heavy(fact, [v for v in (now, *incoming) if v is not None])
    return Row(
        key,
        now,
        before.source if before else None,
        listing,
        roll,
        becomes,
        outcome.source if outcome else None,
        status,
        heavy,
        _was(ledger, fact, listing, roll),
    )


def _was(ledger: Ledger, fact: Fact, listing: Value | None, roll: Value | None) -> dict[Source, Value]:
    beside = ledger.beside(fact.key)
    found = {}
    for source, now in ((Source.LISTING, listing), (Source.ROLL, roll)):
        before = beside[source].value if source in beside else None
        if before is not None and now is not None and not fact.type.same(before, now):
            found[source] = before
    return found


def _is_heavy(fact: Fact, values: list[Value]) -> bool:
    if fact.kind != "area":
        return fact.heavy
    sizes = [area_in_square_feet(v) for v in values if isinstance(v, str)]
    return bool(sizes) and min(sizes) > 0 and (max(sizes) - min(sizes)) / min(sizes) >= APART
