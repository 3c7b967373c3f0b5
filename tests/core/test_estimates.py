"""Money sheets: lines that always add up, what-ifs that keep nothing, and sums asked backwards."""

from __future__ import annotations

from datetime import date
from decimal import Decimal
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from quillcore.estimates import MoneyLine, Solved, lines_of, money_sheets, solve, what_if
from quillcore.facts import Act, Entry, Ledger, Side, Source, load_catalog
from quillcore.formulas import Evaluator
from quillcore.values import Fault

from tests.core.small import demo_pack

PRICE, NET = "listing.price", "estimate.proceeds"
SELLING: dict[str, Any] = {
    PRICE: Decimal(612_500),
    "commission.percent": Decimal("5.25"),
    "terms.title_payer": "seller",
    "terms.transfer_tax_payer": "seller",
    "terms.escrow_payer": "split equally",
    "estimate.escrow_fee": Decimal(850),
    "estimate.first_payoff": Decimal(210_000),
    "tax.annual": Decimal("4812.36"),
    "terms.closing_date": date(2027, 6, 15),
    "terms.warranty_payer": "buyer",
    "terms.warranty_cap": Decimal(500),
}
BUYING: dict[str, Any] = {
    "terms.purchase_price": Decimal(400_000),
    "terms.loan_type": "conventional",
    "terms.down_payment_percent": Decimal(20),
    "terms.deposit_percent": Decimal(2),
    "terms.rate_cap": Decimal("6.25"),
    "terms.loan_years": Decimal(30),
    "estimate.insurance_year": Decimal(1_800),
    "estimate.insurance_months": Decimal(3),
    "estimate.tax_months": Decimal(4),
    "estimate.origination_percent": Decimal(1),
    "estimate.escrow_fee": Decimal(850),
    "estimate.monthly_mortgage_insurance": Decimal(90),
    "tax.annual": Decimal("4812.36"),
    "terms.closing_date": date(2027, 6, 15),
    "terms.title_payer": "split equally",
    "terms.transfer_tax_payer": "seller",
    "terms.escrow_payer": "split equally",
    "terms.warranty_payer": "buyer",
    "terms.warranty_cap": Decimal(500),
    "representation.fee_percent": Decimal("2.5"),
}
LEASE: dict[str, Any] = {
    "lease.rent": Decimal(2150),
    "lease.start": date(2027, 8, 15),
    "lease.security_deposit": Decimal(2150),
    "lease.pets": False,
    "lease.pet_deposit": Decimal(300),
    "lease.holding_deposit": Decimal(500),
}
CASES = [
    (Side.LISTING, SELLING, NET),
    (Side.BUYING, BUYING, "estimate.cash_to_close"),
    (Side.BUYING, BUYING, "estimate.monthly_total"),
    (Side.BUYING, BUYING | {"terms.loan_type": "cash"}, "estimate.monthly_total"),
    (Side.LEASING_OUT, LEASE, "lease.move_in_total"),
]


def sheet_of(side: Side, stated: dict[str, Any]) -> Evaluator:
    entries = [
        Entry(key, Act.STATE, n, Source.TYPED, value) for n, (key, value) in enumerate(stated.items(), 1)
    ]
    return Evaluator(Ledger(load_catalog(), side, entries), demo_pack().sheet.setting())


def added(lines: tuple[MoneyLine, ...], sheet: Evaluator) -> Decimal:
    total = Decimal(0)
    for line in lines:
        amount = line.amount(sheet)
        assert amount is not None, line.key
        total += line.sign * amount
    return total


@pytest.mark.parametrize(("side", "stated", "result"), CASES, ids=lambda v: str(v)[:24])
def test_a_sheets_lines_add_up_to_its_sum_and_those_below_a_line_to_the_line(
    side: Side, stated: dict[str, Any], result: str
) -> None:
    sheet = sheet_of(side, stated)
    assert added(lines_of(result), sheet) == sheet.held(result).value
    for line in (line for top in lines_of(result) for line in top.flat()):
        if line.parts:
            assert added(line.parts, sheet) * line.sign == line.amount(sheet), line.key


@settings(max_examples=60)
@given(
    price=st.decimals(50_000, 3_000_000, places=2),
    percent=st.decimals(0, 9, places=3),
    concession=st.decimals(0, 20_000, places=2),
)
def test_they_add_up_whatever_is_stated(price: Decimal, percent: Decimal, concession: Decimal) -> None:
    sheet = sheet_of(
        Side.LISTING,
        SELLING | {PRICE: price, "commission.percent": percent, "terms.seller_concessions": concession},
    )
    assert added(lines_of(NET), sheet) == sheet.held(NET).value


def test_a_line_that_is_typed_over_is_in_the_sum_as_it_is_typed() -> None:
    usual = sheet_of(Side.LISTING, SELLING)
    other = what_if(usual, {"estimate.seller_title": Decimal(1)})
    less = usual.held("estimate.seller_title").value
    assert isinstance(less, Decimal)
    assert other.held(NET).value == usual.held(NET).value + less - 1  # type: ignore[operator]
    assert added(lines_of(NET), other) == other.held(NET).value


def test_what_if_keeps_nothing_and_what_is_locked_stays() -> None:
    sheet = sheet_of(Side.LISTING, SELLING)
    before = sheet.held(NET).value
    sheet.ledger.add(Entry("commission.flat", Act.STATE, 90, Source.TEMPLATE, Decimal(7), locked=True))
    assert what_if(sheet, {PRICE: Decimal(1)}).held(NET).value != before
    assert sheet.held(NET).value == before
    assert what_if(sheet, {"commission.flat": Decimal(9)}).held("commission.flat").value == 7


def test_a_price_that_nets_an_amount_is_found_to_the_cent() -> None:
    sheet = sheet_of(Side.LISTING, SELLING)
    found = solve(sheet, PRICE, NET, Decimal(400_000))
    assert found == Solved(Decimal("650497.41"), Decimal("400000.00"), True)
    assert sheet.held(PRICE).value == 612_500, "the deal is as it was"


@settings(max_examples=40, deadline=None)
@given(wanted=st.decimals(1_000, 1_500_000, places=2))
def test_what_is_found_makes_it_so_and_no_lower_price_nearby_does(wanted: Decimal) -> None:
    sheet = sheet_of(Side.LISTING, SELLING)
    found = solve(sheet, PRICE, NET, wanted)
    assert isinstance(found, Solved)
    tried = what_if(sheet, {PRICE: found.value})
    assert tried.held(NET).value == found.reached
    assert found.exact is (found.reached == wanted)
    assert abs(found.reached - wanted) < 10, "a step of tax and premium at most"
    cents = (found.value - Decimal(n) / 100 for n in (1, 2, 50_000))
    lower = (what_if(sheet, {PRICE: price}).held(NET).value for price in cents)
    assert wanted not in lower


@pytest.mark.parametrize(
    ("vary", "of", "wanted"),
    [
        ("terms.purchase_price", "estimate.monthly_total", Decimal(3_000)),
        ("terms.down_payment", "estimate.monthly_total", Decimal(2_000)),
        ("terms.purchase_price", "estimate.cash_to_close", Decimal(90_000)),
        ("terms.seller_concessions", "estimate.cash_to_close", Decimal(80_000)),
    ],
)
def test_what_the_buyer_can_afford_is_found_to_the_cent(vary: str, of: str, wanted: Decimal) -> None:
    sheet = sheet_of(Side.BUYING, BUYING)
    found = solve(sheet, vary, of, wanted)
    assert isinstance(found, Solved), found
    assert abs(found.reached - wanted) <= Decimal("0.05")
    assert what_if(sheet, {vary: found.value}).held(of).value == found.reached


def test_a_rate_is_found_to_the_thousandth() -> None:
    found = solve(sheet_of(Side.BUYING, BUYING), "estimate.rate", "estimate.monthly_total", Decimal(2_700))
    assert isinstance(found, Solved)
    assert found.value == found.value.quantize(Decimal("0.001"))
    assert 0 <= found.reached - 2_700 < 1


def test_what_can_not_be_asked_backwards_says_why() -> None:
    waits = solve(sheet_of(Side.LISTING, {PRICE: Decimal(1)}), PRICE, NET, Decimal(5))
    assert isinstance(waits, Fault) and "waits for" in waits.message
    idle = solve(sheet_of(Side.LISTING, SELLING), "lease.rent", NET, Decimal(5))
    assert isinstance(idle, Fault) and "does not depend" in idle.message
    never = solve(sheet_of(Side.LISTING, SELLING), PRICE, NET, Decimal(10) ** 12)
    assert isinstance(never, Fault) and never.message.startswith("No list price")
    day = solve(sheet_of(Side.LISTING, SELLING), "terms.closing_date", NET, Decimal(5))
    assert isinstance(day, Fault) and "not an amount" in day.message


def test_each_side_has_its_sheets_and_its_price() -> None:
    listing = money_sheets(sheet_of(Side.LISTING, SELLING))
    assert [one.name for one in listing] == ["proceeds", "cash", "monthly"]
    assert listing[0].asks[0].vary == PRICE and listing[0].form == "702"
    offered = money_sheets(sheet_of(Side.LISTING, SELLING | {"terms.purchase_price": Decimal(600_000)}))
    assert offered[0].asks[0].vary == "terms.purchase_price"
    assert [one.name for one in money_sheets(sheet_of(Side.RENTING, LEASE))] == ["move_in"]
    catalog = load_catalog()
    for side in Side:
        for one in money_sheets(sheet_of(side, {})):
            named = {one.result, *one.set_by, *(a.vary for a in one.asks), *(a.of for a in one.asks)}
            assert named <= set(catalog.facts)
            assert one.form in demo_pack().forms
