"""Where a deal stands for whoever opens it: what waits for somebody, and what undo and redo would take."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from quillcore.facts import PARTY_GROUPS

from goodquill.deals.models import Deal
from goodquill.deals.opening import OpenDeal
from goodquill.deals.words import label_of, shown
from goodquill.facts.models import Change, Kind
from goodquill.offices.models import User

MOST_WAITING = 50
_LOOKED_BACK = 120
"""Own steps among which undo looks: beyond that many taken back one after the other, History is the way."""


def own_steps(deal: Deal, user: User) -> tuple[dict[str, Any] | None, dict[str, Any] | None]:
    """What the user's undo and redo would take, each {"id", "said"}: it is the deal's, whatever window asks.  One query."""
    rows = Change.objects.filter(deal=deal, by=user).exclude(kind=Kind.NOTHING).order_by("-seq").values("id", "kind", "said", "undoes_id")
    taken_back: set[Any] = set()
    redo: dict[str, Any] | None = None
    moved_on = False
    for row in rows[:_LOOKED_BACK]:
        if row["id"] in taken_back:
            continue
        if row["undoes_id"] is not None:
            taken_back.add(row["undoes_id"])
            if row["kind"] == Kind.UNDO and redo is None and not moved_on:
                redo = {"id": row["id"], "said": row["said"].partition(": ")[2]}
        elif row["kind"] == Kind.START:
            break
        else:
            return {"id": row["id"], "said": row["said"]}, redo
    return None, redo


def waiting_rows(opened: OpenDeal) -> list[dict[str, Any]]:
    """What waits for somebody before the paper says what was typed: texts that can't be read, and clashes."""
    return [*_drafts(opened), *_clashes(opened)][:MOST_WAITING]


def _drafts(opened: OpenDeal) -> Iterable[dict[str, Any]]:
    for key, draft in opened.drafts.items():
        yield {
            "what": "draft",
            "key": shown_key(opened, key),
            "label": label_of(key),
            "typed": draft.text[:200],
            "by": "",
            "prints": _prints(opened, key),
        }


def _clashes(opened: OpenDeal) -> Iterable[dict[str, Any]]:
    for key, clashes in opened.clashes.items():
        for c in clashes:
            yield {
                "what": "clash",
                "key": shown_key(opened, key),
                "label": label_of(key),
                "typed": c.text[:200],
                "by": c.by.name,
                "prints": _prints(opened, key),
            }


def shown_key(opened: OpenDeal, stored: str) -> str:
    """The key by which screens know a stored one: a party's by its position."""
    if not stored.startswith("party."):
        return stored
    _, party, field = stored.split(".", 2)
    sheet = opened.package.sheet
    return next((f"{g}.{ids.index(party) + 1}.{field}" for g in PARTY_GROUPS if party in (ids := list(sheet.party_ids(g)))), stored)


def _prints(opened: OpenDeal, key: str) -> str:
    held = opened.package.sheet.held(shown_key(opened, key))
    return shown(held.value, opened.kind_of(key))
