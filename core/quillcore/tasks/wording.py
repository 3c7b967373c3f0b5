"""By when, as people say it: "6/3", "3 business days after acceptance", "2 days before closing", or a
formula."""

from __future__ import annotations

import re
from datetime import date
from typing import NamedTuple

from quillcore.facts import Catalog, Side
from quillcore.facts.catalog import Fact
from quillcore.formulas import Node, parse
from quillcore.formulas.syntax import Call, Literal, Ref
from quillcore.templates.model import read_date_rule
from quillcore.values import KINDS, Fault

_PERIOD = re.compile(
    r"(?P<count>\d{1,3})\s*(?P<what>business days?|working days?|bd|calendar days?|days?|d|weeks?)"
    r"\s+(?P<way>after|from|before|prior to)\s+(?:the\s+)?(?P<of>.+)",
    re.IGNORECASE,
)
_ON = re.compile(r"(?:on|at|by)?\s*(?:the\s+)?(?:day\s+of\s+)?(?:the\s+)?(?P<of>.+)", re.IGNORECASE)
_BUSINESS = ("business day", "working day", "bd")
_FIRST = ("terms.acceptance_date", "terms.closing_date", "lease.start", "lease.end", "listing.list_date")
"""The starting day of most periods: first where several dates are called so."""


class When(NamedTuple):
    """The day that a text gave: a ``rule`` (a formula that gives a date), a ``day``, or neither."""

    rule: str = ""
    day: date | None = None


def read_when(text: str, catalog: Catalog, side: Side) -> When | Fault:
    """Return what somebody typed; "" leaves it open."""
    said = " ".join(text.split())
    if not said:
        return When()
    if said.startswith("="):
        return _formula(said[1:].strip(), catalog)
    if found := _PERIOD.fullmatch(said):
        return _period(found, catalog, side)
    day = KINDS["date"].read(said)
    if not isinstance(day, Fault):
        assert isinstance(day, date)
        return When(day=day)
    named = _ON.fullmatch(said)
    fact = _date_called(named["of"] if named else said, catalog, side)
    return When(rule=fact.key) if fact is not None else _no_such(said, catalog, side)


def _formula(text: str, catalog: Catalog) -> When | Fault:
    found = read_date_rule(text, catalog)
    return found if isinstance(found, Fault) else When(rule=text)


def _period(found: re.Match[str], catalog: Catalog, side: Side) -> When | Fault:
    fact = _date_called(found["of"], catalog, side)
    if fact is None:
        return _no_such(found["of"], catalog, side)
    what = found["what"].lower()
    count = int(found["count"]) * (7 if what.startswith("week") else 1)
    sign = "-" if found["way"].lower() in ("before", "prior to") else ""
    name = "business_days_after" if what.rstrip("s") in _BUSINESS else "days_after"
    return When(rule=f"{name}({fact.key}, {sign}{count})")


def key_dates(catalog: Catalog, side: Side) -> list[Fact]:
    """Return the dates that a rule of that side may count from, those first that most count from."""
    dates = [
        f
        for f in catalog
        if f.kind == "date" and catalog.belongs(f.group, side) and f.own_side in (None, side)
    ]
    usual = [f for key in _FIRST for f in dates if f.key == key]
    return [*usual, *(f for f in dates if f not in usual)]


def _date_called(name: str, catalog: Catalog, side: Side) -> Fact | None:
    """Return the date that people call so: by its key, its label, how that begins, or words of it."""
    said = name.strip(" .").casefold()
    dates = key_dates(catalog, side)
    ways = (
        lambda f: said in (f.key, f.label.casefold()),
        lambda f: f.label.casefold().startswith(said),
        lambda f: f.due.casefold().startswith(said),
        lambda f: set(said.split()) <= set(f.label.casefold().split()),
    )
    return next((f for way in ways for f in dates if way(f)), None)


def _no_such(text: str, catalog: Catalog, side: Side) -> Fault:
    some = ", ".join(f.label.lower() for f in key_dates(catalog, side)[:2])
    return Fault(
        "when",
        f"“{text}” is not a date or a period that we know.",
        f"Write a date, or a period such as “3 business days after acceptance” (it counts from {some} …).",
    )


def in_words(rule: str, catalog: Catalog) -> str:
    """Return a rule as ``read_when`` reads it again: in words where there are any for it, else as a
    formula."""
    tree = parse(rule)
    said = None if isinstance(tree, Fault) else _said(tree, catalog)
    return said if said is not None else f"= {rule}" if rule else ""


def _said(tree: Node, catalog: Catalog) -> str | None:
    if isinstance(tree, Ref):
        fact = catalog.find(tree.key)
        return fact.label.lower() if fact is not None else None
    if not isinstance(tree, Call) or tree.name not in ("business_days_after", "days_after"):
        return None
    start, count = tree.args
    label, number = _said(start, catalog), _number(count)
    if label is None or number is None or not isinstance(start, Ref):
        return None
    what = "business day" if tree.name == "business_days_after" else "day"
    way = "before" if number < 0 else "after"
    return f"{abs(number)} {what}{'s' * (abs(number) != 1)} {way} {label}"


def _number(tree: Node) -> int | None:
    """Return a whole number as a formula has it, a minus before it included."""
    if isinstance(tree, Literal) and not isinstance(tree.value, (bool, str)):
        return int(tree.value)
    is_negative = isinstance(tree, Call) and tree.name in ("-", "negative") and len(tree.args) in (1, 2)
    if not is_negative:
        return None
    assert isinstance(tree, Call)
    last = _number(tree.args[-1])
    first = _number(tree.args[0]) if len(tree.args) == 2 else 0
    return None if last is None or first != 0 else -last
