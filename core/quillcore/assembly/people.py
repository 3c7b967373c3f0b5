"""The people in whose places a package's papers are signed, by key: ``buyers.1``, ``listing_agent``."""

from __future__ import annotations

from dataclasses import dataclass

from quillcore.assembly.blanks import Package
from quillcore.facts.keys import BESIDE_PARTIES, read_role, signer_key


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

    @property
    def called(self) -> str:
        """The name, and while nobody is named the role."""
        return self.name or self.role


def key_of(package: Package, text: str) -> str | None:
    """Return the key of whoever has a role ("seller.1" as "sellers.1"); None for a party who isn't there."""
    role = read_role(text)
    if role is None:
        return None
    group = role.party_group
    if group is None:
        return role.person or None
    key = group.signer(role.position)
    return key if is_there(package, key) else None


def is_there(package: Package, key: str) -> bool:
    """Return whether the deal has such a party; agents, brokers and the like always are."""
    who = signer_key(key)
    if who is None or who.group is None:
        return who is not None
    return who.position <= len(package.sheet.ledger.parties(who.group))


def everybody(package: Package) -> list[Person]:
    """Return all who could sign a paper of this package: its parties, the clients first, then the agents, the
    brokers and the others of its side."""
    ledger = package.sheet.ledger
    parties = [*ledger.signers(ledger.side.clients), *ledger.signers(ledger.side.others)]
    others = [
        key for key in BESIDE_PARTIES if key != ("deposit_holder" if ledger.side.is_lease else "guarantor")
    ]
    return [person(package, key) for key in (*parties, *others)]


def person(package: Package, key: str) -> Person:
    """Return who is behind a signer's key, as the deal knows them now."""
    who = signer_key(key)
    if who is not None and who.group is not None:
        party = package.sheet.party(who.group, who.position)
        label = f"{who.group.label} {who.position}"
        keys = (f"{key}.signer" if party.is_entity else f"{key}.family", f"{key}.email")
        pen = party.signing_person if party.signature_name else ""  # a trust alone holds none
        return Person(key, pen, party.signature_name, party.email, label, *keys)
    name_key, email_key = BESIDE_PARTIES.get(key, ("", ""))
    name, email = _text(package, name_key), _text(package, email_key)
    label = key.replace("_", " ").capitalize()
    return Person(key, name, name, email, label, name_key, email_key)


def _text(package: Package, key: str) -> str:
    value = package.sheet.held(key).value if key else None
    return value if isinstance(value, str) else ""
