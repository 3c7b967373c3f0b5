"""Contacts: what they fill, when two are one, and how they come and go."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st
from quillcore.contacts import (
    FIELDS,
    KINDS,
    ContactFields,
    alike,
    answers,
    fields_of,
    fills,
    kept_from,
    kind_for,
    merged,
    over_what_stands,
    read_cards,
    write_csv,
    write_vcards,
)
from quillcore.facts import Side
from quillcore.values import Fault

from tests.core.small import CATALOG

OFFICER = ContactFields(
    "title",
    {
        "given": "Wilhelmina",
        "family": "Strand",
        "company": "Keystone Abstract",
        "email": "w@keystone.example",
        "phone": "(555) 555-0161",
        "address": "3 Vault Row, Ashgrove, CW 09921",
    },
)


def person(given: str, family: str = "Okafor", **more: str) -> ContactFields:
    return ContactFields("client", {"given": given, "family": family, **more})


@pytest.mark.parametrize("kind", [k for k in KINDS if k not in ("client", "agent", "other")])
def test_a_kind_of_contact_fills_facts_that_the_catalog_has(kind: str) -> None:
    found = fills(ContactFields(kind, OFFICER.fields), kind)
    assert found["company"] == "Keystone Abstract"
    assert all(CATALOG.find(f"{kind}.{name}") for name in found)


@pytest.mark.parametrize(
    "group", ["buyers", "sellers", "landlords", "tenants", "listing_agent", "buyer_agent"]
)
def test_people_fill_parties_and_agents(group: str) -> None:
    found = fills(ContactFields("agent", {**OFFICER.fields, "licence": "CW-1"}), group)
    assert all(
        CATALOG.find(f"{group}.1.{name}" if group.endswith("s") else f"{group}.{name}") for name in found
    )
    trust = fills(
        ContactFields(
            "client", {"company": "Voss Family Trust", "entity_kind": "trust", "signer": "Lena Voss"}
        ),
        "sellers",
    )
    assert trust == {
        "kind": "entity",
        "entity_name": "Voss Family Trust",
        "entity_kind": "trust",
        "signer": "Lena Voss",
    }
    assert fills(OFFICER, "terms") == {}


@pytest.mark.parametrize(
    ("group", "side", "head"),
    [
        ("second_agent", Side.LISTING, "listing_agent.second_"),
        ("second_agent", Side.RENTING, "buyer_agent.second_"),
        ("title", Side.LISTING, "title."),
    ],
)
def test_what_a_contact_answers_is_under_whole_keys(group: str, side: Side, head: str) -> None:
    agent = ContactFields("agent", {**OFFICER.fields, "licence": "CW-1"})
    found, plain = answers(agent, group, side), fills(agent, group)
    assert plain and found == {f"{head}{name}": text for name, text in plain.items()}
    assert all(CATALOG.find(key) for key in found)


@pytest.mark.parametrize(
    "one, other, why",
    [
        (person("Amara", email="a@x.example"), person("Amara J", email="A@x.example"), "the same e-mail"),
        (person("Amara", email="us@x.example"), person("Chidi", email="us@x.example"), ""),  # a couple
        (
            person("Amara", phone="(555) 555-0100"),
            person("Amara", phone="555.555.0100"),
            "the same phone and nearly the same name",
        ),
        (person("Amara"), person("amara"), "the same name"),
        (person("Amara", address="1 Elm St"), person("Amara", address="9 Oak Ave"), ""),
        (person("Amara", address="1 Elm Street"), person("Amara", address="1 ELM ST"), "the same name"),
        (person("Amara", "Okafor"), person("Amara", "Oduya"), ""),
        (
            ContactFields("title", {"company": "Keystone Abstract"}),
            ContactFields("title", {"company": "KEYSTONE ABSTRACT"}),
            "the same name",
        ),
        (
            ContactFields("agent", {"given": "Ilse", "family": "Brandvold", "licence": "CW-4"}),
            ContactFields("agent", {"given": "Ilse", "family": "Brandvold ", "licence": "cw-4"}),
            "the same license and nearly the same name",
        ),
        (ContactFields("other", {}), ContactFields("other", {}), ""),
    ],
)
def test_two_contacts_are_probably_one(one: ContactFields, other: ContactFields, why: str) -> None:
    assert (alike(one, other), alike(other, one)) == (why, why)


texts = st.text(st.characters(categories=["L", "N"], max_codepoint=0x24F), min_size=1, max_size=12)
contacts = st.builds(
    ContactFields, st.sampled_from(sorted(KINDS)), st.dictionaries(st.sampled_from(sorted(FIELDS)), texts)
)


@given(contacts, contacts)
def test_merging_loses_nothing_of_either(one: ContactFields, other: ContactFields) -> None:
    both = merged(one, other)
    whole = " ".join(both.fields.values()).casefold()
    assert all(text.strip().casefold() in whole for c in (one, other) for text in c.fields.values())
    assert all(both.get(name) == one.get(name) for name in FIELDS if one.get(name) and name != "notes")


@given(st.lists(contacts.filter(lambda c: bool(c.get("given") or c.get("family"))), max_size=5))
def test_out_and_in_again_gives_the_same_contacts(some: list[ContactFields]) -> None:
    if not some:
        return
    for written in (write_vcards(some), write_csv(some)):
        assert read_cards(written.encode()) == [
            ContactFields(c.kind, {k: v for k, v in c.fields.items() if v}) for c in some
        ]


def test_cards_of_other_programs_are_read() -> None:
    text = (
        "BEGIN:VCARD\r\nVERSION:2.1\r\nN;CHARSET=UTF-8;ENCODING=QUOTED-PRINTABLE:Nguy=E1=BB=85n;Thanh\r\nTEL;CELL:(555)"
        " 555-0100\r\nEND:VCARD\r\nBEGIN:VCARD\r\nVERSION:4.0\r\nFN:Keystone Abstract\r\nORG:Keystone"
        " Abstract;Escrow\r\nEMAIL;PREF=1:desk@keystone.example\r\nADR:;;3 Vault"
        " Row;Ashgrove;CW;09921;US\r\nCATEGORIES:Escrow"
        " officer\r\nEND:VCARD\r\nBEGIN:VCARD\r\nVERSION:3.0\r\nFN:June M O'Brien-Tate"
        " Jr\r\nN:;;;;\r\nEND:VCARD\r\n"
    )
    found = read_cards(text.encode())
    assert isinstance(found, list)
    assert [c.name for c in found] == ["Thanh Nguyễn", "Keystone Abstract", "June M O'Brien-Tate Jr"]
    assert (found[1].kind, found[1].get("address"), found[1].get("email")) == (
        "title",
        "3 Vault Row, Ashgrove, CW 09921",
        "desk@keystone.example",
    )
    assert found[2].get("suffix") == "Jr"


@pytest.mark.parametrize(
    "line",
    [
        "First Name,Last Name,E-mail Address,Mobile Phone,Category",
        "Given Name;Surname;Email;Cell;Type",
        "Name,Email,Phone,Kind",
    ],
)
def test_sheets_of_other_programs_are_read(line: str) -> None:
    name = "Amara Okafor" if line.startswith("Name") else "Amara{0}Okafor"
    separator = ";" if ";" in line else ","
    row = (name + "{0}a@x.example{0}(555) 555-0100{0}Buyer").format(separator)
    assert read_cards(f"{line}\n{row}\n".encode()) == [
        ContactFields(
            "client",
            {"given": "Amara", "family": "Okafor", "email": "a@x.example", "phone": "(555) 555-0100"},
        )
    ]


@pytest.mark.parametrize(
    "content", [b"", b"%PDF-1.7", b"a,b\n1,2\n", b"Name,Email\n,\n", b"BEGIN:VCARD\nEND:VCARD\n"]
)
def test_other_files_are_refused_with_a_sentence(content: bytes) -> None:
    found = read_cards(content)
    assert isinstance(found, Fault) and found.message and found.mend


def test_a_cell_that_a_sheet_would_run_is_written_as_text() -> None:
    assert "'=cmd" in write_csv([person("=cmd")])


@pytest.mark.parametrize("group", ["buyers", "listing_agent", "title", "warranty"])
def test_what_a_contact_fills_makes_the_same_contact_again(group: str) -> None:
    fields = {"given": "Amara", "family": "Okafor", "email": "a@post.example", "phone": "(555) 555-0100"}
    kind = kind_for(group)
    assert kind is not None
    said = fills(ContactFields(kind, fields), group)
    made = kept_from(group, said)
    assert made is not None
    assert fills(made, group) == said


def test_a_group_without_contacts_makes_none() -> None:
    assert kept_from("terms", {"purchase_price": "1"}) is None
    assert [kind_for(g) for g in ("tenants", "buyer_agent", "lender", "other", "property")] == [
        "client",
        "agent",
        "lender",
        None,
        None,
    ]


def test_a_contact_is_asked_for_what_its_kind_has() -> None:
    asked = {kind: fields_of(kind) for kind in KINDS}
    assert "licence" in asked["agent"] and "licence" not in asked["client"]
    assert "entity_kind" in asked["client"] and "entity_kind" not in asked["lender"]
    assert all(fields[:2] == ["given", "middle"] and "email" in fields for fields in asked.values())
    assert all("notes" not in fields for fields in asked.values()), "they stand apart"


KNEW = {"phone": "1", "email": "a@post.example", "notes": "old"}


@pytest.mark.parametrize(
    ("typed", "stands", "said", "otherwise"),
    [
        ({**KNEW, "notes": "mine"}, {**KNEW, "phone": "2"}, {**KNEW, "notes": "mine", "phone": "2"}, []),
        ({**KNEW, "phone": "3"}, {**KNEW, "phone": "2"}, {**KNEW, "phone": "3"}, ["phone"]),
        ({**KNEW, "phone": "2 "}, {**KNEW, "phone": "2"}, {**KNEW, "phone": "2"}, []),
        ({**KNEW, "phone": ""}, {**KNEW, "phone": "2"}, {**KNEW, "phone": ""}, ["phone"]),
        ({**KNEW, "phone": ""}, KNEW, {**KNEW, "phone": ""}, []),
        (KNEW, {"phone": "1"}, {"phone": "1", "email": "", "notes": ""}, []),
        ({**KNEW, "company": "Reed"}, {**KNEW, "company": "Rush"}, {**KNEW, "company": "Reed"}, ["company"]),
    ],
)
def test_what_was_typed_meanwhile_stands_over_what_was_known_alone(
    typed: dict[str, str], stands: dict[str, str], said: dict[str, str], otherwise: list[str]
) -> None:
    assert over_what_stands(typed, KNEW, stands) == (said, otherwise)
