"""A worked-out value says why, with the figures that it was worked out from."""

from __future__ import annotations

import pytest
from quillcore.facts import Act, Entry, Ledger, Source, load_catalog
from quillcore.formulas import Evaluator, catalog_rules
from quillcore.formulas.reasons import LONGEST, why
from quillcore.values import EMPTY, Fault

from tests.core.small import demo_pack


def sheet(**typed: str) -> Evaluator:
    catalog = load_catalog()
    ledger = Ledger(catalog, "buying")
    for order, (name, text) in enumerate(typed.items(), 1):
        key = name.replace("__", ".")
        value = EMPTY if text == "none" else catalog[key].read(text)
        assert not isinstance(value, Fault), (key, value)
        ledger.add(Entry(key, Act.STATE, order, Source.TYPED, value))
    return Evaluator(ledger, demo_pack().sheet.setting())


PRICED = {"terms__purchase_price": "412,500"}


@pytest.mark.parametrize(
    ("typed", "key", "said"),
    [
        (
            {**PRICED, "terms__deposit_percent": "1"},
            "terms.deposit_amount",
            "purchase price $412,500.00 × deposit in percent 1%",
        ),
        (
            {"terms__acceptance_date": "5/21/2027", "terms__deposit_due_days": "3"},
            "terms.deposit_due_date",
            "3 business days after acceptance date (Fri May 21), skipping Sat and Sun",
        ),
        (
            {"terms__acceptance_date": "5/21/2027", "terms__inspection_days": "10"},
            "terms.inspection_date",
            "10 days after acceptance date (Fri May 21), moved past Memorial Day",
        ),
        (
            {"terms__acceptance_date": "5/21/2027", "terms__closing_days": "40"},
            "terms.closing_date",
            "40 days after acceptance date (Fri May 21)",
        ),
        (
            {**PRICED, "terms__title_payer": "seller"},
            "estimate.seller_title",
            "the title premium for price of the estimate $412,500.00",
        ),
        (
            {**PRICED, "terms__transfer_tax_payer": "split"},
            "estimate.seller_transfer_tax",
            "the transfer tax on price of the estimate $412,500.00 ÷ 2",
        ),
        (
            {**PRICED, "terms__deposit_amount": "5,000", "terms__loan_amount": "330,000"},
            "terms.balance_due",
            "purchase price $412,500.00 − deposit $5,000.00 − loan amount $330,000.00",
        ),
        (
            {
                **PRICED,
                "terms__deposit_amount": "5,000",
                "terms__additional_deposit": "1,000",
                "terms__loan_amount": "330,000",
            },
            "terms.balance_due",
            "purchase price $412,500.00 − deposit $5,000.00 − additional deposit $1,000.00"
            " − loan amount $330,000.00",
        ),
        ({"tax__annual": "3200"}, "estimate.monthly_tax", "annual tax $3,200.00 ÷ 12"),
    ],
)
def test_it_is_told_with_its_figures(typed: dict[str, str], key: str, said: str) -> None:
    assert why(sheet(**typed), key) == said


def test_what_was_stated_is_open_or_a_text_has_no_reason() -> None:
    told = sheet(**PRICED, terms__deposit_amount="5,000")
    assert why(told, "terms.deposit_amount") == "", "typed over"
    assert why(told, "terms.closing_date") == "", "still open"
    assert why(told, "terms.purchase_price_words") == "", "says itself what of"
    assert why(told, "terms.purchase_price") == why(told, "nothing.at_all") == ""


def test_every_rule_of_the_catalog_can_be_told_and_none_runs_on() -> None:
    catalog = load_catalog()
    typed = {f.key.replace(".", "__"): f.example for f in catalog if f.example and f.formula is None}
    full = sheet(
        **{k: v for k, v in typed.items() if not isinstance(catalog[k.replace("__", ".")].read(v), Fault)}
    )
    for key in catalog_rules(catalog):
        told = why(full, key)
        assert len(told) <= LONGEST
        assert "  " not in told and "()" not in told and not told.endswith((" ", "×", "−", "+", "÷")), (
            key,
            told,
        )
