"""What is the deal's and what one offer's, and what goes on to a client's next home."""

import pytest
from quillcore.facts.keys import Side
from quillcore.facts.scopes import belongs_to_offer, carries_over

SIDES = list(Side)


@pytest.mark.parametrize("side", SIDES)
def test_terms_and_lease_are_an_offers_on_every_side_and_the_home_is_not(side: Side) -> None:
    assert belongs_to_offer("terms.purchase_price", side) and belongs_to_offer("lease.rent", side)
    for key in ("property.street_line", "representation.agency", "commission.buyer_percent", "lender.name"):
        assert not belongs_to_offer(key, side)


@pytest.mark.parametrize("side", SIDES)
def test_the_other_side_is_an_offers_and_the_client_the_deals(side: Side) -> None:
    assert belongs_to_offer(side.others.key(1, "email"), side)
    assert belongs_to_offer(f"{side.other_agent}.name", side)
    assert not belongs_to_offer(side.clients.key(1, "email"), side)
    assert not belongs_to_offer(f"{side.own_agent}.name", side)


@pytest.mark.parametrize(
    ("key", "kind", "goes"),
    [
        ("buyers.1.email", "email", True),
        ("sellers.1.email", "email", False),
        ("buyer_agent.name", "name", True),
        ("listing_agent.name", "name", False),
        ("property.street_line", "text", False),
        ("tax.owners", "name", False),
        ("listing.price", "money", False),
        ("association_manager.name", "name", False),
        ("title.company", "name", False),
        ("warranty.company", "name", False),
        ("estimate.escrow_fee", "money", False),
        ("commission.buyer_percent", "percent", False),
        ("doc.d1.notes", "text", False),
        ("lender.name", "name", True),
        ("representation.agency", "choice", True),
        ("terms.loan_type", "choice", True),
        ("terms.inspection", "yes_no", True),
        ("terms.inspection_days", "integer", True),
        ("terms.down_payment_percent", "percent", True),
        ("terms.sale_property", "address", True),
        ("terms.purchase_price", "money", False),
        ("terms.closing_date", "date", False),
        ("terms.possession_time", "time", False),
        ("terms.additional_terms", "long_text", False),
        ("terms.backup", "yes_no", False),
        ("terms.backup_position", "integer", False),
        ("lease.due_day", "integer", True),
        ("lease.rent", "money", False),
        ("deal.agreement_date", "date", False),
        ("deal.source_of_business", "text", True),
    ],
)
def test_how_a_client_buys_goes_on_and_what_one_home_was_does_not(key: str, kind: str, goes: bool) -> None:
    assert carries_over(key, kind, Side.BUYING) is goes
