"""Why a value is what it is: the formula in words, with the figures that it was worked out from."""

from __future__ import annotations

from datetime import date
from decimal import Decimal

from quillcore.facts.keys import GROUPS
from quillcore.facts.ledger import Source
from quillcore.formulas.evaluation import Open, evaluate
from quillcore.formulas.evaluator import Evaluator
from quillcore.formulas.syntax import Call, Literal, Node, Ref
from quillcore.values import EMPTY, KINDS

LONGEST = 400
"""Characters of a reason: beyond that nobody reads on, and the facts themselves say more."""
_TOLD = ("money", "exact_money", "number", "integer", "percent", "date")
"""Kinds whose values are asked about; texts put together say themselves what of."""
_SIGNS = {"+": "+", "-": "−", "*": "×", "/": "÷"}
_LOOSE = ("+", "-")
_THROUGH = ("round", "money", "words", "upper", "hundredth")
"""Functions that change how a value is written, and give no reason for it."""
_IN_WORDS = {
    "payment": "the monthly payment on {0} at {1} over {2} months",
    "prepaid_interest": "the interest on {0} at {1} from {2} to the month's end",
    "title_premium": "the title premium for {0}",
    "transfer_tax": "the transfer tax on {0}",
    "tax_owed": "the taxes of {0} up to {1}",
    "days_between": "the days from {0} to {1}",
    "months_after": "{1} months after {0}",
    "lease_end": "{1} months from {0}",
    "lease_months": "the months from {0} to {1}",
    "part_month_rent": "the part of {0} for the month that begins on {1}",
    "days_after_as_is": "{1} days after {0}",
    "min": "the least of {all}",
    "max": "the largest of {all}",
    "sum": "{all}",
}


def why(sheet: Evaluator, key: str) -> str:
    """Return how a shown key's value was worked out; "" where it was stated, is still open, or is a text."""
    rule = sheet.rules.get(key)
    if rule is None or rule.kind not in _TOLD or sheet.held(key).source is not Source.WORKED_OUT:
        return ""
    return told(sheet, rule.tree)


def told(sheet: Evaluator, tree: Node) -> str:
    """Return a formula in words, with the figures that are known; "" where that would be too long to read."""
    said = _Teller(sheet).told(tree)
    return said if len(said) <= LONGEST else ""


class _Teller:
    """Tells trees over one sheet."""

    def __init__(self, sheet: Evaluator) -> None:
        self.sheet = sheet

    def told(self, node: Node) -> str:
        """Return a tree in words; "" where it has nothing to say, such as a nought that is added."""
        if isinstance(node, Literal):
            return self.literal(node)
        if isinstance(node, Ref):
            return self.fact(node.key)
        if node.name == "if":
            decided = evaluate(node.args[0], self.sheet.result, self.sheet.setting)
            return self.told(node.args[1] if decided is True else node.args[2])
        if node.name == "coalesce":
            return self.told(next((a for a in node.args if not self.is_open(a)), node.args[-1]))
        if node.name in _THROUGH:
            return self.told(node.args[0])
        if node.name in _SIGNS:
            return self.arithmetic(node)
        return self.deadline(node) or self.function(node)

    def is_open(self, node: Node) -> bool:
        return isinstance(evaluate(node, self.sheet.result, self.sheet.setting), Open)

    def literal(self, node: Literal) -> str:
        if isinstance(node.value, Decimal):
            text = f"{node.value.normalize():f}" if node.value else ""
            return f"{text}%" if text and node.kind == "percent" else text
        return "" if isinstance(node.value, bool) else node.value

    def fact(self, key: str) -> str:
        """Return a fact's label with its value."""
        fact, value = self.sheet.ledger.catalog.find(key), self.sheet.held(key).value
        if fact is None or key in GROUPS:
            return ""
        if value is None or value is EMPTY:
            return fact.label.lower()
        return f"{fact.label.lower()} {KINDS[fact.kind].on_screen(value)}"

    def arithmetic(self, node: Call) -> str:
        left, right = node.args
        sides = [self.told(left), self.told(right)]
        if not all(sides):
            return sides[0] or (f"− {sides[1]}" if node.name == "-" and sides[1] else sides[1])
        binds = node.name not in _LOOSE
        if binds and _is_loose(left):
            sides[0] = f"({sides[0]})"
        if (binds or node.name == "-") and _is_loose(right):
            sides[1] = f"({sides[1]})"
        return f"{sides[0]} {_SIGNS[node.name]} {sides[1]}"

    def deadline(self, node: Call) -> str:
        """Return a day that was counted, with what was skipped; "" for any other function."""
        calendar = self.sheet.setting.calendar
        explain = {
            "business_days_after": calendar.explain_business_days,
            "days_after": calendar.explain_days,
        }.get(node.name)
        if explain is None:
            return ""
        start, count = (evaluate(arg, self.sheet.result, self.sheet.setting) for arg in node.args)
        if not isinstance(start, date) or not isinstance(count, Decimal):
            return self.period(node, count)
        first = node.args[0]
        fact = self.sheet.ledger.catalog.find(first.key) if isinstance(first, Ref) else None
        return explain(start, int(count), fact.label.lower() if fact is not None else "that day").explanation

    def period(self, node: Call, count: object) -> str:
        """Return a deadline whose beginning isn't known yet: "3 business days after acceptance date"."""
        what = "business day" if node.name == "business_days_after" else "day"
        start = self.told(node.args[0])
        if not isinstance(count, Decimal):
            said = self.told(node.args[1])
            return f"{what}s after {start}: {said}" if start and said else ""
        number, direction = abs(int(count)), "before" if count < 0 else "after"
        return f"{number} {what}{'s' * (number != 1)} {direction} {start}" if start else ""

    def function(self, node: Call) -> str:
        told = [self.told(arg) for arg in node.args]
        if node.name not in _IN_WORDS or not all(told):
            return ""
        return _IN_WORDS[node.name].format(*told, all=", ".join(told))


def _is_loose(node: Node) -> bool:
    return isinstance(node, Call) and node.name in _LOOSE


__all__ = ["told", "why"]
