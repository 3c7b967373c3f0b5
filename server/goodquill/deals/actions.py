"""Applying a template, using a contact, and changing a deal's package."""

from __future__ import annotations

import uuid
from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING
from uuid import UUID

from django.db.models import Q
from quillcore.contacts import answers, fills
from quillcore.facts import Act, Entry, Side, Source, load_catalog
from quillcore.facts.keys import GROUPS, PartyKey
from quillcore.forms import Form
from quillcore.templates import merge
from quillcore.templates.merging import same_task
from quillcore.values import Fault

from goodquill.changelog.models import Kind
from goodquill.changelog.parts import Fields
from goodquill.contacts.actions import find_contact, recent
from goodquill.contacts.models import Contact
from goodquill.deals.models import Document, Offer
from goodquill.deals.opening import OpenDeal, only_a_deal
from goodquill.deals.parts import DOCUMENTS
from goodquill.deals.steps import DealStep, deal_change
from goodquill.deals.tasks import made_of, stated_tasks
from goodquill.forms.models import ReleaseForm
from goodquill.forms.queries import forms_of
from goodquill.http.endpoints import Refusal
from goodquill.offices.access import may_see_contacts, may_use_releases
from goodquill.offices.models import User
from goodquill.templates.models import Template
from goodquill.templates.queries import find_template, forms_named, read_kept

if TYPE_CHECKING:
    pass


@deal_change(Kind.TEMPLATE)
def apply_template(step: DealStep, template_id: UUID) -> None:
    """Apply a template to a deal as one undoable change."""
    template = find_template(step.user, template_id)
    if template.side != step.opened.deal.side:
        raise Refusal(
            f"“{template.name}” is for {template.side}, this deal is {step.opened.deal.side}.",
            "Choose another template.",
            "side",
        )
    apply(step, template)


def apply(step: DealStep, template: Template) -> None:
    """Merge a template into the deal, within a step."""
    opened = step.opened
    rows = forms_named(template.release_id, template.brokerage_id)
    forms = forms_of(rows.values())
    people = template.data.get("people", {}) if opened.deal.template_id is None else {}
    content = {
        **template.data,
        "answers": {**_said_by(step.user, people, opened.side), **template.data.get("answers", {})},
    }
    sheet = read_kept(content, forms, template.name)
    if isinstance(sheet, list):
        raise Refusal(f"“{template.name}” can't be applied: {sheet[0]}", "Nothing was changed.", "template")
    present: dict[str, list[str]] = {}
    for d in opened.documents:
        present.setdefault(d.expected or opened.forms[d.code].edition.number, []).append(d.code)
    stated = stated_tasks(opened.deal)
    merged = merge(sheet, opened.ledger, forms, present, 0, tasks={same_task(task.what) for task in stated})
    first = opened.next_position
    made = [
        Document(
            deal=opened.deal,
            code=code,
            position=first + n,
            section=d.section,
            expected=d.expected or "",
            expected_from=d.expected_from,
            edition_id=rows[d.form].edition_id if d.form else None,
            mapping_id=rows[d.form].mapping_id if d.form else None,
            offer=_offer_for(opened, forms[d.form] if d.form else None),
            why=f"from “{template.name}”",
            set_aside=d.reserve,
        )
        for n, (code, d) in enumerate(merged.documents)
    ]
    step.add_documents(made)
    step.add_tasks(made_of(opened.deal, merged.tasks, f"from “{template.name}”"), stated)
    step.say(f"“{template.name}”: {merged.sentence()}")
    step.write(*merged.entries)
    if opened.deal.template_id is None:
        opened.deal.began_with.add(template)


def _said_by(user: User, people: Mapping[str, str], side: Side) -> dict[str, str]:
    """Return what a template's contacts say now, as standing answers; those that aren't open to the user,
    or are off the list, say nothing."""
    rows = Contact.objects.standing(may_see_contacts(user)).filter(pk__in=people.values()) if people else ()
    by_id = {str(row.pk): row for row in rows}
    said: dict[str, str] = {}
    for group, contact in people.items():
        if contact in by_id:
            said |= answers(by_id[contact].core, group, side)
    catalog = load_catalog()
    return {
        key: text
        for key, text in said.items()
        if catalog.find(key) is not None and not isinstance(catalog[key].read(text), Fault)
    }


def _offer_for(opened: OpenDeal, form: Form | None) -> Offer | None:
    """Return the offer that a form copy belongs to: the one at hand where the form speaks of terms, else
    none, so that each shows it."""
    return opened.offer if form is not None and form.speaks_of_terms else None


@deal_change(Kind.DOCUMENTS)
def add_forms(step: DealStep, numbers: Sequence[str], edition: str = "") -> None:
    """Add forms to the end of the package, in the order named: one in this edition of any release open to the
    user, or by their numbers those of the deal's own release and of the brokerage's papers.  Where one can't
    be, none is."""
    opened = step.opened
    rows = _usable_forms(step.user, opened, numbers, edition)
    forms = forms_of(rows)
    first = opened.next_position
    step.add_documents(
        [
            form_copy(
                opened, row, first + n, _offer_for(opened, forms[row.number]), f"added by {step.user.name}"
            )
            for n, row in enumerate(rows)
        ]
    )
    step.say(f"Added {', '.join(f'{row.number} {row.edition.title}' for row in rows)}")


def form_copy(opened: OpenDeal, row: ReleaseForm, position: int, offer: Offer | None, why: str) -> Document:
    """Return an unsaved copy of a form for the package: added, and of one offer or of all."""
    return Document(
        deal=opened.deal,
        code=uuid.uuid4().hex[:12],
        position=position,
        section="Added",
        edition=row.edition,
        mapping_id=row.mapping_id,
        offer=offer,
        why=why,
    )


def _usable_forms(user: User, opened: OpenDeal, numbers: Sequence[str], edition: str) -> list[ReleaseForm]:
    """Return the newest row of each number, in the order named."""
    rows = ReleaseForm.objects.select_related("edition").order_by("release__released")
    if edition:
        found = rows.filter(may_use_releases(user, "release__"), edition=edition).last()
        usable = {number: found for number in numbers or [""] if found is not None}
    else:
        own = Q(release__own_papers=True, release__brokerage=opened.deal.brokerage_id)
        reach = own | Q(release=opened.deal.release_id)
        usable = {row.number: row for row in rows.filter(reach, number__in=numbers)}
    missing = [number for number in numbers if number not in usable]
    if missing or not usable:
        raise Refusal(
            f"There is no form {', '.join(missing)} that can be added.",
            "Look for it under another number; nothing was added.",
            "form",
            404,
        )
    return [usable[number] for number in (numbers or usable)]


@deal_change(Kind.DOCUMENTS)
def expect_paper(step: DealStep, expected: str, expected_from: str) -> None:
    """Wait for a paper from somebody: its place in the package is kept."""
    if not expected.strip():
        raise Refusal("The expected paper has no name.", "Enter what the paper is called.", "expected")
    step.add_documents(
        [
            Document(
                deal=step.opened.deal,
                code=uuid.uuid4().hex[:12],
                position=step.opened.next_position,
                section="From others",
                expected=expected.strip(),
                expected_from=expected_from.strip(),
                why=f"added by {step.user.name}",
            )
        ]
    )
    step.say(f"Expecting {expected.strip()}")


@deal_change(Kind.CONTACT)
def use_contact(step: DealStep, contact_id: UUID, group: str, party: str = "") -> None:
    """Fill a group of facts from a contact; in a group of parties the contact becomes (or, with ``party``,
    fills in) one of them."""
    contact = find_contact(step.user, contact_id)
    said = fills(contact.core, group)
    if not said:
        raise Refusal(f"{contact.name} has nothing for this deal.", "Choose another contact.", "contact")
    keys = {name: f"{group}.{name}" for name in said}
    if group in GROUPS:
        only_a_deal(step.opened.deal)
        ids, named = step.opened.ledger.parties(group), party or uuid.uuid4().hex[:8]
        keys = {name: str(PartyKey(named, name)) for name in said}
        if not party:
            step.say_parties(group, [*ids, named])
        elif party not in ids:
            raise Refusal(
                "This party was removed.",
                "Nothing was changed. Reload and try again.",
                "party",
                409,
            )
        if group == step.opened.side.clients and contact.kind == "client":
            step.opened.deal.clients.add(contact)
    entries = []
    for name, text in said.items():
        key = keys[name]
        read = load_catalog()[key].read(text)
        if not isinstance(read, Fault):
            entries.append(Entry(key, Act.STATE, 0, Source.TYPED, read, origin=f"contact {contact.name}"))
    step.write(*entries)
    changed = [
        f"its {r['label'].lower()} was changed by {r['by']} on {r['at']:%B} {r['at'].day}"
        for r in recent([contact]).get(contact.pk, [])
    ]
    step.say("; ".join([f"{contact.name}, from contacts", *changed]))


@deal_change(Kind.DOCUMENTS)
def remove_document(step: DealStep, code: str) -> None:
    """Take a document out of the package; what was filled in stays on record and comes back with undo."""
    title = _title(step, _document(step, code))
    step.do(DOCUMENTS, {code: {"removed": True}})
    step.say(f"Removed {title}")


@deal_change(Kind.DOCUMENTS)
def set_aside(step: DealStep, code: str, aside: bool) -> None:
    """Set a document aside, filled as it is, or take it up again."""
    title = _title(step, _document(step, code))
    step.do(DOCUMENTS, {code: {"set_aside": aside}})
    step.say(f"Left {title} out of the package" if aside else f"Put {title} back into the package")


@deal_change(Kind.DOCUMENTS)
def put_in_section(step: DealStep, code: str, section: str) -> None:
    """Put a document under another heading: behind the last that stands under it, or with a new heading where
    it is."""
    document = _document(step, code)
    rest = [d for d in step.opened.documents if d.code != code]
    places = [n for n, d in enumerate(rest, 1) if d.section == section]
    place = places[-1] if places else step.opened.documents.index(document)
    order = [d.code for d in (*rest[:place], document, *rest[place:])]
    wanted: dict[str, Fields] = {c: {"position": n} for n, c in enumerate(order)}
    wanted[code]["section"] = section
    step.do(DOCUMENTS, wanted)
    step.say(f"{_title(step, document)} is now under {section}")


@deal_change(Kind.DOCUMENTS)
def put_in_order(step: DealStep, codes: list[str], moved: str = "") -> None:
    """Put the package's documents in this order; the one that was ``moved`` takes the heading of its
    place."""
    if sorted(d.code for d in step.opened.documents) != sorted(codes):
        raise Refusal(
            "Someone changed the package.", "Nothing was changed. Reload and try again.", "order", 409
        )
    order: dict[str, Fields] = {code: {"position": place} for place, code in enumerate(codes)}
    section = _section_at(step, codes, moved) if moved in order else ""
    if section:
        order[moved]["section"] = section
    step.do(DOCUMENTS, order)
    step.say(f"Changed the order, under {section}" if section else "Changed the order")


def _section_at(step: DealStep, codes: list[str], moved: str) -> str:
    """Return the heading that a document comes under by its place: the one above it, at the head the one
    below; "" where it is under one of them already."""
    sections = {d.code: d.section for d in step.opened.documents}
    place = codes.index(moved)
    beside = [sections[code] for code in (*codes[max(place - 1, 0) : place], *codes[place + 1 : place + 2])]
    return "" if not beside or sections[moved] in beside else beside[0]


def _document(step: DealStep, code: str) -> Document:
    found = next((d for d in step.opened.documents if d.code == code), None)
    if found is None:
        raise Refusal(
            "This document is no longer in the package.",
            "Nothing was changed. Reload and try again.",
            "document",
            404,
        )
    return found


def _title(step: DealStep, document: Document) -> str:
    form = step.opened.forms.get(document.code)
    return f"{form.edition.number} {form.edition.title}" if form else document.expected
