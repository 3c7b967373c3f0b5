"""What people type, and what it becomes."""

from __future__ import annotations

from datetime import date, time
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st
from quillcore.pdf.faces import derive
from quillcore.pdf.typeface import DERIVED, widths
from quillcore.values import EMPTY, KINDS, Fault, amount_in_words
from quillcore.values.scripts import SETTABLE, tidy, unsettable

TODAY = date(2027, 3, 3)  # a Wednesday

READ = [
    ("money", "412.5k", Decimal("412500.00")),
    ("money", "$1,200.50", Decimal("1200.50")),
    ("money", "1.25m", Decimal("1250000.00")),
    ("money", "(500)", Decimal("-500.00")),
    ("money", "0", Decimal("0.00")),
    ("percent", "3%", Decimal("3")),
    ("percent", "5.250", Decimal("5.25")),
    ("integer", "1,200", Decimal("1200")),
    ("year", "1962", Decimal("1962")),
    ("date", "3/9/27", date(2027, 3, 9)),
    ("date", "March 9, 2027", date(2027, 3, 9)),
    ("date", "9 Mar 2027", date(2027, 3, 9)),
    ("date", "2027-03-09", date(2027, 3, 9)),
    ("date", "3/1", date(2028, 3, 1)),
    ("date", "fri", date(2027, 3, 5)),
    ("date", "wed", date(2027, 3, 10)),
    ("date", "+10", date(2027, 3, 13)),
    ("date", "tomorrow", date(2027, 3, 4)),
    ("date", "2/29", date(2028, 2, 29)),
    ("time", "5pm", time(17)),
    ("time", "12:30 a.m.", time(0, 30)),
    ("time", "noon", time(12)),
    ("yes_no", "Y", True),
    ("phone", "555 555 0123", "(555) 555-0123"),
    ("phone", "+44 20 7946 0000", "+44 20 7946 0000"),
    ("email", "a.b@post.example", "a.b@post.example"),
    ("area", "2150", "2,150 sq ft"),
    ("area", ".25 ac", "0.25 acres"),
    ("name", "  Łukasz   Nguyễn ", "Łukasz Nguyễn"),
    ("long_text", "one\r\ntwo", "one\ntwo"),
]


@pytest.mark.parametrize(("kind", "typed", "value"), READ)
def test_what_is_typed_is_read(kind: str, typed: str, value: object) -> None:
    assert KINDS[kind].read(typed, today=TODAY) == value


REFUSED = [
    ("money", "abc", "“abc” isn't an amount."),
    ("money", "1,2,3", "“1,2,3” isn't an amount."),
    ("money", "1.005", "fractions of a cent"),
    ("money", "9" * 40, "larger than any amount"),
    ("percent", "4000", "too large"),
    ("integer", "2.5", "isn't a whole number"),
    ("date", "31 June", "June has 30 days"),
    ("date", "2/29/2027", "February 2027 has 28 days"),
    ("date", "13/1/2027", "no month 13"),
    ("date", "soon", "isn't a date"),
    ("date", "1/1/9999", "too far away"),
    ("time", "25:00", "isn't a time"),
    ("yes_no", "perhaps", "is not yes or no"),
    ("email", "me at home", "isn't an e-mail"),
    ("email", "a@post.example\nBcc: b@post.example", "isn't an e-mail"),
    ("phone", "12", "isn't a phone"),
    ("area", "large", "isn't an area"),
    ("name", "李小龙", "can't be printed on the forms yet"),
    ("text", "x" * 10_001, "10,000 is the most"),
]


@pytest.mark.parametrize(("kind", "typed", "said"), REFUSED)
def test_what_cannot_be_read_is_told_in_a_sentence(kind: str, typed: str, said: str) -> None:
    fault = KINDS[kind].read(typed, today=TODAY)
    assert isinstance(fault, Fault)
    assert said in fault.message


def test_a_choice_is_known_by_its_beginning_and_an_unclear_one_is_asked_about() -> None:
    options = ("seller", "seller carry", "buyer")
    assert KINDS["choice"].read("buy", options) == "buyer"
    assert KINDS["choice"].read("seller", options) == "seller"
    assert "could be" in str(KINDS["choice"].read("sel", options))
    assert "The choices are: seller, seller carry, buyer." in str(KINDS["choice"].read("x", options))


@pytest.mark.parametrize(
    ("amount", "words"),
    [
        ("725000", "Seven Hundred Twenty-Five Thousand and 00/100 Dollars"),
        ("418250.50", "Four Hundred Eighteen Thousand Two Hundred Fifty and 50/100 Dollars"),
        ("72115.07", "Seventy-Two Thousand One Hundred Fifteen and 07/100 Dollars"),
        ("0.99", "Zero and 99/100 Dollars"),
        ("1", "One and 00/100 Dollars"),
        ("1000000", "One Million and 00/100 Dollars"),
        ("-20.5", "Minus Twenty and 50/100 Dollars"),
    ],
)
def test_amounts_are_written_out(amount: str, words: str) -> None:
    assert amount_in_words(Decimal(amount)) == words


@pytest.mark.parametrize(
    ("kind", "typed", "in_blank", "on_screen"),
    [
        ("money", "412500", "412,500.00", "$412,500.00"),
        ("percent", "5.25", "5.25", "5.25%"),
        ("date", "6/5/27", "June 5, 2027", "June 5, 2027"),
        ("time", "17:00", "5:00 PM", "5:00 PM"),
        ("year", "1962", "1962", "1962"),
        ("integer", "1200", "1,200", "1,200"),
        ("yes_no", "n", "No", "No"),
    ],
)
def test_values_print_for_paper_and_screen(kind: str, typed: str, in_blank: str, on_screen: str) -> None:
    value = KINDS[kind].read(typed, today=TODAY)
    assert not isinstance(value, Fault)
    assert (KINDS[kind].in_blank(value), KINDS[kind].on_screen(value)) == (in_blank, on_screen)


@pytest.mark.parametrize(("kind", "typed", "value"), [row for row in READ if row[2] is not EMPTY])
def test_what_is_kept_is_restored(kind: str, typed: str, value: object) -> None:
    found = KINDS[kind].read(typed, today=TODAY)
    assert not isinstance(found, Fault)
    assert KINDS[kind].restore(KINDS[kind].keep(found)) == value


@given(st.decimals(min_value=0, max_value=10**11, places=2))
def test_money_reads_back_what_it_prints(amount: Decimal) -> None:
    assert KINDS["money"].read(KINDS["money"].in_blank(amount)) == amount


@given(st.dates(min_value=date(1700, 1, 1), max_value=date(2190, 1, 1)))
def test_dates_read_back_what_they_print(day: date) -> None:
    assert KINDS["date"].read(KINDS["date"].in_blank(day), today=TODAY) == day


@given(st.sampled_from(sorted(KINDS)), st.text(max_size=60))
def test_nothing_that_is_typed_raises(kind: str, typed: str) -> None:
    if tidy(typed):
        KINDS[kind].read(typed, ("one", "two"), TODAY)


def test_spacing_case_and_punctuation_do_not_make_values_differ() -> None:
    assert KINDS["address"].same("214 N. Alder St", "214 n alder st")
    assert KINDS["text"].same("304010087", "3-0401-0087")
    assert not KINDS["text"].same("304010087", "304010088")


def test_what_is_derived_from_the_font_is_current() -> None:
    assert DERIVED.read_text(encoding="utf-8") == derive(), "run `make fonts` and commit the result"


def test_every_settable_character_is_in_the_value_font() -> None:
    assert set(widths()) == SETTABLE
    assert unsettable("Ωμέγα Жук Nguyễn Łódź ½ – “x” €") is None
