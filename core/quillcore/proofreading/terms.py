"""Days in their order, and money that adds up."""

from __future__ import annotations

from datetime import date, timedelta
from decimal import ROUND_HALF_UP, Decimal

from quillcore.proofreading.model import Mend, Proof, Remarks, RemarkWeight
from quillcore.values import EMPTY, shown

_ORDER = (
    ("terms.expiry_date", "terms.closing_date", RemarkWeight.MUST),
    ("terms.deposit_due_date", "terms.closing_date", RemarkWeight.SHOULD),
    ("terms.inspection_date", "terms.closing_date", RemarkWeight.SHOULD),
    ("terms.financing_date", "terms.closing_date", RemarkWeight.SHOULD),
    ("terms.sale_by", "terms.closing_date", RemarkWeight.SHOULD),
)
"""The usual order of days in a deal, beside the catalog's own order (``not_before``); a period that ends with
the closing is cut short by it."""
_BUSINESS = ("terms.closing_date",)
"""Days on which somebody has to be at work: nobody records or wires on a holiday."""
_AHEAD = {
    "terms.expiry_date": ("terms.acceptance_date", RemarkWeight.MUST),
    "terms.closing_date": (None, RemarkWeight.MUST),
    "listing.expiry_date": ("terms.acceptance_date", RemarkWeight.SHOULD),
    "representation.ends": ("terms.acceptance_date", RemarkWeight.SHOULD),
}
"""Days that are still to come while a package is written, unless the other one is known."""
_FAR = timedelta(days=400)
"""A closing or a start more than a year off is a mistyped year more often than not."""


def out_of_order(proof: Proof) -> Remarks:
    """Yield two days the wrong way round."""
    stated = [(f.not_before, f.key, RemarkWeight.MUST) for f in proof.package.catalog if f.not_before]
    for early, late, weight in (*stated, *_ORDER):
        first, second = proof.day(early), proof.day(late)
        if first is not None and second is not None and first > second:
            before = f"{proof.label(early).lower()}, {_said(first)}"
            said = f"{proof.label(late)}, {_said(second)}, is before {before}."
            yield proof.at("order", weight, late, said, "Check both days.")


def accepted_late(proof: Proof) -> Remarks:
    """Yield a remark on an offer accepted after it had run out."""
    accepted, expires = proof.day("terms.acceptance_date"), proof.day("terms.expiry_date")
    if accepted is not None and expires is not None and accepted > expires:
        yield proof.at(
            "accepted late",
            RemarkWeight.MUST,
            "terms.acceptance_date",
            f"It is accepted on {_said(accepted)}, after the offer expired on {_said(expires)}.",
            "Extend the offer in writing, or write a new one.",
        )


def otherwise_than_agreed(proof: Proof) -> Remarks:
    """Yield a term that the deal has otherwise than the newest paper on which both sides agreed."""
    for key, agreed in {one.key: one for one in proof.agreed}.items():
        kind = proof.package.catalog[key].type
        value, is_none = proof.value(key), agreed.value is EMPTY
        is_same = value in (None, EMPTY) if is_none else value is not None and kind.same(value, agreed.value)
        if not is_same:
            says = shown(agreed.value, kind.name) if not is_none else "nothing"
            label, now = proof.label(key).lower(), shown(value, kind.name) or "nothing"
            yield proof.at(
                "paper and terms differ",
                RemarkWeight.MUST,
                key,
                f"{agreed.paper}, agreed on, says {says} for {label}; the deal says {now}.",
                "Take over what was agreed, or amend the agreement.",
            )


def past(proof: Proof) -> Remarks:
    """Yield a day that has passed and should be ahead."""
    for key, (over, weight) in _AHEAD.items():
        day = proof.day(key)
        is_over = over is not None and proof.day(over) is not None
        if day is not None and day < proof.today and not is_over and key in proof.first:
            yield proof.at(
                "past", weight, key, f"{proof.label(key)}, {_said(day)}, has passed.", "Set another day."
            )


def closed_days(proof: Proof) -> Remarks:
    """Yield a closing on a day on which nobody closes."""
    calendar = proof.package.sheet.setting.calendar
    for key in _BUSINESS:
        day = proof.day(key)
        why = calendar.closed(day) if day is not None else None
        if day is not None and why is not None:
            next_day = calendar.rolled(day)
            yield proof.at(
                "closed day",
                RemarkWeight.SHOULD,
                key,
                f"{proof.label(key)}, {_said(day)}, is not a business day ({why}).",
                f"The next one is {_said(next_day)}.",
                Mend(f"Make it {_said(next_day)}", key, next_day.isoformat()),
            )


def far_off(proof: Proof) -> Remarks:
    """Yield a day more than a year ahead, or long ago."""
    for key in (
        "terms.closing_date",
        "terms.expiry_date",
        "terms.acceptance_date",
        "lease.start",
        "terms.offer_date",
    ):
        day = proof.day(key)
        if day is not None and abs(day - proof.today) > _FAR:
            yield proof.at(
                "far off",
                RemarkWeight.SHOULD,
                key,
                f"{proof.label(key)} is {_said(day)}: is the year right?",
                "Check it.",
            )


def parts_of_the_price(proof: Proof) -> Remarks:
    """Yield deposit, loan and balance that don't come to the price."""
    price = proof.money("terms.purchase_price")
    if price is None:
        return
    parts = {
        key: proof.money(key) or Decimal(0)
        for key in (
            "terms.deposit_amount",
            "terms.additional_deposit",
            "terms.loan_amount",
            "terms.balance_due",
        )
    }
    together = sum(parts.values(), Decimal(0))
    if proof.money("terms.balance_due") is not None and together != price:
        yield proof.at(
            "parts",
            RemarkWeight.MUST,
            "terms.balance_due",
            f"Deposits, loan and balance come to {together:,.2f}, the price is {price:,.2f}.",
            "Let the balance be calculated, or check the amounts.",
        )
    for key, amount in parts.items():
        if amount > price:
            yield proof.at(
                "beyond the price",
                RemarkWeight.MUST,
                key,
                f"{proof.label(key)} is more than the price: {amount:,.2f}.",
                "Check it.",
            )
    if price <= 1_000:
        yield proof.at(
            "price",
            RemarkWeight.MUST,
            "terms.purchase_price",
            f"The price is {price:,.2f}: are zeros missing?",
            "Check it.",
        )


def loan_and_down_payment(proof: Proof) -> Remarks:
    """Yield loan and down payment that aren't the price."""
    price, loan, down = (proof.money(f"terms.{k}") for k in ("purchase_price", "loan_amount", "down_payment"))
    if price is not None and loan is not None and down is not None and loan + down != price:
        yield proof.at(
            "loan",
            RemarkWeight.SHOULD,
            "terms.loan_amount",
            f"Loan and down payment come to {loan + down:,.2f}, the price is {price:,.2f}.",
            "Check both.",
        )


def usual_terms(proof: Proof) -> Remarks:
    """Yield terms that are possible, and rare enough to be looked at."""
    price = proof.money("terms.purchase_price")
    for key, most, share in (
        ("terms.deposit_amount", Decimal("0.1"), "a tenth"),
        ("terms.seller_concessions", Decimal("0.06"), "six hundredths"),
    ):
        amount = proof.money(key)
        if price and amount is not None and price >= amount > price * most:
            yield proof.at(
                "unusual",
                RemarkWeight.LOOK,
                key,
                f"{proof.label(key)} is more than {share} of the price.",
                "Is this correct?",
            )
    rate, years = proof.money("terms.rate_cap"), proof.money("terms.loan_years")
    if rate is not None and not 2 <= rate <= 15:
        yield proof.at(
            "unusual",
            RemarkWeight.LOOK,
            "terms.rate_cap",
            f"The highest interest rate is {rate:f}%.",
            "Is this correct?",
        )
    if years is not None and years not in (10, 15, 20, 25, 30, 40):
        yield proof.at(
            "unusual",
            RemarkWeight.LOOK,
            "terms.loan_years",
            f"The loan runs {years:f} years.",
            "Is this correct?",
        )
    listed = proof.money("listing.price")
    if price and listed and not listed * Decimal("0.7") <= price <= listed * Decimal("1.4"):
        yield proof.at(
            "unusual",
            RemarkWeight.LOOK,
            "terms.purchase_price",
            f"The price is far from the list price of {listed:,.2f}.",
            "Is this correct?",
        )


_LOAN = ("terms.loan_amount", "terms.loan_years", "terms.rate_cap", "terms.financing_days")


def cash_with_a_loan(proof: Proof) -> Remarks:
    """Yield a cash offer that still speaks of a loan on paper."""
    if proof.said("terms.loan_type") != "cash":
        return
    for key in _LOAN:
        blank = proof.first.get(key)
        if blank is not None and blank.text and proof.value(key) not in (None, Decimal(0)):
            yield proof.on(
                "cash",
                RemarkWeight.MUST,
                blank,
                f"A cash offer states {blank.label.lower()}: {blank.text}.",
                "Remove it.",
            )


_OF_LENDERS = Decimal("0.0001")
"""A share that an amount to the cent comes to is compared to four places: a cent more or less is none."""


def least_down_payment(proof: Proof) -> Remarks:
    """Yield a government-backed or conventional loan with less down than it asks for."""
    least = {"FHA": Decimal("3.5"), "conventional": Decimal(3)}.get(proof.said("terms.loan_type"))
    percent = proof.money("terms.down_payment_percent")
    percent = percent.quantize(_OF_LENDERS, rounding=ROUND_HALF_UP) if percent is not None else None
    if least is not None and percent is not None and percent < least:
        yield proof.at(
            "down payment",
            RemarkWeight.SHOULD,
            "terms.down_payment_percent",
            f"{percent.normalize():f}% down is less than such a loan requires ({least:f}%).",
            "Ask the lender.",
        )


def lease_terms(proof: Proof) -> Remarks:
    """Yield a lease's money and term."""
    rent, deposit, months = (proof.money(f"lease.{k}") for k in ("rent", "security_deposit", "months"))
    if rent is not None and rent <= 0:
        yield proof.at("rent", RemarkWeight.MUST, "lease.rent", "The rent is zero.", "Type it.")
    if rent and deposit is not None and deposit > rent * 3:
        yield proof.at(
            "unusual",
            RemarkWeight.LOOK,
            "lease.security_deposit",
            "The deposit is more than three months' rent.",
            "Is this correct?",
        )
    if months is not None and not 1 <= months <= 60:
        yield proof.at(
            "unusual",
            RemarkWeight.LOOK,
            "lease.months",
            f"The lease runs {months:f} months.",
            "Is this correct?",
        )
    due = proof.money("lease.due_day")
    if due is not None and not 1 <= due <= 31:
        yield proof.at(
            "due day",
            RemarkWeight.MUST,
            "lease.due_day",
            f"No month has a day {due:f}.",
            "Type a day from 1 to 28.",
        )
    if proof.yes("lease.pets") is False and (proof.money("lease.pet_rent") or 0) > 0:
        yield proof.at(
            "pets",
            RemarkWeight.SHOULD,
            "lease.pet_rent",
            "There is pet rent, but no pets are allowed.",
            "Change one of them.",
        )


def the_home(proof: Proof) -> Remarks:
    """Yield what can't be of a home."""
    built = proof.money("property.year_built")
    if built is not None and not 1700 <= built <= proof.today.year + 2:
        yield proof.at(
            "year built",
            RemarkWeight.MUST,
            "property.year_built",
            f"Built in {built:f}: that is not possible.",
            "Check it.",
        )
    area = proof.money("property.living_area")
    if area is not None and 0 < area < 150:
        yield proof.at(
            "area",
            RemarkWeight.LOOK,
            "property.living_area",
            f"The living area is {area:,f} sq ft.",
            "Is this correct?",
        )


def _said(day: date) -> str:
    return f"{day:%a, %b} {day.day}, {day.year}"


RULES = (
    out_of_order,
    accepted_late,
    otherwise_than_agreed,
    past,
    closed_days,
    far_off,
    parts_of_the_price,
    loan_and_down_payment,
    usual_terms,
    cash_with_a_loan,
    least_down_payment,
    lease_terms,
    the_home,
)
