"""Finding by what people type: addresses, trade words, names; and what places of a form are called."""

from __future__ import annotations

import json

import pytest
from quillcore.cli import main
from quillcore.contacts import ContactFields
from quillcore.facts import load_catalog
from quillcore.facts.searching import MOST_FOUND, find_facts, same_question
from quillcore.facts.synonyms import load_synonyms, said_for, terms
from quillcore.forms.beside import said_beside
from quillcore.papers.received import title_of
from quillcore.pdf.renderer import plain_text
from quillcore.values.addresses import finds, writings

from tests.core.small import demo_pack

HOME = "334 W Yarrow Road, Port Linden CW 09914"


@pytest.mark.parametrize(
    "typed",
    [
        "334 W Yarrow Rd",
        "334 West Yarrow Road",
        "334 yarrow",
        "yarrow rd port",
        "334 w. yarrow road, 09914",
        "33",
    ],
)
def test_an_address_is_found_however_it_is_written(typed: str) -> None:
    assert finds(typed, HOME)


@pytest.mark.parametrize(
    "typed", ["335 W Yarrow Rd", "334 E Yarrow", "334 Yarrow Lane", "arrow", "334 W Yarrow Rd Ashgrove"]
)
def test_another_address_is_not(typed: str) -> None:
    assert not finds(typed, HOME)


def test_a_word_is_written_long_and_short() -> None:
    assert writings("Rd.") == ("RD", "ROAD")
    assert set(writings("north")) == {"NORTH", "N"}
    assert writings("Yarrow") == ("YARROW",)


def test_trade_words_lead_to_what_the_catalog_calls_it() -> None:
    assert terms("Earnest money bank") == [("earnest money", "deposit"), ("bank",)]
    assert terms("hoa") == [("hoa", "owners' association", "association")]
    assert "earnest money" in said_for("Deposit due")
    assert said_for("Year built") == ""
    labels = " ".join(f.label.lower() for f in load_catalog())
    titles = " ".join(f.edition.title.lower() for f in demo_pack().forms.values()).replace("’", "'")
    texts = " ".join(plain_text(f.pdf).lower() for f in demo_pack().forms.values()).replace("’", "'")
    for said, ours in load_synonyms().items():
        assert any(our in labels + titles + texts for our in ours), f"“{said}” leads to nothing"


def test_terms_have_a_bound() -> None:
    assert len(terms("word " * 5_000)) == 8


def test_contacts_stand_by_surname() -> None:
    people = [
        ContactFields("client", {"given": "Zoe", "family": "Abbot"}),
        ContactFields("lender", {"company": "Bank of the Bend"}),
        ContactFields("title", {"given": "Al", "family": "Ng", "company": "Keystone"}),
        ContactFields("client", {"email": "x@post.example"}),
    ]
    assert [p.sorted_as for p in people] == ["abbot, zoe", "bank of the bend", "ng, al", "x@post.example"]


@pytest.mark.parametrize(
    ("file", "title"),
    [
        ("proof_of_funds-2.pdf", "Proof of funds 2"),
        ("Loan approval.PDF", "Loan approval"),
        (".pdf", "Paper without a title"),
        ("", "Paper without a title"),
    ],
)
def test_a_papers_file_gives_it_a_title(file: str, title: str) -> None:
    assert title_of(file) == title


def test_places_are_called_by_what_is_printed_beside_them() -> None:
    form = demo_pack().forms["301"]
    beside = said_beside(form)
    prices = [beside[f.id] for f, m in form.pairs() if m.fact == "terms.purchase_price"]
    assert prices == ["3.1 Price. Buyer will pay $", "equal to the purchase price $"]
    asked = [beside[f.id] for f, m in form.pairs() if f.shape == "text" and m.fact]
    assert sum(1 for said in asked if not said) <= len(asked) // 15, "hardly a place is without words"
    assert max(map(len, beside.values())) <= 70


@pytest.mark.parametrize(
    ("typed", "first"),
    [
        ("hoa", "property.association"),
        ("Earnest money", "terms.deposit_amount"),
        ("lock box", "listing.lockbox"),
        ("purchase price", "terms.purchase_price"),
        ("year built", "property.year_built"),
    ],
)
def test_facts_are_found_by_trade_words(typed: str, first: str, capsys: pytest.CaptureFixture[str]) -> None:
    found = find_facts(load_catalog(), typed)
    assert first in [fact.key for fact in found] and len(found) <= MOST_FOUND
    assert main(["fact", "find", *typed.split()]) == 0
    printed = json.loads(capsys.readouterr().out)
    assert [row["key"] for row in printed] == [fact.key for fact in found] and printed[0]["question"]


def test_nonsense_finds_no_fact_and_nothing_finds_none() -> None:
    assert find_facts(load_catalog(), "zzyzx") == [] == find_facts(load_catalog(), "  ")


def test_no_two_facts_ask_the_same_question() -> None:
    known = {
        ("terms.deposit_holder", "lease.deposit_holder"),  # a sale's and a lease's
        ("terms.additional_terms", "lease.additional_terms"),
        ("terms.monthly_payment", "estimate.monthly_loan"),  # the contract's, and as an estimate has it
    }
    again = set(same_question(load_catalog())) - known
    assert not again, (
        f"The same question: {again}. Use the fact that is there (quill fact find …), or ask otherwise."
    )
