"""The part of OData's $filter that listing services are usually asked for."""

from __future__ import annotations

import operator
import re
from collections.abc import Callable, Mapping
from datetime import date
from typing import Any

_TOKEN = re.compile(
    r"\s*(?:(?P<text>'(?:[^']|'')*')|(?P<day>\d{4}-\d\d-\d\d)|(?P<number>-?\d+(?:\.\d+)?)|(?P<word>[A-Za-z_]+)|(?P<sign>[(),]))"
)
_COMPARE: dict[str, Callable[[Any, Any], bool]] = {
    "eq": operator.eq,
    "ne": operator.ne,
    "gt": operator.gt,
    "ge": operator.ge,
    "lt": operator.lt,
    "le": operator.le,
}
_FUNCTIONS: dict[str, Callable[[str, str], bool]] = {
    "contains": lambda a, b: b in a,
    "startswith": lambda a, b: a.startswith(b),
    "endswith": lambda a, b: a.endswith(b),
}
Record = Mapping[str, Any]
Test = Callable[[Record], Any]


class BadFilter(ValueError):
    """The filter can't be understood."""


def compile_filter(text: str) -> Test:
    """Return a test for records.  Text compares without regard to case, as listing services do."""
    tokens, at = [], 0
    while at < len(text.rstrip()):
        m = _TOKEN.match(text, at)
        if m is None:
            raise BadFilter(f"can't read the filter at {at}")
        tokens.append((m.lastgroup or "", m.group(m.lastgroup or 0)))
        at = m.end()
    parser = _Parser([*tokens, ("end", "")])
    test = parser.either()
    if parser.now[0] != "end":
        raise BadFilter(f"“{parser.now[1]}” is left over")
    return test


class _Parser:
    def __init__(self, tokens: list[tuple[str, str]]) -> None:
        self.tokens = tokens

    @property
    def now(self) -> tuple[str, str]:
        return self.tokens[0]

    def take(self, *wanted: str) -> str:
        if wanted and self.now[1] not in wanted:
            raise BadFilter(f"“{wanted[0]}” is missing before “{self.now[1]}”")
        return self.tokens.pop(0)[1]

    def either(self) -> Test:
        tests = [self.both()]
        while self.now == ("word", "or"):
            self.take()
            tests.append(self.both())
        return lambda r: any(t(r) for t in tests)

    def both(self) -> Test:
        tests = [self.one()]
        while self.now == ("word", "and"):
            self.take()
            tests.append(self.one())
        return lambda r: all(t(r) for t in tests)

    def one(self) -> Test:
        if self.now == ("word", "not"):
            self.take()
            inner = self.one()
            return lambda r: not inner(r)
        if self.now[1] == "(":
            self.take()
            inner = self.either()
            self.take(")")
            return inner
        left = self.value()
        if self.now[1] not in _COMPARE:
            return left
        compare = _COMPARE[self.take()]
        right = self.value()

        def test(record: Record) -> bool:
            a, b = left(record), right(record)
            if a is None or b is None:
                return compare in (operator.eq, operator.ne) and (a is b) is (compare is operator.eq)
            try:
                return bool(compare(a, b))
            except TypeError:
                return False

        return test

    def value(self) -> Test:
        kind, text = self.tokens.pop(0)
        if kind == "text":
            said = text[1:-1].replace("''", "'").casefold()
            return lambda r: said
        if kind == "number":
            return lambda r: float(text)
        if kind == "day":
            return lambda r: date.fromisoformat(text).isoformat()
        if kind != "word":
            raise BadFilter(f"“{text}” is where a value should be")
        if text in ("true", "false", "null"):
            return lambda r: {"true": True, "false": False, "null": None}[text]
        if self.now[1] == "(":
            return self.call(text)
        return lambda r: _folded(r.get(text))

    def call(self, name: str) -> Test:
        self.take("(")
        args = [self.value()]
        while self.now[1] == ",":
            self.take()
            args.append(self.value())
        self.take(")")
        if name in ("tolower", "toupper") and len(args) == 1:
            return args[0]
        if name not in _FUNCTIONS or len(args) != 2:
            raise BadFilter(f"there is no function “{name}” here")
        return lambda r: _FUNCTIONS[name](str(args[0](r) or ""), str(args[1](r) or ""))


def _folded(value: Any) -> Any:
    return (
        value.casefold()
        if isinstance(value, str)
        else float(value)
        if isinstance(value, int) and not isinstance(value, bool)
        else value
    )
