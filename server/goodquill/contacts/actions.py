"""Keeping contacts: saving, merging, taking a file in."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from datetime import timedelta
from typing import TYPE_CHECKING, Any, NamedTuple
from uuid import UUID

from django.db import transaction
from django.db.models import Q
from django.shortcuts import get_object_or_404
from django.utils import timezone
from quillcore.contacts import FIELDS, KINDS, ContactFields, alike, merged, over_what_stands, read_stranger
from quillcore.contacts.cards import MOST_TEXT
from quillcore.values import KINDS as VALUE_KINDS
from quillcore.values import Fault

from goodquill.contacts.models import Contact, ContactChange
from goodquill.http.endpoints import Refusal
from goodquill.http.limits import MOST_CONTACTS
from goodquill.offices.access import may_merge_contacts, may_see_contacts
from goodquill.offices.models import User

if TYPE_CHECKING:
    from goodquill.http import wire

MOST_ALIKE = 20
"""Contacts that share an e-mail, a phone or a name and are compared with each other: a call center's number
stands in some dozen."""
MOST_CHANGES = 60
_CHECKED = {"email": "email", "phone": "phone"}


def find_contact(user: User, contact: UUID) -> Contact:
    """Return a contact that the user may see."""
    return get_object_or_404(Contact.objects.standing(may_see_contacts(user)), pk=contact)


def is_mine_to_merge(user: User, contact: Contact) -> bool:
    """Return whether the user may merge it, part it, take it off the list, and say whether it is shared."""
    return contact._state.adding or Contact.objects.filter(may_merge_contacts(user), pk=contact.pk).exists()


class ContactText(NamedTuple):
    """A contact's fields, as they are typed."""

    kind: str
    fields: dict[str, str]
    shared: bool

    @property
    def texts(self) -> dict[str, str]:
        """All of it as texts by name."""
        return {**self.fields, _KIND: self.kind, _SHARED: "yes" if self.shared else "no"}

    @classmethod
    def of(cls, texts: dict[str, str]) -> ContactText:
        """Return the other way round; what is empty isn't said."""
        fields = {name: texts[name] for name in FIELDS if texts.get(name)}
        return cls(texts[_KIND], fields, texts[_SHARED] == "yes")


_KIND, _SHARED = "Kind", "Shared in the brokerage"


def _over_what_stands(contact: Contact, knew: ContactText, typed: ContactText) -> ContactText:
    """Return what is typed, over what the contact says by now."""
    stands = ContactText(contact.kind, contact.fields, contact.shared)
    said, otherwise = over_what_stands(typed.texts, knew.texts, stands.texts)
    if otherwise:
        now = [f"{FIELDS.get(name, name)} “{stands.texts.get(name, '')}”" for name in otherwise]
        raise Refusal(
            f"{contact.name} was changed meanwhile: now it says {', '.join(now)}.",
            "Your text is still here. Save again to replace theirs.",
            "changed",
            409,
        )
    return ContactText.of(said)


@transaction.atomic
def save_contact(
    user: User,
    kind: str,
    fields: Mapping[str, str],
    shared: bool,
    contact: Contact | None = None,
    knew: ContactText | None = None,
) -> Contact:
    """Keep a contact, new or changed.  An e-mail or phone that can't be read is refused beside its field;
    what somebody else has changed since the author ``knew`` it is not written over."""
    texts = {name: fields[name].strip()[:MOST_TEXT] for name in FIELDS if fields.get(name, "").strip()}
    for name, value_kind in _CHECKED.items():
        if name in texts:
            read = VALUE_KINDS[value_kind].read(texts[name], ())
            if isinstance(read, Fault):
                raise Refusal(read.message, read.mend, name)
            texts[name] = str(read)
    if contact is not None:
        contact = Contact.objects.select_for_update().get(pk=contact.pk)
        if knew is not None:
            kind, texts, shared = _over_what_stands(contact, knew, ContactText(kind, texts, shared))
    if not ContactFields(kind, texts).name:
        raise Refusal("A contact needs a name, a company or an e-mail.", "Enter one of them.", "name")
    if contact is None:
        if Contact.objects.filter(owner=user).count() >= MOST_CONTACTS:
            raise Refusal(
                f"You have {MOST_CONTACTS:,} contacts, which is the most.",
                "Delete some first; nothing was changed.",
                "contacts",
                409,
            )
        contact = Contact(brokerage=user.brokerage, owner=user)
    if shared != contact.shared and not is_mine_to_merge(user, contact):
        raise Refusal(
            "Only the owner or the broker can share it.",
            "Ask one of them; nothing was changed.",
            "role",
            403,
        )
    before = said_by(contact)
    contact.shared = shared
    _put(contact, ContactFields(kind, texts))
    contact.save()
    _note(user, contact, "changed" if before else "made", before)
    return contact


def said_by(contact: Contact) -> dict[str, Any]:
    """Return what a contact says, as its history keeps it; nothing for one that isn't kept yet."""
    return (
        {}
        if contact._state.adding
        else {"kind": contact.kind, "fields": dict(contact.fields), "shared": contact.shared}
    )


def _note(user: User, contact: Contact, what: str, before: dict[str, Any]) -> None:
    after = said_by(contact)
    if after != before or what in ("removed", "restored"):
        ContactChange.objects.create(contact=contact, by=user, what=what, before=before, after=after)


def _put(contact: Contact, core: ContactFields) -> None:
    contact.kind, contact.fields = core.kind, dict(core.fields)
    contact.name, contact.email = core.name[:250], core.get("email")[:254].lower()
    contact.sorted_as = core.sorted_as[:250]
    said = [core.get(n) for n in FIELDS if n != "notes" and core.get(n)]
    contact.words = " ".join([*said, KINDS.get(core.kind, "")]).lower()[:600]


@transaction.atomic
def remove(user: User, contact: UUID, removed: bool) -> None:
    """Take a contact off the list, or put it back; deals keep what they have.  A shared one is its owner's or
    the broker's to take off."""
    found = get_object_or_404(Contact.objects.select_for_update().filter(may_see_contacts(user)), pk=contact)
    if not is_mine_to_merge(user, found):
        raise Refusal(
            "Only the owner or the broker can remove this shared contact.",
            "Nothing was changed.",
            "role",
            403,
        )
    if found.removed == removed:
        where = "already deleted" if removed else "not deleted"
        raise Refusal(f"{found.name} is {where}.", "Nothing was changed.", "nothing", 409)
    before = said_by(found)
    found.removed = removed
    found.save(update_fields=["removed", "touched"])
    _note(user, found, "removed" if removed else "restored", before)


def history(user: User, contact: UUID) -> list[ContactChange]:
    """Return the contact's changes, the newest first."""
    found = get_object_or_404(Contact.objects.filter(may_see_contacts(user)), pk=contact)
    return list(found.changes.select_related("by")[:MOST_CHANGES])


@transaction.atomic
def undo(user: User, contact: UUID, change: int) -> tuple[Contact, list[str]]:
    """Take one change back: every field that still says what the change left; the others are named."""
    found = Contact.objects.select_for_update().get(pk=find_contact(user, contact).pk)
    row = get_object_or_404(found.changes, pk=change, what__in=("changed", "undone"))
    before, fields, left = said_by(found), dict(found.fields), []
    old, new = row.before.get("fields", {}), row.after.get("fields", {})
    for name in FIELDS:
        if old.get(name) == new.get(name):
            continue
        if fields.get(name) != new.get(name):
            left.append(FIELDS[name])
        elif old.get(name):
            fields[name] = old[name]
        else:
            fields.pop(name, None)
    kind = row.before["kind"] if found.kind == row.after["kind"] else found.kind
    _put(found, ContactFields(kind, fields))
    if not found.name:
        raise Refusal("Can't undo: the contact would have no name.", "Nothing was changed.", "name", 409)
    found.save()
    _note(user, found, "undone", before)
    return found, left


WATCHED = {"email": "E-mail", "phone": "Phone"}
"""Fields by which money can be led astray: whose change is told beside a shared contact for thirty days."""
TOLD_FOR = timedelta(days=30)


def recent(contacts: Iterable[Contact]) -> dict[UUID, list[wire.Recent]]:
    """Return, of shared contacts, the watched fields that somebody changed lately. One query."""
    shared = [c.pk for c in contacts if c.shared]
    rows = (
        ContactChange.objects.filter(contact__in=shared, at__gte=timezone.now() - TOLD_FOR)
        .exclude(what="made")
        .select_related("by")
        .order_by("pk")
    )
    told: dict[UUID, dict[str, wire.Recent]] = {}
    for row in rows:
        old, new = row.before.get("fields", {}), row.after.get("fields", {})
        for name, label in WATCHED.items():
            if old.get(name, "") != new.get(name, ""):
                one: wire.Recent = {
                    "field": name,
                    "label": label,
                    "by": row.by.name,
                    "at": row.at,
                    "before": old.get(name, ""),
                }
                told.setdefault(row.contact_id, {})[name] = one
    return {pk: list(fields.values()) for pk, fields in told.items()}


def twins(contact: Contact, among: Iterable[Contact]) -> list[tuple[Contact, str]]:
    """Return which of the others are probably the same, and why."""
    return [
        (other, why) for other in among if other.pk != contact.pk and (why := alike(contact.core, other.core))
    ]


def near(user: User, core: ContactFields) -> list[Contact]:
    """Return the user's contacts that might be the same: by e-mail, or by a name that begins alike.  One
    query."""
    condition = Q(name__iexact=core.name)
    if core.get("email"):
        condition |= Q(email=core.get("email").lower())
    if core.get("family"):
        condition |= Q(words__contains=core.get("family").lower())
    return list(Contact.objects.standing(may_see_contacts(user) & condition)[:50])


def known(user: User, kind: str, fields: Mapping[str, str]) -> Contact | None:
    """Return the contact of that kind that is probably the same as what is said, if the user has one."""
    said = Contact(kind=kind, fields={k: v.strip() for k, v in fields.items() if v.strip()})
    found = twins(said, [c for c in near(user, said.core) if c.kind == kind])
    return found[0][0] if found else None


def keep_or_add_to(user: User, kind: str, fields: Mapping[str, str], shared: bool) -> Contact:
    """Return the contact that is probably the same, with what it lacked; else a new one.  Nothing that it
    says is overwritten."""
    there = known(user, kind, fields)
    if there is None:
        return save_contact(user, kind, fields, shared)
    more = {name: text for name, text in fields.items() if not there.fields.get(name)}
    return save_contact(user, there.kind, {**there.fields, **more}, there.shared, there) if more else there


@transaction.atomic
def merge(user: User, contact: UUID, other: UUID) -> Contact:
    """Make two contacts one.  What the kept one lacks comes from the other, what differs goes to its notes.
    Both have to be the user's own, or the user the broker."""
    keep, gone = find_contact(user, contact), find_contact(user, other)
    if keep.pk == gone.pk:
        raise Refusal("A contact can't be merged with itself.", "Choose another.", "merge")
    for one in (keep, gone):
        if not is_mine_to_merge(user, one):
            raise Refusal(
                f"{one.name} is shared; merging it is for its owner or the broker.",
                "Ask one of them; nothing was changed.",
                "role",
                403,
            )
    before = said_by(keep)
    gone.merged_into, gone.before_merge = keep, {"kind": keep.kind, "fields": keep.fields}
    gone.save(update_fields=["merged_into", "before_merge", "touched"])
    _put(keep, merged(keep.core, gone.core))
    keep.save()
    _note(user, keep, "merged", before)
    return keep


@transaction.atomic
def part(user: User, contact: UUID) -> Contact:
    """Take the last merging into this contact back; refused when it was changed since."""
    keep = find_contact(user, contact)
    gone = keep.merged.order_by("-touched").first()
    if gone is None:
        raise Refusal("Nothing was merged into this contact.", "", "merge", 409)
    if not is_mine_to_merge(user, keep):
        raise Refusal("Only the owner or the broker can undo the merge.", "Nothing was changed.", "role", 403)
    said = said_by(keep)
    before = ContactFields(gone.before_merge["kind"], gone.before_merge["fields"])
    if merged(before, gone.core).fields != keep.fields:
        raise Refusal(
            "The contact was changed after merging.",
            "Nothing was changed; add a second contact yourself.",
            "merge",
            409,
        )
    _put(keep, before)
    keep.save()
    gone.merged_into = None
    gone.save(update_fields=["merged_into"])
    _note(user, keep, "parted", said)
    return keep


def take_in(user: User, content: bytes) -> dict[str, int]:
    """Take the contacts of a vCard or CSV file in; one that is probably there already only adds what it knows
    more."""
    found = read_stranger(content)
    if isinstance(found, Fault):
        raise Refusal.of(found, safe="Nothing was changed.")
    return _taken_in(user, found)


@transaction.atomic
def _taken_in(user: User, found: list[ContactFields]) -> dict[str, int]:
    if Contact.objects.filter(owner=user).count() + len(found) > MOST_CONTACTS:
        raise Refusal(
            f"That would be more than {MOST_CONTACTS:,} contacts, which is the most.",
            "Nothing was imported.",
            "contacts",
            409,
        )
    by_sign = _by_sign(Contact.objects.standing(may_see_contacts(user)))
    new: list[Contact] = []
    for core in found:
        same = next(
            (c for sign in _signs(core) for c in by_sign.get(sign, [])[:MOST_ALIKE] if alike(c.core, core)),
            None,
        )
        if same is not None:
            both = merged(same.core, core)
            if both.fields != same.fields:
                before = said_by(same)
                _put(same, both)
                if not same._state.adding:
                    same.save()
                    _note(user, same, "changed", before)
            continue
        contact = Contact(brokerage=user.brokerage, owner=user)
        _put(contact, ContactFields(core.kind, {k: v[:2000] for k, v in core.fields.items()}))
        new.append(contact)
        for sign in _signs(core):
            by_sign.setdefault(sign, []).append(contact)
    Contact.objects.bulk_create(new)
    return {"read": len(found), "added": len(new), "known": len(found) - len(new)}


def _signs(core: ContactFields) -> list[str]:
    """Return what two that are one have in common at least: only such pairs need be compared."""
    digits = "".join(c for c in core.get("phone") if c.isdigit())[-10:]
    return [
        s
        for s in (
            core.get("email").casefold(),
            digits,
            core.get("licence").casefold(),
            " ".join(core.name.casefold().split()),
        )
        if s
    ]


def _by_sign(contacts: Iterable[Contact]) -> dict[str, list[Contact]]:
    found: dict[str, list[Contact]] = {}
    for c in contacts:
        for sign in set(_signs(c.core)):
            found.setdefault(sign, []).append(c)
    return found


def suspects(contacts: list[Contact]) -> dict[UUID, list[tuple[Contact, str]]]:
    """Return, of these contacts, those that are probably duplicates; work grows with the likely pairs
    only."""
    found: dict[UUID, dict[UUID, tuple[Contact, str]]] = {}
    for group in _by_sign(contacts).values():
        for n, one in enumerate(group[:MOST_ALIKE]):
            for other in group[n + 1 : MOST_ALIKE]:
                if why := alike(one.core, other.core):
                    found.setdefault(one.pk, {})[other.pk] = (other, why)
                    found.setdefault(other.pk, {})[one.pk] = (one, why)
    return {pk: list(others.values()) for pk, others in found.items()}
