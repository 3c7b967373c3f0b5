"""A sum's lines are the addends of its own formula, so that what is shown always adds up to the sum below
it."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from decimal import Decimal
from functools import cache
from pathlib import Path
from typing import Any

import yaml

from quillcore.facts import Catalog, Side, load_catalog
from quillcore.formulas import Evaluator, Node, Open, catalog_rules, evaluate
from quillcore.formulas.evaluator import rounded
from quillcore.formulas.syntax import Call, Literal, Ref
from quillcore.values import EMPTY, Value

_FILE = Path(__file__).with_name("sheets.yaml")
_MONEY = ("money", "exact_money")
PRICE = "price"
"""The name of a deal's price in the sheets, whichever fact holds it."""
_OFFERED = "terms.purchase_price"


@dataclass(frozen=True)
class Ask:
    """A question asked backwards: the value of ``vary`` at which ``of`` comes out as wanted."""

    vary: str
    of: str
    says: str


@dataclass(frozen=True)
class MoneySheet:
    """One sheet: the sum that it ends in, the facts that move it, the form that it is printed on."""

    name: str
    title: str
    form: str
    result: str
    set_by: tuple[str, ...]
    asks: tuple[Ask, ...]


@dataclass(frozen=True)
class MoneyLine:
    """One addend: the fact that it speaks of, whether it adds to the sheet's sum (``sign`` 1) or takes from
    it (-1), how deep it stands, and the addends that it is itself made of."""

    key: str
    sign: int
    node: Node
    level: int = 0
    parts: tuple[MoneyLine, ...] = ()

    def amount(self, sheet: Evaluator) -> Decimal | None:
        """Return what it is in its sum, without sign; None while that is unknown."""
        found = evaluate(self.node, sheet.result, sheet.setting)
        if found is EMPTY:
            return Decimal(0)
        return _as_money(found)

    def flat(self) -> Iterator[MoneyLine]:
        """Return itself and everything below, in the order of print."""
        yield self
        for part in self.parts:
            yield from part.flat()


def _as_money(found: Any) -> Decimal | None:
    kept: Value | None = None if isinstance(found, Open) else rounded(found, "money")
    return kept if isinstance(kept, Decimal) else None


def money_sheets(sheet: Evaluator) -> tuple[MoneySheet, ...]:
    """Return the sheets of a deal, those of our client's own money first, with the price that moves them:
    what is offered, as soon as something is, else what is asked."""
    side = sheet.ledger.side
    is_offered = not side.is_lease and sheet.held(_OFFERED).value is not None
    return _read(side, _OFFERED if is_offered else side.price)


@cache
def _read(side: Side, price: str) -> tuple[MoneySheet, ...]:
    rows = yaml.safe_load(_FILE.read_text(encoding="utf-8"))

    def named(key: str) -> str:
        return price if key == PRICE else key

    return tuple(
        MoneySheet(
            row["name"],
            row["title"],
            row["form"],
            row["result"],
            tuple(named(key) for key in row["set_by"]),
            tuple(Ask(named(a["vary"]), a["of"], a["says"]) for a in row["asks"]),
        )
        for row in sorted(rows, key=lambda row: row["sides"][0] != side)
        if side in row["sides"]
    )


@cache
def lines_of(result: str) -> tuple[MoneyLine, ...]:
    """Return the lines of a sum of the catalog, sums among them taken apart further."""
    catalog = load_catalog()
    return tuple(_lines(catalog_rules(catalog)[result].tree, catalog, 1, 0))


def _lines(tree: Node, catalog: Catalog, sign: int, level: int) -> Iterator[MoneyLine]:
    for node, its_sign in _addends(tree, sign):
        key = _speaks_of(node, catalog)
        if key is not None:
            yield MoneyLine(key, its_sign, node, level, _parts(key, node, catalog, its_sign, level))


def _parts(key: str, node: Node, catalog: Catalog, sign: int, level: int) -> tuple[MoneyLine, ...]:
    """Return the lines of a fact that is itself a sum of facts; none for any other. A difference of two is
    taken apart only where it stands first: within a list it is one thing, such as a share."""
    rule = catalog_rules(catalog).get(key)
    if rule is None or not _is_plain(node) or not _is_a_sum(rule.tree):
        return ()
    parts = tuple(_lines(rule.tree, catalog, sign, level + 1))
    least = 2 if level == 0 else 3
    return parts if len(parts) >= least and all(_is_of_facts(part.node) for part in parts) else ()


def _is_of_facts(node: Node) -> bool:
    """Return whether an addend is a fact, or one on a condition; no share or premium worked out on the
    spot."""
    if isinstance(node, Call) and node.name == "if":
        _, then, otherwise = node.args
        return (_is_zero(then) or _is_plain(then)) and (_is_zero(otherwise) or _is_plain(otherwise))
    return _is_plain(node)


def _is_plain(node: Node) -> bool:
    """Return whether it is a fact, or ``coalesce(fact, 0)``."""
    if isinstance(node, Call) and node.name == "coalesce" and len(node.args) == 2:
        first, other = node.args
        return isinstance(first, Ref) and _is_zero(other)
    return isinstance(node, Ref)


def _is_zero(node: Node) -> bool:
    if isinstance(node, Call) and node.name == "money" and len(node.args) == 1:
        return _is_zero(node.args[0])
    return isinstance(node, Literal) and node.value == 0


def _is_a_sum(tree: Node) -> bool:
    if isinstance(tree, Call) and tree.name == "if":
        return _branch(tree) is not None
    return isinstance(tree, Call) and tree.name in ("+", "-")


def _branch(tree: Call) -> Node | None:
    """Return the sum of ``if(test, money(0), sum)``; None for any other choice."""
    _, then, otherwise = tree.args
    return otherwise if _is_zero(then) and isinstance(otherwise, Call) and otherwise.name == "+" else None


def _addends(tree: Node, sign: int) -> Iterator[tuple[Node, int]]:
    """Yield the addends of a formula with their signs; those of a sum that holds on a condition with the
    condition."""
    if isinstance(tree, Call) and tree.name in ("+", "-") and len(tree.args) == 2:
        left, right = tree.args
        yield from _addends(left, sign)
        yield from _addends(right, sign if tree.name == "+" else -sign)
        return
    within = _branch(tree) if isinstance(tree, Call) and tree.name == "if" else None
    if isinstance(tree, Call) and within is not None:
        test, then, _ = tree.args
        for node, its_sign in _addends(within, sign):
            yield Call(tree.column, "if", (test, then, node)), its_sign
        return
    yield tree, sign


def _speaks_of(node: Node, catalog: Catalog) -> str | None:
    """Return the first amount of money that an addend looks at."""
    if isinstance(node, Ref):
        fact = catalog.find(node.key)
        return node.key if fact is not None and fact.kind in _MONEY else None
    if isinstance(node, Call):
        found = (_speaks_of(arg, catalog) for arg in node.args)
        return next((key for key in found if key is not None), None)
    return None
