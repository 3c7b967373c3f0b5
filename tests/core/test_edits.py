"""What edits do to a record: the core's own rules, without a database."""

from __future__ import annotations

import json
from decimal import Decimal
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from quillcore.cli import main
from quillcore.facts import Act, Entry, Ledger, Side, Source, load_catalog
from quillcore.facts.bounds import bounds_of
from quillcore.facts.edited import EditClash, EditDraft, Edited, EditedRecord, TemplateMode
from quillcore.facts.edits import MOST_TEXT, Edit, Op, apply_edits, parties_are, reads_as
from quillcore.facts.keys import MOST_PARTIES
from quillcore.forms.vocabulary import FormVocabulary
from quillcore.formulas import Evaluator
from quillcore.values import EMPTY, Fault

from tests.core.small import demo_pack

PRICE = "terms.purchase_price"
VOCABULARY = FormVocabulary({})


def record(
    *entries: Entry,
    drafts: dict[str, EditDraft] | None = None,
    clashes: dict[str, list[EditClash]] | None = None,
    forms: Any = None,
) -> EditedRecord:
    ledger = Ledger(load_catalog(), Side.BUYING, entries)
    sheet = Evaluator(ledger)
    versions = {e.key: e.order for e in entries}
    return EditedRecord(
        ledger,
        FormVocabulary(forms or {}),
        versions,
        lambda key: sheet.held(key).value,
        drafts or {},
        clashes or {},
    )


def typed(key: str, value: Any, order: int = 1, source: Source = Source.TYPED, locked: bool = False) -> Entry:
    return Entry(key, Act.STATE, order, source, value, locked=locked)


def done(to: EditedRecord, *edits: Edit, author: str = "me") -> Edited:
    found = apply_edits(to, edits, author)
    assert isinstance(found, Edited), found
    return found


def refused(to: EditedRecord, *edits: Edit) -> str:
    found = apply_edits(to, edits, "me")
    assert isinstance(found, Fault)
    return found.rule


def test_what_is_typed_becomes_an_entry_of_its_value() -> None:
    made = done(record(), Edit(Op.TYPE, PRICE, "412.5k"))
    assert made.entries == [Entry(PRICE, Act.STATE, 0, Source.TYPED, Decimal("412500.00"))]
    assert (made.drafts, made.clashes, list(made.moved), made.said) == ({}, {}, [PRICE], "Purchase price")


def test_what_stands_already_is_not_written_again() -> None:
    stands = record(typed(PRICE, Decimal("412500.00")))
    assert done(stands, Edit(Op.TYPE, PRICE, "412,500")).entries == []
    came = record(typed(PRICE, Decimal("412500.00"), source=Source.LISTING))
    assert len(done(came, Edit(Op.TYPE, PRICE, "412,500")).entries) == 1, (
        "typed over what a listing says, it is the agent's"
    )


def test_none_is_an_answer_but_for_choices() -> None:
    assert reads_as(VOCABULARY, "terms.additional_terms", " None ") is EMPTY
    choice = next(f for f in load_catalog() if f.kind == "choice" and "none" not in f.options)
    assert isinstance(reads_as(VOCABULARY, choice.key, "none"), Fault)
    assert done(record(), Edit(Op.EMPTY, "terms.additional_terms")).entries[0].value is EMPTY


def test_what_can_not_be_read_waits_and_changes_nothing() -> None:
    made = done(record(typed(PRICE, Decimal(1))), Edit(Op.TYPE, PRICE, "abc" * MOST_TEXT))
    draft = made.drafts[PRICE]
    assert made.entries == []
    assert draft is not None and len(draft.text) == MOST_TEXT and draft.message
    assert PRICE in made.moved


@pytest.mark.parametrize(
    "edit",
    [
        Edit(Op.TYPE, PRICE, "5"),
        Edit(Op.TYPE, PRICE, ""),
        Edit(Op.CLEAR, PRICE),
        Edit(Op.DROP, PRICE),
        Edit(Op.EMPTY, PRICE),
        Edit(Op.CHOOSE, PRICE),
    ],
)
def test_a_draft_goes_with_whatever_comes_next(edit: Edit) -> None:
    waits = record(drafts={PRICE: EditDraft("abc", "no amount", "")})
    made = done(waits, edit)
    assert made.drafts == {PRICE: None}
    assert PRICE in made.moved


def test_clearing_what_can_not_be_read_leaves_the_value_before_it() -> None:
    waits = record(typed(PRICE, Decimal(1)), drafts={PRICE: EditDraft("abc", "no amount", "")})
    assert done(waits, Edit(Op.CLEAR, PRICE)).entries == []
    assert done(record(typed(PRICE, Decimal(1))), Edit(Op.TYPE, PRICE, "  ")).entries == [
        Entry(PRICE, Act.CLEAR, 0, Source.TYPED)
    ]
    assert done(record(), Edit(Op.CLEAR, PRICE)).entries == [], "nothing was typed, so nothing is taken back"


def test_an_edit_from_an_older_version_becomes_a_clash() -> None:
    now = record(typed(PRICE, Decimal("400000.00"), order=7))
    stale = done(now, Edit(Op.TYPE, PRICE, "405k", based_on=3))
    assert stale.entries == []
    assert stale.clashes == {PRICE: (EditClash("405k", "me"),)}
    assert done(now, Edit(Op.TYPE, PRICE, "405k", based_on=7)).clashes == {}
    assert (
        done(
            record(typed(PRICE, Decimal("400000.00"), order=7)), Edit(Op.TYPE, PRICE, "400,000", based_on=3)
        ).moved
        == {}
    ), "both say the same"


def test_clearing_from_an_older_version_clashes_too_unless_nothing_is_left() -> None:
    assert done(record(typed(PRICE, Decimal(5), order=7)), Edit(Op.CLEAR, PRICE, based_on=3)).clashes == {
        PRICE: (EditClash("", "me"),)
    }
    cleared = record(Entry(PRICE, Act.CLEAR, 7, Source.TYPED))
    assert done(cleared, Edit(Op.CLEAR, PRICE, based_on=3)).clashes == {}


def test_each_author_has_one_clash_of_a_key() -> None:
    now = record(
        typed(PRICE, Decimal(1), order=7), clashes={PRICE: [EditClash("2", "you"), EditClash("3", "me")]}
    )
    assert done(now, Edit(Op.TYPE, PRICE, "4", based_on=3)).clashes == {
        PRICE: (EditClash("2", "you"), EditClash("4", "me"))
    }


def test_what_an_author_types_later_stands_for_what_the_author_typed_before() -> None:
    def now() -> EditedRecord:
        waiting = {PRICE: [EditClash("2", "you"), EditClash("3", "me")]}
        return record(typed(PRICE, Decimal(1), order=7), clashes=waiting)

    left = {PRICE: (EditClash("2", "you"),)}
    anew = done(now(), Edit(Op.TYPE, PRICE, "4", based_on=7))
    assert ([e.value for e in anew.entries], anew.clashes) == ([Decimal("4.00")], left)
    same = done(now(), Edit(Op.TYPE, PRICE, "1", based_on=3))
    assert (same.entries, same.clashes) == ([], left), "both say the same by now"


def test_one_that_clashes_in_a_batch_makes_way_for_none_behind_it() -> None:
    now = record(typed(PRICE, Decimal(1), order=7))
    made = done(now, Edit(Op.TYPE, PRICE, "2", based_on=3), Edit(Op.TYPE, PRICE, "3", based_on=3))
    assert (made.entries, made.clashes) == ([], {PRICE: (EditClash("3", "me"),)})


def test_choosing_what_somebody_typed_settles_theirs_alone() -> None:
    now = record(
        typed(PRICE, Decimal(1), order=7), clashes={PRICE: [EditClash("2", "you"), EditClash("3", "her")]}
    )
    assert done(now, Edit(Op.TYPE, PRICE, "2", based_on=7)).clashes == {PRICE: (EditClash("3", "her"),)}
    again = record(typed(PRICE, Decimal(1), order=7), clashes={PRICE: [EditClash("2", "you")]})
    assert done(again, Edit(Op.KEEP, PRICE)).clashes == {PRICE: ()}


def test_within_a_batch_later_edits_know_the_earlier_ones() -> None:
    now = record(typed(PRICE, Decimal(1), order=7))
    made = done(now, Edit(Op.TYPE, PRICE, "2", based_on=7), Edit(Op.TYPE, PRICE, "3", based_on=7))
    assert [e.value for e in made.entries] == [Decimal("2.00"), Decimal("3.00")]
    assert made.clashes == {}


def test_one_that_can_not_be_carried_out_refuses_the_batch() -> None:
    assert (
        refused(record(), Edit(Op.TYPE, PRICE, "2"), Edit(Op.TYPE, "terms.no_such_thing", "3"))
        == "unknown key"
    )


@pytest.mark.parametrize(
    ("edit", "rule"),
    [
        (Edit(Op.TYPE, "buyers.names", "Somebody"), "parties"),
        (Edit(Op.TYPE, "buyers.1.initials", "XY"), "parties"),
        (Edit(Op.TYPE, "buyers.3.given", "Bo"), "unknown key"),
        (Edit(Op.CHOOSE, PRICE, source="listing"), "source"),
        (Edit(Op.CHOOSE, PRICE, source="elsewhere"), "source"),
        (Edit(Op.PARTY_ADD, "terms", party="abcd"), "party"),
        (Edit(Op.PARTY_ADD, "buyers", party="abc"), "party"),
        (Edit(Op.PARTY_ADD, "buyers", party="a" * 13), "party"),
        (Edit(Op.PARTY_ADD, "buyers", party="ab-cd"), "party"),
        (Edit(Op.PARTY_ORDER, "buyers", "bbbb"), "parties moved"),
        (Edit(Op.DROP, "terms.nothing"), "unknown key"),
        (Edit(Op.KEEP, "terms.nothing"), "unknown key"),
    ],
)
def test_what_can_not_be_is_refused_by_its_rule(edit: Edit, rule: str) -> None:
    assert refused(record(parties_named("buyers", "aaaa")), edit) == rule


def parties_named(group: str, *ids: str) -> Entry:
    return Entry(group, Act.STATE, 1, Source.TYPED, ",".join(ids))


@pytest.mark.parametrize("op", [Op.TYPE, Op.CLEAR, Op.EMPTY, Op.CHOOSE])
def test_what_the_brokerage_locked_is_not_the_agents_to_change(op: Op) -> None:
    assert (
        refused(record(typed(PRICE, Decimal(1), source=Source.TEMPLATE, locked=True)), Edit(op, PRICE, "2"))
        == "locked"
    )


def test_what_only_a_party_may_answer_is_left_to_it() -> None:
    form = demo_pack().forms["501"].seen_from(Side.LISTING)
    theirs = next(m for m in form.mapping.meanings if m.who)
    key = f"doc.d1.{theirs.group or theirs.id}"
    assert refused(record(forms={"d1": form}), Edit(Op.TYPE, key, theirs.value or "yes")) == "theirs"


def test_parties_are_added_ordered_and_removed() -> None:
    to = record()
    made = done(
        to,
        Edit(Op.PARTY_ADD, "buyers", party="aaaa"),
        Edit(Op.PARTY_ADD, "buyers", party="bbbb"),
        Edit(Op.TYPE, "buyers.2.given", "Bo"),
    )
    assert to.ledger.parties("buyers") == ["aaaa", "bbbb"]
    assert made.entries[-1].key == "party.bbbb.given"
    done(to, Edit(Op.PARTY_ORDER, "buyers", "bbbb,aaaa"))
    assert to.ledger.stored_key("buyers.1.given") == "party.bbbb.given"
    assert to.ledger.shown_key("party.bbbb.given") == "buyers.1.given"
    assert done(to, Edit(Op.PARTY_ADD, "buyers", party="aaaa")).entries == [], "there already"
    done(to, Edit(Op.PARTY_REMOVE, "buyers", party="bbbb"), Edit(Op.PARTY_REMOVE, "buyers", party="cccc"))
    assert to.ledger.parties("buyers") == ["aaaa"]
    assert to.ledger.group_shown("party.bbbb.given") == "buyers", "also of one who is gone"
    assert done(to, Edit(Op.PARTY_REMOVE, "buyers", party="aaaa")).entries == [parties_are("buyers", [])]
    assert to.ledger.parties("buyers") == []


def test_a_side_has_so_many_parties_and_no_more() -> None:
    full = record(parties_named("buyers", *(f"p{n:03d}" for n in range(MOST_PARTIES))))
    assert refused(full, Edit(Op.PARTY_ADD, "buyers", party="more")) == "party"


def test_a_pasted_address_states_its_parts() -> None:
    made = done(record(), Edit(Op.PASTE, "property.street_name", "214 N Alder Street, Ashgrove, CW 55512"))
    assert {e.key for e in made.entries} >= {
        "property.street_number",
        "property.street_name",
        "property.city",
    }
    assert made.said.startswith("Pasted ")


def test_a_whole_address_states_its_parts_where_it_is_typed() -> None:
    line = "property.one_line"
    made = record(typed(line, "somewhere"))
    done = apply_edits(made, [Edit(Op.TYPE, line, "214 N Alder Street, Port Linden, CW 09914")], "me")
    assert isinstance(done, Edited)
    stated = {e.key: e.value for e in done.entries if e.act is Act.STATE}
    assert stated["property.street_name"] == "Alder" and stated["property.city"] == "Port Linden"
    assert line not in stated, "the line is worked out from its parts"
    assert [e.key for e in done.entries if e.act is Act.CLEAR] == [line]
    assert Evaluator(made.ledger).held(line).value == "214 N Alder Street, Port Linden, CW 09914"


@pytest.mark.parametrize("text", ["Lot 9 at the lake", "214 Alder Street, Port Linden, CW 09914"])
def test_an_address_that_has_no_parts_or_lacks_a_known_one_is_typed_over_as_a_whole(text: str) -> None:
    made = record(typed("property.unit", "3"))
    done = apply_edits(made, [Edit(Op.TYPE, "property.one_line", text)], "me")
    assert isinstance(done, Edited)
    assert [(e.key, e.value) for e in done.entries] == [("property.one_line", text)]


def test_an_answer_is_left_to_the_client_until_somebody_gives_one() -> None:
    made = record(typed(PRICE, Decimal(400_000)))
    apply_edits(made, [Edit(Op.LEAVE, PRICE)], "me")
    assert PRICE in made.ledger.left and made.ledger.in_force(PRICE) is None
    apply_edits(made, [Edit(Op.TYPE, PRICE, "410k")], "me")
    assert PRICE not in made.ledger.left and made.ledger.in_force(PRICE) is not None
    apply_edits(made, [Edit(Op.LEAVE, PRICE), Edit(Op.CLEAR, PRICE)], "me")
    assert PRICE not in made.ledger.left


def test_whoever_may_not_lock_does_not_where_nothing_is_said_of_it() -> None:
    made = record(typed(PRICE, Decimal(400_000), order=1))
    made.standing = TemplateMode(lambda key, text: None)
    locked = apply_edits(made, [Edit(Op.LOCK, PRICE)], "me")
    assert isinstance(locked, Fault)


def test_a_template_leaves_nothing_to_a_client() -> None:
    made = record()
    made.standing = TemplateMode(lambda key, text: None)
    left = apply_edits(made, [Edit(Op.LEAVE, PRICE)], "me")
    assert isinstance(left, Fault) and left.rule == "leave"


def test_what_was_pasted_is_based_on_the_version_of_the_fact_that_it_was_pasted_into_alone() -> None:
    street, city = "property.street_name", "property.city"
    text = "214 N Alder Street, Ashgrove, CW 55512"
    now = record(typed(street, "Elm", order=5), typed(city, "Elsewhere", order=6))
    made = done(now, Edit(Op.PASTE, street, text, based_on=5))
    assert made.clashes == {}
    assert {e.key for e in made.entries} >= {street, city}, "the others are pasted over whatever stands there"
    stale = record(typed(street, "Elm", order=7))
    assert list(done(stale, Edit(Op.PASTE, street, text, based_on=5)).clashes) == [street]
    alone = done(record(), Edit(Op.PASTE, "property.city", "Ashgrove"))
    assert alone.said == "City"


def test_what_was_never_stated_has_the_version_nought() -> None:
    assert done(record(), Edit(Op.TYPE, PRICE, "5", based_on=0)).clashes == {}
    gone = record(Entry(PRICE, Act.CLEAR, 1, Source.TYPED))
    assert done(gone, Edit(Op.TYPE, PRICE, "5", based_on=0)).clashes == {PRICE: (EditClash("5", "me"),)}


def test_parties_are_stated_as_one_entry() -> None:
    assert parties_are("buyers", ["a", "b"]) == Entry("buyers", Act.STATE, 0, Source.TYPED, "a,b")
    assert parties_are("buyers", []) == Entry("buyers", Act.CLEAR, 0, Source.TYPED)


def test_choosing_a_source_and_letting_the_rule_decide_again() -> None:
    both = record(
        typed(PRICE, Decimal(1), source=Source.LISTING),
        typed(PRICE, Decimal(2), order=2, source=Source.TEMPLATE),
    )
    assert done(both, Edit(Op.CHOOSE, PRICE, source="template")).entries == [
        Entry(PRICE, Act.CHOOSE, 0, Source.TEMPLATE)
    ]
    assert both.ledger.in_force(PRICE).value == Decimal(2)  # type: ignore[union-attr]
    done(both, Edit(Op.CHOOSE, PRICE))
    assert both.ledger.in_force(PRICE).value == Decimal(1)  # type: ignore[union-attr]


EDITS = st.builds(
    Edit,
    st.sampled_from([Op.TYPE, Op.CLEAR, Op.EMPTY, Op.DROP, Op.KEEP]),
    st.sampled_from([PRICE, "terms.offer_date", "property.city", "buyers.1.email"]),
    st.sampled_from(["", "5", "none", "31 June", "a@post.example", "fri", "x" * 300]),
    based_on=st.sampled_from([None, 0, 1, 99]),
)


@given(st.lists(EDITS, max_size=12))
def test_whatever_is_typed_nothing_is_lost_and_all_that_moved_is_named(edits: list[Edit]) -> None:
    to = record(parties_named("buyers", "aaaa"), typed(PRICE, Decimal(1)))
    made = done(to, *edits)
    touched = {e.key for e in made.entries} | made.drafts.keys() | made.clashes.keys()
    assert touched == set(made.moved)
    for entry in made.entries:
        assert entry.act is Act.CLEAR or entry.value is not None
    for edit in edits[-1:]:
        key = to.ledger.stored_key(edit.key)
        assert key is not None
        kept = made.drafts.get(key), made.clashes.get(key), to.ledger.beside(key).get(Source.TYPED)
        says_something = edit.op is Op.TYPE and edit.text.strip()
        assert not says_something or any(kept), "a text is kept as value, draft or clash"


@given(st.lists(EDITS, max_size=8))
def test_a_batch_is_its_edits_one_after_the_other(edits: list[Edit]) -> None:
    fresh = [Edit(e.op, e.key, e.text) for e in edits]
    together, apart = record(parties_named("buyers", "aaaa")), record(parties_named("buyers", "aaaa"))
    whole = done(together, *fresh).entries
    assert [e for edit in fresh for e in done_with_drafts(apart, edit)] == whole


def done_with_drafts(to: EditedRecord, edit: Edit) -> list[Entry]:
    made = done(to, edit)
    to.drafts = {**to.drafts, **{k: d for k, d in made.drafts.items() if d}}
    for key, draft in made.drafts.items():
        if draft is None:
            to.drafts = {k: d for k, d in to.drafts.items() if k != key}
    return made.entries


def run(tmp_path: Path, facts: Any, edits: Any, capsys: pytest.CaptureFixture[str]) -> Any:
    (tmp_path / "f.json").write_text(json.dumps(facts))
    (tmp_path / "e.json").write_text(json.dumps(edits))
    assert main(["edit", "--facts", str(tmp_path / "f.json"), "--edits", str(tmp_path / "e.json")]) == 0
    return json.loads(capsys.readouterr().out)


def test_on_the_command_line_edits_are_applied_to_facts(
    tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    edits = [
        {"op": "type", "key": PRICE, "text": "412.5k"},
        {"op": "type", "key": "terms.offer_date", "text": "31 June"},
        {"op": "type", "key": "buyers.1.family", "text": "Okafor"},
    ]
    told = run(tmp_path, {"buyers": [{"given": "Amara"}], PRICE: "400k"}, edits, capsys)
    assert told["shows"][PRICE] == "$412,500.00"
    assert told["shows"]["buyers.1.family"] == "Okafor"
    assert told["drafts"]["terms.offer_date"]["message"] == "June has 30 days, so “31 June” isn't a date."
    assert [e["key"] for e in told["entries"]] == [PRICE, "party.buyers1.family"]


@pytest.mark.parametrize(
    ("facts", "edits"),
    [
        ([], []),
        ({}, {}),
        ({}, [{"op": "burn", "key": PRICE}]),
        ({}, [{"key": PRICE}]),
        ({}, ["type"]),
        ({}, [{"op": "type", "key": PRICE, "text": "1", "extra": 2}]),
        ({}, [{"op": "type", "key": "nothing", "text": "1"}]),
    ],
)
def test_on_the_command_line_nonsense_ends_in_a_sentence(
    facts: Any, edits: Any, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    with pytest.raises(SystemExit) as ended:
        run(tmp_path, facts, edits, capsys)
    assert ended.value.code == 2
    assert capsys.readouterr().err.strip()


@pytest.mark.parametrize(
    ("key", "text", "said"),
    [
        (PRICE, "-5", "can't be less than $0.00"),
        ("terms.down_payment_percent", "105", "can't be more than 100%"),
        ("property.year_built", "92", "can't be less than 1600"),
        ("property.year_built", "2999", "can't be more than"),
        ("lease.months", "0", "can't be less than 1"),
        ("lease.due_day", "45", "can't be more than 31"),
        ("terms.inspection_days", "36500", "can't be more than 3,650"),
        ("bedrooms", "-1", ""),
    ],
)
def test_what_cannot_be_is_met_with_a_sentence_and_kept_as_typed(key: str, text: str, said: str) -> None:
    key = key if "." in key else f"property.{key}"
    made = done(record(), Edit(Op.TYPE, key, text))
    waits = made.drafts[key]
    assert made.entries == [] and waits is not None and waits.text == text
    assert said in waits.message and waits.mend


def test_what_is_left_over_may_be_less_than_nothing_and_interest_has_parts_of_a_cent() -> None:
    for key, text in (("estimate.proceeds", "(1,200)"), ("estimate.first_per_day", "54.1096")):
        made = done(record(), Edit(Op.TYPE, key, text))
        assert made.entries and made.drafts.get(key) is None
    waits = done(record(), Edit(Op.TYPE, "estimate.first_per_day", "1.00001")).drafts
    assert [draft.message for draft in waits.values() if draft] == ["“1.00001” has more than four places."]


def test_a_forms_own_blanks_have_the_bounds_of_their_kind() -> None:
    forms = {"d1": demo_pack().forms["301"]}
    made = done(record(forms=forms), Edit(Op.TYPE, "doc.d1.commitment-days", "9999"))
    waits = made.drafts["doc.d1.commitment-days"]
    assert waits is not None and "Title commitment in days" in waits.message


def test_every_bound_says_why() -> None:
    for fact in load_catalog():
        found = bounds_of(fact.key, fact.kind)
        assert fact.type.numeric is (found is not None), fact.key
        assert found is None or found.because
