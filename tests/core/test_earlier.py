"""What of earlier deals may be offered in another one, and in which order."""

from __future__ import annotations

import pytest
from quillcore.facts import Side, load_catalog
from quillcore.templates.earlier import MOST_OFFERED, Earlier, may_be_offered, offered

CATALOG = load_catalog()


@pytest.mark.parametrize(
    ("key", "kind"),
    [
        ("terms.inspection_days", "integer"),
        ("terms.title_payer", "choice"),
        ("terms.rate_cap", "percent"),
        ("terms.additional_terms", "long_text"),
        ("title.company", "name"),
        ("title.phone", "phone"),
        ("doc.abc.letter-days", "integer"),
        ("doc.abc.additional", "long_text"),
    ],
)
def test_what_is_chosen_counted_or_worded_and_who_serves_many_is_offered(key: str, kind: str) -> None:
    assert may_be_offered(key, kind, Side.BUYING)


@pytest.mark.parametrize(
    ("key", "kind"),
    [
        ("terms.purchase_price", "money"),
        ("terms.closing_date", "date"),
        ("terms.sale_property", "address"),
        ("property.street_line", "address"),
        ("property.legal_description", "long_text"),
        ("party.abcd1234.name", "name"),
        ("buyers", "text"),
        ("lease.occupants", "long_text"),
        ("representation.property_sought", "long_text"),
        ("title.file_number", "text"),
        ("doc.abc.seller-number", "text"),
        ("doc.abc.second-loan", "money"),
        ("listing_agent.name", "name"),
    ],
)
def test_nothing_of_a_client_or_a_home_is_offered(key: str, kind: str) -> None:
    assert not may_be_offered(key, kind, Side.BUYING)


def test_no_fact_that_names_or_places_somebody_is_offered() -> None:
    """Whatever is added to the catalog: names, addresses, money and days are offered of nobody but a firm
    that serves many."""
    kinds = ("name", "email", "phone", "address", "money", "exact_money", "date", "text", "area", "year")
    leaks = [
        f.key for side in Side for f in CATALOG if f.kind in kinds and may_be_offered(f.key, f.kind, side)
    ]
    assert {key.split(".")[0] for key in leaks} <= {
        "title",
        "lender",
        "warranty",
        "inspector",
        "attorney",
        "association_manager",
    }


def test_the_most_frequent_comes_first_and_of_equals_the_newest() -> None:
    assert offered(["21", "30", "30", "14"]) == [Earlier("30", 2), Earlier("21", 1), Earlier("14", 1)]
    assert len(offered(str(n) for n in range(40))) == MOST_OFFERED
    assert offered([]) == []
