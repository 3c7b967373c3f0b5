"""A deal that hands on to the client's next one: who they are, what they signed, and all that still holds."""

from __future__ import annotations

from uuid import UUID

from django.db import transaction
from quillcore.facts import load_catalog
from quillcore.facts.catalog import OWN_KEY
from quillcore.facts.scopes import carries_over, client_group

from goodquill.api import Sent
from goodquill.deals.changing import Step, begin, change_head, finish, reopen
from goodquill.deals.clients import papers_into
from goodquill.deals.models import ClientPaper, Deal, Document, Offer
from goodquill.deals.opening import OpenDeal, find_deal
from goodquill.facts.models import FactEntry, Kind
from goodquill.facts.records import standing, stated_anew
from goodquill.forms.models import Release, ReleaseForm
from goodquill.offices.access import may_use_releases
from goodquill.offices.models import User


@transaction.atomic
def hand_on(user: User, deal_id: UUID, fell_through: bool) -> Deal:
    """Start the client's next deal from this one: client, representation, how they buy, and the same package in its newest
    editions.  Nothing of the home, its prices, dates or other side comes along.  ``fell_through`` closes this one."""
    old = find_deal(user, deal_id, lock=True)
    opened = OpenDeal(old)
    newest = Release.objects.filter(may_use_releases(user), association=old.release.association).order_by("-released", "-taken_in").first()
    deal = Deal.objects.create(
        brokerage=old.brokerage, office=old.office, owner=old.owner, release=newest or old.release, side=old.side, name="New deal", before=old
    )
    deal.team.set(old.team.all())
    deal.clients.set(old.clients.all())
    Offer.objects.create(deal=deal)
    step = begin(user, deal.pk, Sent.new(), Kind.START, f"Started from {old.name}"[:300])
    codes = _copy_package(step, opened)
    papers_into(step)
    step.change.save(update_fields=["documents"])
    reopen(step)
    step.write_rows(_still_holding(step, opened, codes))
    step.opened.package.sheet.refresh([client_group(old.side)])
    finish(step)
    if fell_through:
        set_stage(user, old.pk, "fell through")
    return step.opened.deal


def _copy_package(step: Step, old: OpenDeal) -> dict[str, str]:
    """The same forms in the deal's own release, and what is expected, but for what the clients have on record: that comes
    as it is.  Gives the new code for each old one."""
    deal, offer = step.opened.deal, step.opened.offer
    rows = {r.number: r for r in ReleaseForm.objects.filter(release=deal.release_id)}
    on_record = set(ClientPaper.objects.filter(contact__in=deal.clients.all(), removed=False).values_list("number", flat=True))
    copies: dict[str, Document] = {}
    for d in old.documents:
        form = old.forms.get(d.code)
        if form is not None and not d.expected and (not form.edition.number or form.edition.number in on_record):
            continue  # a paper that came for that home, or one that the client needn't sign twice
        row = rows.get(form.edition.number) if form and form.edition.number else None
        pinned = (row.edition_id, row.mapping_id) if row else (None, None) if d.expected else (d.edition_id, d.mapping_id)
        copies[d.code] = d.like(
            deal_id=deal.pk, offer_id=offer.pk if d.offer_id else None, position=len(copies), edition_id=pinned[0], mapping_id=pinned[1],
            why=f"as in {old.deal.name}"[:200],
        )  # fmt: skip
    Document.objects.bulk_create(copies.values())
    step.change.documents = {"added": [d.code for d in copies.values()]}
    return {code: copy.code for code, copy in copies.items()}


def _still_holding(step: Step, old: OpenDeal, codes: dict[str, str]) -> list[FactEntry]:
    """The lines of the old deal that hold on, as the new one's first."""
    side, group = old.deal.side, client_group(old.deal.side)
    clients = set(old.package.sheet.party_ids(group))
    lines = []
    for row in standing(old.rows):
        if row.act == "choose" or row.source in ("listing", "roll"):
            continue
        new = key = row.key
        if key.startswith("party."):
            holds = key.split(".")[1] in clients
        elif m := OWN_KEY.fullmatch(key):
            holds, new = m[1] in codes and row.source == "template", f"doc.{codes.get(m[1], '')}.{m[2]}"
        else:
            fact = load_catalog().find(key)
            holds = key == group or (fact is not None and carries_over(key, fact.kind, side))
            holds = holds or (row.source == "template" and fact is not None)
        if holds:
            lines.append(stated_anew(row, new))
    return lines


@transaction.atomic
def set_stage(user: User, deal_id: UUID, stage: str) -> Deal:
    """Say that a deal fell through, or that it goes on."""
    step = begin(user, deal_id, Sent.new(), Kind.STAGE, "the deal fell through" if stage == "fell through" else "the deal goes on")
    change_head(step, {"stage": stage})
    step.change.save(update_fields=["head"])
    finish(step)
    return step.opened.deal
