"""The fields of a contact, and the facts of a deal that they answer."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from quillcore.facts.keys import GROUPS, Side
from quillcore.facts.parties import Party

KINDS = {
    "client": "Client",
    "agent": "Agent",
    "title": "Title company",
    "lender": "Lender",
    "inspector": "Inspector",
    "attorney": "Attorney",
    "warranty": "Home warranty",
    "association_manager": "Association manager",
    "other": "Other",
}
"""Kinds of contact; those between agent and other are named like the group of facts that they fill."""

FIELDS = {
    "given": "Given name",
    "middle": "Middle name",
    "family": "Family name",
    "suffix": "Suffix",
    "company": "Company or entity",
    "email": "E-mail",
    "phone": "Phone",
    "entity_kind": "Kind of entity",
    "signer": "Who signs for it",
    "address": "Address",
    "licence": "License",
    "code": "Listing-service code",
    "notes": "Notes",
}
OF_AN_ENTITY = ("entity_kind", "signer")
"""The fields of an entity alone: a trust or company that is a client."""
_ASKED_OF = {**dict.fromkeys(OF_AN_ENTITY, "client"), "licence": "agent", "code": "agent"}
"""Fields that only one kind of contact has."""
NOTES = "notes"
_AGENTS = ("listing_agent", "buyer_agent")
SECOND_AGENT = "second_agent"
"""The agent who works a deal together with its own: no group of facts, but some facts of the own agent's."""


@dataclass(frozen=True)
class ContactFields:
    """A person, a firm, or a person at a firm; a field that is missing is ""."""

    kind: str
    fields: Mapping[str, str]

    def get(self, name: str) -> str:
        """Return a field's text."""
        return self.fields.get(name, "").strip()

    @property
    def person(self) -> str:
        """The person's whole name; "" for a firm or entity alone."""
        return " ".join(part for part in map(self.get, ("given", "middle", "family", "suffix")) if part)

    @property
    def name(self) -> str:
        """Its name in lists: the person, else the firm, else the e-mail."""
        return self.person or self.get("company") or self.get("email")

    @property
    def sorted_as(self) -> str:
        """Under what it stands in a list: a person by surname, all others by name."""
        rest = " ".join(part for part in map(self.get, ("given", "middle", "suffix")) if part)
        family = self.get("family")
        return (f"{family}, {rest}" if family else self.name).lower()

    @property
    def party(self) -> Party:
        """The same as a party of a deal."""
        return Party.of({k.removeprefix("."): v for k, v in fills(self, "buyers").items()})


def fields_of(kind: str) -> list[str]:
    """Return the fields that a contact of a kind has, in the order in which they are asked; notes stand
    apart."""
    return [name for name in FIELDS if name != NOTES and _ASKED_OF.get(name, kind) == kind]


def fills(contact: ContactFields, group: str) -> dict[str, str]:
    """Return what the contact answers of a group of facts: texts by the key within it.  Nothing for a group
    that it has no say in."""
    get = contact.get
    if group in GROUPS:
        entity = bool(get("company")) and not contact.person
        own = ("given", "middle", "family", "suffix") if not entity else ()
        said = {name: get(name) for name in (*own, "email", "phone")} | {"mailing_address": get("address")}
        if entity:
            said |= {
                "kind": "entity",
                "entity_name": get("company"),
                "entity_kind": get("entity_kind"),
                "signer": get("signer"),
            }
    elif group in _AGENTS:
        said = {
            "name": contact.person,
            "licence": get("licence"),
            "code": get("code"),
            "email": get("email"),
            "phone": get("phone"),
        }
        said |= {"firm": get("company"), "firm_address": get("address")}
    elif group == SECOND_AGENT:
        said = {name: get(name) for name in ("licence", "email", "phone")} | {"name": contact.person}
    elif group == "warranty":
        said = {"company": get("company") or contact.person, "phone": get("phone")}
    elif group in KINDS and group not in ("client", "agent", "other"):
        said = {
            "company": get("company"),
            "officer": contact.person,
            "email": get("email"),
            "phone": get("phone"),
            "address": get("address"),
        }
    else:
        said = {}
    return {name: text for name, text in said.items() if text}


def answers(contact: ContactFields, group: str, side: Side) -> dict[str, str]:
    """Return the same by whole keys, in a deal of that side."""
    head = f"{side.own_agent}.second_" if group == SECOND_AGENT else f"{group}."
    return {head + name: text for name, text in fills(contact, group).items()}


_PERSON = "name"
"""The whole name of a person, as one fact; a contact has it in parts."""
_COMPANY = {
    "company": "company",
    "officer": _PERSON,
    "email": "email",
    "phone": "phone",
    "address": "address",
}
_AGENT = {
    "name": _PERSON,
    "licence": "licence",
    "code": "code",
    "email": "email",
    "phone": "phone",
    "firm": "company",
    "firm_address": "address",
}
_PARTY = {
    "given": "given",
    "middle": "middle",
    "family": "family",
    "suffix": "suffix",
    "entity_name": "company",
    "entity_kind": "entity_kind",
    "signer": "signer",
    "email": "email",
    "phone": "phone",
    "mailing_address": "address",
}


def kind_for(group: str) -> str | None:
    """Return the kind of contact that fills a group of facts; None for a group that no contact has a say
    in."""
    if group in GROUPS:
        return "client"
    if group in (*_AGENTS, SECOND_AGENT):
        return "agent"
    return group if group in KINDS and group not in ("client", "agent", "other") else None


def kept_from(group: str, said: Mapping[str, str]) -> ContactFields | None:
    """Return the contact that a group of facts makes (by the names within it): what ``fills`` does, the
    other way round; None where no contact fills the group.

    A whole name is parted before its last word, which most people's family name is; it can be mended on
    the contact.
    """
    kind = kind_for(group)
    if kind is None:
        return None
    fields = _PARTY if kind == "client" else _AGENT if kind == "agent" else _COMPANY
    found: dict[str, str] = {}
    for fact, field in fields.items():
        text = said.get(fact, "").strip()
        if text and field == _PERSON:
            given, _, family = text.rpartition(" ")
            found |= {"given": given, "family": family}
        elif text:
            found[field] = text
    return ContactFields(kind, {name: text for name, text in found.items() if text})
