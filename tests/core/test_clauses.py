"""Wording with facts in it: read, put into a blank, typed over, followed."""

from __future__ import annotations

from datetime import date
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st
from quillcore.facts import Act, Entry, Ledger, Side, Source, load_catalog
from quillcore.facts.edited import Edited, EditedRecord
from quillcore.facts.edits import Edit, Op, apply_edits
from quillcore.facts.wording import (
    GAP,
    MOST_FACTS,
    MOST_WORDING,
    WordingPart,
    formula_of,
    labelled,
    put_between,
    read_wording,
    set_apart,
    typed_over,
    wording_in,
    written,
)
from quillcore.forms.vocabulary import FormVocabulary
from quillcore.formulas import Evaluator
from quillcore.formulas.syntax import parse
from quillcore.values import Fault

CATALOG = load_catalog()
TERMS = "terms.additional_terms"
PRICE, CLOSING = "terms.purchase_price", "terms.closing_date"
WORDING = "If the appraisal is below {terms.purchase_price}, Buyer may end this by {terms.closing_date}."


def stated(key: str, value: object, order: int = 1) -> Entry:
    return Entry(key, Act.STATE, order, Source.TYPED, value)  # type: ignore[arg-type]


class Deal:
    """A ledger with its sheet, edited as the application does it."""

    def __init__(self, *entries: Entry) -> None:
        self.ledger = Ledger(CATALOG, Side.BUYING, entries)
        self.sheet = Evaluator(self.ledger)

    def edit(self, *edits: Edit) -> Edited | Fault:
        vocabulary = FormVocabulary({})
        record = EditedRecord(self.ledger, vocabulary, {}, lambda k: self.sheet.held(k).value, {}, {})
        done = apply_edits(record, edits, "me")
        if isinstance(done, Edited):
            self.sheet.refresh(done.moved)
        return done

    def insert(self, wording: str, before: str = "", behind: str = "", clause: str = "") -> Edited | Fault:
        return self.edit(Edit(Op.INSERT, TERMS, wording, before=before, behind=behind, clause=clause))

    def type(self, text: str, key: str = TERMS) -> Edited | Fault:
        return self.edit(Edit(Op.TYPE, key, text))

    def says(self, key: str = TERMS) -> str:
        return str(self.sheet.held(key).value)


@pytest.fixture
def deal() -> Deal:
    return Deal(stated(PRICE, Decimal(430000)), stated(CLOSING, date(2026, 12, 18)))


@pytest.mark.parametrize(
    ("wording", "says"),
    [
        ("Pay {no.such_fact} soon.", "not a fact"),
        ("Pay {buyers} soon.", "not a fact"),
        ("Pay {} soon.", "not a fact"),
        ("Pay { soon.", "stands alone"),
        ("Pay } soon.", "stands alone"),
        ("Pay {terms.{x}.y} soon.", "not a fact"),
        ("  \n ", "has no text"),
        ("ก", "printed"),
        ("x" * (MOST_WORDING + 1), "6,001"),
        ("{terms.purchase_price}" * (MOST_FACTS + 1), "61 facts"),
    ],
)
def test_a_wording_that_makes_no_sense_is_a_fault(wording: str, says: str) -> None:
    found = read_wording(wording, CATALOG)
    assert isinstance(found, Fault) and says in found.message


@given(st.text(alphabet=st.characters(codec="latin-1", exclude_characters="{}"), min_size=1, max_size=80))
def test_any_words_come_back_from_their_formula_as_they_went_in(words: str) -> None:
    parts = (WordingPart(words), WordingPart(key=PRICE), WordingPart(words))
    assert wording_in(formula_of(parts)) == parts
    assert not isinstance(parse(formula_of(parts)), Fault)


def test_its_facts_are_shown_as_their_kinds_are_and_go_on_following(deal: Deal) -> None:
    deal.insert(WORDING, clause="c-1")
    assert deal.says() == "If the appraisal is below $430,000.00, Buyer may end this by December 18, 2026."
    deal.type("425k", PRICE)
    assert "$425,000.00" in deal.says()
    entry = deal.ledger.in_force(TERMS)
    assert entry is not None and entry.source is Source.TYPED and entry.origin == "c-1"
    assert entry.formula == formula_of(read_wording(WORDING, CATALOG))  # type: ignore[arg-type]


def test_what_is_not_known_leaves_a_line_until_it_is() -> None:
    deal = Deal()
    deal.insert(WORDING)
    assert deal.says() == f"If the appraisal is below {GAP}, Buyer may end this by {GAP}."
    deal.type("430k", PRICE)
    assert deal.says().startswith("If the appraisal is below $430,000.00, Buyer")


def test_put_into_text_it_stands_where_the_cursor_was_and_does_not_run_into_it(deal: Deal) -> None:
    deal.type("Seller leaves the piano.")
    deal.insert("Price {terms.purchase_price}.", before="Seller leaves the piano.")
    assert deal.says() == "Seller leaves the piano.\nPrice $430,000.00."
    deal.insert(
        "Closing {terms.closing_date}.", before="Seller leaves the piano.\n", behind="Price $430,000.00."
    )
    assert deal.says() == "Seller leaves the piano.\nClosing December 18, 2026.\nPrice $430,000.00."
    deal.type("410k", PRICE)
    assert deal.says().endswith("Price $410,000.00."), "what was there before goes on following"


def test_typed_around_the_facts_follow_and_typed_over_they_are_words(deal: Deal) -> None:
    deal.insert(WORDING, clause="c-1")
    said = deal.says()
    deal.type(said.replace("may end", "may, in writing, end"))
    deal.type("420k", PRICE)
    assert deal.says() == (
        "If the appraisal is below $420,000.00, Buyer may, in writing, end this by December 18, 2026."
    )
    deal.type(deal.says().replace("$420,000.00", "$400,000.00"))
    deal.type("415k", PRICE)
    assert "$400,000.00" in deal.says()
    deal.edit(Edit(Op.TYPE, CLOSING, "2026-12-22"))
    assert deal.says().endswith("December 22, 2026."), "the other one follows still"
    deal.type("Nothing of it.")
    entry = deal.ledger.in_force(TERMS)
    assert entry is not None and entry.formula is None and entry.value == "Nothing of it."


def test_typing_what_stands_there_writes_nothing(deal: Deal) -> None:
    deal.insert(WORDING)
    done = deal.type(deal.says())
    assert isinstance(done, Edited) and done.entries == []


@pytest.mark.parametrize(
    ("edit", "says"),
    [
        (Edit(Op.INSERT, PRICE, "Words."), "doesn't take a clause"),
        (Edit(Op.INSERT, TERMS, "{nobody.knows}"), "not a fact"),
        (Edit(Op.INSERT, TERMS, ""), "has no text"),
        (Edit(Op.INSERT, TERMS, "Words.", before="x" * 12_000), "characters"),
        (Edit(Op.INSERT, "no.key", "Words."), "no “no.key”"),
    ],
)
def test_what_cannot_be_inserted_is_refused_with_a_reason(deal: Deal, edit: Edit, says: str) -> None:
    found = deal.edit(edit)
    assert isinstance(found, Fault) and says in found.message
    assert deal.ledger.in_force(TERMS) is None


def test_a_wording_about_itself_leaves_a_line(deal: Deal) -> None:
    deal.insert("See {terms.additional_terms}.")
    assert deal.says() == f"See {GAP}."


def test_it_is_told_by_what_its_facts_are_called() -> None:
    parts = read_wording(WORDING, CATALOG)
    assert not isinstance(parts, Fault)
    assert labelled(parts, CATALOG).startswith("If the appraisal is below [Purchase price], Buyer")


WORDS = st.text(alphabet="ab $1", max_size=12)
PARTS = st.lists(
    st.builds(WordingPart, words=WORDS) | st.just(WordingPart(key=PRICE)) | st.just(WordingPart(key=CLOSING)),
    max_size=6,
)
READS = {PRICE: "$1", CLOSING: "b 1"}


def read(parts: list[WordingPart]) -> list[tuple[WordingPart, str]]:
    return [(p, READS.get(p.key, p.words)) for p in parts]


def as_text(parts: object) -> str:
    return "".join(READS.get(p.key, p.words) for p in parts)  # type: ignore[attr-defined]


@given(PARTS, WORDS)
def test_however_it_is_typed_over_it_reads_as_was_typed(parts: list[WordingPart], text: str) -> None:
    assert as_text(typed_over(read(parts), text)) == text


@given(PARTS, st.data())
def test_typing_in_one_place_costs_no_fact_outside_of_it(
    parts: list[WordingPart], data: st.DataObject
) -> None:
    before = as_text(parts)
    at = data.draw(st.integers(0, len(before)))
    kept = typed_over(read(parts), before[:at] + "xyz" + before[at:])
    inside = 0
    passed = 0
    for part, reads in read(parts):
        first, passed = passed, passed + len(reads)
        inside += bool(part.key and first < at < passed)
    assert sum(bool(p.key) for p in kept) == sum(bool(p.key) for p in parts) - inside


@given(PARTS, st.integers(0, 40))
def test_what_is_put_between_costs_nothing(parts: list[WordingPart], at: int) -> None:
    more = (WordingPart("xyz"),)
    made = put_between(read(parts), at, more)
    assert as_text(made).replace("xyz", "", 1) == as_text(parts)
    assert [p.key for p in made if p.key] == [p.key for p in parts if p.key]


def test_signs_that_end_a_sentence_follow_without_a_blank() -> None:
    assert set_apart("one", "two", " ") == ("one ", " two")
    assert set_apart("one ", ", two", " ") == ("one ", ", two")
    assert set_apart("", "", "\n") == ("", "")
    assert written((WordingPart("a "), WordingPart(key=PRICE))) == "a {terms.purchase_price}"
