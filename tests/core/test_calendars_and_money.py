"""Deadlines, lease terms and money, by the figures that practitioners check them with."""

from __future__ import annotations

import json
from datetime import date, timedelta
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st
from quillcore.calendars import Calendar, lease_end, lease_months
from quillcore.cli import main

CALENDAR = Calendar()


@pytest.mark.parametrize(
    ("start", "days", "due"),
    [
        ("2027-05-28", 3, "2027-06-03"),
        ("2026-12-23", 2, "2026-12-28"),
        ("2027-09-10", -5, "2027-09-02"),
        ("2027-05-29", 0, "2027-06-01"),
    ],
)
def test_business_days_skip_weekends_and_holidays(start: str, days: int, due: str) -> None:
    assert CALENDAR.business_days_after(date.fromisoformat(start), days) == date.fromisoformat(due)


def test_a_calendar_deadline_on_a_closed_day_moves_on_unless_as_is() -> None:
    assert CALENDAR.days_after(date(2027, 5, 21), 10) == date(2027, 6, 1)
    assert CALENDAR.days_after_as_is(date(2027, 6, 20), 15) == date(2027, 7, 5)
    assert CALENDAR.days_after(date(2027, 6, 20), -1) == date(2027, 6, 17), (
        "the 19th is a Saturday, the 18th its observed holiday"
    )


def test_a_deadline_explains_itself() -> None:
    said = CALENDAR.explain_business_days(date(2027, 5, 28), 3, "acceptance").explanation
    assert said == "3 business days after acceptance (Fri May 28), skipping Sat, Sun and Memorial Day"


def test_the_packs_own_holidays_count() -> None:
    pack = Calendar({date(2026, 10, 9): "Charter Day"})
    assert pack.business_days_after(date(2026, 10, 8), 1) == date(2026, 10, 13), (
        "Charter Day, a weekend and Columbus Day between"
    )


@given(st.dates(date(2000, 1, 1), date(2100, 1, 1)), st.integers(1, 120))
def test_counting_forth_lands_on_an_open_day_with_as_many_open_days_between(start: date, days: int) -> None:
    due = CALENDAR.business_days_after(start, days)
    counted = sum(
        CALENDAR.closed(start + timedelta(days=n)) is None for n in range(1, (due - start).days + 1)
    )
    assert CALENDAR.closed(due) is None
    assert counted == days


@pytest.mark.parametrize(
    ("start", "months", "end"),
    [
        ("2027-02-01", 6, "2027-07-31"),
        ("2027-01-31", 1, "2027-02-28"),
        ("2027-01-28", 1, "2027-02-27"),
        ("2027-10-31", 4, "2028-02-29"),
        ("2027-08-15", 12, "2028-08-14"),
    ],
)
def test_leases_end_the_day_before_the_same_day(start: str, months: int, end: str) -> None:
    assert lease_end(date.fromisoformat(start), months) == date.fromisoformat(end)
    assert lease_months(date.fromisoformat(start), date.fromisoformat(end)) == months


def test_an_end_that_is_not_whole_months_gives_none() -> None:
    assert lease_months(date(2027, 8, 15), date(2028, 8, 20)) is None


FIGURES = [
    ("payment(400000, 6.25%, 360)", "2462.87", "money"),
    ("payment(318750, 5.875%, 180)", "2668.32", "money"),
    ("payment(240000, 0%, 360)", "666.67", "money"),
    ('tax_owed(4812.36, date("2027-06-15"))', "2175.45", "money"),
    ('tax_owed(4812.36, date("2028-03-01"))', "788.91", "money"),
    ("transfer_tax(612500)", "1347.50", "money"),
    ("transfer_tax(612500.01)", "1348.60", "money"),
    ("title_premium(612500)", "2229.25", "money"),
    ("title_premium(268400)", "1166.50", "money"),
    ("title_premium(40000)", "250.00", "money"),
    ("title_premium(500001)", "1977.25", "money"),
    ('prepaid_interest(400000, 6.25%, date("2027-06-15"))', "1095.89", "money"),
    ('part_month_rent(2150, date("2027-08-15"))', "1179.03", "money"),
    ('business_days_after(date("2027-09-10"), -5)', "2027-09-02", "date"),
    ('lease_end(date("2027-10-31"), 4)', "2028-02-29", "date"),
    ('months_after(date("2027-01-31"), 1)', "2027-02-28", "date"),
    ('days_between(date("2027-05-01"), date("2027-06-01"))', 31, "number"),
    ('year(date("2027-05-01"))', 2027, "number"),
    ('words(money("1") )', None, "fault"),
    ("words(72115.07)", "Seventy-Two Thousand One Hundred Fifteen and 07/100 Dollars", "text"),
    ("5.25% + 1%", 6.25, "percent"),
    ("round(2.345, 2)", 2.35, "number"),
    ("min(3, 1, 2)", 1, "number"),
    ('max(date("2027-01-01"), date("2027-02-01"))', "2027-02-01", "date"),
    ('join(", ", "a", "", "b")', "a, b", "text"),
    ('upper("abc")', "ABC", "text"),
    ("2 + 3 * 4 - -1", 15, "number"),
    ("not (1 = 2) and 3 >= 3", True, "yes_no"),
    ("count(buyers)", 0, "number"),
]


@pytest.mark.parametrize(("expression", "value", "kind"), FIGURES)
def test_the_command_line_works_figures_out(
    expression: str, value: object, kind: str, capsys: pytest.CaptureFixture[str]
) -> None:
    if kind == "fault":
        with pytest.raises(SystemExit) as ended:
            main(["calc", expression])
        assert ended.value.code == 2
        assert "column" in capsys.readouterr().err
        return
    assert main(["calc", expression]) == 0
    assert json.loads(capsys.readouterr().out) == {"value": value, "type": kind}


def test_an_open_result_names_what_it_waits_for(capsys: pytest.CaptureFixture[str]) -> None:
    main(["calc", "business_days_after(terms.acceptance_date, 3)"])
    assert json.loads(capsys.readouterr().out) == {"open": ["terms.acceptance_date"]}


def test_a_split_adds_up_when_the_last_part_takes_the_rest(capsys: pytest.CaptureFixture[str]) -> None:
    """612,500 at 5.25%: the buyer side 2.5%, the listing side the rest."""
    main(["calc", "money(612500 * 5.25%) - money(612500 * 2.5%)"])
    assert json.loads(capsys.readouterr().out)["value"] == "16843.75"
    assert Decimal("32156.25") - Decimal("15312.50") == Decimal("16843.75")


def test_the_holidays_of_a_year_are_those_of_weekdays_in_order() -> None:
    calendar = Calendar({date(2027, 6, 15): "Founding Day", date(2027, 6, 19): "On a Saturday"})
    found = calendar.holidays(2027)
    assert found[date(2027, 5, 31)] == "Memorial Day" and found[date(2027, 6, 15)] == "Founding Day"
    assert all(day.weekday() < 5 and day.year == 2027 for day in found)
    assert list(found) == sorted(found)
    assert all(calendar.closed(day) == name for day, name in found.items())
