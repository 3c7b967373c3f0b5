"""Keys, sides and roles: taken apart and put together in one place."""

from __future__ import annotations

import re

import pytest
from hypothesis import given
from hypothesis import strategies as st
from quillcore.facts import Group, Side
from quillcore.facts.keys import (
    Alias,
    FormBlank,
    OwnKey,
    PartyKey,
    PlaceKey,
    Role,
    SignerRef,
    form_blank,
    in_words,
    own_key,
    party_ids,
    party_key,
    party_list,
    place_key,
    read_role,
    roles_offered,
    signer_key,
    who_brings,
)

from tests.core.small import ROOT


@pytest.mark.parametrize(
    ("key", "found"),
    [
        ("terms.purchase_price", (None, None, None)),
        ("buyers.2.email", (None, None, PlaceKey(Group.BUYERS, 2, "email"))),
        ("buyers.names", (None, None, None)),
        ("buyers.0.email", (None, None, None)),
        ("buyers.02.email", (None, None, None)),
        ("buyers.².email", (None, None, None)),
        ("party.9f3ac21b.email", (None, PartyKey("9f3ac21b", "email"), None)),
        ("party.9f3ac21b", (None, None, None)),
        ("doc.c0ffee.survey-by", (OwnKey("c0ffee", "survey-by"), None, None)),
        ("doc.c0ffee.terms.purchase_price", (OwnKey("c0ffee", "terms.purchase_price"), None, None)),
        ("doc..x", (None, None, None)),
        ("", (None, None, None)),
    ],
)
def test_a_key_is_of_one_sort(key: str, found: tuple[object, object, object]) -> None:
    assert (own_key(key), party_key(key), place_key(key)) == found
    for one in found:
        assert one is None or str(one) == key, "put together it is the same again"


@pytest.mark.parametrize(
    ("text", "role"),
    [
        ("buyer.2", Role(Group.BUYERS, 2, "")),
        ("tenant.1", Role(Group.TENANTS, 1, "")),
        ("client.1", Role("client", 1, "")),
        ("listing_agent", Role(None, 0, "listing_agent")),
        ("own_broker", Role(None, 0, "own_broker")),
        ("buyers.2", None),
        ("buyer.0", None),
        ("buyer.10", None),
        ("buyer.01", None),
        ("buyer", None),
        ("nobody", None),
        ("", None),
    ],
)
def test_roles_are_read_once_and_say_the_same_again(text: str, role: Role | None) -> None:
    assert read_role(text) == role
    assert role is None or str(role) == text


@pytest.mark.parametrize(
    ("side", "client", "agent", "broker", "owners"),
    [
        (Side.LISTING, "seller.1", "listing_agent", "listing_broker", Group.SELLERS),
        (Side.BUYING, "buyer.1", "buyer_agent", "buyer_broker", Group.SELLERS),
        (Side.LEASING_OUT, "landlord.1", "listing_agent", "listing_broker", Group.LANDLORDS),
        (Side.RENTING, "tenant.1", "buyer_agent", "buyer_broker", Group.LANDLORDS),
    ],
)
def test_from_each_side_the_client_and_the_own_agent_are_others(
    side: Side, client: str, agent: str, broker: str, owners: Group
) -> None:
    seen = [
        str(read_role(text).seen_from(side)) for text in ("client.1", "own_agent", "own_broker", "buyer.2")
    ]  # type: ignore[union-attr]
    assert seen == [client, agent, broker, "buyer.2"]
    assert side.owners is owners
    assert side.others is not side.clients
    assert side.own_agent != side.other_agent
    assert side.is_lease == (owners is Group.LANDLORDS)
    assert (
        Alias.seen_from("names(client) + own_agent.firm + x.client.y + client.1.email", side)
        == f"names(client) + {agent}.firm + x.client.y + {side.clients}.1.email"
    )


def test_what_is_the_same_on_every_side_says_so() -> None:
    assert [read_role(t).speaks_of_a_side for t in ("client.2", "own_agent", "buyer.1", "listing_agent")] == [
        True,
        True,
        False,
        False,
    ]  # type: ignore[union-attr]
    assert (
        Alias.stands_in("client.names") and not Alias.stands_in("clients.names") and not Alias.stands_in(None)
    )


@given(st.lists(st.text("abcdef0123456789", min_size=4, max_size=12), max_size=12))
def test_a_groups_parties_are_kept_in_order(ids: list[str]) -> None:
    assert party_ids(party_list(ids)) == ids


def test_what_is_no_list_of_parties_names_none() -> None:
    assert party_ids(None) == party_ids(3) == party_ids("") == []


@pytest.mark.parametrize(
    ("key", "who"),
    [
        ("buyers.2", SignerRef(Group.BUYERS, 2, "buyers.2")),
        ("tenants.12", SignerRef(Group.TENANTS, 12, "tenants.12")),
        ("listing_agent", SignerRef(None, 0, "listing_agent")),
        ("guarantor", SignerRef(None, 0, "guarantor")),
        ("buyers.13", None),
        ("buyers.0", None),
        ("buyers.02", None),
        ("buyers.²", None),
        ("buyers.2.email", None),
        ("buyers", None),
        ("nobody", None),
        ("", None),
    ],
)
def test_who_signs_is_a_party_that_can_be_or_somebody_beside(key: str, who: SignerRef | None) -> None:
    assert signer_key(key) == who
    if who is not None and who.group is not None:
        assert who.group.signer(who.position) == key


def test_a_forms_blank_is_its_number_and_a_name() -> None:
    assert form_blank("301.terms.by") == FormBlank("301", "terms.by")
    assert str(form_blank("301.survey-by")) == "301.survey-by"
    assert form_blank("301") == FormBlank("301", "")
    assert in_words("301.survey-by") == "survey by" and in_words("deed") == "deed"


def test_the_roles_that_are_offered_are_read() -> None:
    offered = [str(role) for role in roles_offered()]
    assert offered[:2] == ["client.1", "client.2"] and "own_broker" in offered
    assert [str(read_role(text)) for text in offered] == offered


@pytest.mark.parametrize("side", list(Side))
def test_papers_come_from_those_whom_a_side_has(side: Side) -> None:
    brings = who_brings(side)
    assert brings[:2] == [side.clients.one, side.others.one]
    assert ("lender" in brings) == (not side.is_lease)


NO_KEYS = {
    "facts/keys.py": "the place",
    "facts/wording.py": "versions of clauses",
    "contacts/cards.py": "vCard's groups",
    "packs/source.py": "a source's own notation of who signs",
    "papers/reading.py": "names of a PDF's fields",
    "pdf/interactive.py": "names of a PDF's fields",
    "assembly/exchange.py": "names of a PDF's fields",
    "clients/api.py": "the ending of a file",
}
"""What else has dots in it, by file."""


def test_keys_are_taken_apart_nowhere_else() -> None:
    apart = re.compile(r"""partition\("\."\)|split\("\."[,)]|startswith\("(doc|party)\.""")
    floors = ROOT / "core" / "quillcore", ROOT / "server" / "goodquill"
    found = {
        str(path.relative_to(floor))
        for floor in floors
        for path in floor.rglob("*.py")
        if apart.search(path.read_text(encoding="utf-8"))
    }
    assert found == NO_KEYS.keys()
