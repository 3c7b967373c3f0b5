"""A client's record: papers of their own, deals, homes seen; and what is missing before the next step."""

from __future__ import annotations

import re
import uuid
from collections.abc import Iterable
from datetime import date
from typing import TYPE_CHECKING, Any
from uuid import UUID

from django.db import transaction
from django.shortcuts import get_object_or_404
from quillcore.assembly import assemble
from quillcore.contacts import kept_from
from quillcore.facts import load_catalog
from quillcore.facts.keys import GROUPS, name_of
from quillcore.facts.parties import STATED_FIELDS
from quillcore.forms.printed import PrintedWords
from quillcore.papers.received import Received, paper_form, read_paper
from quillcore.values import EMPTY, Fault, clock, editable

from goodquill.changelog.models import Kind
from goodquill.clients.models import ClientPaper
from goodquill.contacts.actions import find_contact, keep_or_add_to
from goodquill.contacts.models import Contact
from goodquill.contacts.shapes import HomeSerializer
from goodquill.deals.models import OVER, Deal, Document
from goodquill.deals.opening import OpenDeal, open_deal
from goodquill.deals.parts import DOCUMENTS
from goodquill.deals.payload import deal_row
from goodquill.deals.requests import DealRequest
from goodquill.deals.steps import DealStep, begin, finish
from goodquill.forms.actions import keep_form
from goodquill.forms.models import Edition, ReleaseForm
from goodquill.forms.queries import forms_of, newest_releases
from goodquill.http.endpoints import Refusal
from goodquill.offices.access import may_see_contacts, may_see_deals
from goodquill.offices.models import User

if TYPE_CHECKING:
    from goodquill.http import wire

SECTION = "Client's papers"
_SAYS_SO = re.compile(r"represent", re.I)
"""A file that is called so is taken for an agreement to represent the client, unless whoever sends it says
otherwise: scans are mostly called by what they are."""
REPRESENTS = "representation.property_sought"
"""A form that asks what the client looks for is an agreement to represent the client."""


def contact_for(user: User, said: dict[str, Any]) -> Contact:
    """Return the contact of somebody named as a client: the one that is probably the same, else a new one."""
    fields = {k: str(said.get(k) or "") for k in ("given", "family", "email")} | {
        "company": str(said.get("entity_name") or "")
    }
    return keep_or_add_to(user, "client", fields, shared=False)


def keep_as_contact(
    user: User, deal_id: UUID, group: str, position: int | None, offer: int | None = None
) -> Contact:
    """Keep what a deal says of a group of facts, or of the party at a position, as a contact."""
    opened = open_deal(user, deal_id, offer)
    at = f"{group}.{position}" if position is not None else group
    said = {name: _text(opened, f"{at}.{name}") for name in _names(group)}
    made = kept_from(group, said)
    if made is None or not made.name:
        raise Refusal("Enter a name first.", "Type a name first.", "contact", 409)
    return keep_or_add_to(user, made.kind, made.fields, shared=False)


def _names(group: str) -> Iterable[str]:
    """Return what facts of a group are called within it."""
    if group in GROUPS:
        return STATED_FIELDS
    return [name_of(fact.key) for fact in load_catalog() if fact.group == group]


def _text(opened: OpenDeal, key: str) -> str:
    value, fact = opened.package.sheet.held(key).value, load_catalog().find(key)
    return editable(value, fact.kind) if fact is not None and value is not EMPTY else ""


def papers_into(step: DealStep) -> None:
    """Put the papers that the deal's clients have on record into its package, set aside from what leaves."""
    deal = step.opened.deal
    there = {d.edition_id for d in step.opened.kept.documents}
    papers = [
        p
        for p in ClientPaper.objects.filter(contact__in=deal.clients.all(), removed=False).select_related(
            "contact"
        )
        if p.edition_id not in there
    ]
    first = step.opened.next_position
    made = [
        Document(
            deal=deal,
            code=uuid.uuid4().hex[:12],
            position=first + n,
            section=SECTION,
            edition_id=p.edition_id,
            mapping_id=p.mapping_id,
            set_aside=True,
            why=f"from {p.contact.name}'s papers"[:200],
        )
        for n, p in enumerate({p.edition_id: p for p in papers}.values())
    ]
    step.add_documents(made)


def keep_from_deal(user: User, deal_id: UUID, code: str, offer: int | None = None) -> list[ClientPaper]:
    """Keep a document of a deal, as it stands, on the record of the deal's clients; it then shows in their
    other deals."""
    opened = open_deal(user, deal_id, offer)
    document = opened.package.by_id.get(code)
    if document is None:
        raise Refusal(
            "This document is no longer in the package.",
            "Nothing was changed. Reload and try again.",
            "document",
            404,
        )
    clients = list(opened.deal.clients.all())
    if not clients:
        raise Refusal(
            "This deal's client is not in Contacts.",
            "Keep the client as a contact first, under Facts.",
            "client",
            409,
        )
    e = document.form.edition
    if not e.is_the_clients_own:
        raise Refusal(
            f"{e.title} isn't private to you and the client.", "It stays in this deal.", "client", 409
        )
    if e.fields:
        flat = assemble(opened.package, e.title, [document]).pdf
        paper = read_paper(flat)  # pages beyond the form's own (what overflows) are counted by reading them
        if isinstance(paper, Fault):
            raise Refusal.of(paper, 422)
    else:
        sizes = tuple(e.size(n) for n in range(1, e.pages + 1))
        words = Edition.objects.values_list("words", flat=True).get(pk=document.form.edition_hash)
        paper = Received(document.form.pdf, sizes, words, ())
    sheet = opened.package.sheet
    represents = any(m.fact == REPRESENTS for m in document.form.mapping.meanings)
    days = [
        sheet.held(k).value if represents else None for k in ("representation.begins", "representation.ends")
    ]
    begins, ends = (d if isinstance(d, date) else None for d in days)
    more = {"number": e.number, "represents": represents, "begins": begins, "ends": ends, "deal": opened.deal}
    return [_keep(user, contact, e.title, paper, more) for contact in clients]


def keep_upload(
    user: User, contact_id: UUID, title: str, content: bytes, represents: bool | None, ends: date | None
) -> ClientPaper:
    """Keep a PDF that came from elsewhere (a signed agreement, scanned) on a client's record."""
    contact = find_contact(user, contact_id)
    paper = read_paper(content)
    if isinstance(paper, Fault):
        raise Refusal.of(paper, safe="Nothing was changed.")
    represents = bool(_SAYS_SO.search(title)) if represents is None else represents
    return _keep(
        user, contact, title.strip()[:200] or "Paper", paper, {"represents": represents, "ends": ends}
    )


@transaction.atomic
def _keep(user: User, contact: Contact, title: str, paper: Received, more: dict[str, Any]) -> ClientPaper:
    edition, mapping = keep_form(
        paper_form(title, paper, clock.today()), PrintedWords(paper.words), foreign=True
    )
    kept = ClientPaper.objects.filter(contact=contact, title=title).first() or ClientPaper(
        contact=contact, title=title
    )
    before = kept.edition_id if kept.pk else None
    kept.edition, kept.mapping, kept.by, kept.removed = edition, mapping, user, False
    for name, value in more.items():
        setattr(kept, name, value)
    kept.save()
    for deal in contact.deals.filter(may_see_deals(user)).exclude(stage__in=OVER):
        if deal != kept.deal:
            _into_deal(user, deal, kept, before)
    return kept


def _into_deal(user: User, deal: Deal, kept: ClientPaper, before: str | None) -> None:
    step = begin(
        DealRequest.own(user, deal.pk), Kind.DOCUMENTS, f"{kept.title}, from {kept.contact.name}'s papers"
    )
    row = (
        next((d for d in step.opened.kept.documents if d.edition_id == before and d.section == SECTION), None)
        if before
        else None
    )
    if row is not None:
        step.do(DOCUMENTS, {row.code: {"edition_id": kept.edition_id, "mapping_id": kept.mapping_id}})
    else:
        papers_into(step)
    finish(step)


def remove_paper(user: User, paper: int, removed: bool) -> None:
    """Take a paper off a client's record, or put it back; the deals that show it keep it."""
    found = find_paper(user, paper, removed=not removed)
    found.removed = removed
    found.save(update_fields=["removed"])


def find_paper(user: User, paper: int, removed: bool = False) -> ClientPaper:
    """Return a client's paper that the user may see."""
    clients = Contact.objects.filter(may_see_contacts(user))
    return get_object_or_404(
        ClientPaper.objects.filter(contact__in=clients, removed=removed).select_related("edition"), pk=paper
    )


def advice(user: User, contact: Contact, side: str) -> str:
    """Return what should be there before homes are shown or an offer is made; "" where nothing is missing."""
    rows = ReleaseForm.objects.filter(release__in=newest_releases(user), edition__sheet__sides__contains=side)
    wanted = next(
        (f for f in forms_of(rows).values() if any(m.fact == REPRESENTS for m in f.mapping.meanings)), None
    )
    if wanted is None:
        return ""
    kept = [p for p in contact.papers.all() if p.represents and not p.removed]
    if not kept:
        return (
            f"No representation agreement with {contact.name} is on record. {wanted.edition.title} is form"
            f" {wanted.edition.number}."
        )
    last = max(kept, key=lambda p: p.ends or date.max)
    if last.ends and last.ends < clock.today():
        return (
            f"The representation agreement with {contact.name} ended on {last.ends:%B} {last.ends.day},"
            f" {last.ends.year}."
        )
    return ""


def record(user: User, contact_id: UUID) -> wire.Record:
    """Return everything on a client's record that the user may see."""
    contact = find_contact(user, contact_id)
    deals = list(contact.deals.filter(may_see_deals(user)).select_related("owner").order_by("-touched"))
    side = deals[0].side if deals else "buying"
    papers: list[wire.ClientPaper] = [
        {
            "id": p.pk,
            "title": p.title,
            "number": p.number,
            "pages": p.edition.pages,
            "represents": p.represents,
            "begins": p.begins,
            "ends": p.ends,
            "kept": p.kept,
            "ended": bool(p.ends and p.ends < clock.today()),
            "deal": p.deal_id,
        }
        for p in contact.papers.filter(removed=False).select_related("edition")
    ]
    homes = list(contact.homes.all())
    advised = (
        advice(user, contact, "buying" if side in ("listing", "leasing out") else side)
        if homes or side == "buying"
        else ""
    )
    return {
        "papers": papers,
        "homes": list(HomeSerializer(homes, many=True).data),
        "deals": [deal_row(deal) for deal in deals],
        "advice": advised,
    }
