"""A turn and its paper are one: whatever is typed on the paper, in any order, both say the same."""

from __future__ import annotations

from datetime import date, time
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st
from quillcore.estimates import what_if
from quillcore.forms.counteroffer_blanks import Says
from quillcore.formulas import Evaluator
from quillcore.offers import Heading, parts_of
from quillcore.offers.rereading import TurnOnPaper, TurnPaper, further_words, reread, written
from quillcore.values import Fault, Value

from tests.core.small import OFFER, demo_pack, ledger

HEADING = Heading(1, "buyer", date(2026, 11, 24), "offer", date(2026, 11, 22))
TERMS: dict[str, Value] = OFFER | {
    "terms.inspection_days": Decimal(10),
    "terms.closing_date": date(2027, 1, 15),
    "terms.title_payer": "seller",
    "terms.acceptance_date": date(2026, 11, 20),
}
PRICE = "terms.purchase_price"
DERIVED = "terms.deposit_amount"


class Counter:
    """A counter-offer or an amendment with its paper, as somebody works on both."""

    def __init__(self, number: str, stated: dict[str, Value]) -> None:
        self.mapping = demo_pack().forms[number].mapping
        self.before = Evaluator(ledger(TERMS), demo_pack().sheet.setting())
        self.turn = written(self.mapping, TurnOnPaper(HEADING, stated), self.before, self.section)
        self.typed: dict[str, Value | None] = {name: self.turn.answers[name] for name in self.turn.typed}

    @staticmethod
    def section(_key: str) -> str:
        return ""

    @property
    def now(self) -> dict[str, Value | None]:
        """What stands on the paper."""
        return {name: None for _, name, _ in parts_of(self.mapping)} | self.turn.answers

    @property
    def paper(self) -> TurnPaper:
        return TurnPaper(self.mapping, self.typed, self.turn.answers, self.turn.typed)

    def write(self, **blanks: Value | None) -> TurnOnPaper | Fault:
        self.typed |= {name.replace("_", "-"): value for name, value in blanks.items()}
        found = reread(self.paper, self.turn, self.before, self.section)
        if isinstance(found, TurnOnPaper):
            parts = {name for _, name, _ in parts_of(self.mapping)}
            self.turn = found
            self.typed = {name: value for name, value in self.typed.items() if name not in parts}
            self.typed |= {name: found.answers[name] for name in found.typed}
        return found

    @property
    def after(self) -> Evaluator:
        return what_if(self.before, self.turn.stated)


def test_a_price_changed_on_the_paper_is_the_turns_and_what_follows_from_it_moves() -> None:
    counter = Counter("320", {PRICE: Decimal(425_000)})
    assert counter.now["deposit"] == Decimal("4250.00")
    counter.write(price=Decimal(424_000))
    assert counter.turn.stated == {PRICE: Decimal(424_000)}
    assert counter.now["deposit"] == Decimal("4240.00")
    assert counter.now["loan"] == "Loan amount: $339,200.00"
    counter.write(price=None)
    assert counter.turn.stated == {}
    assert counter.now["deposit"] is None and counter.now["loan"] is None, "nothing follows any more"


def test_what_follows_can_be_stated_and_given_back() -> None:
    counter = Counter("320", {PRICE: Decimal(425_000)})
    counter.write(deposit=Decimal(9_000))
    assert counter.turn.stated == {PRICE: Decimal(425_000), DERIVED: Decimal(9_000)}
    counter.write(price=Decimal(424_000))
    assert counter.now["deposit"] == Decimal(9_000), "stated, it stays"
    counter.write(deposit=None)
    assert counter.now["deposit"] == Decimal("4240.00"), "given back, it follows"


def test_words_by_hand_stay_and_are_no_terms() -> None:
    counter = Counter("320", {"terms.title_payer": "buyer", PRICE: Decimal(425_000)})
    ours = counter.now["other"]
    counter.write(other=f"{ours}\nSeller takes the hot tub along.")
    assert counter.turn.words == {"other": "Seller takes the hot tub along."}
    assert counter.turn.stated["terms.title_payer"] == "buyer"
    counter.write(closing=date(2027, 2, 1))
    assert str(counter.now["other"]).endswith("hot tub along."), "and stays behind what is ours"
    counter.write(other="Title is paid by nobody.")
    assert "terms.title_payer" not in counter.turn.stated
    assert counter.turn.words == {"other": "Title is paid by nobody."}
    counter.write(loan="Cash after all")
    assert counter.turn.words["loan"] == "Cash after all"
    counter.write(price=Decimal(400_000))
    assert counter.now["loan"] == "Cash after all"


def test_what_follows_from_the_turns_before_is_not_typed_over() -> None:
    for blanks in ({"number": Decimal(7)}, {"made_by": "seller"}, {"answers_date": HEADING.day}):
        counter = Counter("320", {PRICE: Decimal(425_000)})
        assert isinstance(counter.write(**blanks), Fault)
    counter = Counter("320", {PRICE: Decimal(425_000)})
    counter.write(made_on=date(2026, 11, 25), expiry_date=date(2026, 11, 27), expiry_time=time(17))
    heading = counter.turn.heading
    assert (heading.day, heading.expires, heading.expires_at) == (
        date(2026, 11, 25),
        date(2026, 11, 27),
        time(17),
    )
    counter.write(made_on=None)
    assert counter.now["made-on"] == date(2026, 11, 25), "a turn has a day"


def test_an_amendments_box_gives_up_what_it_states() -> None:
    counter = Counter("322", {PRICE: Decimal(400_000)})
    counter.write(does_price=False)
    assert counter.turn.stated == {} and counter.now["price-to"] is None
    counter.write(does_price=True)
    assert counter.now["does-price"] is True, "ticked first, stated then"
    counter.write(price_to=Decimal(401_000))
    assert counter.turn.stated == {PRICE: Decimal(401_000)}
    assert counter.now["price-from"] == Decimal("412500.00")


def test_what_the_paper_says_besides_is_listed() -> None:
    counter = Counter("320", {PRICE: Decimal(425_000)})
    counter.write(items_in="Porch swing", others="may not")
    assert [(label, value) for label, value, _ in further_words(counter.paper)] == [
        ("Items added", "Porch swing"),
        ("Seller may accept other offers", "may not"),
    ]


TYPED: dict[str, st.SearchStrategy[Value | None]] = {
    "price": st.sampled_from([None, Decimal(400_000), Decimal(412_500), Decimal(425_000)]),
    "deposit": st.sampled_from([None, Decimal(1), Decimal("4125.00"), Decimal("9000.00")]),
    "closing": st.sampled_from([None, date(2027, 1, 15), date(2027, 2, 1)]),
    "inspection": st.sampled_from([None, Decimal(7), Decimal(10)]),
    "loan": st.sampled_from([None, "Cash"]),
    "other": st.sampled_from([None, "Seller mows the lawn."]),
    "items_in": st.sampled_from([None, "Porch swing"]),
}
EDITS = st.lists(
    st.sampled_from(sorted(TYPED)).flatmap(lambda name: st.tuples(st.just(name), TYPED[name])), max_size=8
)


@given(EDITS)
def test_in_any_order_of_typing_paper_and_turn_say_the_same(edits: list[tuple[str, Value | None]]) -> None:
    counter = Counter("320", {PRICE: Decimal(425_000), "terms.title_payer": "buyer"})
    for name, value in edits:
        assert not isinstance(counter.write(**{name: value}), Fault)
        before = (dict(counter.turn.stated), dict(counter.turn.words), dict(counter.now))
        counter.write()
        assert before == (counter.turn.stated, counter.turn.words, counter.now), "read again, it says no more"
        for m, blank, part in parts_of(counter.mapping):
            states = part.says is Says.TO and counter.now.get(blank) is not None
            if states and m.kind not in ("text", "long_text"):
                kinds = [key for key in part.keys if counter.after.held(key).value == counter.now[blank]]
                assert kinds, f"{blank} says what is no term"
            if part.says is Says.TO and not counter.turn.words.get(blank):
                listed = [key for key in part.keys if key in counter.turn.stated]
                assert not listed or counter.now.get(blank) is not None, f"{blank} is silent of {listed}"


@pytest.mark.parametrize("number", ["320", "322"])
def test_a_paper_that_nobody_touched_says_what_it_said(number: str) -> None:
    counter = Counter(number, {PRICE: Decimal(425_000), "terms.title_payer": "buyer"})
    before = dict(counter.now)
    counter.write()
    assert counter.now == before
