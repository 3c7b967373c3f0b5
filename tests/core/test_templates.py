"""Templates: rules over a new deal's first facts, standing answers written and read back, coverage."""

from __future__ import annotations

from decimal import Decimal
from typing import Any

import pytest
from quillcore.assembly import Package, PackageDocument
from quillcore.assembly.coverage import By, count_coverage, coverage
from quillcore.facts import Act, Entry, Ledger, Side, Source, load_catalog
from quillcore.facts.edited import Edited, EditedRecord, TemplateMode
from quillcore.facts.edits import Edit, Op, apply_edits
from quillcore.forms.vocabulary import FormVocabulary
from quillcore.formulas import Evaluator, target_rule
from quillcore.templates import merge, read_template
from quillcore.templates.choosing import Offered, Rank, holds, rank
from quillcore.templates.model import read_rule
from quillcore.templates.writing import Written, content_of, from_deal
from quillcore.values import EMPTY, Fault

from tests.core.small import demo_pack

CATALOG = load_catalog()


def test_a_rule_speaks_of_what_is_known_when_a_deal_starts() -> None:
    condo = 'property.category = "condominium"'
    assert holds(condo, {"property.category": "condominium"}, CATALOG)
    assert not holds(condo, {"property.category": "land"}, CATALOG)
    assert not holds(condo, {}, CATALOG), "not known yet"
    assert holds('deal.side = "listing"', {"deal.side": "listing"}, CATALOG)


@pytest.mark.parametrize(
    ("rule", "told"),
    [
        ("terms.purchase_price > 500000", "isn't known yet when a deal starts"),
        ("terms.nonsense", "terms.nonsense"),
        ("1 + 1", ""),
        ("(((", ""),
    ],
)
def test_a_rule_that_can_not_be_used_is_told(rule: str, told: str) -> None:
    found = read_rule(rule, CATALOG)
    assert isinstance(found, Fault) and told in str(found)
    assert not holds(rule, {"deal.side": "buying"}, CATALOG)


def test_required_ones_come_first_then_suggested_then_what_fits() -> None:
    linden = Offered("Linden", Side.BUYING, (), 'property.county = "Linden"', "suggested", "the office")
    always = Offered("Always", Side.BUYING, (), 'deal.side = "buying"', "required", "Marrow & Finch")
    home = Offered("Home", Side.BUYING, ("single-family",))
    other, listing = Offered("Other", Side.BUYING, ("land",)), Offered("List", Side.LISTING, ())
    all_of_them = [other, home, listing, linden, always]
    facts = {"property.category": "single-family", "property.county": "Linden"}
    found = rank(all_of_them, Side.BUYING, facts, CATALOG)
    assert [(r.template.name, r.rank) for r in found] == [
        ("Always", Rank.REQUIRED),
        ("Linden", Rank.SUGGESTED),
        ("Home", Rank.FITS),
        ("Other", Rank.OTHER),
    ]
    assert found[0].why == "required by Marrow & Finch: for every deal of this side"
    assert found[1].why == "suggested: County is Linden"
    assert found[2].why == "made for single-family"
    elsewhere = rank(all_of_them, Side.BUYING, {**facts, "property.county": "Juniper"}, CATALOG)
    assert [r.template.name for r in elsewhere] == ["Always", "Home", "Other", "Linden"]


@pytest.mark.parametrize(
    ("rule", "why"),
    [
        ('deal.side = "buying" and property.county = "Linden"', "County is Linden"),
        ('property.county != "Juniper"', "County is not Juniper"),
        (
            'property.county  =  "Linden" or property.category = "land"',
            "County is Linden or Kind of property is land",
        ),
    ],
)
def test_why_a_template_is_required_is_said_in_words(rule: str, why: str) -> None:
    facts = {"property.county": "Linden"}
    (found,) = rank([Offered("A", Side.BUYING, (), rule, "required")], Side.BUYING, facts, CATALOG)
    assert (found.rank, found.why) == (Rank.REQUIRED, f"required by the brokerage: {why}")


def test_why_a_template_fits_is_said_in_words() -> None:
    facts = {"property.category": "castle"}
    for kinds, why in (((), "made for every kind of property"), (("land",), "the nearest there is")):
        (found,) = rank([Offered("A", Side.BUYING, kinds)], Side.BUYING, facts, CATALOG)
        assert (found.rank, found.why) == (Rank.FITS, why)
    two = [Offered("A", Side.BUYING, ()), Offered("B", Side.BUYING, ())]
    assert [(r.rank, bool(r.why)) for r in rank(two, Side.BUYING, facts, CATALOG)] == [
        (Rank.FITS, True),
        (Rank.OTHER, False),
    ]
    idle = Offered("A", Side.BUYING, (), 'property.county = "Linden"')
    assert rank([idle], Side.BUYING, {"property.county": "Linden"}, CATALOG)[0].rank is Rank.FITS


def test_what_came_of_a_template_is_said_in_words_and_stands_in_order() -> None:
    data: dict[str, Any] = {
        "name": "t",
        "side": "buying",
        "documents": [{"section": "All", "form": "301"}, {"section": "All", "expected": "Payoff letter"}],
        "answers": {
            "terms.closing_days": "30",
            "terms.loan_type": "conventional",
            "terms.deposit_amount": "4,000",
        },
        "locked": ["terms.deposit_amount"],
        "tasks": [{"what": "Call the lender"}, {"what": "Order the sign"}],
    }
    template = read_template(data, demo_pack().forms, CATALOG, "t")
    assert not isinstance(template, list), [str(f) for f in template]
    ledger = Ledger(CATALOG, "buying")
    for order, (key, value) in enumerate(
        {
            "terms.closing_days": Decimal(60),
            "terms.loan_type": "cash",
            "terms.deposit_amount": Decimal(1),
        }.items(),
        1,
    ):
        ledger.add(Entry(key, Act.STATE, order, Source.TYPED, value))
    found = merge(template, ledger, demo_pack().forms, {}, 100, {"301": "d1"}, {"call the lender"})
    assert found.sentence() == (
        "2 documents, 3 answers, 1 task, 2 kept as you had them, 1 locked by the brokerage"
    )
    (first, _), (other, _) = found.documents
    assert first == "d1" and other not in ("d1", "")
    assert [entry.order for entry in found.entries] == [100, 101, 102]
    assert [task.what for task in found.tasks] == ["Order the sign"]
    alone = merge(template, ledger, demo_pack().forms, {"301": ["x"], "Payoff letter": ["y"]}, 1)
    assert alone.sentence().startswith("0 documents, 3 answers, 2 tasks, 2 kept")


def test_an_earlier_templates_answer_stays_unless_the_brokerage_locked_this_one() -> None:
    ledger = Ledger(CATALOG, "buying")
    ledger.add(Entry("terms.closing_days", Act.STATE, 1, Source.TEMPLATE, Decimal(45)))
    data: dict[str, Any] = {
        "name": "t",
        "side": "buying",
        "documents": [],
        "answers": {"terms.closing_days": "30"},
    }
    for locked, kept, holds_now in (((), ("terms.closing_days",), 45), (("terms.closing_days",), (), 30)):
        template = read_template({**data, "locked": list(locked)}, demo_pack().forms, CATALOG, "t")
        assert not isinstance(template, list), [str(f) for f in template]
        found = merge(template, ledger, demo_pack().forms, {}, 5)
        now = ledger.copy()
        for entry in found.entries:
            now.add(entry)
        held = now.in_force("terms.closing_days")
        assert (found.kept, held.value if held else None) == (kept, holds_now)


# Writing


FORM = demo_pack().forms["301"]


def written(side: Side = Side.BUYING) -> tuple[Ledger, EditedRecord]:
    ledger = Ledger(CATALOG, side)
    sheet = Evaluator(ledger)
    vocabulary = FormVocabulary({"d1": FORM})

    def check(key: str, text: str) -> Fault | None:
        found = target_rule(key, vocabulary.kind_of(key), text, CATALOG)
        return found if isinstance(found, Fault) else None

    record = EditedRecord(
        ledger, vocabulary, {}, lambda key: sheet.held(key).value, {}, {}, TemplateMode(check, may_lock=True)
    )
    return ledger, record


def do(record: EditedRecord, *edits: Edit) -> Edited:
    done = apply_edits(record, edits, "me")
    assert isinstance(done, Edited), done
    return done


def test_what_is_typed_in_a_template_is_a_standing_answer() -> None:
    ledger, record = written()
    do(record, Edit(Op.TYPE, "terms.inspection_days", "10"))
    assert ledger.beside("terms.inspection_days").keys() == {Source.TEMPLATE}
    done = do(record, Edit(Op.TYPE, "terms.inspection_days", "10"))
    assert done.entries == [], "it stands already"
    do(record, Edit(Op.EMPTY, "terms.additional_terms"))
    assert ledger.in_force("terms.additional_terms").value is EMPTY  # type: ignore[union-attr]
    do(record, Edit(Op.CLEAR, "terms.inspection_days"))
    assert ledger.in_force("terms.inspection_days") is None


def test_a_formula_may_stand_and_one_that_can_not_be_waits() -> None:
    ledger, record = written()
    do(record, Edit(Op.TYPE, "terms.closing_date", "= days_after(terms.acceptance_date, 40)"))
    stated = ledger.in_force("terms.closing_date")
    assert stated is not None and stated.formula == "days_after(terms.acceptance_date, 40)"
    done = do(record, Edit(Op.TYPE, "terms.closing_date", "= days_after(terms.nothing, 40)"))
    draft = done.drafts["terms.closing_date"]
    assert draft is not None and "terms.nothing" in draft.message
    do(record, Edit(Op.TYPE, "terms.closing_date", "6/15/2027"))
    stated = ledger.in_force("terms.closing_date")
    assert stated is not None and stated.formula is None


def test_in_a_deal_a_formula_is_text_that_can_not_be_read() -> None:
    _, record = written()
    record.standing = None
    done = do(record, Edit(Op.TYPE, "terms.closing_date", "= days_after(terms.acceptance_date, 40)"))
    assert done.drafts["terms.closing_date"] is not None and not done.entries


def test_the_broker_locks_an_answer_and_it_stays_locked_when_it_is_changed() -> None:
    ledger, record = written()
    do(record, Edit(Op.TYPE, "terms.possession", "at closing"), Edit(Op.LOCK, "terms.possession"))
    stated = ledger.in_force("terms.possession")
    assert stated is not None and stated.locked and stated.value == "at closing"
    do(record, Edit(Op.TYPE, "terms.possession", "after closing"))
    stated = ledger.in_force("terms.possession")
    assert stated is not None and stated.locked and stated.value == "after closing"
    do(record, Edit(Op.UNLOCK, "terms.possession"))
    stated = ledger.in_force("terms.possession")
    assert stated is not None and not stated.locked


@pytest.mark.parametrize("standing", [None, TemplateMode(lambda key, text: None)])
def test_nobody_else_locks(standing: TemplateMode | None) -> None:
    _, record = written()
    do(record, Edit(Op.TYPE, "terms.possession", "at closing"))
    record.standing = standing
    found = apply_edits(record, [Edit(Op.LOCK, "terms.possession")], "me")
    assert isinstance(found, Fault) and found.rule == "locked"


def test_who_may_not_lock_does_not_change_what_is_locked() -> None:
    _, record = written()
    do(record, Edit(Op.TYPE, "terms.possession", "at closing"), Edit(Op.LOCK, "terms.possession"))
    record.standing = TemplateMode(lambda key, text: None)
    found = apply_edits(record, [Edit(Op.TYPE, "terms.possession", "after closing")], "me")
    assert isinstance(found, Fault) and found.rule == "locked"


def test_nothing_is_locked_that_has_no_answer() -> None:
    _, record = written()
    found = apply_edits(record, [Edit(Op.LOCK, "terms.possession")], "me")
    assert isinstance(found, Fault) and "has no answer to lock" in found.message


def test_a_template_names_nobody() -> None:
    _, record = written()
    found = apply_edits(record, [Edit(Op.PARTY_ADD, "buyers", party="abcd1234")], "me")
    assert isinstance(found, Fault) and "has no parties" in found.message


def apply_to(data: dict[str, Any], ledger: Ledger, code: str = "d1") -> None:
    """The template put into what a deal or working copy holds, under one document of that id."""
    template = read_template(data, demo_pack().forms, CATALOG, "t")
    assert not isinstance(template, list), [str(f) for f in template]
    merged = merge(template, ledger, demo_pack().forms, {"301": [code]}, 1)
    for entry in merged.entries:
        ledger.add(entry)


@pytest.mark.parametrize("name", sorted(demo_pack().templates))
def test_what_a_template_says_is_written_as_it_was_read(name: str) -> None:
    """Opened as a working copy and written again it says the same, and so ever after."""
    data = demo_pack().templates[name]
    forms = demo_pack().forms
    ids = {f"d{n}": d for n, d in enumerate(data["documents"])}
    listed = [
        Written(
            code,
            d["section"],
            forms[d["form"]] if "form" in d else None,
            d.get("expected", ""),
            d.get("expected_from", ""),
            d.get("reserve", False),
        )
        for code, d in ids.items()
    ]
    vocabulary = FormVocabulary({w.id: w.form for w in listed if w.form is not None})
    template = read_template(data, forms, CATALOG, name)
    assert not isinstance(template, list)

    def again(content: dict[str, Any]) -> dict[str, Any]:
        read = read_template(content, forms, CATALOG, name)
        assert not isinstance(read, list), [str(f) for f in read]
        ledger = Ledger(CATALOG, read.side)
        present = {w.form.edition.number: [w.id] for w in listed if w.form is not None}
        for entry in merge(read, ledger, forms, present, 1).entries:
            ledger.add(entry)
        about = {k: v for k, v in content.items() if k not in ("documents", "answers", "blanks", "locked")}
        return content_of(about, listed, ledger, vocabulary.kind_of)

    once = again(data)
    assert again(once) == once
    assert once["answers"].keys() == dict(template.answers).keys()
    assert once["blanks"].keys() == dict(template.blanks).keys()
    assert [d.get("form") for d in once["documents"]] == [d.get("form") for d in data["documents"]]


def test_from_a_deal_stay_out_the_property_the_people_and_what_was_once() -> None:
    said = {
        "terms.inspection_days": "10",
        "terms.loan_type": "conventional",
        "terms.purchase_price": "400k",
        "terms.closing_date": "6/15/2027",
        "terms.additional_terms": "The swing stays.",
        "property.street_name": "Alder",
        "listing_agent.name": "Ruth Adeyemi",
        "representation.agency": "buyer only",
    }
    ledger = Ledger(CATALOG, Side.BUYING)
    for order, (key, text) in enumerate(said.items(), 1):
        ledger.add(Entry(key, Act.STATE, order, Source.TYPED, CATALOG[key].read(text)))
    ledger.add(Entry("buyers", Act.STATE, 20, Source.TYPED, "b1"))
    ledger.add(Entry("party.b1.given", Act.STATE, 21, Source.TYPED, "Amara"))
    ledger.add(Entry("doc.d1.deed", Act.STATE, 22, Source.TEMPLATE, "general warranty deed"))
    ledger.add(
        Entry(
            "property.year_built", Act.STATE, 23, Source.LISTING, CATALOG["property.year_built"].read("1962")
        )
    )
    vocabulary = FormVocabulary({"d1": FORM})
    about = {"name": "Mine", "side": "buying"}
    data, left = from_deal(about, [Written("d1", "The offer", FORM)], ledger, vocabulary.kind_of)
    assert data["answers"] == {
        "representation.agency": "buyer only",
        "terms.inspection_days": "10",
        "terms.loan_type": "conventional",
    }
    assert data["blanks"] == {"301.deed": "general warranty deed"}
    assert data["documents"] == [{"section": "The offer", "form": "301"}]
    assert "terms.purchase_price" in left and "party.b1.given" in left and "property.year_built" not in left
    assert not isinstance(read_template(data, demo_pack().forms, CATALOG, "t"), list)


def test_coverage_says_who_answers_each_question() -> None:
    ledger = Ledger(CATALOG, Side.BUYING)
    apply_to(
        {
            "name": "T",
            "side": "buying",
            "documents": [{"section": "A", "form": "301"}],
            "answers": {"terms.inspection_days": "10"},
        },
        ledger,
    )
    package = Package([PackageDocument("d1", FORM)], ledger)
    by = {c.blank.key: c.by for c in coverage(package)}
    assert by["terms.inspection_days"] == By.YOU
    assert by["terms.purchase_price"] == By.ASKED
    assert by["property.parcel_number"] == By.SOURCES
    assert by["buyers.names"] == By.PARTIES
    counts = count_coverage(package)
    assert sum(counts.values()) == len(list(coverage(package)))
    before = counts[By.ASKED]
    apply_to(
        {
            "name": "T",
            "side": "buying",
            "documents": [{"section": "A", "form": "301"}],
            "answers": {"terms.expiry_time": "5pm"},
        },
        ledger,
    )
    assert count_coverage(Package([PackageDocument("d1", FORM)], ledger))[By.ASKED] == before - 1
