"""A deal that hands on to the client's next one: who they are, what they signed, and all that still holds."""

from __future__ import annotations

from uuid import UUID

from django.db import transaction
from quillcore.facts import load_catalog
from quillcore.facts.keys import OwnKey, own_key, party_key
from quillcore.facts.scopes import carries_over

from goodquill.changelog.entries import standing, stated_anew
from goodquill.changelog.models import FactEntry, Kind
from goodquill.clients.actions import papers_into
from goodquill.clients.models import ClientPaper
from goodquill.deals.models import Deal, Document
from goodquill.deals.opening import OpenDeal, find_deal, only_a_deal
from goodquill.deals.parts import DEAL
from goodquill.deals.requests import DealRequest
from goodquill.deals.steps import DealStep, begin, finish
from goodquill.deals.tasks import as_templates, made_of
from goodquill.forms.models import ReleaseForm
from goodquill.forms.queries import newest_pack
from goodquill.offices.models import User


@transaction.atomic
def hand_on(user: User, deal_id: UUID, fell_through: bool) -> Deal:
    """Start the client's next deal from this one: client, representation, how they buy, and the same package
    in its newest editions.  Nothing of the home, its prices, dates or other side comes along.
    ``fell_through`` closes this one.
    """
    old = find_deal(user, deal_id, lock=True)
    only_a_deal(old)
    opened = OpenDeal(old)
    newest = newest_pack(user, old.release.association)
    deal = Deal.objects.start(
        brokerage=old.brokerage,
        office=old.office,
        owner=old.owner,
        release=newest or old.release,
        side=old.side,
        name="New deal",
        before=old,
    )
    deal.team.set(old.team.all())
    deal.clients.set(old.clients.all())
    step = begin(DealRequest.own(user, deal.pk), Kind.START, f"Started from {old.name}"[:300])
    codes = _copy_package(step, opened)
    papers_into(step)
    step.add_tasks(made_of(deal, as_templates(old), f"as in {old.name}"))
    step.read_again()
    step.write_rows(_still_holding(step, opened, codes))
    step.opened.package.sheet.refresh([old.on.clients])
    finish(step)
    if fell_through:
        set_stage(user, old.pk, "fell through")
    return step.opened.deal


def _copy_package(step: DealStep, old: OpenDeal) -> dict[str, str]:
    """Return the same forms in the deal's own release, and what is expected, but for what the clients have on
    record: that comes as it is.  Gives the new code for each old one."""
    deal, offer = step.opened.deal, step.opened.offer
    rows = {r.number: r for r in ReleaseForm.objects.filter(release=deal.release_id)}
    on_record = set(
        ClientPaper.objects.filter(contact__in=deal.clients.all(), removed=False).values_list(
            "number", flat=True
        )
    )
    copies: dict[str, Document] = {}
    for d in old.documents:
        form = old.forms.get(d.code)
        if (
            form is not None
            and not d.expected
            and (not form.edition.number or form.edition.number in on_record)
        ):
            continue  # a paper that came for that home, or one that the client needn't sign twice
        row = rows.get(form.edition.number) if form and form.edition.number else None
        pinned = (
            (row.edition_id, row.mapping_id)
            if row
            else (None, None)
            if d.expected
            else (d.edition_id, d.mapping_id)
        )
        copies[d.code] = d.like(
            deal_id=deal.pk,
            offer_id=offer.pk if d.offer_id else None,
            position=len(copies),
            edition_id=pinned[0],
            mapping_id=pinned[1],
            why=f"as in {old.deal.name}"[:200],
        )
    step.add_documents(list(copies.values()))
    return {code: copy.code for code, copy in copies.items()}


def _still_holding(step: DealStep, old: OpenDeal, codes: dict[str, str]) -> list[FactEntry]:
    """Return the lines of the old deal that hold on, as the new one's first."""
    side, group = old.side, old.side.clients
    clients = set(old.package.sheet.ledger.parties(group))
    lines = []
    for row in standing(old.rows):
        if row.act == "choose" or row.source in ("listing", "roll"):
            continue
        new = key = row.key
        if (kept := party_key(key)) is not None:
            holds = kept.party in clients
        elif (own := own_key(key)) is not None:
            holds = own.document in codes and row.source == "template"
            new = str(OwnKey(codes.get(own.document, ""), own.name))
        else:
            fact = load_catalog().find(key)
            holds = key == group or (fact is not None and carries_over(key, fact.kind, side))
            holds = holds or (row.source == "template" and fact is not None)
        if holds:
            lines.append(stated_anew(row, new, step.opened.scope_of(new)))
    return lines


@transaction.atomic
def set_stage(user: User, deal_id: UUID, stage: str) -> Deal:
    """Say that a deal fell through, that it closed, or that it goes on."""
    said = {"fell through": "the deal fell through", "closed": "the deal closed"}
    step = begin(DealRequest.own(user, deal_id), Kind.STAGE, said.get(stage, "the deal goes on"))
    step.do(DEAL, {str(deal_id): {"stage": stage}})
    finish(step)
    return step.opened.deal
