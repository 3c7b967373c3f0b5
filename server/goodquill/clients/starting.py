"""Starting a deal for a client, with the template that fits."""

from __future__ import annotations

import uuid
from typing import Any
from uuid import UUID

from django.db import transaction
from django.shortcuts import get_object_or_404
from quillcore.contacts import fills
from quillcore.facts import Act, Entry, Side, Source, load_catalog
from quillcore.facts.keys import PartyKey
from quillcore.templates.choosing import Rank
from quillcore.values import Fault

from goodquill.changelog.models import Kind
from goodquill.clients.actions import contact_for, papers_into
from goodquill.contacts.actions import find_contact
from goodquill.deals.actions import apply
from goodquill.deals.models import Deal
from goodquill.deals.requests import DealRequest
from goodquill.deals.steps import DealStep, begin, finish
from goodquill.forms.queries import newest_pack
from goodquill.http.endpoints import Refusal
from goodquill.offices.access import may_start_for
from goodquill.offices.models import User
from goodquill.templates.queries import find_template, ranks, usable


@transaction.atomic
def start_deal(user: User, given: dict[str, Any]) -> Deal:
    """Return a new deal with its client and template; see ``NewDealSerializer`` for what is given."""
    wanted = dict.fromkeys([*filter(None, [given.get("template")]), *given.get("templates", [])])
    templates = [find_template(user, pk) for pk in wanted]
    release = templates[0].release if templates else newest_pack(user)
    if release is None:
        raise Refusal(
            "You have no association's forms yet.",
            "Ask your broker to add your association's forms.",
            "no pack",
        )
    for template in templates:
        if template.side != given["side"]:
            raise Refusal(
                f"“{template.name}” is for {template.side}.", "Choose another template or side.", "side"
            )
    name = given.get("name", "").strip()
    owner = _owner(user, given.get("agent"))
    deal = Deal.objects.start(
        brokerage=user.brokerage,
        office=owner.office,
        owner=owner,
        release=release,
        side=given["side"],
        name=name or "New deal",
        name_typed=bool(name),
    )
    whose = "" if owner == user else f" for {owner.name}"
    step = begin(DealRequest.own(user, deal.pk), Kind.START, f"Started the deal{whose}")
    _name_clients(step, given.get("clients", []))
    for template in templates:
        apply(step, template)
        step.read_again()
    papers_into(step)
    _say_price(step, given.get("price", ""))
    step.say(f"{step.change.said}{_without(user, given['side'], set(wanted))}")
    finish(step)
    return step.opened.deal


def _owner(user: User, agent: UUID | None) -> User:
    """Return whose deal it becomes: the user's own, or that of an agent for whom the user may start one."""
    if agent is None or agent == user.pk:
        return user
    return get_object_or_404(User.objects.filter(may_start_for(user)), pk=agent)


def _say_price(step: DealStep, text: str) -> None:
    """State the asking price, the offered price or the rent, as typed at the start."""
    if not text.strip():
        return
    key = step.opened.side.price
    read = load_catalog()[key].read(text)
    if isinstance(read, Fault):
        raise Refusal.of(read)
    step.write(Entry(key, Act.STATE, 0, Source.TYPED, read))


def _without(user: User, side: str, taken: set[UUID]) -> str:
    """Return in words for History the templates that are required of every deal of that side and were left
    off."""
    templates = list(usable(user).defer("data", "draft"))
    found = ranks(templates, Side(side), {})
    left = [t.name for t in templates if t.pk not in taken and found.get(t.pk, (None,))[0] is Rank.REQUIRED]
    return f" without {', '.join(f'“{name}”' for name in left)}, which is required" if left else ""


def _name_clients(step: DealStep, clients: list[dict[str, Any]]) -> None:
    """Make them the deal's parties, and the deal one of their records."""
    user, group = step.user, step.opened.side.clients
    named = [c for c in clients if any(str(v or "").strip() for v in c.values())]
    if not named:
        return
    ids = [uuid.uuid4().hex[:8] for _ in named]
    step.say_parties(group, ids)
    entries = []
    for party, client in zip(ids, named, strict=True):
        said = {k: v for k, v in client.items() if k != "contact" and v.strip()}
        picked = find_contact(user, client["contact"]) if client.get("contact") else None
        step.opened.deal.clients.add(picked or contact_for(step.opened.deal.owner, said))
        for field, text in ((fills(picked.core, group) if picked else {}) | said).items():
            read = load_catalog()[str(PartyKey(party, field))].read(text)
            if isinstance(read, Fault):
                raise Refusal.of(read)
            entries.append(Entry(str(PartyKey(party, field)), Act.STATE, 0, Source.TYPED, read))
    step.write(*entries)
