"""Questions to people for a blank's value, by part of the work: questions.yaml, read once."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from fnmatch import fnmatchcase
from functools import cache
from pathlib import Path
from typing import Any

import yaml

from quillcore.facts.catalog import Fact
from quillcore.values import KINDS

_FILE = Path(__file__).with_name("questions.yaml")
_MOST_NAMED = 3
"""Choices that a question names; more are read faster where they stand to be chosen."""
_SPAN = re.compile(
    r"(.*\S) (in|for|by) (business days|days|months|years|hours|feet|percent)\b(.*)", re.IGNORECASE
)
"""A label that says in what it is counted: "Notice to end in days"."""


@dataclass(frozen=True)
class Section:
    """A part of the work; which keys and kinds of value belong to it."""

    name: str
    title: str
    keys: tuple[str, ...] = ()
    kinds: tuple[str, ...] = ()

    def has(self, key: str, kind: str) -> bool:
        """Return whether a fact belongs here."""
        return kind in self.kinds or any(fnmatchcase(key, one) for one in self.keys)


@cache
def _read() -> dict[str, Any]:
    found: dict[str, Any] = yaml.safe_load(_FILE.read_text(encoding="utf-8"))
    return found


@cache
def _fitting() -> tuple[Section, ...]:
    rows = _read()["sections"]
    return tuple(
        Section(r["name"], r["title"], tuple(r.get("keys", ())), tuple(r.get("kinds", ()))) for r in rows
    )


def sections() -> tuple[Section, ...]:
    """Return the parts of the work, in the order in which one works."""
    by_name = {section.name: section for section in _fitting()}
    return tuple(by_name[name] for name in _read()["order"])


def section_of(fact: Fact) -> str:
    """Return the name of the part that a fact belongs to; "" for the rest, which is asked form by form."""
    return next((s.name for s in _fitting() if s.has(fact.key, fact.kind)), "")


def asked(fact: Fact) -> str:
    """Return how somebody is asked for a fact."""
    said: str | None = _read()["ask"].get(fact.key)
    return said or worded(fact.label, fact.kind, fact.options)


def worded(label: str, kind: str, options: Sequence[str] = ()) -> str:
    """Return the question that a label comes to: "Notice to end: how many days?", "Expenses: nothing or
    some?"."""
    if label.endswith("?"):
        return label
    if KINDS[kind].counted and (spans := _SPAN.fullmatch(label)) is not None:
        return _counted(*spans.groups())
    if options and set(options) != {"yes", "no"}:
        few = 1 < len(options) <= _MOST_NAMED
        return f"{label}: {', '.join(options[:-1])} or {options[-1]}?" if few else f"{label}: which one?"
    said = KINDS[kind].ask
    return f"{label}: {said}" if said else f"{label}?"


def _counted(before: str, how: str, unit: str, behind: str) -> str:
    """Return "Notice to end", "in", "days", "" as a question."""
    many = "what percent" if unit.lower() == "percent" else f"how many {unit}"
    return f"{before}: {many if how == 'in' else f'{how} {many}'}{behind}?"
