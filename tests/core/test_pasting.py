"""Pasting an address or several lines into one fact."""

from __future__ import annotations

import pytest
from quillcore.facts.pasting import spread

from tests.core.small import CATALOG


def paste(key: str, text: str) -> dict[str, str]:
    return dict(spread(CATALOG, key, text))


@pytest.mark.parametrize(
    "text",
    [
        "214 N Alder Street Unit 3, Port Linden, CW 09914",
        "214 N Alder Street Unit 3\nPort Linden, CW 09914",
        "  214  N Alder Street Unit 3, Port Linden CW 09914 ",
    ],
)
@pytest.mark.parametrize("into", ["property.street_number", "property.street_name", "property.city"])
def test_an_address_is_taken_apart_wherever_it_is_pasted(text: str, into: str) -> None:
    assert paste(into, text) == {
        "property.street_number": "214",
        "property.direction": "N",
        "property.street_name": "Alder",
        "property.street_suffix": "Street",
        "property.unit": "3",
        "property.city": "Port Linden",
        "property.state": "CW",
        "property.postal_code": "09914",
    }


def test_lines_with_labels_go_to_their_facts() -> None:
    mail = (
        "Hi Inês,\n\nPurchase price: $412,500\nDeposit:\t5,000\nclosing by = 3/9/27\nTitle company: Keystone"
        " Abstract\n\nThanks"
    )
    assert paste("terms.purchase_price", mail) == {
        "terms.purchase_price": "$412,500",
        "terms.deposit_amount": "5,000",
        "terms.closing_date": "3/9/27",
        "title.company": "Keystone Abstract",
    }


def test_a_label_that_several_groups_have_means_the_one_pasted_into() -> None:
    assert paste("lender.company", "Officer: Otto Blume\nPhone: 555-0162") == {
        "lender.officer": "Otto Blume",
        "lender.phone": "555-0162",
    }


def test_plain_lines_fill_the_facts_that_follow_and_an_empty_line_skips_one() -> None:
    assert paste("title.company", "Keystone Abstract\nWilhelmina Strand\n\n(555) 555-0161") == {
        "title.company": "Keystone Abstract",
        "title.officer": "Wilhelmina Strand",
        "title.phone": "(555) 555-0161",
    }
    assert paste("title.file_number", "T-9\nbeyond the group") == {"title.file_number": "T-9"}


@pytest.mark.parametrize(
    "key, text",
    [
        ("terms.additional_terms", "Seller leaves the bench.\nBuyer may measure before closing."),
        ("terms.purchase_price", "412,500"),
        ("property.city", "Port Linden"),
        ("property.street_name", "Avenue of the Elms"),
        ("terms.additional_terms", "Note: the bench stays\nand the shelves"),
        ("no.such", "x\ny"),
    ],
)
def test_what_is_meant_for_one_fact_stays_there(key: str, text: str) -> None:
    assert spread(CATALOG, key, text) == [(key, text)]
