"""Starting a deal, applying a template, and changing its package."""

from __future__ import annotations

import uuid
from typing import Any
from uuid import UUID

from django.db import transaction
from django.shortcuts import get_object_or_404
from quillcore.contacts import fills
from quillcore.facts import PARTY_GROUPS, Act, Entry, Source, load_catalog
from quillcore.facts.scopes import client_group
from quillcore.forms import Form
from quillcore.templates import merge, read_template
from quillcore.values import Fault

from goodquill.api import Refusal, Sent
from goodquill.contacts.actions import find_contact, recent
from goodquill.deals.changing import Step, begin, finish, reopen, say_parties
from goodquill.deals.clients import contact_for, papers_into
from goodquill.deals.models import Deal, Document, Offer
from goodquill.deals.opening import OpenDeal
from goodquill.facts.models import Kind
from goodquill.forms.models import Release, ReleaseForm
from goodquill.forms.queries import forms_of
from goodquill.offices.access import may_use_releases
from goodquill.offices.models import User
from goodquill.templates.models import Template


@transaction.atomic
def create_deal(user: User, given: dict[str, Any]) -> Deal:
    """A new deal with its client and template; see ``NewDealSerializer`` for what is given."""
    template = (
        get_object_or_404(Template.objects.filter(may_use_releases(user, "release__")), pk=given["template"]) if given.get("template") else None
    )
    release = template.release if template else Release.objects.filter(may_use_releases(user)).order_by("-released").first()
    if release is None:
        raise Refusal("No association's forms are open to you yet.", "Ask your broker to have a pack taken in.", "no pack")
    if template is not None and template.side != given["side"]:
        raise Refusal(f"“{template.name}” is for {template.side}.", "Choose another template or side.", "side")
    name = given.get("name", "").strip()
    deal = Deal.objects.create(
        brokerage=user.brokerage, office=user.office, owner=user, release=release, side=given["side"], name=name or "New deal", name_typed=bool(name)
    )
    Offer.objects.create(deal=deal)
    step = begin(user, deal.pk, Sent.new(), Kind.START, "Started the deal")
    _name_clients(step, given.get("clients", []))
    if template is not None:
        _apply(step, template)
    if papers_into(step):
        reopen(step)
    step.change.save(update_fields=["documents", "said"])
    finish(step)
    return step.opened.deal


def _name_clients(step: Step, clients: list[dict[str, Any]]) -> None:
    """Make them the deal's parties, and the deal one of their records."""
    user, group = step.change.by, client_group(step.opened.deal.side)
    named = [c for c in clients if any(str(v or "").strip() for v in c.values())]
    if not named:
        return
    ids = [uuid.uuid4().hex[:8] for _ in named]
    say_parties(step, group, ids)
    entries = []
    for party, client in zip(ids, named, strict=True):
        said = {k: v for k, v in client.items() if k != "contact" and v.strip()}
        picked = find_contact(user, client["contact"]) if client.get("contact") else None
        step.opened.deal.clients.add(picked or contact_for(user, said))
        for field, text in ((fills(picked.core, group) if picked else {}) | said).items():
            read = load_catalog()[f"party.{party}.{field}"].read(text)
            if isinstance(read, Fault):
                raise Refusal(read.message, read.mend, read.rule)
            entries.append(Entry(f"party.{party}.{field}", Act.STATE, 0, Source.TYPED, read))
    step.write(*entries)


@transaction.atomic
def apply_template(user: User, deal_id: UUID, sent: Sent, template_id: UUID, offer: int | None = None) -> dict[str, Any]:
    """Apply a template to a deal as one undoable change."""
    step = begin(user, deal_id, sent, Kind.TEMPLATE, offer=offer)
    if not step.retried:
        template = get_object_or_404(Template.objects.filter(may_use_releases(user, "release__")).select_related("release"), pk=template_id)
        if template.side != step.opened.deal.side:
            raise Refusal(f"“{template.name}” is for {template.side}, this deal is {step.opened.deal.side}.", "Choose another template.", "side")
        _apply(step, template)
        step.change.save(update_fields=["documents", "said"])
    return finish(step)


def _apply(step: Step, template: Template) -> None:
    opened = step.opened
    rows = {r.number: r for r in ReleaseForm.objects.filter(release=template.release_id)}
    forms = forms_of(rows.values())
    sheet = read_template(template.data, forms, load_catalog(), template.slug)
    if isinstance(sheet, list):
        raise Refusal(f"“{template.name}” can't be applied: {sheet[0]}", "Nothing was changed.", "template")
    present: dict[str, list[str]] = {}
    for d in opened.documents:
        present.setdefault(d.expected or opened.forms[d.code].edition.number, []).append(d.code)
    merged = merge(sheet, opened.ledger, forms, present, 0)
    first = opened.deal.next_position()
    made = [
        Document(
            deal=opened.deal, code=code, position=first + n, section=d.section, expected=d.expected or "", expected_from=d.expected_from,
            edition_id=rows[d.form].edition_id if d.form else None, mapping_id=rows[d.form].mapping_id if d.form else None,
            offer=_offer_for(opened, forms[d.form] if d.form else None), why=f"from “{template.name}”",
        )
        for n, (code, d) in enumerate(merged.documents)
    ]  # fmt: skip
    Document.objects.bulk_create(made)
    if made:
        step.change.documents = {**step.change.documents, "added": [d.code for d in made]}
        step.documents_moved = True
        reopen(step)
    step.write(*merged.entries)
    step.change.said = f"“{template.name}”: {merged.sentence()}"[:300]


def _offer_for(opened: OpenDeal, form: Form | None) -> Offer | None:
    """The offer that a form copy belongs to: the one at hand where the form speaks of terms, else none, so that each shows it."""
    return opened.offer if form is not None and form.speaks_of_terms else None


@transaction.atomic
def add_form(user: User, deal_id: UUID, sent: Sent, number: str, edition: str = "", offer: int | None = None) -> dict[str, Any]:
    """Add one form to the end of the package: this edition of any release open to the user, or the number in the deal's own release."""
    step = begin(user, deal_id, sent, Kind.DOCUMENTS, offer=offer)
    if not step.retried:
        opened = step.opened
        rows = ReleaseForm.objects.select_related("edition").order_by("-release__released")
        usable = (
            rows.filter(may_use_releases(user, "release__"), edition=edition)
            if edition
            else rows.filter(release=opened.deal.release_id, number=number)
        )
        row = usable.first()
        if row is None:
            raise Refusal(f"There is no form {number} that can be added.", "Look for it under another number.", "form", 404)
        last = max((d.position for d in opened.documents), default=-1)
        code = uuid.uuid4().hex[:12]
        Document.objects.create(
            deal=opened.deal,
            code=code,
            position=last + 1,
            section="Added",
            edition=row.edition,
            mapping_id=row.mapping_id,
            offer=_offer_for(opened, forms_of([row])[row.number]),
            why=f"added by {user.name}",
        )
        _documents_changed(step, {"added": [code]}, f"Added {number} {row.edition.title}")
    return finish(step)


@transaction.atomic
def use_contact(user: User, deal_id: UUID, sent: Sent, contact_id: UUID, group: str, party: str = "", offer: int | None = None) -> dict[str, Any]:
    """Fill a group of facts from a contact; in a group of parties the contact becomes (or, with ``party``, fills in) one of them."""
    step = begin(user, deal_id, sent, Kind.CONTACT, offer=offer)
    if step.retried:
        return finish(step)
    contact = find_contact(user, contact_id)
    said = fills(contact.core, group)
    if not said:
        raise Refusal(f"{contact.name} has nothing that belongs here.", "Choose another contact.", "contact")
    prefix = group
    if group in PARTY_GROUPS:
        ids = list(step.opened.package.sheet.party_ids(group))
        prefix = f"party.{party or uuid.uuid4().hex[:8]}"
        if not party:
            say_parties(step, group, [*ids, prefix.removeprefix("party.")])
        elif party not in ids:
            raise Refusal("This party is no longer there.", "Look at the parties again; nothing was changed.", "party", 409)
        if group == client_group(step.opened.deal.side) and contact.kind == "client":
            step.opened.deal.clients.add(contact)
    entries = []
    for name, text in said.items():
        read = load_catalog()[f"{prefix}.{name}"].read(text)
        if not isinstance(read, Fault):
            entries.append(Entry(f"{prefix}.{name}", Act.STATE, 0, Source.TYPED, read, origin=f"contact {contact.name}"))
    step.write(*entries)
    changed = [f"its {r['label'].lower()} was changed by {r['by']} on {r['at']:%B} {r['at'].day}" for r in recent([contact]).get(contact.pk, [])]
    step.change.said = "; ".join([f"{contact.name}, from contacts", *changed])[:300]
    step.change.save(update_fields=["said"])
    return finish(step)


@transaction.atomic
def remove_document(user: User, deal_id: UUID, sent: Sent, code: str, offer: int | None = None) -> dict[str, Any]:
    """Take a document out of the package; what was filled in stays on record and comes back with undo."""
    step = begin(user, deal_id, sent, Kind.DOCUMENTS, offer=offer)
    if not step.retried:
        document = _document(step, code)
        Document.objects.filter(pk=document.pk).update(removed=True)
        _documents_changed(step, {"removed": [code]}, f"Took out {_title(step, document)}")
    return finish(step)


@transaction.atomic
def set_aside(user: User, deal_id: UUID, sent: Sent, code: str, aside: bool, offer: int | None = None) -> dict[str, Any]:
    """Set a document aside, filled as it is, or take it up again."""
    step = begin(user, deal_id, sent, Kind.DOCUMENTS, offer=offer)
    if not step.retried:
        document = _document(step, code)
        Document.objects.filter(pk=document.pk).update(set_aside=aside)
        _documents_changed(step, {"aside": {code: document.set_aside}}, f"{'Set aside' if aside else 'Took up'} {_title(step, document)}")
    return finish(step)


@transaction.atomic
def put_in_order(user: User, deal_id: UUID, sent: Sent, codes: list[str], offer: int | None = None) -> dict[str, Any]:
    """Put the package's documents in this order."""
    step = begin(user, deal_id, sent, Kind.DOCUMENTS, offer=offer)
    if not step.retried:
        before = [d.code for d in step.opened.documents]
        if sorted(before) != sorted(codes):
            raise Refusal("The package has changed meanwhile.", "Look at it again; nothing was changed.", "order", 409)
        rows = {d.code: d for d in step.opened.documents}
        for place, code in enumerate(codes):
            rows[code].position = place
        Document.objects.bulk_update(rows.values(), ["position"])
        _documents_changed(step, {"order": before}, "Changed the order")
    return finish(step)


def _document(step: Step, code: str) -> Document:
    found = next((d for d in step.opened.documents if d.code == code), None)
    if found is None:
        raise Refusal("This document is no longer in the package.", "Look at it again; nothing was changed.", "document", 404)
    return found


def _title(step: Step, document: Document) -> str:
    form = step.opened.forms.get(document.code)
    return f"{form.edition.number} {form.edition.title}" if form else document.expected


def _documents_changed(step: Step, did: dict[str, Any], said: str) -> None:
    step.change.documents, step.change.said = did, said[:300]
    step.change.save(update_fields=["documents", "said"])
    step.documents_moved = True
    reopen(step)
