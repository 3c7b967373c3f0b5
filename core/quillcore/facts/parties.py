"""People and entities on each side, and the names that forms print for them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from quillcore.facts.keys import GROUPS, group_of, last_of, name_of
from quillcore.values import Finding, FindingWeight, Value


@dataclass(frozen=True)
class PartyField:
    """One field that every party has; ``of`` says whether a person or an entity alone is asked for it, "" for
    both."""

    kind: str
    label: str
    options: tuple[str, ...] = ()
    example: str = ""
    worked_out: bool = False
    of: str = ""


PERSON, ENTITY = "person", "entity"
PARTY_FIELDS = {
    "kind": PartyField("choice", "kind", (PERSON, ENTITY)),
    "given": PartyField("name", "given name", example="Amara", of=PERSON),
    "middle": PartyField("name", "middle name", of=PERSON),
    "family": PartyField("name", "family name", example="Okafor", of=PERSON),
    "suffix": PartyField("name", "suffix", example="Jr", of=PERSON),
    "entity_name": PartyField("name", "entity name", example="Voss Family Trust", of=ENTITY),
    "entity_kind": PartyField(
        "choice", "kind of entity", ("trust", "company", "partnership", "corporation", "estate"), of=ENTITY
    ),
    "signer": PartyField("name", "who signs for it", of=ENTITY),
    "email": PartyField("email", "e-mail"),
    "phone": PartyField("phone", "phone"),
    "mailing_address": PartyField("address", "mailing address"),
    "capacity": PartyField(
        "choice", "capacity", ("trustee", "attorney-in-fact", "personal representative"), of=PERSON
    ),
    "name": PartyField("name", "name", worked_out=True),
    "initials": PartyField("name", "initials", worked_out=True),
    "signature_name": PartyField("name", "name in the signature block", worked_out=True),
}
STATED_FIELDS = tuple(name for name, field in PARTY_FIELDS.items() if not field.worked_out)


@dataclass(frozen=True)
class Party:
    """One party as its stated fields say; a field that is missing or intentionally empty is ""."""

    fields: Mapping[str, str]

    @classmethod
    def of(cls, stated: Mapping[str, Value]) -> Party:
        """Build one from stated values by field name."""
        return cls({key: value for key, value in stated.items() if isinstance(value, str)})

    def _get(self, key: str) -> str:
        return self.fields.get(key, "")

    @property
    def is_entity(self) -> bool:
        """Whether it is a trust, company or the like: it says so, or has such a name and no family name."""
        return self._get("kind") == ENTITY or bool(self._get("entity_name") and not self._get("family"))

    @property
    def name(self) -> str:
        """The printed name: "June M O'Brien-Tate Jr", or the entity's name; "" while unnamed."""
        if self.is_entity:
            return self._get("entity_name")
        return self._person

    @property
    def email(self) -> str:
        """The e-mail; "" without one."""
        return self._get("email").strip()

    @property
    def signer(self) -> str:
        """The signer for an entity; "" where nobody is named."""
        return self._get("signer")

    @property
    def signing_person(self) -> str:
        """The person who holds the pen: the party, or the one who signs for the entity."""
        return self._get("signer") or self.name

    @property
    def initials(self) -> str:
        """First letters of given and family name of who signs."""
        return initials_of(self.signing_person)

    @property
    def signature_name(self) -> str:
        """ "Lena Voss, as trustee of the Voss Family Trust"; "" while nobody is named who signs for an
        entity, which holds no pen."""
        capacity, entity = self._get("capacity"), self._get("entity_name")
        signer = self._get("signer") or self._person
        if self.is_entity and not signer:
            return ""
        if entity and capacity:
            return f"{signer}, as {capacity} of the {entity}"
        if entity and self._get("signer"):
            return f"{entity}, by {signer}"
        return f"{self.name}, as {capacity}" if capacity and self.name else self.name

    @property
    def _person(self) -> str:
        return " ".join(part for part in map(self._get, ("given", "middle", "family", "suffix")) if part)


def initials_of(name: str) -> str:
    """Return first letters of a name's first and last word; of one word its own."""
    words = [w for w in name.split() if w[:1].isalpha()]
    return "".join(w[0].upper() for w in (words[:1] + words[-1:] if len(words) > 1 else words))


def shared_emails(parties: Mapping[str, Party]) -> dict[str, Finding]:
    """Return a remark for each party (by the key of its e-mail) whose e-mail another party has too. Each
    signer needs an address of their own."""
    by_address: dict[str, list[str]] = {}
    for key, who in parties.items():
        if address := who.email.casefold():
            by_address.setdefault(address, []).append(key)
    return {
        key: _shares(key, [parties[o].name for o in same if o != key])
        for same in by_address.values()
        if len(same) > 1
        for key in same
    }


def _shares(key: str, others: list[str]) -> Finding:
    has = "has" if len(others) == 1 else "have"
    return Finding(
        "shared e-mail",
        FindingWeight.LOOK,
        key,
        f"{joined(others)} {has} this e-mail too.",
        "Each signer needs a separate e-mail.",
    )


def is_derived(key: str) -> bool:
    """Return whether the key is worked out from parties (``buyers.names``, ``seller 2's initials``), so
    that nobody types it."""
    group, rest = group_of(key), name_of(key)
    field = PARTY_FIELDS.get(last_of(rest))
    worked_out = field is not None and field.worked_out
    return (group in GROUPS and (rest in ("names", "count") or worked_out)) or (
        group == "party" and worked_out
    )


def joined(names: Sequence[str]) -> str:
    """Return a list in words: "A", "A and B", "A, B, and C"."""
    if len(names) < 3:
        return " and ".join(names)
    return f"{', '.join(names[:-1])}, and {names[-1]}"
