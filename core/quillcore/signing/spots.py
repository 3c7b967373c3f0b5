"""Who signs what: the places of a package's papers, and the people in whose places they are."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from quillcore.assembly import Document, Package, drawn
from quillcore.assembly.sheets import continuation
from quillcore.facts.keys import Group, read_role
from quillcore.pdf import Rect
from quillcore.signing.rounds import Signer


@dataclass(frozen=True)
class Spot:
    """A place to be signed: ``id`` names it in a round, ``page`` counts in its own paper from 1, ``rect`` in
    points; ``sign`` is signature, initials or date; ``who`` is the key of the signer."""

    id: str
    document: str
    page: int
    rect: Rect
    sign: str
    who: str


@dataclass(frozen=True)
class Person:
    """Somebody who could sign: ``key`` as ``buyers.1`` or ``listing_agent``; ``name`` who holds the pen and
    ``signs_as`` how it is printed (a trustee for a trust), both "" while nobody is named; ``role`` in words;
    ``name_key`` and ``email_key`` the facts that say it, "" where none does."""

    key: str
    name: str
    signs_as: str
    email: str
    role: str
    name_key: str = ""
    email_key: str = ""


def spots_of(package: Package, document: Document) -> list[Spot]:
    """A paper's places in reading order, for those who are there: a second buyer's lines are none while
    there is one buyer.  The form's own, those on continuation pages, and initials beside changes by hand."""
    found = [
        Spot(f"{document.id}/{field.id}", document.id, field.page, field.rect, meaning.sign, who)
        for field in document.form.edition.fields
        if (meaning := document.form.mapping.by_id[field.id]).sign is not None
        and (who := key_of(package, meaning.role or "")) is not None
    ]
    found += _beside_changes(package, document)
    over = [blank for blank in package.blanks([document]) if blank.overflow]
    _, further = continuation(package, document, over, document.form.edition.pages)
    for n, spot in enumerate(further):
        who = key_of(package, spot.role)
        if who is not None:
            place = f"{document.id}/further-{n + 1}"
            found.append(Spot(place, document.id, spot.page, spot.rect, spot.sign, who))
    return sorted(found, key=lambda spot: (spot.page, -spot.rect[3], spot.rect[0]))


def _beside_changes(package: Package, document: Document) -> list[Spot]:
    return [
        Spot(
            f"{document.id}/{change.change.id}-{spot.group}.{spot.position}",
            document.id,
            change.change.page,
            spot.rect,
            "initials",
            f"{spot.group}.{spot.position}",
        )
        for change in drawn(package, document)
        for spot in change.initials
    ]


def key_of(package: Package, text: str) -> str | None:
    """The key of whoever has a role ("seller.1" as "sellers.1"); None for a party who isn't there."""
    role = read_role(text)
    if role is None:
        return None
    group = role.party_group
    if group is None:
        return role.person or None
    is_there = role.position <= len(package.sheet.ledger.parties(group))
    return f"{group}.{role.position}" if is_there else None


def person(package: Package, key: str) -> Person:
    """Who is behind a signer's key, as the deal knows them now."""
    group, _, position = key.partition(".")
    if group in list(Group):
        party = package.sheet.party(group, int(position))
        label = f"{Group(group).label} {position}"
        keys = (f"{key}.signer" if party.is_entity else f"{key}.family", f"{key}.email")
        pen = party.signing_person if party.signature_name else ""  # a trust alone holds none
        return Person(key, pen, party.signature_name, party.email, label, *keys)
    name_key, email_key = _WHERE.get(key, ("", ""))
    name, email = _text(package, name_key), _text(package, email_key)
    label = key.replace("_", " ").capitalize()
    return Person(key, name, name, email, label, name_key, email_key)


_WHERE = {
    **{f"{side}_agent": (f"{side}_agent.name", f"{side}_agent.email") for side in ("listing", "buyer")},
    **{
        f"{side}_broker": (f"{side}_agent.broker", f"{side}_agent.broker_email")
        for side in ("listing", "buyer")
    },
    "deposit_holder": ("terms.deposit_holder_name", ""),
    "guarantor": ("lease.guarantor", ""),
}
"""The facts that have name and e-mail of those who sign and are no party."""


def _text(package: Package, key: str) -> str:
    value = package.sheet.held(key).value if key else None
    return value if isinstance(value, str) else ""


def signers(people: Iterable[Person], spots: Iterable[Spot], turns: dict[str, int]) -> tuple[Signer, ...]:
    """The signers of a round: each person with their places; ``turns`` by key, 1 where nothing is said."""
    every = list(spots)
    found = [
        Signer(
            p.key,
            p.name,
            p.email,
            turns.get(p.key, 1),
            frozenset(s.id for s in every if s.who == p.key and s.sign != "date"),
        )
        for p in people
    ]
    return tuple(sorted(found, key=lambda signer: signer.turn))
