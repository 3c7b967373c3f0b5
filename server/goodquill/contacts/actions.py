"""Keeping contacts: saving, merging, taking a file in."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from uuid import UUID

from django.db import transaction
from django.db.models import Q
from django.shortcuts import get_object_or_404
from quillcore.contacts import FIELDS, alike, merged, read_cards
from quillcore.contacts import Contact as CoreContact
from quillcore.values import KINDS as VALUE_KINDS
from quillcore.values import Fault

from goodquill.api import Refusal
from goodquill.contacts.models import Contact
from goodquill.offices.access import may_see_contacts
from goodquill.offices.models import User

_CHECKED = {"email": "email", "phone": "phone"}


def find_contact(user: User, contact: UUID) -> Contact:
    """A contact that the user may see."""
    return get_object_or_404(Contact.objects.standing(may_see_contacts(user)), pk=contact)


def save_contact(user: User, kind: str, fields: Mapping[str, str], shared: bool, contact: Contact | None = None) -> Contact:
    """Keep a contact, new or changed.  An e-mail or phone that can't be read is refused beside its field."""
    texts = {name: fields[name].strip()[:2000] for name in FIELDS if fields.get(name, "").strip()}
    for name, value_kind in _CHECKED.items():
        if name in texts:
            read = VALUE_KINDS[value_kind].read(texts[name], ())
            if isinstance(read, Fault):
                raise Refusal(read.message, read.mend, name)
            texts[name] = str(read)
    if not CoreContact(kind, texts).name:
        raise Refusal("A contact needs a name, a company or an e-mail.", "Type one of them.", "name")
    contact = contact or Contact(brokerage=user.brokerage, owner=user)
    contact.shared = shared
    _put(contact, CoreContact(kind, texts))
    contact.save()
    return contact


def _put(contact: Contact, core: CoreContact) -> None:
    contact.kind, contact.fields = core.kind, dict(core.fields)
    contact.name, contact.email = core.name[:250], core.get("email")[:254].lower()
    contact.words = " ".join(core.get(n) for n in FIELDS if n != "notes" and core.get(n)).lower()[:600]


def remove(user: User, contact: UUID, removed: bool) -> None:
    """Take a contact off the list, or put it back; deals keep what they have."""
    found = get_object_or_404(Contact.objects.filter(may_see_contacts(user)), pk=contact)
    found.removed = removed
    found.save(update_fields=["removed", "touched"])


def twins(contact: Contact, among: Iterable[Contact]) -> list[tuple[Contact, str]]:
    """Which of the others are probably the same, and why."""
    return [(other, why) for other in among if other.pk != contact.pk and (why := alike(contact.core, other.core))]


def near(user: User, core: CoreContact) -> list[Contact]:
    """The user's contacts that might be the same: by e-mail, or by a name that begins alike.  One query."""
    condition = Q(name__iexact=core.name)
    if core.get("email"):
        condition |= Q(email=core.get("email").lower())
    if core.get("family"):
        condition |= Q(words__contains=core.get("family").lower())
    return list(Contact.objects.standing(may_see_contacts(user) & condition)[:50])


def known(user: User, kind: str, fields: Mapping[str, str]) -> Contact | None:
    """The contact of that kind that is probably the same as what is said, if the user has one."""
    said = Contact(kind=kind, fields={k: v.strip() for k, v in fields.items() if v.strip()})
    found = twins(said, [c for c in near(user, said.core) if c.kind == kind])
    return found[0][0] if found else None


@transaction.atomic
def merge(user: User, contact: UUID, other: UUID) -> Contact:
    """Make two contacts one.  What the kept one lacks comes from the other, what differs goes to its notes."""
    keep, gone = find_contact(user, contact), find_contact(user, other)
    if keep.pk == gone.pk:
        raise Refusal("A contact can't be merged with itself.", "Choose another.", "merge")
    gone.merged_into, gone.before_merge = keep, {"kind": keep.kind, "fields": keep.fields}
    gone.save(update_fields=["merged_into", "before_merge"])
    _put(keep, merged(keep.core, gone.core))
    keep.save()
    return keep


@transaction.atomic
def part(user: User, contact: UUID) -> Contact:
    """Take the last merging into this contact back; refused when it was changed since."""
    keep = find_contact(user, contact)
    gone = keep.merged.order_by("-touched").first()
    if gone is None:
        raise Refusal("Nothing was merged into this contact.", "", "merge", 409)
    before = CoreContact(gone.before_merge["kind"], gone.before_merge["fields"])
    if merged(before, gone.core).fields != keep.fields:
        raise Refusal("The contact was changed after merging.", "Nothing was changed; make a second contact by hand.", "merge", 409)
    _put(keep, before)
    keep.save()
    gone.merged_into = None
    gone.save(update_fields=["merged_into"])
    return keep


@transaction.atomic
def take_in(user: User, content: bytes) -> dict[str, int]:
    """Take the contacts of a vCard or CSV file in; one that is probably there already only adds what it knows more."""
    found = read_cards(content)
    if isinstance(found, Fault):
        raise Refusal(found.message, f"{found.mend} Nothing was changed.", found.rule)
    by_sign = _by_sign(Contact.objects.standing(may_see_contacts(user)))
    new: list[Contact] = []
    for core in found:
        same = next((c for sign in _signs(core) for c in by_sign.get(sign, []) if alike(c.core, core)), None)
        if same is not None:
            both = merged(same.core, core)
            if both.fields != same.fields:
                _put(same, both)
                if same not in new:
                    same.save()
            continue
        contact = Contact(brokerage=user.brokerage, owner=user)
        _put(contact, CoreContact(core.kind, {k: v[:2000] for k, v in core.fields.items()}))
        new.append(contact)
        for sign in _signs(core):
            by_sign.setdefault(sign, []).append(contact)
    Contact.objects.bulk_create(new)
    return {"read": len(found), "added": len(new), "known": len(found) - len(new)}


def _signs(core: CoreContact) -> list[str]:
    """What two that are one have in common at least: only such pairs need be compared."""
    digits = "".join(c for c in core.get("phone") if c.isdigit())[-10:]
    return [s for s in (core.get("email").casefold(), digits, core.get("licence").casefold(), " ".join(core.name.casefold().split())) if s]


def _by_sign(contacts: Iterable[Contact]) -> dict[str, list[Contact]]:
    found: dict[str, list[Contact]] = {}
    for c in contacts:
        for sign in set(_signs(c.core)):
            found.setdefault(sign, []).append(c)
    return found


def suspects(contacts: list[Contact]) -> dict[UUID, list[tuple[Contact, str]]]:
    """Of these contacts, those that are probably one with another of them; work grows with the likely pairs only."""
    found: dict[UUID, dict[UUID, tuple[Contact, str]]] = {}
    for group in _by_sign(contacts).values():
        for n, one in enumerate(group[:20]):
            for other in group[n + 1 : 20]:
                if why := alike(one.core, other.core):
                    found.setdefault(one.pk, {})[other.pk] = (other, why)
                    found.setdefault(other.pk, {})[one.pk] = (one, why)
    return {pk: list(others.values()) for pk, others in found.items()}
