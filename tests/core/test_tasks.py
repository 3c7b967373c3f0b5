"""What is due, by whom, when and why; and what is next."""

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st
from quillcore.assembly import Package, PackageDocument
from quillcore.assembly.tasks import package_dues
from quillcore.facts import Act, Entry, Ledger, Source, load_catalog
from quillcore.facts.keys import Side
from quillcore.formulas import Evaluator
from quillcore.tasks import DueTask, KeyDate, PlannedTask, Progress, next_date, work_out
from quillcore.tasks.due import late_findings, named
from quillcore.tasks.wording import in_words, key_dates, read_when
from quillcore.templates import TemplateTask
from quillcore.values import Fault

from tests.core.small import demo_pack


def sheet(side: Side = Side.BUYING, **said: str) -> Evaluator:
    ledger = Ledger(load_catalog(), side)
    for n, (key, text) in enumerate(said.items(), 1):
        fact = load_catalog()[key.replace("__", ".")]
        ledger.add(Entry(fact.key, Act.STATE, n, Source.TYPED, fact.read(text)))
    return Evaluator(ledger, demo_pack().sheet.setting())


def package(*numbers: str, side: Side = Side.BUYING, **said: str) -> Package:
    forms = demo_pack().forms
    documents = [PackageDocument(f"form{n}", forms[n]) for n in numbers]
    return Package(documents, sheet(side, **said).ledger, demo_pack().sheet.setting())


def whats(dues: list[DueTask]) -> list[str]:
    return [due.task.what for due in dues if due.day is not None]


def asked(*numbers: str, side: Side = Side.BUYING, **said: str) -> list[str]:
    return whats(package_dues(package(*numbers, side=side, **said), []))


ACCEPTED = {"terms__acceptance_date": "2027-05-21"}


def test_dates_stand_in_their_order() -> None:
    assert asked() == []
    assert asked(terms__closing_date="2027-03-01", terms__possession_date="2027-02-01") == [
        "Possession",
        "Closing",
    ]


def test_an_offers_expiry_is_over_once_it_is_accepted() -> None:
    expires = {"terms__expiry_date": "2027-01-05"}
    assert asked(**expires) == ["Offer expires"]
    assert asked(**expires, terms__acceptance_date="2027-01-02", terms__closing_days="30") == ["Closing"]


def test_a_listings_end_is_due_to_those_who_list() -> None:
    ends = {"listing__expiry_date": "2027-05-02"}
    assert asked(**ends) == []
    assert asked(side=Side.LISTING, **ends) == ["Listing ends"]


def test_the_next_one_is_todays_still_and_none_when_all_have_passed() -> None:
    dates = [KeyDate(date(2027, 1, 5), "Offer expires"), KeyDate(date(2027, 3, 1), "Closing")]
    assert next_date(dates, date(2027, 1, 5)) == dates[0]
    assert next_date(dates, date(2027, 1, 6)) == dates[1]
    assert next_date(dates, date(2027, 3, 2)) is None


def test_a_form_asks_for_the_periods_that_it_counts_itself() -> None:
    dues = package_dues(package("301", **ACCEPTED, terms__appraisal="yes", terms__appraisal_days="21"), [])
    known = {due.task.what: due for due in dues}
    assert known["Appraisal period ends (301)"].day == date(2027, 6, 11)
    waits = known["Title commitment given (301)"]
    assert (waits.progress, waits.waits_for) == (Progress.WAITING, ("doc.form301.commitment-days",))


def test_what_waits_for_a_blank_that_is_not_asked_is_not_due() -> None:
    def waiting(**said: str) -> set[str]:
        return {due.task.what for due in package_dues(package("301", **ACCEPTED, **said), [])}

    assert "Inspection ends" in waiting(terms__inspection="yes")
    assert "Inspection ends" not in waiting(terms__inspection="no")


def test_a_period_that_is_not_asked_about_is_not_due_whatever_was_answered_before() -> None:
    answered = {**ACCEPTED, "terms__inspection_days": "10", "terms__financing_days": "30"}
    due = asked("301", **answered, terms__inspection="yes", terms__loan_type="conventional")
    assert {"Inspection ends", "Financing ends"} <= set(due)
    cash = asked("301", **answered, terms__inspection="no", terms__loan_type="cash")
    assert not {"Inspection ends", "Financing ends"} & set(cash)


RULE = "business_days_after(terms.acceptance_date, 3)"


def test_a_rule_waits_for_its_key_date_and_says_how_it_will_count() -> None:
    due = work_out(PlannedTask("d", "Order it", rule=RULE), sheet())
    assert (due.progress, due.day, due.waits_for) == (Progress.WAITING, None, ("terms.acceptance_date",))
    assert due.why == "3 business days after acceptance date."


def test_a_rule_gives_its_day_and_explains_it() -> None:
    due = work_out(PlannedTask("d", "Order it", rule=RULE, remind=2), sheet(**ACCEPTED))
    assert due.day == date(2027, 5, 26)
    assert due.why == "3 business days after acceptance date (Fri May 21), skipping Sat and Sun."
    assert due.remind_on == date(2027, 5, 24)


def test_a_rule_that_counts_back_says_before() -> None:
    due = work_out(PlannedTask("d", "Walk-through", rule="days_after(terms.closing_date, -2)"), sheet())
    assert due.why == "2 days before closing by."


def test_a_day_set_by_hand_stands_and_the_rules_day_beside_it() -> None:
    due = work_out(PlannedTask("d", "Order it", rule=RULE, day=date(2027, 5, 28)), sheet(**ACCEPTED))
    assert (due.day, due.ruled, due.progress) == (date(2027, 5, 28), date(2027, 5, 26), Progress.TO_DO)
    assert due.why.startswith("Set by hand. Counted: 3 business days after")


def test_without_a_rule_or_a_day_a_task_is_open_and_to_do() -> None:
    due = work_out(PlannedTask("d", "Call them"), sheet())
    assert (due.day, due.progress, due.is_late(date(2099, 1, 1))) == (None, Progress.TO_DO, False)


def test_what_is_done_or_not_needed_is_not_late_and_reminds_of_nothing() -> None:
    late = PlannedTask("d", "Order it", rule=RULE, remind=1)
    assert work_out(late, sheet(**ACCEPTED)).is_late(date(2027, 6, 1))
    for settled in (
        PlannedTask("d", "Order it", rule=RULE, remind=1, done=date(2027, 5, 25)),
        PlannedTask("d", "Order it", rule=RULE, remind=1, needed=False),
    ):
        due = work_out(settled, sheet(**ACCEPTED))
        assert not due.is_late(date(2027, 6, 1)) and due.remind_on is None


def test_a_paper_that_came_settles_its_task() -> None:
    task = PlannedTask("d", "Chase the disclosure", settled_by="501")
    assert work_out(task, sheet(), {"503"}).progress is Progress.TO_DO
    settled = work_out(task, sheet(), {"501"})
    assert (settled.progress, settled.why) == (Progress.DONE, "501 was received.")


def test_a_stated_task_takes_the_place_of_what_a_form_asks_for() -> None:
    said = package(**ACCEPTED, terms__inspection_days="10")
    mine = PlannedTask("d", "Inspect, and write the notice", rule="terms.inspection_date")
    assert whats(package_dues(said, [mine])) == ["Inspect, and write the notice"]


@pytest.mark.parametrize(
    ("rule", "says"),
    [
        ("terms.purchase_price", "but a date belongs here"),
        ("days_after(terms.nothing, 3)", "terms.nothing"),
        ("days_after(", "The end of the formula"),
    ],
)
def test_a_rule_that_gives_no_date_is_a_sentence(rule: str, says: str) -> None:
    fault = TemplateTask(what="Order it", due=rule).fault(load_catalog())
    assert fault is not None and says in str(fault)
    due = work_out(PlannedTask("d", "Order it", rule=rule), sheet())
    assert due.fault is not None and due.day is None


def test_somebody_who_is_nobody_is_a_sentence() -> None:
    fault = TemplateTask(what="Order it", who="the dog").fault(load_catalog())
    assert fault is not None and "the dog" in fault.message


def test_the_responsible_are_named_as_the_deal_has_them() -> None:
    told = sheet(lender__company="Harbor Lending", buyer_agent__name="Ines Marrow")
    assert named("lender", told) == "Harbor Lending"
    assert named("own agent", told) == "Ines Marrow"
    assert named("other agent", told) == named("broker", told) == named("client", told) == ""


def test_days_that_have_passed_are_said_when_they_become_known_and_once() -> None:
    dues = [work_out(PlannedTask("d", "Order it", rule=RULE), sheet(**ACCEPTED))]
    [said] = late_findings({"d": None}, dues, date(2027, 6, 1))
    assert said.message == "Order it was due on Wednesday, May 26, which has passed."
    assert late_findings({"d": date(2027, 5, 26)}, dues, date(2027, 6, 1)) == []
    assert late_findings({}, dues, date(2027, 5, 26)) == []


@given(st.dates(date(2026, 1, 1), date(2027, 11, 1)), st.integers(-40, 40))
def test_a_rule_follows_its_key_date_and_never_falls_on_a_closed_day(start: date, days: int) -> None:
    found = work_out(
        PlannedTask("d", "Order it", rule=f"days_after(terms.acceptance_date, {days})"),
        sheet(terms__acceptance_date=start.isoformat()),
    )
    assert found.day is not None
    assert demo_pack().sheet.setting().calendar.closed(found.day) is None
    assert (found.day >= start) if days >= 0 else (found.day <= start)


@pytest.mark.parametrize(
    ("typed", "rule"),
    [
        ("3 business days after acceptance", "business_days_after(terms.acceptance_date, 3)"),
        ("2 days before the closing", "days_after(terms.closing_date, -2)"),
        ("1 week from acceptance", "days_after(terms.acceptance_date, 7)"),
        ("10bd after offer expires", "business_days_after(terms.expiry_date, 10)"),
        ("on the day of closing", "terms.closing_date"),
        ("inspection ends", "terms.inspection_date"),
        ("= days_after(lease.start, 1)", "days_after(lease.start, 1)"),
    ],
)
def test_when_is_said_as_people_say_it(typed: str, rule: str) -> None:
    assert read_when(typed, load_catalog(), Side.BUYING) == (rule, None)


def test_when_may_be_a_day_or_open() -> None:
    assert read_when("June 3, 2027", load_catalog(), Side.BUYING) == ("", date(2027, 6, 3))
    assert read_when("  ", load_catalog(), Side.BUYING) == ("", None)


@pytest.mark.parametrize(
    "typed", ["3 days after the ball", "soon", "=1", "= nonsense(", "9999 days after closing"]
)
def test_what_says_no_day_is_a_sentence(typed: str) -> None:
    assert isinstance(read_when(typed, load_catalog(), Side.BUYING), Fault)


@given(st.integers(-200, 200), st.sampled_from(["business_days_after", "days_after"]), st.data())
def test_a_rule_in_words_is_read_as_the_same_rule(count: int, name: str, data: st.DataObject) -> None:
    side = data.draw(st.sampled_from(list(Side)))
    key = data.draw(st.sampled_from([fact.key for fact in key_dates(load_catalog(), side)]))
    rule = f"{name}({key}, {count})"
    assert read_when(in_words(rule, load_catalog()), load_catalog(), side) == (rule, None)
