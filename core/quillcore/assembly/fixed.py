"""Everything that a form fixes of its blanks for any deal: worked out once for each form and cached."""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache
from typing import NamedTuple

from quillcore.facts import Catalog
from quillcore.facts.keys import document_prefix
from quillcore.facts.parties import is_derived
from quillcore.facts.questions import worded
from quillcore.forms.model import Field, Form, Meaning, call_rule, form_rules
from quillcore.formulas import Rule, target_rule

_NO_COPY = "-"
"""No document's id."""
HERE = document_prefix(_NO_COPY)
"""The prefix of a form's own keys where it doesn't matter which of its copies is meant."""


@lru_cache(maxsize=4096)
def rules_of(form: Form, document: str, catalog: Catalog) -> list[Rule]:
    """Return the form's formulas, as of one of its copies by the document's id."""
    return [rule.moved(HERE, document_prefix(document)) for rule in _rules_of_form(form, catalog)]


@lru_cache(maxsize=1024)
def _rules_of_form(form: Form, catalog: Catalog) -> list[Rule]:
    """Return the rules as of no particular copy."""
    rules, faults = form_rules(form.mapping, catalog, _NO_COPY)
    assert not faults, faults  # a pack with faults is never read
    return rules


@lru_cache(maxsize=4096)
def condition_of(text: str, form: Form, catalog: Catalog) -> Rule:
    """Return a yes/no expression of the form as of no particular copy: checked like any other formula."""
    rule = target_rule("", "yes_no", text, catalog, form.mapping.own_kinds, HERE)
    assert isinstance(rule, Rule), rule  # a pack with faults is never read
    return rule


class FixedBlank(NamedTuple):
    """A field as it is in any deal: worked out once for each form. ``own`` is what its own key is called
    within a document."""

    field: Field
    meaning: Meaning
    fact: str | None
    own: str
    kind: str
    options: tuple[str, ...]
    label: str
    relevant: Rule | None
    required: Rule | None
    """The condition under which the field applies and is asked for, as of no particular copy of the form;
    None where no formula gives one."""

    @property
    def ask(self) -> str:
        """The question for a blank of the form's own; "" for one that a shared fact fills, and for a place to
        be signed."""
        if self.fact is not None or self.field.shape == "sign":
            return ""
        return self.meaning.ask or worded(self.label, self.kind, self.options)

    @property
    def editable(self) -> bool:
        """Whether the agent may write here."""
        key = self.fact or self.own
        return self.field.shape != "sign" and not self.meaning.who and not is_derived(key)


@lru_cache(maxsize=1024)
def spots_of(form: Form, catalog: Catalog) -> tuple[FixedBlank, ...]:
    """Return the form's fields in reading order."""
    return tuple(_spot(form, f, m, catalog) for f, m in form.pairs())


@lru_cache(maxsize=1024)
def places_of(form: Form) -> Mapping[str, int]:
    """Return each field's place in reading order, from 0."""
    return {f.id: n for n, f in enumerate(form.edition.fields)}


def _spot(form: Form, f: Field, m: Meaning, catalog: Catalog) -> FixedBlank:
    fact = catalog.find(m.fact) if m.fact else None
    kind = fact.kind if fact else form.mapping.own_kinds.get(m.group or m.id, "text")
    options = fact.options if fact else m.options or _group_options(form, m)
    label = m.label or (fact.label if fact else (m.group or m.id).replace("-", " ").capitalize())
    own = m.group or (m.fact if m.value is not None and m.fact else m.id)
    relevant, required = (
        None if text in (None, "always", "never") else condition_of(text, form, catalog)
        for text in (m.relevant, m.required)
    )
    return FixedBlank(f, m, m.fact, own, kind, options, label, relevant, required)


@lru_cache(maxsize=1024)
def watchers_of(form: Form, catalog: Catalog) -> Mapping[str, frozenset[int]]:
    """Return, for each key, the places in reading order of the fields that show it or depend on it; the
    form's own keys as of no particular copy. The boxes of one group, and of one fact, go together: which of
    them is unanswered depends on the first."""
    found: dict[str, set[int]] = {}
    together: dict[str, set[int]] = {}
    spots = spots_of(form, catalog)
    for n, spot in enumerate(spots):
        for key in _watched(form, spot, catalog):
            found.setdefault(key, set()).add(n)
        if spot.field.shape == "box":
            together.setdefault(spot.fact or spot.own, set()).add(n)
    call = call_of(form, catalog)
    for key in call.reads if call is not None else ():  # an answer that rules the form out quiets all of it
        found.setdefault(key, set()).update(range(len(spots)))
    for places in found.values():
        for n in list(places):
            if spots[n].field.shape == "box":
                places |= together[spots[n].fact or spots[n].own]
    return {key: frozenset(places) for key, places in found.items()}


def call_of(form: Form, catalog: Catalog) -> Rule | None:
    """Return when a form is called for; None where it doesn't say."""
    called = form.mapping.called
    rule = call_rule(called.when, catalog) if called is not None else None
    return rule if isinstance(rule, Rule) else None


def _watched(form: Form, spot: FixedBlank, catalog: Catalog) -> set[str]:
    keys = {spot.fact or HERE + spot.own, HERE + spot.own}
    fact = catalog.find(spot.fact) if spot.fact else None
    if fact is not None and fact.not_before is not None:
        keys.add(fact.not_before)
    table = form.mapping.choices.get(spot.meaning.choices or "")
    if table is not None and table.depends is not None:
        keys.add(table.depends)
    for rule in (spot.required, spot.relevant):
        keys |= rule.reads if rule is not None else frozenset()
    return keys


def _group_options(form: Form, m: Meaning) -> tuple[str, ...]:
    if m.group is None or m.value is None:
        return ()
    return tuple(o.value for o in form.mapping.meanings if o.group == m.group and o.value is not None)


@lru_cache(maxsize=1024)
def own_labels_of(form: Form, catalog: Catalog) -> Mapping[str, str]:
    """Return what a form's own blanks and groups are called."""
    return {spot.own: spot.label for spot in reversed(spots_of(form, catalog))}
