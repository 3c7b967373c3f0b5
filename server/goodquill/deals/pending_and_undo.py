"""A deal's open ends for its reader: what waits for somebody, and the next undo and redo."""

from __future__ import annotations

from collections.abc import Iterable
from typing import TYPE_CHECKING, Any, TypeAlias

from quillcore.facts import load_catalog
from quillcore.values import shown

from goodquill.changelog.models import Change, Kind
from goodquill.deals.models import Deal
from goodquill.deals.opening import OpenDeal
from goodquill.offices.models import User

if TYPE_CHECKING:
    from goodquill.http import wire

NextSteps: TypeAlias = "tuple[wire.Step | None, wire.Step | None]"
"""The steps that undo and redo would take, each {"id", "said"}."""
MOST_WAITING = 50
_LOOKED_BACK = 120
"""Own steps among which undo looks: beyond that many taken back one after the other, History is the way."""


def own_steps(deal: Deal, user: User) -> NextSteps:
    """Return what the user's undo and redo would take, each {"id", "said"}: it is the deal's, whatever
    window asks. One query."""
    rows = (
        Change.objects.filter(record=deal.pk, by=user)
        .exclude(kind=Kind.NOTHING)
        .order_by("-seq")
        .values("id", "kind", "said", "undoes_id")
    )
    taken_back: set[Any] = set()
    redo: wire.Step | None = None
    moved_on = False
    for row in rows[:_LOOKED_BACK]:
        if row["id"] in taken_back:
            continue
        if row["undoes_id"] is not None:
            taken_back.add(row["undoes_id"])
            if row["kind"] == Kind.UNDO and redo is None and not moved_on:
                redo = {"id": row["id"], "said": row["said"].partition(": ")[2]}
        elif row["kind"] in (Kind.START, Kind.PASSED):
            break
        else:
            return {"id": row["id"], "said": row["said"]}, redo
    return None, redo


def waiting_rows(opened: OpenDeal) -> list[wire.Waiting]:
    """Return what waits for somebody before the paper says what was typed: texts that can't be read, and
    clashes."""
    return [*_drafts(opened), *_clashes(opened)][:MOST_WAITING]


def _drafts(opened: OpenDeal) -> Iterable[wire.Waiting]:
    for key, draft in opened.drafts.items():
        yield {
            "what": "draft",
            "key": opened.ledger.shown_key(key),
            "label": load_catalog().label_of(key),
            "typed": draft.text[:200],
            "by": "",
            "prints": _prints(opened, key),
        }


def _clashes(opened: OpenDeal) -> Iterable[wire.Waiting]:
    for key, clashes in opened.clashes.items():
        for c in clashes:
            yield {
                "what": "clash",
                "key": opened.ledger.shown_key(key),
                "label": load_catalog().label_of(key),
                "typed": c.text[:200],
                "by": c.by.name,
                "prints": _prints(opened, key),
            }


def _prints(opened: OpenDeal, key: str) -> str:
    held = opened.package.sheet.held(opened.ledger.shown_key(key))
    return shown(held.value, opened.kind_of(key))
