"""A deal's offers: side by side, another one, and which is in force."""

from __future__ import annotations

from collections import Counter
from decimal import Decimal
from itertools import count
from typing import TYPE_CHECKING

from quillcore.facts import Act, Entry, Source, load_catalog
from quillcore.facts.keys import OwnKey, own_key
from quillcore.facts.scopes import TERMS
from quillcore.values import shown

from goodquill.changelog.entries import standing, stated_anew
from goodquill.changelog.models import Kind
from goodquill.deals.models import Offer
from goodquill.deals.opening import OpenDeal
from goodquill.deals.parts import OFFERS, made
from goodquill.deals.payload import offer_row
from goodquill.deals.steps import DealStep, deal_change
from goodquill.http.endpoints import Refusal
from goodquill.offers.models import Turn
from goodquill.offers.papers import put_once

if TYPE_CHECKING:
    from goodquill.http import wire

MOST_OFFERS = 40
FIRST_ROWS = ("terms.purchase_price", "estimate.proceeds", "lease.monthly_rent")
"""The facts that people look at before everything else."""


def side_by_side(opened: OpenDeal) -> wire.Offers:
    """Return every offer with who makes it, and a row for each term that one of them states or works out."""
    views = [opened.with_offer(o) for o in opened.kept.offers]
    catalog, side = load_catalog(), opened.side
    other, other_agent = side.others, side.other_agent
    keys = [f.key for f in catalog if f.group in TERMS and catalog.belongs(f.group, side)]
    keys = [k for k in FIRST_ROWS if catalog.find(k) and catalog.belongs(catalog[k].group, side)] + [
        k for k in keys if k not in FIRST_ROWS
    ]
    rows: list[wire.OfferRow] = []
    for key in keys:
        fact = catalog[key]
        held = [v.package.sheet.held(key) for v in views]
        values = [h.value for h in held]
        if all(v is None for v in values) or (fact.kind == "long_text" and fact.formula is not None):
            continue
        said = [v for v in values if v is not None]
        apart = len(said) < len(values) or any(not fact.type.same(said[0], v) for v in said[1:])
        cells: list[wire.OfferCell] = [{"shown": shown(h.value, fact.kind), "source": h.source} for h in held]
        rows.append(
            {
                "key": key,
                "label": fact.label,
                "kind": fact.kind,
                "apart": apart and len(values) > 1,
                "cells": cells,
            }
        )
    turns = Counter(
        Turn.objects.filter(offer__in=opened.kept.offers, removed=False).values_list("offer", flat=True)
    )
    heads = [_head(v, other, other_agent, turns[v.offer.pk]) for v in views]
    return {"offers": heads, "rows": rows, "other": other}


def _head(view: OpenDeal, other: str, other_agent: str, turns: int) -> wire.OfferColumn:
    sheet, offer = view.package.sheet, view.offer

    def text(key: str) -> str:
        value = sheet.held(key).value
        return value if isinstance(value, str) else ""

    return {
        **offer_row(offer),
        "parties": text(f"{other}.names"),
        "agent": text(f"{other_agent}.name"),
        "firm": text(f"{other_agent}.firm"),
        "came": offer.came,
        "documents": sum(d.offer_id == offer.pk for d in view.documents),
        "turns": turns,
    }


@deal_change(Kind.OFFER)
def add_offer(step: DealStep, name: str) -> None:
    """Make another set of terms.  The terms, documents and answers of the requested offer are copied;
    without one the new offer is bare, but for copies of the forms that speak of terms."""
    like = step.asked
    before = step.opened
    if len(before.kept.offers) >= MOST_OFFERS:
        raise Refusal(f"A deal has {MOST_OFFERS} offers at most.", "Remove one first.", "offers")
    taken = {o.name for o in before.deal.offers.all()}
    proposed = next(f"Offer {n}" for n in count(len(taken) + 1) if f"Offer {n}" not in taken)
    offer = Offer.objects.create(deal=before.deal, name=name.strip()[:120] or proposed, in_force=False)
    step.note(OFFERS, *made([offer.pk]))
    codes = _copy_documents(step, offer)
    _copy_entries(step, before, offer, codes, whole=like is not None)
    step.say(f"Added {offer.name}" + (f", like {before.offer.name}" if like is not None else ""))
    step.asked, step.stale = offer.pk, True


def _copy_documents(step: DealStep, offer: Offer) -> dict[str, str]:
    """Copy the documents that belong to the offer at hand; return the new code for each old one."""
    before = step.opened
    copies = {
        d.code: d.like(offer_id=offer.pk, why=f"as in {before.offer.name}"[:200])
        for d in before.documents
        if d.offer_id == before.offer.pk
    }
    step.add_documents(list(copies.values()))
    return {code: copy.code for code, copy in copies.items()}


def _copy_entries(step: DealStep, before: OpenDeal, offer: Offer, codes: dict[str, str], whole: bool) -> None:
    """State the entries of the offer at hand anew in the other one; without ``whole`` only those that
    templates answered."""
    copies = []
    for row in standing(r for r in before.rows if r.scope is not None):
        if whole or row.source == Source.TEMPLATE:
            own = own_key(row.key)
            key = (
                str(OwnKey(codes[own.document], own.name))
                if own is not None and own.document in codes
                else row.key
            )
            copies.append(stated_anew(row, key, offer.pk))
    step.write_rows(copies)


@deal_change(Kind.OFFER)
def change_offer(step: DealStep, op: str, name: str = "") -> None:
    """Name an offer, say what became of it, or take it out.  A notice of several offers, and a back-up, gets
    its paper."""
    opened, at_hand = step.opened, step.opened.offer
    if op == "several":
        put_once(step, "several", "there are several offers")
        step.say(f"{at_hand.name}: notice of multiple offers added for its buyer")
    elif op == "name":
        if not name.strip():
            raise Refusal("Enter a name.", "The old name stays.", "name")
        step.do(OFFERS, {str(at_hand.pk): {"name": name.strip()[:120]}})
        step.say(f"Named {at_hand.name} “{name.strip()[:120]}”")
    elif op == "remove":
        if at_hand.in_force:
            raise Refusal(
                "The offer in force can't be removed.", "Put another offer in force first.", "offer", 409
            )
        step.do(OFFERS, {str(at_hand.pk): {"removed": True}})
        step.say(f"Removed {at_hand.name}")
    else:
        if (
            at_hand.in_force
            and at_hand.outcome == "accepted"
            and len(opened.kept.offers) > 1
            and op != "open"
        ):
            raise Refusal(
                "The accepted offer stays in force.",
                "Accept another offer, or reopen this one first.",
                "offer",
                409,
            )
        step.do(OFFERS, {str(at_hand.pk): {"outcome": op, "came": ""}})
        if op == "back-up":
            _stand_by(step)
        step.say(f"{at_hand.name}: {op}")


def _stand_by(step: DealStep) -> None:
    """Take an offer as a back-up: it says so, in which position, and gets the paper of it."""
    offers = step.opened.kept.offers
    position = 1 + sum(o.outcome == "back-up" and o.pk != step.opened.offer.pk for o in offers)
    step.write(
        Entry("terms.backup", Act.STATE, 0, Source.TYPED, True),
        Entry("terms.backup_position", Act.STATE, 0, Source.TYPED, Decimal(position)),
    )
    put_once(step, "back-up", "it is a back-up offer")
