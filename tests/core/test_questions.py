"""How a person is asked: words for every fact and every blank, and the parts of the work."""

from __future__ import annotations

from pathlib import Path

import pytest
import yaml
from quillcore.assembly.fixed import spots_of
from quillcore.facts import Group, load_catalog, questions
from quillcore.facts.questions import asked, section_of, sections, worded
from quillcore.forms import Form
from quillcore.forms.model import Mapping

from tests.core.small import demo_pack

CATALOG = load_catalog()


def test_every_fact_is_asked_for_by_a_question_and_none_is_worded_that_is_not() -> None:
    for fact in CATALOG:
        said = asked(fact)
        assert said.endswith("?") and len(said) > 3, (fact.key, said)
        assert "??" not in said and "  " not in said
    worded_facts = yaml.safe_load(Path(questions.__file__).with_name("questions.yaml").read_text())["ask"]
    assert set(worded_facts) <= {fact.key for fact in CATALOG}
    assert asked(CATALOG["terms.purchase_price"]) == "What is the purchase price?"


def test_every_own_blank_of_the_demo_pack_is_asked_for_by_a_question() -> None:
    own = 0
    for form in demo_pack().forms.values():
        for spot in spots_of(form, CATALOG):
            if spot.fact is None and spot.field.shape != "sign":
                own += 1
                assert spot.ask.endswith("?"), (form.edition.number, spot.own, spot.ask)
            else:
                assert spot.ask == ""
    assert own > 800


@pytest.mark.parametrize(
    ("label", "kind", "options", "said"),
    [
        ("Notice to end in days", "integer", (), "Notice to end: how many days?"),
        ("Closing in days after consent", "integer", (), "Closing: how many days after consent?"),
        ("Exceptions hold for days", "integer", (), "Exceptions hold: for how many days?"),
        ("Fee on a sale in percent", "percent", (), "Fee on a sale: what percent?"),
        ("Floors", "integer", (), "Floors: how many?"),
        ("Second loan", "money", (), "Second loan: how much?"),
        ("Receipt given on", "date", (), "Receipt given on: which day?"),
        ("Expenses", "choice", ("nothing", "some"), "Expenses: nothing or some?"),
        ("Deed", "choice", ("general", "special", "fiduciary"), "Deed: general, special or fiduciary?"),
        ("Use", "choice", ("a", "b", "c", "d"), "Use: which one?"),
        ("Locks re-keyed", "choice", ("yes", "no"), "Locks re-keyed?"),
        ("Appraisal", "yes_no", (), "Appraisal?"),
        ("Water rights", "text", (), "Water rights?"),
        ("Is it so?", "text", (), "Is it so?"),
    ],
)
def test_a_label_becomes_a_question(label: str, kind: str, options: tuple[str, ...], said: str) -> None:
    assert worded(label, kind, options) == said


def test_the_parts_of_the_work_come_in_order_and_have_their_facts() -> None:
    order = [section.name for section in sections()]
    assert order == ["parties", "people", "property", "money", "dates", "costs"]
    of = {fact.key: section_of(fact) for fact in CATALOG}
    assert {of[key] for key in of} <= {*order, ""}
    assert of["terms.purchase_price"] == of["terms.loan_type"] == of["lease.rent"] == "money"
    assert of["terms.closing_date"] == of["terms.inspection_days"] == "dates"
    assert of["terms.title_payer"] == of["lease.electricity"] == "costs"
    assert of["property.city"] == of["tax.annual"] == "property"
    assert of["title.company"] == of["listing_agent.name"] == "people"
    assert of["terms.additional_terms"] == ""
    assert all(of[group.names] == "parties" for group in Group)


def test_a_form_words_its_own_questions() -> None:
    form = next(form for form in demo_pack().forms.values() if form.edition.number == "401")
    first = next(m for m in form.mapping.meanings if m.fact is None and m.sign is None)
    meanings = tuple(
        m.model_copy(update={"ask": "How much more is lent?"}) if m is first else m
        for m in form.mapping.meanings
    )
    worded_by_it = Mapping(meanings=meanings, choices=form.mapping.choices, called=form.mapping.called)
    changed = Form(form.edition, worded_by_it, form.pdf)
    assert (
        next(s.ask for s in spots_of(changed, CATALOG) if s.meaning.id == first.id)
        == "How much more is lent?"
    )
