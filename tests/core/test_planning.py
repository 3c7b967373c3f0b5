"""Usual rounds, recipients and groups of tasks; and papers that become a contract once they are signed."""

from __future__ import annotations

from datetime import UTC, date, datetime, time, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st
from quillcore.assembly.recipients import may_leave, outside_audience, recipients, usually_for
from quillcore.offers.agreement import accepts, parties_of_both, turns_agreed
from quillcore.signing.planning import AGENTS, OURS, RoundPlan, usual_end, usual_turn
from quillcore.tasks import Progress, Urgency, urgency
from quillcore.values import Value

from tests.core.small import OFFER, every_form, ledger, package, people

NOW = datetime(2027, 5, 21, 15, 0, tzinfo=UTC)
BOTH = {**OFFER, **people("sellers", ("Sol", "Berg"))}
FORMS = every_form()


@pytest.mark.parametrize(
    ("day", "hour", "ends"),
    [
        (date(2027, 5, 22), time(17, 0), datetime(2027, 5, 22, 23, 0, tzinfo=UTC)),
        (date(2027, 5, 22), None, datetime(2027, 5, 23, 5, 59, tzinfo=UTC)),
        (date(2027, 12, 22), time(17, 0), datetime(2027, 12, 23, 0, 0, tzinfo=UTC)),  # standard time
        (date(2027, 5, 21), time(9, 4), None),  # in four minutes
        (date(2027, 5, 20), time(17, 0), None),  # over
        (None, time(17, 0), None),
    ],
)
def test_a_round_ends_when_its_offer_expires_where_the_property_is(
    day: date | None, hour: time | None, ends: datetime | None
) -> None:
    said: dict[str, Value | None] = {"terms.expiry_date": day, "terms.expiry_time": hour}
    stated = {key: value for key, value in said.items() if value is not None}
    made = package(FORMS["503"], FORMS["301"], said=stated)
    assert usual_end(made, made.documents, "America/Denver", NOW) == ends
    assert usual_end(made, made.documents[:1], "America/Denver", NOW) is None, "it prints no expiry"


def test_a_counter_ends_by_its_own_expiry_and_a_round_by_the_earliest() -> None:
    expiry = {"terms.expiry_date": date(2027, 5, 25), "terms.expiry_time": time(17, 0)}
    own = {"doc.d1.expiry-date": date(2027, 5, 23), "doc.d1.expiry-time": time(12, 0)}
    made = package(FORMS["320"], FORMS["301"], said={**expiry, **own})
    counter, agreement = made.documents
    noon, five = datetime(2027, 5, 23, 18, 0, tzinfo=UTC), datetime(2027, 5, 25, 23, 0, tzinfo=UTC)
    assert usual_end(made, [counter], "America/Denver", NOW) == noon
    assert usual_end(made, [agreement], "America/Denver", NOW) == five
    assert usual_end(made, [agreement, counter], "America/Denver", NOW) == noon


def test_clients_sign_first_then_their_agent_and_nobody_else_unless_added() -> None:
    side = package().sheet.ledger.side
    turns = [usual_turn(side, key) for key in ("buyers.1", "buyers.2", "buyer_agent", "sellers.1", "x")]
    assert turns == [OURS, OURS, AGENTS, 0, 0]


def test_what_is_usual_is_proposed_and_what_was_chosen_stands_against() -> None:
    made = package(FORMS["301"], FORMS["503"], FORMS["702"], said=BOTH)
    usual = RoundPlan(made, None, None)
    assert [d.id for d in usual.papers] == ["d1", "d2"], "nothing of ours is signed on the third"
    assert usual.turns == {"buyers.1": OURS, "buyers.2": OURS, "buyer_agent": AGENTS}
    assert {p.key for p in usual.people} > {"sellers.1"}
    none = RoundPlan(made, [], None).against()
    assert [fault.rule for fault in none] == ["papers"]
    sellers_alone = RoundPlan(made, ["d1", "gone"], {"sellers.1": 1, "gone.1": 2})
    assert [d.id for d in sellers_alone.papers] == ["d1"] and set(sellers_alone.turns) == {"sellers.1"}
    nobody = RoundPlan(made, ["d1"], {})
    assert "unsigned" in {fault.rule for fault in nobody.against()}


def test_papers_go_to_whom_they_concern_and_to_firms_only_what_both_sides_have() -> None:
    assert usually_for(["client", "other side"]) == ["client", "other side", "others"]
    assert usually_for(["client"]) == ["client"] and usually_for([]) == []
    made = package(FORMS["301"], FORMS["710"], said=BOTH)
    offer, request = made.documents
    assert may_leave(offer) and outside_audience(offer) == ["client", "other side"]
    assert not may_leave(request), "the broker's own file"


def test_only_people_with_a_name_and_an_e_mail_get_papers() -> None:
    said = {**BOTH, "party.buyers0.email": "ana@mail.example", "party.sellers0.email": "sol@mail.example"}
    found = [(who.email, concerns) for who, concerns in recipients(package(said=said))]
    assert found == [("ana@mail.example", "client"), ("sol@mail.example", "other side")]


def test_a_contract_needs_parties_on_both_sides() -> None:
    assert parties_of_both(ledger(OFFER)) == set()
    assert parties_of_both(ledger(BOTH)) == {"buyers.1", "buyers.2", "sellers.1"}


def test_a_paper_that_states_the_day_accepts_an_offer_once() -> None:
    signed = [FORMS["503"], FORMS["301"]]
    assert accepts(package(said=BOTH).sheet, signed) and not accepts(package(said=BOTH).sheet, signed[:1])
    accepted = {**BOTH, "terms.acceptance_date": date(2027, 5, 20)}
    assert not accepts(package(said=accepted).sheet, signed)


@given(
    st.lists(st.tuples(st.sampled_from(["", "a", "b", "c"]), st.booleans()), max_size=6),
    st.sets(st.sampled_from("abc")),
)
def test_turns_are_agreed_up_to_the_last_that_was_signed_just_now(
    turns: list[tuple[str, bool]], signed: set[str]
) -> None:
    many = turns_agreed([paper for paper, _ in turns], [agreed for _, agreed in turns], signed)
    assert 0 <= many <= len(turns)
    if many:
        assert turns[many - 1][0] in signed and not turns[many - 1][1]
    assert all(paper not in signed or agreed for paper, agreed in turns[many:])


@given(st.sampled_from(Progress), st.one_of(st.none(), st.integers(-400, 400)))
def test_a_task_is_in_one_group_and_late_only_while_it_is_to_be_done(
    progress: Progress, off: int | None
) -> None:
    today = date(2027, 5, 21)
    day = None if off is None else today + timedelta(days=off)
    found = urgency(progress, day, today)
    if progress in (Progress.DONE, Progress.NOT_NEEDED):
        assert found is Urgency.SETTLED
    elif off is None:
        assert found in (Urgency.UNDATED, Urgency.WAITING)
    else:
        bounds = {
            Urgency.LATE: off < 0,
            Urgency.TODAY: off == 0,
            Urgency.WEEK: 0 < off <= 7,
            Urgency.LATER: off > 7,
        }
        assert [name for name, is_it in bounds.items() if is_it] == [found]
