"""Text to tree.  Every node knows its column, so that a fault can point at it."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from decimal import Decimal
from functools import lru_cache

from quillcore.values import Fault
from quillcore.values.kinds import LONGEST

MAX_LENGTH, MAX_DEPTH = 4000, 40
MAX_WORDING = 2 * LONGEST
"""Of a formula that is one wording: a text of LONGEST characters, each of which may need a backslash."""
LARGEST = Decimal(10) ** 15

_TOKEN = re.compile(
    r"""\s*(?:
      (?P<number>(\d+(\.\d+)?|\.\d+)%?)
    | (?P<text>"(?:[^"\\]|\\.)*"|'(?:[^'\\]|\\.)*')
    | (?P<name>[A-Za-z_][A-Za-z0-9_\-]*(?:\.[A-Za-z0-9_\-]+)*)
    | (?P<sign><=|>=|!=|[-+*/=<>(),])
    )""",
    re.VERBOSE,
)
_WORDS = {"and", "or", "not"}
_POWER = {
    "or": 1,
    "and": 2,
    "=": 4,
    "!=": 4,
    "<": 4,
    "<=": 4,
    ">": 4,
    ">=": 4,
    "+": 5,
    "-": 5,
    "*": 6,
    "/": 6,
}


@dataclass(frozen=True)
class Literal:
    """A number, percent, text or truth value; ``kind`` names which."""

    column: int
    kind: str
    value: Decimal | str | bool


@dataclass(frozen=True)
class Ref:
    """A fact by key, or a party group (``buyers``)."""

    column: int
    key: str


@dataclass(frozen=True)
class Call:
    """A function or operator and its arguments."""

    column: int
    name: str
    args: tuple[Node, ...]


Node = Literal | Ref | Call


@dataclass(frozen=True)
class _Token:
    kind: str
    text: str
    column: int


class _Trouble(Exception):
    """Internal: carries the fault out of the recursion."""

    def __init__(self, message: str, column: int, mend: str = "") -> None:
        super().__init__(message)
        self.fault = Fault("formula", message, mend, f"column {column}")


def _tokens(text: str) -> list[_Token]:
    found, at = [], 0
    while at < len(text.rstrip()):
        m = _TOKEN.match(text, at)
        if m is None:
            start = at + len(text[at:]) - len(text[at:].lstrip())
            raise _Trouble(f"“{text[start]}” can't be used in a formula.", start + 1)
        kind = m.lastgroup or ""
        word = m.group(kind)
        found.append(_Token("sign" if word in _WORDS else kind, word, m.start(kind) + 1))
        at = m.end()
    found.append(_Token("end", "", len(text) + 1))
    return found


class _Parser:
    def __init__(self, text: str) -> None:
        self.tokens = _tokens(text)
        self.at = 0

    @property
    def now(self) -> _Token:
        return self.tokens[self.at]

    def take(self, sign: str | None = None) -> _Token:
        token = self.now
        if sign is not None and token.text != sign:
            raise _Trouble(
                f"“{sign}” is missing" + (f" before “{token.text}”." if token.text else " at the end."),
                token.column,
            )
        self.at += 1
        return token

    def expression(self, least: int = 0, depth: int = 0) -> Node:
        if depth > MAX_DEPTH:
            raise _Trouble(
                f"The formula is nested deeper than {MAX_DEPTH}.",
                self.now.column,
                "Split it into facts of its own.",
            )
        left = self.prefix(depth)
        while self.now.kind == "sign" and _POWER.get(self.now.text, -1) >= max(least, 1):
            sign = self.take()
            power = _POWER[sign.text]
            right = self.expression(power + 1, depth + 1)
            if power == 4 and self.now.kind == "sign" and _POWER.get(self.now.text) == 4:
                raise _Trouble("Comparisons don't chain.", self.now.column, "Join two of them with “and”.")
            left = Call(sign.column, sign.text, (left, right))
        return left

    def prefix(self, depth: int) -> Node:
        token = self.take()
        if token.kind == "number":
            percent = token.text.endswith("%")
            number = Decimal(token.text.rstrip("%"))
            if number >= LARGEST:
                raise _Trouble(f"{token.text[:20]}… is too large a number.", token.column)
            return Literal(token.column, "percent" if percent else "number", number)
        if token.kind == "text":
            return Literal(token.column, "text", re.sub(r"\\(.)", r"\1", token.text[1:-1]))
        if token.text == "not":
            return Call(token.column, "not", (self.expression(3, depth + 1),))
        if token.text == "-":
            return Call(token.column, "negative", (self.expression(7, depth + 1),))
        if token.text == "(":
            inner = self.expression(0, depth + 1)
            self.take(")")
            return inner
        if token.kind == "name":
            if token.text in ("true", "false"):
                return Literal(token.column, "yes_no", token.text == "true")
            return self.call(token, depth) if self.now.text == "(" else Ref(token.column, token.text)
        what = f"“{token.text}”" if token.text else "The end of the formula"
        raise _Trouble(f"{what} is where a value should be.", token.column)

    def call(self, name: _Token, depth: int) -> Node:
        self.take("(")
        args: list[Node] = []
        while self.now.text != ")" or (args and self.tokens[self.at - 1].text == ","):
            args.append(self.expression(0, depth + 1))
            if self.now.text != ")":
                self.take(",")
        self.take(")")
        return Call(name.column, name.text, tuple(args))


@lru_cache(maxsize=4096)
def parse(text: str) -> Node | Fault:
    """Return the tree of a formula, or the first fault with its column."""
    most = MAX_WORDING if text.startswith('says("') else MAX_LENGTH
    if len(text) > most:
        return Fault("formula", f"A formula has {most:,} characters at most; this one has {len(text):,}.")
    try:
        parser = _Parser(text)
        tree = parser.expression()
        if parser.now.kind != "end":
            raise _Trouble(f"“{parser.now.text}” is left over.", parser.now.column)
    except _Trouble as trouble:
        return trouble.fault
    return tree


def walk(node: Node) -> Iterator[Node]:
    """Yield the node and everything under it."""
    yield node
    if isinstance(node, Call):
        for arg in node.args:
            yield from walk(arg)


@lru_cache(maxsize=8192)
def literals(node: Node) -> list[Literal]:
    """Return the values that the formula names itself."""
    return [n for n in walk(node) if isinstance(n, Literal)]


def references(node: Node) -> frozenset[str]:
    """Return keys of facts and party groups that the formula reads."""
    return frozenset(n.key for n in walk(node) if isinstance(n, Ref))
