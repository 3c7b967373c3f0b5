"""What a contact is, and which facts of a deal it answers."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from quillcore.facts.keys import GROUPS
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
    "middle": "Middle",
    "family": "Family name",
    "suffix": "Suffix",
    "company": "Company or entity",
    "entity_kind": "Kind of entity",
    "signer": "Who signs for it",
    "email": "E-mail",
    "phone": "Phone",
    "address": "Address",
    "licence": "Licence",
    "code": "Listing-service code",
    "notes": "Notes",
}
_AGENTS = ("listing_agent", "buyer_agent")


@dataclass(frozen=True)
class Contact:
    """A person, a firm, or a person at a firm; a field that is missing is ""."""

    kind: str
    fields: Mapping[str, str]

    def get(self, name: str) -> str:
        """A field's text."""
        return self.fields.get(name, "").strip()

    @property
    def person(self) -> str:
        """The person's whole name; "" for a firm or entity alone."""
        return " ".join(part for part in map(self.get, ("given", "middle", "family", "suffix")) if part)

    @property
    def name(self) -> str:
        """What a list calls it: the person, else the firm, else the e-mail."""
        return self.person or self.get("company") or self.get("email")

    @property
    def party(self) -> Party:
        """The same as a party of a deal."""
        return Party.of({k.removeprefix("."): v for k, v in fills(self, "buyers").items()})


def fills(contact: Contact, group: str) -> dict[str, str]:
    """What the contact answers of a group of facts: texts by the key within it.  Nothing for a group that it has no say in."""
    get = contact.get
    if group in GROUPS:
        entity = bool(get("company")) and not contact.person
        own = ("given", "middle", "family", "suffix") if not entity else ()
        said = {name: get(name) for name in (*own, "email", "phone")} | {"mailing_address": get("address")}
        if entity:
            said |= {"kind": "entity", "entity_name": get("company"), "entity_kind": get("entity_kind"), "signer": get("signer")}
    elif group in _AGENTS:
        said = {"name": contact.person, "licence": get("licence"), "code": get("code"), "email": get("email"), "phone": get("phone")}
        said |= {"firm": get("company"), "firm_address": get("address")}
    elif group == "warranty":
        said = {"company": get("company") or contact.person, "phone": get("phone")}
    elif group in KINDS and group not in ("client", "agent", "other"):
        said = {"company": get("company"), "officer": contact.person, "email": get("email"), "phone": get("phone"), "address": get("address")}
    else:
        said = {}
    return {name: text for name, text in said.items() if text}
