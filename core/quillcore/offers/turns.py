"""A turn in a negotiation: which terms it puts otherwise, and what a counter-offer or an amendment then says.

A turn is made over two sheets, the terms as they stood and as they would be.  What follows from a stated
term moves with it: where the deposit is a share of the price, a countered price counters the deposit, and the
paper says so, since what is agreed has to be what the paper says.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from datetime import date, time
from decimal import Decimal
from typing import Literal

from quillcore.facts import Fact, Side, load_catalog
from quillcore.facts.keys import name_of
from quillcore.facts.scopes import TERMS
from quillcore.forms.counteroffer_blanks import Says, TurnPart, read_turn
from quillcore.forms.model import Mapping, Meaning
from quillcore.formulas import Evaluator
from quillcore.values import EMPTY, Value, shown

_OF_THE_DAY = ("offer_date", "expiry_date", "expiry_time", "acceptance_date", "deposit_received_on")
"""Terms that say when something was done, not what is agreed: a turn has days of its own."""


@dataclass(frozen=True)
class Heading:
    """The head of a turn: the ``number`` of its kind, who makes it ("seller", "buyer", as the boxes of its
    form say) and when, the turn that it answers, and until when it may be accepted."""

    number: int
    maker: str
    day: date
    answers: Literal["offer", "counter-offer"]
    answers_day: date | None
    expires: date | None = None
    expires_at: time | None = None


def may_be_countered(side: Side) -> list[Fact]:
    """Return the terms that a turn may put otherwise, in the catalog's order: all that are stated and
    agreed."""
    catalog = load_catalog()
    return [
        fact
        for fact in catalog
        if fact.group in TERMS
        and catalog.belongs(fact.group, side)
        and (fact.formula is None or fact.pair is not None)
        and name_of(fact.key) not in _OF_THE_DAY
    ]


def parts_of(mapping: Mapping) -> list[tuple[Meaning, str, TurnPart]]:
    """Return each blank that states a part of a turn, with its name (a group's boxes by the group's) and that
    part."""
    return [
        (m, m.group or m.id, part)
        for m in mapping.meanings
        if m.turn and (part := read_turn(m.turn)) is not None
    ]


def stated_in(mapping: Mapping) -> frozenset[str]:
    """Return the terms that have a line of their own on the paper of a turn: those are countered most."""
    return frozenset(key for _, _, part in parts_of(mapping) if part.says is Says.TO for key in part.keys)


def moved(keys: Iterable[str], before: Evaluator, after: Evaluator) -> list[str]:
    """Return those of the keys that say something else afterwards."""
    return [key for key in keys if _value(before, key) != _value(after, key)]


def answers_for(
    mapping: Mapping,
    heading: Heading,
    stated: Sequence[str],
    before: Evaluator,
    after: Evaluator,
    section_of: Callable[[str], str],
) -> dict[str, Value]:
    """Return what the form's own blanks say of a turn, by their names (a group's boxes by the group's).

    ``stated`` are the keys that the turn states; ``section_of`` gives the section of the agreement that a
    term stands in, "" where it isn't known.  A blank that has nothing to say is left out.
    """
    parts = {m.id: part for m, _, part in parts_of(mapping)}
    telling = _Telling(heading, before, after, section_of)
    found: dict[str, Value] = {}
    told: set[str] = set()
    for m in mapping.meanings:
        part = parts.get(m.id)
        if part is None or part.says is Says.REST:
            continue
        value = telling.of(part, m)
        if value is not None:
            found[m.group or m.id] = value
            told |= {*part.keys} if part.says is Says.TO else set()
    rest = [key for key in stated if not _is_told(key, told)]
    for m in mapping.meanings:
        if m.id in parts and parts[m.id].says is Says.REST and rest:
            found[m.id] = "\n".join(telling.in_words(key) for key in rest)
    return found


def _is_told(key: str, told: set[str]) -> bool:
    return key in told or load_catalog()[key].pair in told


def _value(sheet: Evaluator, key: str) -> Value | None:
    value = sheet.held(key).value
    return None if value is EMPTY else value


@dataclass(frozen=True)
class _Telling:
    """The words for one turn."""

    heading: Heading
    before: Evaluator
    after: Evaluator
    section_of: Callable[[str], str]

    def of(self, part: TurnPart, m: Meaning) -> Value | None:
        """Return what a blank says; None where it has nothing to say."""
        heading = self.heading
        match part.says:
            case Says.NUMBER:
                return Decimal(heading.number)
            case Says.MAKER:
                return heading.maker
            case Says.DAY:
                return heading.day
            case Says.ANSWERS:
                return heading.answers
            case Says.ANSWERS_DAY:
                return heading.answers_day
            case Says.EXPIRES_DAY:
                return heading.expires
            case Says.EXPIRES_TIME:
                return heading.expires_at
        changed = moved(part.keys, self.before, self.after)
        if not changed:
            return None
        if part.says is Says.WHETHER:
            return True
        return self._stated(changed, self.before if part.says is Says.FROM else self.after, m)

    def _stated(self, changed: Sequence[str], sheet: Evaluator, m: Meaning) -> Value | None:
        """Return the terms in words where the blank takes text, else the value of the term that is of its
        kind."""
        catalog = load_catalog()
        if m.kind not in ("text", "long_text"):
            fits = (key for key in changed if key == m.fact or catalog[key].kind == m.kind)
            found = next(fits, None)
            return None if found is None else _value(sheet, found)
        said = [(catalog[key], _value(sheet, key)) for key in changed]
        return "; ".join(f"{fact.label}: {_shown(fact, value)}" for fact, value in said)

    def in_words(self, key: str) -> str:
        """Return one change as a sentence, with the section of the agreement that it is about."""
        fact, section = load_catalog()[key], self.section_of(key)
        was, becomes = (_shown(fact, _value(sheet, key)) for sheet in (self.before, self.after))
        return f"{f'Section {section}, ' if section else ''}{said_of(key)}{was} to {becomes}."


def said_of(key: str) -> str:
    """Return how a change of a term begins where it is put in words."""
    return f"{load_catalog()[key].label}: from "


def _shown(fact: Fact, value: Value | None) -> str:
    return "nothing stated" if value is None else shown(value, fact.kind)
