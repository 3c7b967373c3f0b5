"""Working a tree out.  The answer is a value, or open with what it waits for, or broken with the reason."""

from __future__ import annotations

import operator
from collections.abc import Callable
from dataclasses import dataclass
from datetime import date
from decimal import Decimal, InvalidOperation, Overflow, localcontext
from typing import Any

from quillcore.facts.wording import GAP
from quillcore.formulas.functions import EAGER, FormulaRefused, Setting
from quillcore.formulas.syntax import LARGEST, Call, Literal, Node, Ref
from quillcore.money import Rates
from quillcore.values import EMPTY, Fault, shown
from quillcore.values.kinds import LONGEST

__all__ = ["Broken", "Open", "Rates", "Result", "Setting", "evaluate"]


@dataclass(frozen=True)
class Open:
    """Not known yet: the keys it waits for, sorted."""

    missing: tuple[str, ...]


@dataclass(frozen=True)
class Broken:
    """There is no answer (division by zero, an absurd number): the fault says why."""

    fault: Fault


_OPERATORS: dict[str, Callable[[Any, Any], Any]] = {
    "+": operator.add,
    "-": operator.sub,
    "*": operator.mul,
    "/": operator.truediv,
    "<": operator.lt,
    "<=": operator.le,
    ">": operator.gt,
    ">=": operator.ge,
}
Result = Any  # a value, a tuple of parties, Open or Broken
Lookup = Callable[[str], Result]


def evaluate(tree: Node, lookup: Lookup, setting: Setting) -> Result:
    """Return the result of a checked formula.  ``lookup`` gives the result for a key; nothing is rounded
    here."""
    with localcontext() as context:
        context.prec = 34
        try:
            return _Evaluator(lookup, setting).result(tree)
        except FormulaRefused as refused:
            return Broken(Fault("formula", f"This can't be calculated: {refused}."))
        except (Overflow, InvalidOperation, OverflowError):
            return Broken(Fault("formula", "This can't be calculated: a number gets too large."))


def _open(*results: Result) -> Open | None:
    keys = {key for r in results if isinstance(r, Open) for key in r.missing}
    return Open(tuple(sorted(keys))) if keys else None


class _Evaluator:
    def __init__(self, lookup: Lookup, setting: Setting) -> None:
        self.lookup = lookup
        self.setting = setting

    def result(self, node: Node) -> Result:
        if isinstance(node, Literal):
            return node.value
        if isinstance(node, Ref):
            return self.lookup(node.key)
        lazy = getattr(self, f"lazy_{node.name}", None)
        return lazy(node.args) if lazy else self.eager(node)

    def lazy_if(self, args: tuple[Node, ...]) -> Result:
        test = self.plain(self.result(args[0]))
        if isinstance(test, (Open, Broken)):
            return test
        return self.result(args[1] if test else args[2])

    def lazy_coalesce(self, args: tuple[Node, ...]) -> Result:
        results = []
        for arg in args:
            found = self.result(arg)
            if not isinstance(found, Open):
                return found
            results.append(found)
        return _open(*results)

    def lazy_and(self, args: tuple[Node, ...]) -> Result:
        return self.either(args, decides=False)

    def lazy_or(self, args: tuple[Node, ...]) -> Result:
        return self.either(args, decides=True)

    def either(self, args: tuple[Node, ...], decides: bool) -> Result:
        found = []
        for arg in args:
            result = self.plain(self.result(arg))
            if isinstance(result, Broken) or result is decides:
                return result
            found.append(result)
        return _open(*found) or (not decides)

    def lazy_not(self, args: tuple[Node, ...]) -> Result:
        found = self.plain(self.result(args[0]))
        return found if isinstance(found, (Open, Broken)) else not found

    def lazy_date(self, args: tuple[Node, ...]) -> Result:
        assert isinstance(args[0], Literal)
        return date.fromisoformat(str(args[0].value))

    def lazy_wording(self, args: tuple[Node, ...]) -> Result:
        """Return a wording, whose facts leave a gap while they are open; put in by the checker for
        ``says``."""
        return self.bounded("".join(str(self.result(arg)) for arg in args))

    def lazy_shown(self, args: tuple[Node, ...]) -> Result:
        """Return a fact within a wording, as its kind is shown."""
        found = self.result(args[0])
        assert isinstance(args[1], Literal)
        return GAP if isinstance(found, (Open, Broken, tuple)) else shown(found, str(args[1].value))

    def lazy_hundredth(self, args: tuple[Node, ...]) -> Result:
        """Return a percent as a factor; put in by the checker, since percents are kept as people say them
        (5.25)."""
        found = self.result(args[0])
        if isinstance(found, (Open, Broken)):
            return found
        return (Decimal(0) if found is EMPTY else found) / 100

    def eager(self, node: Call) -> Result:
        args = [self.result(arg) for arg in node.args]
        for found in args:
            if isinstance(found, Broken):
                return found
        if waiting := _open(*args):
            return waiting
        if node.name in ("=", "!="):
            return self.compared(node.name, *args)
        if node.name in EAGER:
            return self.bounded(self.called(node.name, args))
        return self.bounded(self.operator(node.name, [Decimal(0) if a is EMPTY else a for a in args]))

    def called(self, name: str, args: list[Any]) -> Result:
        function = EAGER[name]
        if function.needs_rates and self.setting.rates is None:
            raise FormulaRefused("no rates are available; they come with a pack")
        takes = [t.rstrip("*") for t in function.takes]
        takes += takes[-1:] * (len(args) - len(takes))
        plain = [self.empty_as(want) if a is EMPTY else a for a, want in zip(args, takes, strict=True)]
        return function.compute(self.setting, *plain)

    @staticmethod
    def empty_as(wanted: str) -> Result:
        """Return the value of an intentionally empty answer: it counts as 0 where money is added, and is no
        text elsewhere; a day it can't be."""
        if wanted == "date":
            raise FormulaRefused("a date that it needs was left blank on purpose")
        return "" if wanted in ("text", "any") else Decimal(0)

    @staticmethod
    def operator(name: str, args: list[Any]) -> Result:
        if name == "negative":
            return -args[0]
        a, b = args
        if name == "/" and b == 0:
            raise FormulaRefused("it would divide by zero")
        if isinstance(a, date) != isinstance(b, date):
            raise FormulaRefused("a date that it needs was left blank on purpose")
        return _OPERATORS[name](a, b)

    @staticmethod
    def compared(name: str, a: Any, b: Any) -> bool:
        a, b = ("" if x is EMPTY else x for x in (a, b))
        equal = a.casefold() == b.casefold() if isinstance(a, str) and isinstance(b, str) else a == b
        return bool(equal is (name == "="))

    @staticmethod
    def plain(found: Result) -> Result:
        """Return a truth value; intentionally empty isn't true."""
        return False if found is EMPTY else found

    @staticmethod
    def bounded(found: Result) -> Result:
        if isinstance(found, Decimal) and abs(found) >= LARGEST:
            raise FormulaRefused("a number gets too large")
        if isinstance(found, str) and len(found) > LONGEST:  # texts joined to texts double at each step
            raise FormulaRefused(f"its text would have more than {LONGEST:,} characters")
        return found
