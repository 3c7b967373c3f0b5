"""The content of a template, read from its file."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from functools import lru_cache
from itertools import product
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, StringConstraints, ValidationError, model_validator
from pydantic import Field as Count

from quillcore.contacts.model import SECOND_AGENT
from quillcore.facts import Catalog, Side
from quillcore.facts.edits import reads_as
from quillcore.facts.keys import RESPONSIBLE, paper_key
from quillcore.forms.model import Form, Name, Number, Sentence, Word
from quillcore.forms.vocabulary import FormVocabulary
from quillcore.formulas import Rule, Setting, catalog_rules, circles, evaluate, target_rule
from quillcore.formulas.syntax import literals
from quillcore.values import KINDS, Fault, Value

Answer = Annotated[str, StringConstraints(max_length=10_000)]
PEOPLE = (SECOND_AGENT, "title", "lender", "inspector", "attorney", "warranty", "association_manager")
"""The groups of facts that a contact may fill in each deal of a template: those whose work recurs."""
MOST_DAYS_BEFORE = 60
"""Days before which somebody may be reminded: what is further off isn't pressing."""
MOST_TASKS = 100
_BLANK = re.compile(r"([^.]+)\.(.+)")


class TemplateDocument(BaseModel):
    """One document in order: a form by number, or a paper ``expected`` from somebody.  One in ``reserve`` is
    filled along with the rest, and set aside until it is wanted."""

    model_config = ConfigDict(frozen=True, extra="forbid", populate_by_name=True)

    section: Annotated[str, StringConstraints(max_length=80)]
    form: Number | None = None
    expected: Name | None = None
    expected_from: Annotated[str, StringConstraints(max_length=80)] = ""
    reserve: bool = False

    @model_validator(mode="after")
    def _one_of_both(self) -> TemplateDocument:
        if (self.form is None) == (self.expected is None):
            raise ValueError("a document is either a form or expected")
        return self


@lru_cache(maxsize=2_048)
def read_date_rule(text: str, catalog: Catalog) -> Rule | Fault:
    """Return a task's rule, checked: a formula that gives a date.  Kept once read: templates share them."""
    return target_rule("due", "date", text, catalog)


class TemplateTask(BaseModel):
    """One task: what, whose (one of ``RESPONSIBLE``), by when (``due``, a formula that gives a date; without
    one it is open), what settles it (a form's number, or what an expected paper is called), and how many days
    before to remind."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    what: Annotated[str, StringConstraints(max_length=200, min_length=1, strip_whitespace=True)]
    who: Annotated[str, StringConstraints(max_length=30)] = ""
    group: Annotated[str, StringConstraints(max_length=80)] = ""
    due: Annotated[str, StringConstraints(max_length=300)] = ""
    settled_by: Name = ""
    remind: Annotated[int, Count(ge=0, le=MOST_DAYS_BEFORE)] | None = None
    note: Annotated[str, StringConstraints(max_length=300)] = ""

    def fault(self, catalog: Catalog) -> Fault | None:
        """Return what is wrong with it."""
        if self.who and self.who not in RESPONSIBLE:
            return Fault("task", f"“{self.who}” is not a role.", f"Use one of: {', '.join(RESPONSIBLE)}.")
        found = read_date_rule(self.due, catalog) if self.due else None
        return found if isinstance(found, Fault) else None


class TemplateContent(BaseModel):
    """A reusable package.  ``answers`` are standing answers by fact, ``blanks`` by "number.field"; text that
    begins with "=" is a formula.  ``people`` are contacts by the group of facts that they fill, by their id
    where the template is kept: read anew for each deal, and unknown elsewhere.  ``locked`` lists keys whose
    answer beats what is typed.  ``rule`` is a condition over a new deal's first facts; where it holds the
    template is ``weight``: suggested or required.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")

    name: Name
    side: Side
    kinds: tuple[Word, ...] = ()
    about: Sentence = ""
    documents: Annotated[tuple[TemplateDocument, ...], Count(max_length=200)]
    answers: Mapping[Word, Answer] = {}
    blanks: Mapping[Annotated[str, StringConstraints(max_length=130)], Answer] = {}
    locked: Annotated[tuple[Word, ...], Count(max_length=2_000)] = ()
    people: Mapping[Word, Annotated[str, StringConstraints(max_length=60)]] = {}
    tasks: Annotated[tuple[TemplateTask, ...], Count(max_length=MOST_TASKS)] = ()
    rule: Sentence = ""
    weight: Literal["", "suggested", "required"] = ""


def read_template(
    data: Any, forms: Mapping[str, Form], catalog: Catalog, place: str
) -> TemplateContent | list[Fault]:
    """Return a template from its file's content, or everything that is wrong with it."""
    try:
        template = TemplateContent.model_validate(data)
    except ValidationError as trouble:
        return [
            Fault(
                "template",
                f"{e['msg']}.",
                "See docs/templates.md.",
                f"{place}, {'.'.join(map(str, e['loc']))}",
            )
            for e in trouble.errors()
        ]
    faults = [
        Fault(
            "template", f"There is no form {d.form} in the pack.", "Check the number.", f"{place}, documents"
        )
        for d in template.documents
        if d.form is not None and d.form not in forms
    ]
    kinds = catalog["property.category"].options
    no_kind, use = "There is no property of kind “{}”.", f"Use one of: {', '.join(kinds)}."
    faults += [
        Fault("template", no_kind.format(kind), use, f"{place}, kinds")
        for kind in template.kinds
        if kind not in kinds
    ]
    for key, text in template.answers.items():
        if fault := _answer_fault(key, text, catalog):
            faults.append(fault.at(f"{place}, answers, {key}"))
    faults += [fault.at(f"{place}, answers, {fault.place}") for fault in _unboxed(template, forms, catalog)]
    if template.rule and isinstance(found := read_rule(template.rule, catalog), Fault):
        faults.append(found.at(f"{place}, rule"))
    faults += [
        Fault(
            "template",
            f"“{group}” can't have a saved contact.",
            f"Use one of: {', '.join(PEOPLE)}.",
            f"{place}, people",
        )
        for group in template.people
        if group not in PEOPLE
    ]
    for n, task in enumerate(template.tasks, 1):
        if fault := task.fault(catalog):
            faults.append(fault.at(f"{place}, tasks, {n} ({task.what})"))
    if not faults and (loop := _circle(template.answers, catalog)):
        faults.append(
            Fault(
                "template",
                f"These answers wait for each other: {' → '.join(catalog.label_of(key) for key in loop)}.",
                "Answer one of them without a formula.",
                f"{place}, answers, {loop[0]}",
            )
        )
    faults += [fault.at(f"{place}, blanks, {fault.place}") for fault in _faulty_blanks(template, forms)]
    return faults or template


def _faulty_blanks(template: TemplateContent, forms: Mapping[str, Form]) -> Iterator[Fault]:
    """Yield what is wrong with the standing answers to forms' own blanks, each at its key."""
    for key in template.blanks:
        m = _BLANK.fullmatch(key)
        if m is None or m[1] not in forms or not _is_own(forms[m[1]], m[2]):
            yield Fault("template", "There is no such blank.", "Write form number, dot, field id.", key)
        elif who := forms[m[1]].mapping.only_answered_by(m[2]):
            yield Fault(
                "template", f"Only {who} may answer this, so it has no standing answer.", "Remove it.", key
            )


def _unboxed(template: TemplateContent, forms: Mapping[str, Form], catalog: Catalog) -> list[Fault]:
    """Return standing answers of which one of the template's own forms has no box: its question would stay
    open in every deal."""
    numbers = {d.form for d in template.documents if d.form is not None and not d.reserve}
    named = {number: forms[number] for number in sorted(numbers & forms.keys())}
    faults = []
    for key, text in template.answers.items():
        fact = catalog.find(key)
        value = fact.read(text) if fact is not None and fact.kind == "choice" else None
        for number, form in named.items() if isinstance(value, str) else ():
            boxes = form.mapping.boxes_of(key)
            if boxes and value not in boxes:
                said = f"Form {number} has no box for “{value}”; its boxes are {', '.join(boxes)}."
                faults.append(
                    Fault("no box", said, "Answer with one of them, or leave it to each deal.", key)
                )
    return faults


def _circle(answers: Mapping[str, str], catalog: Catalog) -> list[str]:
    """Return a chain of standing formulas that feed each other, by themselves or through the catalog's; or
    []."""
    read = {
        key: target_rule(key, catalog[key].kind, text[1:], catalog)
        for key, text in answers.items()
        if text.startswith("=")
    }
    standing = {key: rule for key, rule in read.items() if isinstance(rule, Rule)}
    others = {key: rule for key, rule in catalog_rules(catalog).items() if key not in answers}
    return circles(others | standing, catalog) if standing else []


def _is_own(form: Form, name: str) -> bool:
    return name in form.mapping.own_kinds or name in form.mapping.by_id


def _answer_fault(key: str, text: str, catalog: Catalog) -> Fault | None:
    fact = catalog.find(key)
    if fact is None or paper_key(key) is not None:
        return Fault("template", f"There is no fact “{key}”.", "Look the key up in the fact catalog.")
    is_formula = text.startswith("=")
    found = (
        target_rule(key, fact.kind, text[1:], catalog)
        if is_formula
        else reads_as(FormVocabulary({}, catalog), key, text)
    )
    return found if isinstance(found, Fault) else None


RULE_KEYS = ("deal.side", "property.category", "property.county", "terms.loan_type")
"""The keys that are known when a deal starts; a rule may speak of them."""


@lru_cache(maxsize=1_024)
def read_rule(text: str, catalog: Catalog) -> Rule | Fault:
    """Return a template's rule, checked: a yes/no expression over what is known of a deal when it starts."""
    found = target_rule("rule", "yes_no", text, catalog)
    if isinstance(found, Fault):
        return found
    stranger = sorted(found.reads - set(RULE_KEYS))
    if not stranger and not ever_holds(found, catalog):
        return Fault("rule", "No deal can match this rule.", "Remove a condition, or combine some with “or”.")
    if stranger:
        return Fault(
            "rule",
            f"{catalog.label_of(stranger[0])} isn't known yet when a deal starts.",
            f"A rule may speak of {', '.join(RULE_KEYS)}.",
        )
    return found


def ever_holds(rule: Rule, catalog: Catalog) -> bool:
    """Return whether a rule can be true of any new deal: tried over every side, kind, loan, and county that
    it names."""
    named = [one.value for one in literals(rule.tree) if isinstance(one.value, str)]
    choices: dict[str, list[Value]] = {
        "deal.side": [side.value for side in Side],
        "property.category": list(catalog["property.category"].options),
        "terms.loan_type": list(catalog["terms.loan_type"].options),
        "property.county": [*named, "another county"],
    }
    read = sorted(rule.reads)
    for values in product(*(choices[key] for key in read)):
        known = dict(zip(read, values, strict=True))
        if evaluate(rule.tree, known.__getitem__, Setting()) is True:
            return True
    return not read


def blank_kind(form: Form, name: str, catalog: Catalog) -> str:
    """Return value kind of a form's own blank or group, or of the fact that a blank shows."""
    m = form.mapping.by_id.get(name)
    if m is not None and m.fact is not None:
        return catalog[m.fact].kind
    kind = form.mapping.own_kinds.get(name, "text")
    return kind if kind in KINDS else "text"
