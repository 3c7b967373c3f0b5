"""Keys, party groups, sides of a deal and roles: taken apart and put together here, and nowhere else.

A key names one value.  There are four sorts:

- a **shared fact**: ``terms.purchase_price``;
- a **party as screens and forms name it**, by position: ``buyers.2.email``;
- a **party as it is kept**, by an id that stays when the order changes: ``party.9f3ac21b.email``;
- a **document's own blank**: ``doc.c0ffee.survey-by``.
"""

from __future__ import annotations

import enum
import re
from collections.abc import Sequence
from functools import lru_cache
from typing import NamedTuple

from quillcore.values.structured import digits

MOST_PARTIES = 12
"""Of one group: more have never signed one paper in what we were shown; beyond that an entity signs for them.
"""


class Group(enum.StrEnum):
    """The groups of parties."""

    SELLERS = "sellers"
    BUYERS = "buyers"
    LANDLORDS = "landlords"
    TENANTS = "tenants"

    @property
    def one(self) -> str:
        """One of them, as a role begins: ``buyer``."""
        return self.value.removesuffix("s")

    @property
    def label(self) -> str:
        """One of them, as people say it: "Buyer"."""
        return self.one.capitalize()

    def key(self, position: int, field: str) -> str:
        """Return the key of a party's field by position, from 1: ``buyers.2.email``."""
        return f"{self}.{position}.{field}"

    def signer(self, position: int) -> str:
        """Return the key of a party as a signer, by position from 1: ``buyers.2``."""
        return f"{self}.{position}"

    @property
    def names(self) -> str:
        """The key of all their names, joined."""
        return f"{self}.names"

    @property
    def how_many(self) -> str:
        """The key of how many they are."""
        return f"{self}.count"


GROUPS = frozenset(Group)
SERVICES = ("title", "lender", "warranty", "inspector", "attorney", "association_manager")
"""Groups of facts that speak of a firm which serves a deal, and many others."""
BESIDE_PARTIES = {
    **{f"{side}_agent": (f"{side}_agent.name", f"{side}_agent.email") for side in ("listing", "buyer")},
    **{
        f"{side}_broker": (f"{side}_agent.broker", f"{side}_agent.broker_email")
        for side in ("listing", "buyer")
    },
    "deposit_holder": ("terms.deposit_holder_name", ""),
    "guarantor": ("lease.guarantor", ""),
}
"""People who sign papers and are no party, with the facts that have their name and e-mail ("" for none)."""
CLIENT, OWN_AGENT = "client", "own_agent"
"""In a form that is used on several sides: the client's group and the own agent, whichever these are in the
deal at hand."""


class Side(enum.StrEnum):
    """Whom the agent acts for."""

    LISTING = "listing"
    BUYING = "buying"
    LEASING_OUT = "leasing out"
    RENTING = "renting"

    @property
    def clients(self) -> Group:
        """The party group that is the client."""
        return _SIDES[self][0]

    @property
    def others(self) -> Group:
        """The party group on the other side."""
        return _SIDES[self][1]

    @property
    def is_lease(self) -> bool:
        """Whether it is about a lease, not a sale."""
        return self in (Side.LEASING_OUT, Side.RENTING)

    @property
    def has_the_home(self) -> bool:
        """Whether the client is the one who owns the home."""
        return self in (Side.LISTING, Side.LEASING_OUT)

    @property
    def owners(self) -> Group:
        """The party group that owns the home."""
        return self.clients if self.has_the_home else self.others

    @property
    def price(self) -> str:
        """The fact that says what the deal is about in money while nothing is agreed: what is asked of a home
        listed, what is offered for one being bought, the rent of a lease."""
        if self.is_lease:
            return "lease.rent"
        return "listing.price" if self.has_the_home else "terms.purchase_price"

    @property
    def own_agent(self) -> str:
        """The group of facts of the deal's own agent."""
        return "listing_agent" if self.has_the_home else "buyer_agent"

    @property
    def other_agent(self) -> str:
        """The group of facts of the agent over there."""
        return "buyer_agent" if self.has_the_home else "listing_agent"


_SIDES = {
    Side.LISTING: (Group.SELLERS, Group.BUYERS),
    Side.BUYING: (Group.BUYERS, Group.SELLERS),
    Side.LEASING_OUT: (Group.LANDLORDS, Group.TENANTS),
    Side.RENTING: (Group.TENANTS, Group.LANDLORDS),
}


class OwnKey(NamedTuple):
    """A document's own blank or group of boxes."""

    document: str
    name: str

    def __str__(self) -> str:
        return f"{document_prefix(self.document)}{self.name}"


class PartyKey(NamedTuple):
    """A party's field as it is kept."""

    party: str
    field: str

    def __str__(self) -> str:
        return f"party.{self.party}.{self.field}"


class PlaceKey(NamedTuple):
    """A party's field as screens and forms name it; ``position`` counts from 1."""

    group: Group
    position: int
    field: str

    def __str__(self) -> str:
        return self.group.key(self.position, self.field)


_OWN = re.compile(r"doc\.([0-9a-zA-Z-]+)\.([A-Za-z0-9_.-]+)")


@lru_cache(maxsize=65_536)
def own_key(key: str) -> OwnKey | None:
    """Return the key as a document's own; None for any other sort."""
    found = _OWN.fullmatch(key)
    return OwnKey(found[1], found[2]) if found else None


@lru_cache(maxsize=65_536)
def party_key(key: str) -> PartyKey | None:
    """Return the key as a kept party's; None for any other sort."""
    parts = key.split(".", 2)
    return PartyKey(parts[1], parts[2]) if len(parts) == 3 and parts[0] == "party" else None


@lru_cache(maxsize=65_536)
def place_key(key: str) -> PlaceKey | None:
    """Return the key as a party's by position; None for any other sort."""
    parts = key.split(".", 2)
    if len(parts) != 3 or parts[0] not in GROUPS:
        return None
    position = digits(parts[1])
    is_position = position is not None and position > 0 and str(position) == parts[1]
    return PlaceKey(Group(parts[0]), position or 0, parts[2]) if is_position else None


def is_own_key(key: str) -> bool:
    """Return whether the key is some document's own; quicker than taking it apart."""
    return key.startswith("doc.")


def document_key(document: str) -> str:
    """Return the key that names a document itself."""
    return f"doc.{document}"


def document_prefix(document: str) -> str:
    """Return what all own keys of a document begin with."""
    return f"{document_key(document)}."


_PAPER = re.compile(r"package\.([0-9a-zA-Z-]{1,12})")


@lru_cache(maxsize=4096)
def paper_key(key: str) -> str | None:
    """Return the form number in a key that asks whether that form is in the package; None for any other sort.
    Nobody states it: it is so or not."""
    found = _PAPER.fullmatch(key)
    return found[1] if found else None


def group_of(key: str) -> str:
    """Return what stands before the key's first dot: the group of facts that it belongs to."""
    return key.split(".", 1)[0]


def name_of(key: str) -> str:
    """Return what stands behind the key's first dot: what it is called within its group; "" where there is
    no dot."""
    return key.partition(".")[2]


def party_list(ids: Sequence[str]) -> str:
    """Return the ids of a group's parties, in order, as the group's own key keeps them."""
    return ",".join(ids)


def party_ids(kept: object) -> list[str]:
    """Return the other way round; none of what is no such list."""
    return [party for party in kept.split(",") if party] if isinstance(kept, str) else []


def is_party_id(text: str) -> bool:
    """Return whether a party may be called so."""
    return text.isascii() and text.isalnum() and 4 <= len(text) <= 12


class FormBlank(NamedTuple):
    """A blank of a form by its number, as templates and the command line name it: ``301.survey-by``."""

    number: str
    name: str

    def __str__(self) -> str:
        return f"{self.number}.{self.name}"


def form_blank(key: str) -> FormBlank:
    """Return the key as a form's blank; ``name`` is "" where there is no dot."""
    number, _, name = key.partition(".")
    return FormBlank(number, name)


def last_of(key: str) -> str:
    """Return what stands behind the key's last dot: a party's field, a blank's name."""
    return key.rpartition(".")[2]


def in_words(key: str) -> str:
    """Return the last part of a key, for people: what stands for a label that is known no more."""
    return last_of(key).replace("-", " ")


class SignerRef(NamedTuple):
    """A signer of a deal's paper: a party by group and position (from 1), or somebody beside the parties
    (``group`` None, position 0)."""

    group: Group | None
    position: int
    key: str


@lru_cache(maxsize=4_096)
def signer_key(key: str) -> SignerRef | None:
    """Return the key as a signer's: ``buyers.2``, ``listing_agent``; None where it names nobody who signs."""
    if key in BESIDE_PARTIES:
        return SignerRef(None, 0, key)
    group, _, position = key.partition(".")
    number = digits(position) or 0
    if group not in GROUPS or str(number) != position or not 1 <= number <= MOST_PARTIES:
        return None
    return SignerRef(Group(group), number, key)


class Role(NamedTuple):
    """A role that signs, or alone may answer: a party by group and position, or an agent or broker (``group``
    None, and the whole in ``person``). ``group`` is "client" while the form isn't seen from a side yet."""

    group: Group | str | None
    position: int
    person: str

    @property
    def party_group(self) -> Group | None:
        """The group of parties; None for agents, brokers, and a client whose side isn't known."""
        return self.group if isinstance(self.group, Group) else None

    @property
    def speaks_of_a_side(self) -> bool:
        """Whether it means another person on another side of a deal."""
        return self.group == CLIENT or self.person.startswith("own_")

    def seen_from(self, side: Side) -> Role:
        """Return the same on that side of a deal."""
        if self.group == CLIENT:
            return Role(side.clients, self.position, "")
        if self.person.startswith("own_"):
            return Role(None, 0, side.own_agent.removesuffix("agent") + self.person.removeprefix("own_"))
        return self

    @property
    def label(self) -> str:
        """The role in words: "buyer 2", "listing agent"."""
        return str(self).replace(".", " ").replace("_", " ")

    def __str__(self) -> str:
        if self.group is None:
            return self.person
        return f"{self.group.one if isinstance(self.group, Group) else self.group}.{self.position}"


HOLDER = "deposit_holder"
"""The holder of a buyer's deposit, who signs for having it."""
GUARANTOR = "guarantor"
"""The guarantor of a tenant's debts."""
_PEOPLE = (
    "listing_agent",
    "buyer_agent",
    "own_agent",
    "listing_broker",
    "buyer_broker",
    "own_broker",
    HOLDER,
    GUARANTOR,
)
_BY_ONE = {group.one: group for group in Group}


SIGN_IN_A_GROUP = 2
"""The number of a group for whom a paper by others has lines; further ones sign on continuation pages."""


def roles_offered() -> list[Role]:
    """Return who may be named as a signer of a paper by others: the parties first, then agents and
    brokers."""
    groups = (CLIENT, *Group)
    parties = [Role(group, n, "") for group in groups for n in range(1, SIGN_IN_A_GROUP + 1)]
    people = [Role(None, 0, one) for one in _PEOPLE if one not in (HOLDER, GUARANTOR)]
    return [*parties, *people]


@lru_cache(maxsize=4_096)
def read_role(text: str) -> Role | None:
    """Return a role as forms write it: ``buyer.2``, ``client.1``, ``listing_agent``, ``own_broker``; None for
    anything else."""
    if text in _PEOPLE:
        return Role(None, 0, text)
    one, _, position = text.partition(".")
    number = digits(position)
    group = CLIENT if one == CLIENT else _BY_ONE.get(one)
    if group is None or number is None or not 1 <= number <= 9 or str(number) != position:
        return None
    return Role(group, number, "")


RESPONSIBLE = {
    "own agent": OWN_AGENT,
    "client": CLIENT,
    "other agent": "other_agent",
    "other party": "other_party",
    "buyer": Group.BUYERS.value,
    "seller": Group.SELLERS.value,
    "landlord": Group.LANDLORDS.value,
    "tenant": Group.TENANTS.value,
    "lender": "lender",
    "title company": "title",
    "inspector": "inspector",
    "attorney": "attorney",
    "association manager": "association_manager",
    "coordinator": "",
    "broker": "",
}
"""The people who can be responsible for something in a deal, as people say it; and the group of facts that
has their name, "" where none has it."""


_OF_A_SALE = ("lender", "title")
"""People who serve sales alone: a lease has none of them."""


def who_brings(side: Side) -> list[str]:
    """Return from whom a paper may be expected in a deal of that side, as people say it; the client first."""
    served = [
        who
        for who, group in RESPONSIBLE.items()
        if group in SERVICES and not (side.is_lease and group in _OF_A_SALE)
    ]
    return [side.clients.one, side.others.one, "other agent", *served]


def name_key(who: str, side: Side) -> str | None:
    """Return the key of the name of whoever is responsible, in a deal of that side; None where no fact has
    it."""
    alias = {
        OWN_AGENT: side.own_agent,
        "other_agent": side.other_agent,
        CLIENT: side.clients.value,
        "other_party": side.others.value,
    }
    group = RESPONSIBLE.get(who, "")
    group = alias.get(group, group)
    if group in GROUPS:
        return Group(group).names
    if group.endswith("_agent"):
        return f"{group}.name"
    return f"{group}.company" if group else None


class Alias:
    """The words ``client`` and ``own_agent`` at the head of a key, within any expression."""

    _FOUND = re.compile(rf"(?<![\w.])({CLIENT}|{OWN_AGENT})(?=\.)")

    @classmethod
    def stands_in(cls, text: str | None) -> bool:
        """Return whether the text has one."""
        return bool(text and cls._FOUND.search(text))

    @classmethod
    def seen_from(cls, text: str, side: Side) -> str:
        """Return the text with what they are on that side of a deal."""
        words = {CLIENT: side.clients.value, OWN_AGENT: side.own_agent}
        return cls._FOUND.sub(lambda found: words[found[1]], text)
