"""The deal's steps in words, from what to what."""

from __future__ import annotations

from collections import defaultdict
from typing import TYPE_CHECKING, Any

from quillcore.facts import Ledger, load_catalog
from quillcore.facts.keys import GROUPS
from quillcore.facts.wording import labelled, wording_of
from quillcore.values import EMPTY, shown

from goodquill.changelog.entries import to_core
from goodquill.changelog.models import Change, FactEntry, Kind
from goodquill.deals.opening import OpenDeal

if TYPE_CHECKING:
    from goodquill.http import wire

MOST_STEPS = 50
MOST_OF_ONE = 4
"""Facts of one step that are told with their values; the rest are counted."""


def steps(opened: OpenDeal) -> list[wire.Change]:
    """Return the newest steps, newest first.  Five queries beyond opening the deal, whatever its age."""
    rows = list(
        Change.objects.filter(record=opened.record)
        .exclude(kind=Kind.NOTHING)
        .select_related("by")
        .prefetch_related("undone_by")
        .order_by("-seq")[:MOST_STEPS]
    )
    moves = _moves(opened, {c.pk for c in rows})
    standing = {u.pk for c in rows for u in c.undone_by.all()} - {c.undoes_id for c in rows if c.undoes_id}
    return [
        {
            "id": c.pk,
            "seq": c.seq,
            "at": c.at,
            "by": c.by.name,
            "kind": c.kind,
            "said": c.said,
            "moves": moves[c.pk][:MOST_OF_ONE],
            "more": max(0, len(moves[c.pk]) - MOST_OF_ONE),
            "undone": any(u.pk in standing for u in c.undone_by.all()),
            "redo": next((u.pk for u in c.undone_by.all() if u.pk in standing), None),
        }
        for c in rows
    ]


def _moves(opened: OpenDeal, changes: set[Any]) -> dict[Any, list[wire.Move]]:
    """Return what each change did to what was in force: by replaying the lines of the keys that it
    touched."""
    keys = set(
        FactEntry.objects.filter(record=opened.record, change__in=changes).values_list("key", flat=True)
    )
    told: dict[Any, list[wire.Move]] = defaultdict(list)
    ledgers: dict[int | None, Ledger] = {}
    for row in (
        FactEntry.objects.filter(record=opened.record, key__in=keys - GROUPS)
        .order_by("pk")
        .iterator(chunk_size=2_000)
    ):
        ledger = ledgers.setdefault(row.scope, Ledger(load_catalog(), opened.side))
        before = _in_force(opened, ledger, row.key)
        ledger.add(to_core(row, opened.kind_of))
        after = _in_force(opened, ledger, row.key)
        if row.change_id in changes and before != after:
            told[row.change_id].append(
                {"label": load_catalog().label_of(row.key), "before": before, "after": after}
            )
    return told


def _in_force(opened: OpenDeal, ledger: Ledger, key: str) -> str:
    held = ledger.in_force(key)
    if held is None:
        return ""
    if wording := wording_of(held):
        return labelled(wording, load_catalog())
    if held.formula:
        return f"= {held.formula}"
    return "None" if held.value is EMPTY else shown(held.value, opened.kind_of(key))
