"""The sheet: what every key shows now, and what a change makes stale.

A sheet lives for one request.  It reads stated values from the ledger and works out the rest on
demand, each key at most once; ``refresh`` forgets only what depends on the changed keys.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from decimal import ROUND_HALF_UP, Decimal
from functools import cache, cached_property, lru_cache
from typing import NamedTuple

from quillcore.facts import Catalog, Fact, Group, Ledger, Party, Source
from quillcore.facts.keys import (
    GROUPS,
    MOST_PARTIES,
    group_of,
    is_own_key,
    name_of,
    paper_key,
    party_key,
    place_key,
)
from quillcore.facts.parties import PARTY_FIELDS, STATED_FIELDS, joined
from quillcore.formulas.evaluation import Broken, Open, Result, Setting, evaluate
from quillcore.formulas.syntax import Call, Literal, Node, Ref, parse, references
from quillcore.formulas.typing import Checked, check, type_of_kind
from quillcore.values import Fault, Value
from quillcore.values.words import to_cents

_NAMING = frozenset(STATED_FIELDS) - {"email", "phone", "mailing_address"}
_FINEST = Decimal("0.00000001")
_WORKED_OUT = tuple(name for name, field in PARTY_FIELDS.items() if field.worked_out)


@dataclass(frozen=True)
class Rule:
    """One formula with its one target.  ``kind`` is the target's value kind, at which the result is
    rounded."""

    target: str
    kind: str
    tree: Node
    reads: frozenset[str]

    def moved(self, before: str, after: str) -> Rule:
        """Return the same with keys that begin with ``after`` where these begin with ``before``: a form's
        rule, read once, as one copy of the form has it."""
        target = after + self.target.removeprefix(before) if self.target.startswith(before) else self.target
        if not any(key.startswith(before) for key in self.reads):
            return self if target == self.target else replace(self, target=target)
        tree = _renamed(self.tree, before, after)
        return Rule(target, self.kind, tree, references(tree))


class Held(NamedTuple):
    """The value of a key with its source, or nothing and why (``missing`` keys, or a ``fault``)."""

    value: Value | None
    source: Source | None
    missing: tuple[str, ...] = ()
    fault: Fault | None = None


def target_rule(
    target: str,
    kind: str,
    text: str,
    catalog: Catalog,
    own: Mapping[str, str] | None = None,
    prefix: str = "",
) -> Rule | Fault:
    """Return a rule from a formula's text, checked against its target's kind.

    ``own`` maps a form's own field ids to kinds, read in the formula as ``form.<id>``; ``prefix``
    (``doc.<id>.``) makes them keys of one document.
    """
    tree = parse(text)
    if isinstance(tree, Fault):
        return tree.at(f"{target}, {tree.place}")
    kinds = own or {}
    checked = check(
        tree, catalog, lambda key: kinds.get(key.removeprefix("form.")) if key.startswith("form.") else None
    )
    if isinstance(checked, Fault):
        return checked.at(f"{target}, {checked.place}")
    wanted = type_of_kind(kind)
    numeric = ("money", "number", "percent")
    if checked.type != wanted and not (checked.type in numeric and wanted in numeric):
        return Fault(
            "formula", f"The formula gives a {checked.type}, but a {wanted} belongs here.", "", target
        )
    ready = _renamed(checked.tree, "form.", prefix) if prefix else checked.tree
    return Rule(target, kind, ready, references(ready))


def _renamed(node: Node, before: str, after: str) -> Node:
    """Return the tree with keys that begin otherwise."""
    if isinstance(node, Ref) and node.key.startswith(before):
        return Ref(node.column, after + node.key.removeprefix(before))
    if isinstance(node, Call):
        return Call(node.column, node.name, tuple(_renamed(arg, before, after) for arg in node.args))
    assert isinstance(node, (Ref, Literal))
    return node


@cache
def catalog_rules(catalog: Catalog) -> dict[str, Rule]:
    """Return the rules of worked-out facts.  A faulty formula in the catalog is a bug and raises."""
    rules = {}
    for fact in catalog:
        if fact.formula is None:
            continue
        rule = target_rule(fact.key, fact.kind, fact.formula, catalog)
        if isinstance(rule, Fault):
            raise ValueError(str(rule))
        rules[fact.key] = rule
    if loop := circles(rules, catalog):
        raise ValueError(" → ".join(loop))
    return rules


def circles(rules: Mapping[str, Rule], catalog: Catalog) -> list[str]:
    """Return a chain of targets that feed each other, or [].  The two halves of a pair don't count."""
    done: set[str] = set()

    def visit(target: str, path: list[str]) -> list[str]:
        if target in path:
            return [*path[path.index(target) :], target]
        if target in done or target not in rules:
            return []
        fact = catalog.find(target)
        pair = fact.pair if fact else None
        for read in sorted(rules[target].reads - {pair}):
            if loop := visit(read, [*path, target]):
                return loop
        done.add(target)
        return []

    for target in rules:
        if loop := visit(target, []):
            return loop
    return []


@lru_cache(maxsize=4_096)
def standing_rule(key: str, text: str, catalog: Catalog) -> Rule | Fault:
    """Return the formula that stands as an answer: read once, however often what it reaches is asked.  In a
    form's own blank only a wording can stand."""
    fact = catalog.find(key)
    return target_rule(key, fact.kind if fact is not None else "long_text", text, catalog)


class Evaluator:
    """All values of one deal (and one offer within it).

    ``rules`` are the formulas of the documents at hand, by target; the catalog's are always there.
    ``papers`` are the numbers of the forms that are in the package, or expected for it.
    ``evaluated`` lists the targets of formulas worked out, in order: what a change cost.
    """

    def __init__(
        self,
        ledger: Ledger,
        setting: Setting | None = None,
        rules: Iterable[Rule] = (),
        papers: Iterable[str] = (),
    ) -> None:
        self.ledger = ledger
        self.papers = frozenset(papers)
        self.setting = setting or Setting()
        self.rules: dict[str, Rule] = {
            **catalog_rules(ledger.catalog),
            **{rule.target: rule for rule in rules},
        }
        self.evaluated: list[str] = []
        self._memo: dict[str, Held] = {}
        self._tested: dict[int, tuple[Node, bool | None]] = {}
        """Results of conditions, by the identity of the tree, which is kept along so that it stays one."""
        self._busy: set[str] = set()

    @cached_property
    def _readers(self) -> Mapping[str, Sequence[str]]:
        """Targets of formulas by the keys that they read; where nothing is changed, nobody asks."""
        found: dict[str, list[str]] = {}
        for rule in self.rules.values():
            for key in rule.reads:
                found.setdefault(key, []).append(rule.target)
        return found

    def over(self, ledger: Ledger) -> Evaluator:
        """Return the same formulas over other facts."""
        return Evaluator(ledger, self.setting, self.rules.values(), self.papers)

    def party(self, group: str, position: int) -> Party:
        """Return the party at a position (from 1), as its stated fields say."""
        stated = {
            field: held.value
            for field in STATED_FIELDS
            if (held := self.held(f"{group}.{position}.{field}")).value is not None
        }
        return Party.of(stated)

    def parties(self, group: str) -> list[Party]:
        """Return all parties of a group, in order."""
        return [self.party(group, n) for n in range(1, len(self.ledger.parties(group)) + 1)]

    def held(self, key: str) -> Held:
        """Return what the key shows."""
        found = self._memo.get(key)
        if found is None:
            found = self._memo[key] = self._find(key)
        return found

    def result(self, key: str) -> Result:
        """Return the key as formulas see it."""
        if key in GROUPS:
            return tuple(self.parties(key))
        held = self.held(key)
        if held.fault is not None:
            return Broken(held.fault)
        return Open(held.missing or (key,)) if held.value is None else held.value

    def test(self, tree: Node) -> bool | None:
        """Return a yes/no formula's answer; None while it is open or broken."""
        known = self._tested.get(id(tree))
        if known is None:
            found = evaluate(tree, self.result, self.setting)
            known = self._tested[id(tree)] = tree, found if isinstance(found, bool) else None
        return known[1]

    def worked_out(self, key: str) -> Held:
        """Return what the formula alone gives, whatever was stated: what a typed value replaced."""
        rule = self.rules.get(key)
        return self._apply(rule) if rule else Held(None, None)

    def _find(self, key: str) -> Held:
        if key in self._busy:
            return Held(None, None, (key,))
        is_own = is_own_key(key)
        if not is_own and (found := self._of_the_deal(key)) is not None:
            return found
        stored = key if is_own else self.ledger.stored_key(key)
        stated = self.ledger.in_force(stored) if stored is not None else None
        if stated is not None and stated.formula is None:
            return Held(stated.value, stated.source)
        rule = self.rules.get(key) if stored is not None else None
        if stated is None and rule is None:
            return Held(None, None, (key,))
        self._busy.add(key)
        try:
            if stated is not None and stated.formula is not None:
                return self._standing(key, stated.formula, stated.source)
            return self._apply(rule) if rule and self._usable(key) else Held(None, None, (key,))
        finally:
            self._busy.discard(key)

    def _of_the_deal(self, key: str) -> Held | None:
        """Return what nobody states and no formula gives: the side, which papers there are, what parties
        come to."""
        if key == "deal.side":
            return Held(self.ledger.side, Source.FORM)
        if (number := paper_key(key)) is not None:
            return Held(number in self.papers, Source.WORKED_OUT)
        return self._of_party(key) if group_of(key) in GROUPS else None

    def _usable(self, key: str) -> bool:
        """Return whether a half of a pair is usable: it is worked out only from the other half as stated,
        never in a ring."""
        fact = self.ledger.catalog.find(key)
        return fact is None or fact.pair is None or self.ledger.in_force(fact.pair) is not None

    def _standing(self, key: str, text: str, source: Source) -> Held:
        rule = standing_rule(key, text, self.ledger.catalog)
        if isinstance(rule, Fault):
            return Held(None, source, fault=rule)
        found = self._apply(rule)
        return Held(found.value, source if found.value is not None else None, found.missing, found.fault)

    def _of_party(self, key: str) -> Held | None:
        group, rest = group_of(key), name_of(key)
        if rest == "names":
            text = joined([p.name for p in self.parties(group) if p.name])
            return Held(text, Source.WORKED_OUT) if text else Held(None, None, (f"{group}.1.name",))
        if rest == "count":
            return Held(Decimal(len(self.ledger.parties(group))), Source.WORKED_OUT)
        place = place_key(key)
        if place is None or place.field not in _WORKED_OUT or self.ledger.stored_key(key) is None:
            return None
        party = self.party(group, place.position)
        found: str = getattr(party, place.field)
        if not found and place.field == "signature_name" and party.is_entity:
            return Held(None, None, (place.group.key(place.position, "signer"),))
        return Held(found, Source.WORKED_OUT) if found else None

    def _apply(self, rule: Rule) -> Held:
        self.evaluated.append(rule.target)
        found = evaluate(rule.tree, self.result, self.setting)
        if isinstance(found, Open):
            return Held(None, None, found.missing)
        if isinstance(found, Broken):
            return Held(None, None, fault=found.fault)
        return Held(rounded(found, rule.kind), Source.WORKED_OUT)

    def refresh(self, changed: Iterable[str]) -> set[str]:
        """Forget what the changed stored keys made stale; gives every shown key that may differ now."""
        stale = self.dependents(changed)
        self._tested.clear()  # asking them again costs less than finding out which read what has moved
        for key in stale:
            self._memo.pop(key, None)
        return stale

    def dependents(self, changed: Iterable[str]) -> set[str]:
        """Return the shown keys that the stored keys reach: themselves, their pairs, and all formulas over
        them, those that stand as answers too."""
        standing: dict[str, list[str]] = {}
        for target, text in self.ledger.formulas().items():
            rule = standing_rule(target, text, self.ledger.catalog)
            for read in () if isinstance(rule, Fault) else rule.reads:
                standing.setdefault(read, []).append(target)
        seen: set[str] = set()
        todo = [key for stored in changed for key in self._shown_as(stored)]
        while todo:
            key = todo.pop()
            if key in seen:
                continue
            seen.add(key)
            fact: Fact | None = self.ledger.catalog.find(key)
            todo += [fact.pair] if fact and fact.pair else []
            todo += [*self._readers.get(key, ()), *standing.get(key, ())]
        return seen

    def _shown_as(self, stored: str) -> Iterable[str]:
        if stored in GROUPS:
            group = Group(stored)
            fields = [group.key(n, field) for n in range(1, MOST_PARTIES + 1) for field in PARTY_FIELDS]
            return [stored, group.names, group.how_many, *fields]
        if party_key(stored) is None:
            return [stored]
        place = place_key(shown := self.ledger.shown_key(stored))
        if place is None or place.field not in _NAMING:
            return [shown]
        return [
            shown,
            *(place.group.key(place.position, f) for f in _WORKED_OUT),
            place.group,
            place.group.names,
        ]


def rounded(value: Value, kind: str) -> Value:
    """Return a result as its target keeps it: money to the cent, whole numbers whole, others to eight places
    at most.  A percentage prints fewer: its kind rounds it, and not what a rule compares."""
    if not isinstance(value, Decimal):
        return value
    if kind == "money":
        return to_cents(value)
    if kind in ("integer", "year"):
        return value.quantize(Decimal(1), rounding=ROUND_HALF_UP)
    if kind in ("percent", "number", "exact_money"):
        short = value.quantize(_FINEST, rounding=ROUND_HALF_UP)
        return short.quantize(Decimal(1)) if short == short.to_integral_value() else short.normalize()
    return value


__all__ = ["Checked", "Evaluator", "Held", "Rule", "catalog_rules", "circles", "rounded", "target_rule"]
