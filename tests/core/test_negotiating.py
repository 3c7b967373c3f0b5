"""Turns in a negotiation: what changes, and what a counter-offer or an amendment then says."""

from __future__ import annotations

from datetime import date
from decimal import Decimal
from typing import Any

from quillcore.estimates import what_if
from quillcore.facts.keys import Side
from quillcore.forms.counteroffer_blanks import Says, TurnPart, read_turn
from quillcore.formulas import Evaluator
from quillcore.offers import Heading, answers_for, may_be_countered, moved, stated_in
from quillcore.packs.reading import read_pack
from quillcore.values import EMPTY

from tests.core.small import OFFER, demo_pack, ledger, pack_files

COUNTER = Heading(2, "seller", date(2026, 11, 24), "counter-offer", date(2026, 11, 22))
TERMS = OFFER | {
    "terms.inspection_days": Decimal(10),
    "terms.possession": "at closing",
    "terms.title_payer": "seller",
    "terms.acceptance_date": date(2026, 11, 20),
}


def answers(number: str, stated: dict[str, Any], terms: dict[str, Any] | None = None) -> dict[str, Any]:
    form = demo_pack().forms[number]
    before = Evaluator(ledger(TERMS if terms is None else terms), demo_pack().sheet.setting())
    sections = {
        m.fact: m.section
        for m in demo_pack().forms["301"].mapping.meanings
        if m.fact is not None and m.section
    }
    after = what_if(before, stated)
    return answers_for(form.mapping, COUNTER, [*stated], before, after, lambda key: sections.get(key, ""))


def test_a_counter_offer_states_what_changes_and_nothing_else() -> None:
    said = answers("320", {"terms.purchase_price": Decimal(420_000), "terms.inspection_days": Decimal(7)})
    assert said == {
        "number": Decimal(2),
        "made-by": "seller",
        "made-on": date(2026, 11, 24),
        "answers-to": "counter-offer",
        "answers-date": date(2026, 11, 22),
        "price": Decimal(420_000),
        "inspection": Decimal(7),
        # What follows from the price moves with it, and the paper says so.
        "deposit": Decimal("4200.00"),
        "loan": "Loan amount: $336,000.00",
    }


def test_what_has_no_line_of_its_own_is_put_in_words_with_its_section() -> None:
    said = answers("320", {"terms.title_payer": "split equally", "terms.survey_payer": "buyer"})
    assert said["other"].splitlines() == [
        "Section 11.5, Owner's title insurance paid by: from seller to split equally.",
        "Section 7.4, Survey paid by: from nothing stated to buyer.",
    ]
    assert "price" not in said and "loan" not in said


def test_a_term_given_up_is_said_so() -> None:
    said = answers("320", {"terms.title_payer": EMPTY})
    assert said["other"] == "Section 11.5, Owner's title insurance paid by: from seller to nothing stated."


def test_several_terms_on_one_line_are_told_apart() -> None:
    said = answers("320", {"terms.loan_type": "FHA", "terms.rate_cap": Decimal("6.75")})
    assert said["loan"] == "Loan: FHA; Highest interest rate: 6.75%"
    assert "other" not in said


def test_half_of_a_pair_fills_the_line_of_the_other() -> None:
    said = answers("320", {"terms.deposit_percent": Decimal(2)})
    assert said["deposit"] == Decimal("8250.00") and "other" not in said


def test_an_amendment_ticks_what_it_amends_and_states_both_ends() -> None:
    said = answers("322", {"terms.purchase_price": Decimal(420_000), "terms.inspection_days": Decimal(14)})
    assert said["does-price"] is True and said["does-inspection"] is True
    assert (said["price-from"], said["price-to"]) == (Decimal("412500.00"), Decimal(420_000))
    assert said["inspection-to"] == date(2026, 12, 4), "counted from the acceptance"
    assert "does-closing" not in said and "closing-to" not in said
    assert "other" not in said, "the period in days is stated by its end"
    open_ended = {key: value for key, value in TERMS.items() if key != "terms.acceptance_date"}
    said = answers("322", {"terms.inspection_days": Decimal(14)}, open_ended)
    assert said["other"] == "Section 9.1, Inspection period in days: from 10 to 14.", "no date can be told"
    assert "inspection-to" not in said


def test_only_what_is_agreed_may_be_countered() -> None:
    keys = {fact.key for fact in may_be_countered(Side("listing"))}
    assert {"terms.purchase_price", "terms.deposit_percent", "terms.closing_date"} <= keys
    assert not keys & {"terms.acceptance_date", "terms.offer_date", "terms.balance_due", "lease.rent"}
    assert {fact.group for fact in may_be_countered(Side("renting"))} == {"lease"}
    assert stated_in(demo_pack().forms["320"].mapping) <= keys | {
        "terms.loan_amount",
        "terms.inspection_date",
    }


def test_moved_are_only_those_that_say_something_else() -> None:
    before = Evaluator(ledger(TERMS), demo_pack().sheet.setting())
    after = what_if(before, {"terms.purchase_price": Decimal("412500.00"), "terms.title_payer": "buyer"})
    assert moved(["terms.purchase_price", "terms.title_payer", "terms.deposit_amount"], before, after) == [
        "terms.title_payer"
    ]


def test_what_a_blank_says_of_a_turn_is_checked_when_a_pack_is_read() -> None:
    assert read_turn("to terms.purchase_price") == TurnPart(Says.TO, ("terms.purchase_price",))
    assert read_turn("number") == TurnPart(Says.NUMBER)
    assert [read_turn(text) for text in ("", "to", "rest terms.closing_date", "sideways")] == [None] * 4
    for wrong, rule in (
        ("sideways", "is not a term of a counteroffer"),
        ("to terms.no_such", "There is no fact"),
    ):
        files = pack_files('<p>Price <blank id="price" kind="money" label="Price"></p>')
        mapping = files["forms/900/mapping.yaml"].replace(
            b"kind: money", f"kind: money, turn: {wrong}".encode()
        )
        found = read_pack(files | {"forms/900/mapping.yaml": mapping})
        assert isinstance(found, list) and rule in str(found[0])
