"""What a paper asks of one party alone: which questions, when they apply, what is wrong with an answer, and
what is printed of it."""

from __future__ import annotations

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st
from quillcore.facts import Side
from quillcore.signing.asking import (
    ALWAYS,
    Question,
    answered,
    as_rows,
    from_rows,
    questions_of,
    read,
    standing,
)
from quillcore.values import Fault

from tests.core.small import OFFER, every_form, package, people

SELLING = OFFER | {"property.one_line": "12 Elm Street, Ashgrove, CW 09911"}


def asked(number: str, *names: str) -> list[Question]:
    sellers = people("sellers", *((name.split()[0], name.split()[1]) for name in names)) if names else {}
    found = package(every_form()[number].seen_from(Side.LISTING), said=SELLING | sellers)
    return questions_of(found, found.documents[0])


@pytest.fixture(scope="module")
def disclosure() -> list[Question]:
    return asked("501", "Lena Voss")


def state(questions: list[Question], answers: dict[str, str], key: str) -> tuple[bool, bool]:
    """Whether a question applies, and whether an answer to it is still wanted."""
    one = next(s for s in standing(questions, answers) if s.question.key == key)
    return one.applies, one.is_open


def test_a_disclosure_asks_its_seller_each_question_once(disclosure: list[Question]) -> None:
    assert len(disclosure) > 60 and len({q.key for q in disclosure}) == len(disclosure)
    assert {q.who for q in disclosure} == {"sellers.1"}
    title = next(q for q in disclosure if q.key == "title-1")
    assert title.options == ("yes", "no", "unknown") and len(title.printed) == 3
    assert title.asked and all(one.is_box for one in title.printed)


def test_an_explanation_is_asked_for_and_required_where_the_form_says_so(
    disclosure: list[Question],
) -> None:
    assert state(disclosure, {}, "title-explained") == (False, False)
    assert state(disclosure, {"title-1": "no"}, "title-explained") == (False, False)
    assert state(disclosure, {"title-1": "yes"}, "title-explained") == (True, True)
    said = {"title-1": "yes", "title-explained": "A cousin holds a tenth."}
    assert state(disclosure, said, "title-explained") == (True, False)
    assert state(disclosure, {"lives": "did before"}, "lived-until") == (True, True)
    assert state(disclosure, {}, "roof-year") == (True, False), "what may stay empty is not wanted"


def test_whoever_is_not_there_is_asked_nothing() -> None:
    assert asked("501") == []
    one, two = asked("520", "Lena Voss"), asked("520", "Lena Voss", "Ole Voss")
    assert {q.who for q in one} == {"sellers.1"}
    assert {q.who for q in two} == {"sellers.1", "sellers.2"}
    assert all(q.relevant == ALWAYS for q in two), "what the deal's facts settle is settled"


def test_an_answer_is_printed_in_its_box_or_on_its_line(disclosure: list[Question]) -> None:
    puts = answered(disclosure, {"title-1": "no", "owned-since": "3/1/2010", "title-explained": "Unasked"})
    marks = [put for put in puts if put.is_mark]
    assert [put.rect for put in marks] == [
        p.rect for q in disclosure if q.key == "title-1" for p in q.printed if p.value == "no"
    ]
    assert [put.text for put in puts if not put.is_mark] == ["March 1, 2010"]


@pytest.mark.parametrize(
    ("key", "text"),
    [
        ("title-1", "perhaps"),
        ("owned-since", "the day before the flood"),
        ("title-explained", "and so on " * 300),
        ("title-explained", "x" * 10_000),
        ("roof-year", "95 BC"),
    ],
)
def test_what_can_not_be_read_or_does_not_fit_says_so(
    disclosure: list[Question], key: str, text: str
) -> None:
    question = next(q for q in disclosure if q.key == key)
    fault = read(question, text)
    assert isinstance(fault, Fault) and fault.message and fault.mend
    answers = {"title-1": "yes", key: text}
    assert state(disclosure, answers, key)[1], "it is still wanted"
    assert not [put for put in answered(disclosure, answers) if put.text]


def test_the_questions_are_the_same_after_they_were_kept(disclosure: list[Question]) -> None:
    assert from_rows(json.loads(json.dumps(as_rows(disclosure)))) == disclosure


@given(st.dictionaries(st.sampled_from(["title-1", "lives", "roof-year", "title-explained"]), st.text()))
def test_any_answers_stand_somehow(answers: dict[str, str]) -> None:
    questions = asked("501", "Lena Voss")
    assert len(standing(questions, answers)) == len(questions)
    assert all(put.is_mark or put.text for put in answered(questions, answers))
