"""The money sheets: a sum is the sum of the lines that are printed over it, in every combination; and what
they take from the rest of the deal."""

from __future__ import annotations

from datetime import date
from decimal import Decimal

from hypothesis import given, settings
from hypothesis import strategies as st
from quillcore.assembly import Package, PackageDocument
from quillcore.facts import Act, Entry, Ledger, Source
from quillcore.formulas import Evaluator
from quillcore.values import Value

from tests.core.small import CATALOG, demo_pack

SETTING = demo_pack().sheet.setting()
KNOWN: dict[str, Value] = {
    "terms.closing_date": date(2027, 3, 15),
    "tax.annual": Decimal("3200.00"),
    "tax.year": Decimal(2026),
    "terms.deposit_amount": Decimal("4000.00"),
    "estimate.escrow_fee": Decimal("900.00"),
    "estimate.insurance_year": Decimal("1400.00"),
    "estimate.origination_percent": Decimal(1),
    "terms.rate_cap": Decimal("6.25"),
    "terms.loan_years": Decimal(30),
    "terms.loan_amount": Decimal("300000.00"),
    "commission.percent": Decimal(5),
}
COSTS = [
    "origination",
    "points",
    "credit-fee",
    "lender-title",
    "prepaid-interest",
    "buyer-title",
    "buyer-transfer-tax",
    "buyer-escrow",
    "buyer-recording",
    "appraisal-fee",
    "inspection-fee",
    "buyer-warranty",
    "association-prepaid",
    "own-firm-rest",
    "buyer-other",
    "insurance-year",
    "insurance-reserve",
    "tax-reserve",
]
SALE = [
    "first-payoff",
    "first-interest",
    "second-payoff",
    "second-interest",
    "commission-gross",
    "seller-title",
    "seller-transfer-tax",
    "seller-escrow",
    "seller-recording",
    "terms-seller-concessions",
    "buyer-firm-amount",
    "seller-repairs",
    "seller-warranty",
    "association-dues",
    "association-transfer",
    "tax-proration",
    "seller-other",
]
OPTIONAL = (
    "estimate.appraisal_fee",
    "estimate.credit_fee",
    "estimate.lender_title",
    "estimate.points_percent",
    "estimate.buyer_recording",
    "estimate.inspection_fee",
    "estimate.association_prepaid",
    "estimate.insurance_months",
    "estimate.tax_months",
    "estimate.buyer_other",
    "estimate.seller_recording",
    "estimate.seller_repairs",
    "estimate.first_payoff",
    "estimate.first_per_day",
    "terms.seller_concessions",
    "terms.buyer_firm_amount",
    "terms.financed_fee",
    "representation.fee_percent",
    "commission.flat",
)
payers = st.sampled_from(["seller", "buyer", "split equally"])


def ledger_of(said: dict[str, Value], side: str) -> Ledger:
    made = Ledger(CATALOG, side)
    for order, (key, value) in enumerate(said.items(), 1):
        made.add(Entry(key, Act.STATE, order, Source.TYPED, value))
    return made


def printed(number: str, said: dict[str, Value], side: str) -> dict[str, str]:
    document = PackageDocument("d", demo_pack().forms[number])
    return {b.field.id: b.text for b in Package([document], ledger_of(said, side), SETTING).blanks()}


def amount(text: str) -> Decimal:
    return Decimal(text.replace(",", "")) if text not in ("", "none") else Decimal(0)


@st.composite
def deals(draw: st.DrawFn) -> dict[str, Value]:
    said = {**KNOWN, "terms.purchase_price": Decimal(draw(st.integers(50_000, 900_000)))}
    said["terms.loan_type"] = draw(st.sampled_from(CATALOG["terms.loan_type"].options))
    said["commission.basis"] = draw(st.sampled_from(CATALOG["commission.basis"].options))
    for key in ("terms.title_payer", "terms.transfer_tax_payer", "terms.escrow_payer"):
        said[key] = draw(payers)
    said["terms.warranty_payer"] = draw(st.sampled_from(["seller", "buyer", "no warranty"]))
    said["terms.warranty_cap"] = Decimal(650)
    said["estimate.payoff_as_of"] = date(2027, 3, 1)
    said["commission.flat"] = Decimal(1000)
    for key in draw(st.sets(st.sampled_from(OPTIONAL))):
        said[key] = Decimal(draw(st.integers(1, 12)))
    return said


@settings(max_examples=60)
@given(deals())
def test_the_sums_are_those_of_the_lines_that_are_printed(said: dict[str, Value]) -> None:
    buyer = printed("701", said, "buying")
    assert sum(amount(buyer[line]) for line in COSTS) == amount(buyer["buyer-costs"])
    less = ("deposits-paid", "terms-seller-concessions", "tax-proration")
    together = amount(buyer["own-funds"]) + amount(buyer["buyer-costs"])
    assert amount(buyer["cash-to-close"]) == together - sum(amount(buyer[line]) for line in less)
    loan = amount(buyer["terms-loan-amount"])
    assert amount(buyer["own-funds"]) == amount(buyer["terms-purchase-price"]) - loan
    seller = printed("702", said, "listing")
    assert sum(amount(seller[line]) for line in SALE) == amount(seller["seller-costs"])


def test_cash_carries_nothing_of_a_loan_though_facts_hold_one() -> None:
    said = {**KNOWN, "terms.purchase_price": Decimal(400_000), "terms.loan_type": "cash"}
    offer = printed("301", {**said, "terms.financing_date": date(2027, 2, 1)}, "buying")
    loan_only = ("loan-years", "rate-cap", "loan-to-value", "monthly", "apply-days", "financing-date")
    assert [offer[name] for name in loan_only] == [""] * 6
    assert (offer["loan"], offer["loan-least"], offer["key-financing"]) == (
        "none",
        "no loan",
        "does not apply",
    )
    assert offer["balance"] == "396,000.00", "price less deposit"


def test_an_open_line_makes_the_sum_open() -> None:
    said = {k: v for k, v in KNOWN.items() if k != "estimate.escrow_fee"}
    sheet = Evaluator(ledger_of({**said, "terms.purchase_price": Decimal(400_000)}, "buying"), SETTING)
    assert sheet.held("estimate.cash_to_close").value is None
    assert "estimate.escrow_fee" in sheet.held("estimate.buyer_costs").missing


def test_the_list_price_is_the_price_until_there_is_an_offer() -> None:
    listed = {"listing.price": Decimal(500_000)}
    assert Evaluator(ledger_of(listed, "listing"), SETTING).held("estimate.price").value == Decimal(500_000)
    offered = {**listed, "terms.purchase_price": Decimal(480_000)}
    assert Evaluator(ledger_of(offered, "listing"), SETTING).held("estimate.price").value == Decimal(480_000)


def test_a_listings_term_and_its_end_are_two_halves_of_one_statement() -> None:
    begins = {"listing.list_date": date(2027, 3, 1)}
    ends = Evaluator(ledger_of({**begins, "listing.expiry_date": date(2027, 8, 31)}, "listing"))
    assert ends.held("listing.days").value == Decimal(184)
    days = Evaluator(ledger_of({**begins, "listing.days": Decimal(184)}, "listing"))
    assert days.held("listing.expiry_date").value == date(2027, 8, 31)


def test_what_the_seller_pays_to_the_buyers_firm_is_one_fact_everywhere() -> None:
    said = {**KNOWN, "terms.purchase_price": Decimal(400_000), "terms.loan_type": "conventional"}
    said |= {"terms.buyer_firm_percent": Decimal(2), "representation.fee_percent": Decimal("2.5")}
    offer, cost, net = printed("301", said, "buying"), printed("701", said, "buying"), None
    net = printed("702", said, "listing")
    assert offer["buyer-firm-amount"] == cost["buyer-firm-amount"] == net["buyer-firm-amount"] == "8,000.00"
    assert cost["own-firm-rest"] == "2,000.00", "2.5 percent owed less 2 that the seller pays"


def test_rates_say_which_release_they_are_of() -> None:
    assert printed("702", KNOWN, "listing")["rates-of"] == "September 15, 2026"


def test_pet_deposits_follow_pets() -> None:
    lease = {
        "lease.start": date(2027, 3, 1),
        "lease.rent": Decimal(2000),
        "lease.security_deposit": Decimal(2000),
    }
    lease |= {"lease.pet_deposit": Decimal(300), "lease.pets": False}
    found = printed("601", lease, "leasing out")
    assert (found["pet-deposit"], found["move-in"]) == ("none", "4,000.00")
    assert printed("601", lease | {"lease.pets": True}, "leasing out")["move-in"] == "4,300.00"
