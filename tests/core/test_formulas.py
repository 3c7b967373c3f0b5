"""Formulas: what is refused when a pack is read, what stays open, and what a change costs."""

from __future__ import annotations

from datetime import date
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st
from quillcore.facts import Act, Entry, Ledger, Source
from quillcore.formulas import Evaluator, Rule, Setting, circles, target_rule
from quillcore.formulas.evaluator import rounded
from quillcore.values import EMPTY, KINDS, Fault

from tests.core.small import CATALOG, OFFER, ledger, people

REFUSED = [
    ("foo.bar + 1", "column 1", "There is no fact"),
    ("1 + nosuch(2)", "column 5", "There is no function"),
    ('terms.purchase_price + "x"', "column 24", "isn't a number"),
    ('if(terms.loan_type = "casch", 1, 2)', "column 22", "is never “casch”"),
    ("payment(400000, 6.25, 360)", "column 17", "percent sign"),
    ("sum(1,", "column 7", "is where a value should be"),
    ("1 < 2 < 3", "column 7", "don't chain"),
    ("(1", "column 3", "“)” is missing"),
    ("1 2", "column 3", "left over"),
    ("1 & 2", "column 3", "can't be used in a formula"),
    ('date("2027-02-30")', "column 1", "takes a day"),
    ("terms.offer_date + 3", "column 1", "isn't a number"),
    ("terms.purchase_price * terms.purchase_price", "column 22", "multiplied by money"),
    ("words(1, 2)", "column 1", "takes 1 value"),
    ("if(1, 2, 3)", "column 4", "yes_no is wanted"),
    ("coalesce(1, terms.offer_date)", "column 1", "there"),
    ("(" * 60 + "1" + ")" * 60, "column 42", "nested deeper"),
    ("9" * 20, "column 1", "too large"),
    ("1 + " * 1500 + "1", "", "4,000 characters"),
]


@pytest.mark.parametrize(("text", "column", "said"), REFUSED)
def test_a_faulty_formula_is_refused_with_its_column(text: str, column: str, said: str) -> None:
    fault = target_rule("terms.additional_deposit", "money", text, CATALOG)
    assert isinstance(fault, Fault)
    assert column in fault.place
    assert said in str(fault)


def test_a_result_of_the_wrong_type_is_refused() -> None:
    fault = target_rule("terms.offer_date", "date", "terms.purchase_price", CATALOG)
    assert "gives a money, but a date belongs here" in str(fault)


def test_formulas_that_feed_each_other_are_a_circle_and_pairs_are_not() -> None:
    rules = {}
    for target, text in (
        ("terms.a", "form.b + 1"),
        ("form.b", "terms.additional_deposit"),
        ("terms.additional_deposit", "form.b"),
    ):
        rule = target_rule(target, "money", text, CATALOG, {"b": "money"})
        assert isinstance(rule, Rule)
        rules[target] = rule
    assert circles(rules, CATALOG) == ["form.b", "terms.additional_deposit", "form.b"]


def result(text: str, kind: str = "money", said: dict[str, object] | None = None) -> Evaluator:
    rule = target_rule("doc.d1.x", kind, text, CATALOG)
    assert isinstance(rule, Rule), rule
    return Evaluator(ledger(said or {}), Setting(), [rule])  # type: ignore[arg-type]


def test_open_names_what_is_missing_and_lazy_functions_look_only_at_what_they_need() -> None:
    assert result("terms.purchase_price - terms.down_payment").held("doc.d1.x").missing == (
        "terms.down_payment",
        "terms.purchase_price",
    )
    assert result("if(true, 1, terms.purchase_price)").held("doc.d1.x").value == Decimal("1.00")
    assert result("coalesce(terms.additional_deposit, 0)").held("doc.d1.x").value == Decimal("0.00")
    assert result("false and terms.inspection", "yes_no").held("doc.d1.x").value is False
    assert result("true or terms.inspection", "yes_no").held("doc.d1.x").value is True
    assert result("true and terms.inspection", "yes_no").held("doc.d1.x").missing == ("terms.inspection",)


def test_a_formula_has_as_many_values_as_it_takes_up_to_fifty() -> None:
    for name, comes_to in (("coalesce", 1), ("sum", 50)):
        texts = {count: f"{name}({', '.join(['1'] * count)})" for count in (0, 50, 51)}
        assert result(texts[50]).held("doc.d1.x").value == comes_to
        for count in (0, 51):
            assert isinstance(target_rule("doc.d1.x", "money", texts[count], CATALOG), Fault), count


def test_a_percent_is_a_factor_where_it_multiplies_or_divides_and_stays_one_beside_another() -> None:
    said: dict[str, object] = {"terms.purchase_price": Decimal(400_000)}
    for text in ("terms.purchase_price * 3%", "3% * terms.purchase_price"):
        assert result(text, said=said).held("doc.d1.x").value == Decimal("12000.00")
    assert result("terms.purchase_price / 50%", said=said).held("doc.d1.x").value == Decimal("800000.00")
    assert result("6% / 3%", "number").held("doc.d1.x").value == Decimal(2), "of the same sort: how often"
    assert result("6% / 3", "percent").held("doc.d1.x").value == Decimal(2)


def test_rounding_gives_what_was_rounded() -> None:
    said: dict[str, object] = {"terms.purchase_price": Decimal("412512.34")}
    assert result("round(terms.purchase_price, 0)", said=said).held("doc.d1.x").value == Decimal("412512.00")
    assert isinstance(target_rule("doc.d1.x", "date", "round(terms.purchase_price, 0)", CATALOG), Fault)


def test_a_condition_is_asked_anew_as_soon_as_something_has_moved() -> None:
    rule = target_rule("", "yes_no", 'terms.loan_type = "cash"', CATALOG)
    assert isinstance(rule, Rule)
    made = ledger({})
    sheet = Evaluator(made, Setting())
    assert sheet.test(rule.tree) is None
    for order, (said, holds) in enumerate((("cash", True), ("conventional", False)), 1):
        made.add(Entry("terms.loan_type", Act.STATE, order, Source.TYPED, said))
        sheet.refresh(["terms.loan_type"])
        assert [sheet.test(rule.tree) for _ in range(2)] == [holds, holds]
    assert sheet.test(rule.tree) is False


def test_a_forms_rule_moves_to_each_of_its_copies() -> None:
    own = target_rule("doc.-.a", "money", "form.b + terms.purchase_price", CATALOG, {"b": "money"}, "doc.-.")
    shared = target_rule("doc.-.c", "money", "terms.purchase_price", CATALOG, {}, "doc.-.")
    assert isinstance(own, Rule) and isinstance(shared, Rule)
    moved = own.moved("doc.-.", "doc.d1.")
    assert (moved.target, moved.kind) == ("doc.d1.a", "money")
    assert moved.reads == {"doc.d1.b", "terms.purchase_price"} and own.reads >= {"doc.-.b"}
    assert shared.moved("doc.-.", "doc.d1.").target == "doc.d1.c"
    assert shared.moved("doc.-.", "doc.d1.").tree is shared.tree, "nothing in it is the copy's"
    assert shared.moved("doc.x.", "doc.d1.") is shared
    said = {"doc.d1.b": Decimal(5), "doc.d2.b": Decimal(7), "terms.purchase_price": Decimal(100)}
    rules = [own.moved("doc.-.", prefix) for prefix in ("doc.d1.", "doc.d2.")]
    sheet = Evaluator(ledger(said), Setting(), rules)  # type: ignore[arg-type]
    assert [sheet.held(f"doc.{d}.a").value for d in ("d1", "d2")] == [Decimal("105.00"), Decimal("107.00")]


def test_whoever_signs_for_an_entity_is_asked_for() -> None:
    said = people("buyers", ("Ana", "Ruiz")) | {
        "buyers": "buyers0,firm,nobody",
        "party.firm.kind": "entity",
        "party.firm.entity_name": "Voss Family Trust",
    }
    sheet = Evaluator(ledger(said), Setting())  # type: ignore[arg-type]
    assert sheet.held("buyers.1.signature_name").value == "Ana Ruiz"
    assert sheet.held("buyers.1.signature_name").source is Source.WORKED_OUT
    unsigned = sheet.held("buyers.2.signature_name")
    assert unsigned.value is None and unsigned.missing == ("buyers.2.signer",)
    nobody = sheet.held("buyers.3.signature_name")
    assert nobody.value is None and nobody.source is None
    assert sheet.held("buyers.4.signature_name").value is None, "there is no fourth"
    assert sheet.held("buyers.count").value == Decimal(3)


def test_what_grows_too_large_on_the_way_is_told_in_words() -> None:
    grown = result("round(999999999999 * 999999999999, 0)").held("doc.d1.x")
    assert grown.value is None and "too large" in str(grown.fault)


def test_division_by_zero_and_absurd_numbers_are_told_in_words() -> None:
    assert "divide by zero" in str(result("1 / (2 - 2)").held("doc.d1.x").fault)
    assert "too large" in str(result("999999999999 * 999999999999").held("doc.d1.x").fault)
    assert "1,200 months" in str(result("payment(1, 5%, 9999)").held("doc.d1.x").fault)
    assert "no rates" in str(result("transfer_tax(1)").held("doc.d1.x").fault)


def test_intentionally_empty_counts_as_nothing_in_sums_and_as_none_elsewhere() -> None:
    said: dict[str, object] = {
        "terms.additional_deposit": EMPTY,
        "property.unit": EMPTY,
        "terms.offer_date": EMPTY,
    }
    assert result("100 + terms.additional_deposit", said=said).held("doc.d1.x").value == Decimal("100.00")
    assert result('property.unit = ""', "yes_no", said).held("doc.d1.x").value is True
    assert "left blank on purpose" in str(
        result("days_after(terms.offer_date, 3)", "date", said).held("doc.d1.x").fault
    )


def test_rounding_happens_at_the_target_only() -> None:
    assert result("10 / 3 * 3").held("doc.d1.x").value == Decimal("10.00")
    assert result("0.005").held("doc.d1.x").value == Decimal("0.01"), "half up"


def test_the_parts_of_the_price_follow_the_price() -> None:
    sheet = Evaluator(ledger(OFFER))
    assert [
        sheet.held(f"terms.{k}").value
        for k in ("deposit_amount", "down_payment", "loan_amount", "balance_due", "loan_to_value")
    ] == [
        Decimal("4125.00"),
        Decimal("82500.00"),
        Decimal("330000.00"),
        Decimal("78375.00"),
        Decimal(80),
    ]
    assert sheet.held("buyers.names").value == "Ana Ruiz and Łukasz Nguyễn"
    assert sheet.held("buyers.3.name").value is None


def test_a_typed_value_replaces_a_worked_out_one_and_what_it_replaced_is_known() -> None:
    sheet = Evaluator(ledger({**OFFER, "terms.loan_amount": Decimal("300000.00")}))
    assert sheet.held("terms.loan_amount").source is Source.TYPED
    assert sheet.held("terms.balance_due").value == Decimal("108375.00")
    assert sheet.worked_out("terms.loan_amount").value == Decimal("330000.00")


def test_a_standing_formula_ranks_as_its_source() -> None:
    made = ledger(OFFER)
    made.add(
        Entry(
            "terms.seller_concessions", Act.FORMULA, 99, Source.TEMPLATE, formula="terms.purchase_price * 2%"
        )
    )
    held = Evaluator(made).held("terms.seller_concessions")
    assert (held.value, held.source) == (Decimal("8250.00"), Source.TEMPLATE)


def test_halves_of_a_pair_work_each_other_out_and_never_in_a_ring() -> None:
    sheet = Evaluator(
        ledger({"terms.purchase_price": Decimal("400000.00"), "terms.deposit_amount": Decimal("5000.00")})
    )
    assert sheet.held("terms.deposit_percent").value == Decimal("1.25")
    assert Evaluator(ledger({"terms.purchase_price": Decimal(1)})).held("terms.deposit_amount").missing == (
        "terms.deposit_amount",
    )


def test_a_change_works_out_only_what_depends_on_it() -> None:
    sheet = Evaluator(ledger(OFFER))
    for key in sheet.rules:
        sheet.held(key)
    sheet.evaluated.clear()
    stale = sheet.refresh(["terms.rate_cap"])
    for key in stale:
        sheet.held(key)
    estimates = {
        f"estimate.{k}"
        for k in (
            "rate",
            "prepaid_interest",
            "loan_costs",
            "buyer_costs",
            "cash_to_close",
            "monthly_loan",
            "monthly_total",
        )
    }
    assert stale == {"terms.rate_cap", "terms.monthly_payment"} | estimates
    assert sorted(sheet.evaluated) == sorted({"terms.monthly_payment"} | estimates)


def test_a_partys_name_reaches_the_joined_names_and_an_email_does_not() -> None:
    sheet = Evaluator(ledger(OFFER))
    assert sheet.dependents(["party.buyers1.email"]) == {"buyers.2.email"}
    assert {"buyers.names", "buyers.2.name", "buyers.2.initials"} <= sheet.dependents(
        ["party.buyers1.family"]
    )


def test_reordering_parties_moves_only_positions() -> None:
    made = ledger(
        {**people("buyers", ("Ana", "Ruiz"), ("Bo", "Falk")), "party.buyers0.email": "ana@post.example"}
    )
    made.add(Entry("buyers", Act.STATE, 99, Source.TYPED, "buyers1,buyers0"))
    sheet = Evaluator(made)
    assert sheet.held("buyers.names").value == "Bo Falk and Ana Ruiz"
    assert sheet.held("buyers.2.email").value == "ana@post.example"


KEYS = [
    "terms.purchase_price",
    "terms.down_payment_percent",
    "terms.down_payment",
    "terms.deposit_percent",
    "terms.deposit_amount",
    "terms.additional_deposit",
]
CHANGES = st.lists(
    st.tuples(st.sampled_from(KEYS), st.one_of(st.none(), st.integers(0, 900_000))), max_size=12
)


def change(made: Ledger, sheet: Evaluator, order: int, key: str, number: int | None) -> None:
    act = Act.CLEAR if number is None else Act.STATE
    made.add(Entry(key, act, order, Source.TYPED, None if number is None else Decimal(number)))
    sheet.refresh([key])


@given(CHANGES)
def test_recomputing_from_the_change_equals_recomputing_all(changes: list[tuple[str, int | None]]) -> None:
    made = ledger(OFFER)
    kept = Evaluator(made)
    for order, (key, number) in enumerate(changes, 100):
        for shown in kept.rules:
            kept.held(shown)
        change(made, kept, order, key, number)
    fresh = Evaluator(made)
    for key in [*fresh.rules, *KEYS]:
        assert kept.held(key) == fresh.held(key), key


@given(CHANGES)
def test_the_parts_of_the_price_always_add_up(changes: list[tuple[str, int | None]]) -> None:
    made = ledger(OFFER)
    sheet = Evaluator(made)
    for order, (key, number) in enumerate(changes, 100):
        change(made, sheet, order, key, number)
    parts = [
        sheet.held(f"terms.{k}").value
        for k in ("deposit_amount", "additional_deposit", "loan_amount", "balance_due")
    ]
    if all(isinstance(p, Decimal) for i, p in enumerate(parts) if i != 1):
        assert (
            sum((p for p in parts if isinstance(p, Decimal)), Decimal(0))
            == sheet.held("terms.purchase_price").value
        )


def test_a_quotient_prints_two_places_and_a_rate_keeps_its_three() -> None:
    percent = KINDS["percent"]
    for value, printed in (("79.99999999", "80"), ("33.33333333", "33.33"), ("6.125", "6.125"), ("6", "6")):
        assert percent.in_blank(rounded(Decimal(value), "percent")) == printed
        assert percent.on_screen(Decimal(value)) == f"{printed}%"


def test_a_rule_compares_a_percentage_and_not_its_print() -> None:
    said = {"terms.purchase_price": Decimal("500000"), "terms.deposit_amount": Decimal("50001")}
    percent = Evaluator(ledger(said)).held("terms.deposit_percent").value
    assert percent == Decimal("10.0002") and KINDS["percent"].in_blank(percent) == "10"


def test_days_that_nobody_counts_give_no_day() -> None:
    found = Evaluator(
        ledger({"terms.acceptance_date": date(2027, 1, 4), "terms.financing_days": Decimal(36_501)})
    )
    held = found.held("terms.financing_date")
    assert held.value is None and held.fault is not None and "more than a hundred years" in str(held.fault)
