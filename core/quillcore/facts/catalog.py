"""The fact catalog: data/*.yaml, one file per group, read once."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache, cached_property
from pathlib import Path
from typing import Any, Literal

import yaml

from quillcore.facts.bounds import beyond
from quillcore.facts.keys import (
    GROUPS,
    RESPONSIBLE,
    Alias,
    Group,
    Side,
    group_of,
    in_words,
    paper_key,
    party_key,
    place_key,
)
from quillcore.facts.parties import PARTY_FIELDS
from quillcore.values import KINDS, Fault, Value, ValueKind

_MOST_OTHERS = 20_000
"""Keys of parties and documents that are kept looked up: a busy process has some thousand."""
DATA = Path(__file__).parent / "data"
_Loader = getattr(yaml, "CSafeLoader", yaml.SafeLoader)  # four times faster where it is there


@dataclass(frozen=True)
class Fact:
    """One entry of the catalog.

    ``authority`` is the source believed where listing and roll differ ("either" and none mean the
    listing); ``own_side`` is the deal side on which the value is this agent's own, so that a
    listing never brings it in; ``pair`` names the fact that is the other half of one statement
    (amount and percent): the one stated last is the input.  ``heavy`` marks what a comparison shows first.
    ``due`` is what is to be kept on the day that it names, in a few words, and ``due_of`` whose it is; it is
    over once the fact of ``until`` is known.  ``not_before`` names a date that it can't precede.
    """

    key: str
    label: str
    kind: str = "text"
    help: str = ""
    example: str = ""
    options: tuple[str, ...] = ()
    authority: Literal["listing", "roll", "either"] | None = None
    reso: str | None = None
    roll: str | None = None
    formula: str | None = None
    pair: str | None = None
    own_side: Side | None = None
    heavy: bool = False
    compared: bool = True
    due: str = ""
    due_of: str = ""
    until: str | None = None
    not_before: str | None = None

    @property
    def group(self) -> str:
        """The part of the key before the first dot."""
        return group_of(self.key)

    @property
    def type(self) -> ValueKind:
        """The kind of its value."""
        return KINDS[self.kind]

    def read(self, text: str, **context: Any) -> Value | Fault:
        """Read what was typed for this fact; a Fault has the key as its place."""
        found = self.type.read(text, self.options, **context)
        if isinstance(found, Fault):
            return found.at(self.key)
        return beyond(self.key, self.kind, self.label, found) or found


class Catalog:
    """All facts by key, party positions (``sellers.2.email``) included."""

    def __init__(
        self, facts: dict[str, Fact], groups: dict[str, str], sides: dict[str, tuple[str, ...]] | None = None
    ) -> None:
        self.facts = facts
        self.groups = groups
        self.sides = sides or {}
        self._others: dict[str, Fact | None] = {}

    def belongs(self, group: str, side: str) -> bool:
        """Return whether a group of facts has to do with deals of that side; a group that says no sides has
        to do with all."""
        return side in self.sides.get(group, (side,))

    def find(self, key: str) -> Fact | None:
        """Return the fact of that key, or None.  Party positions are made from the party fields' entries;
        ``client`` and ``own_agent`` stand for the buyers and their agent until a form is seen from a deal's
        side."""
        if (fact := self.facts.get(key)) is not None:
            return fact
        try:
            return self._others[key]
        except KeyError:
            found = self._made(key)
        if len(self._others) > _MOST_OTHERS:
            self._others = {}
        self._others[key] = found
        return found

    def _made(self, key: str) -> Fact | None:
        if Alias.stands_in(key):
            return self.find(Alias.seen_from(key, Side.BUYING))
        if (place := place_key(key)) is not None:
            return _party_fact(place.group, place.position, place.field) if place.position < 100 else None
        if key in GROUPS:
            return Fact(key=key, label=f"{Group(key).label}s, in order")
        if (number := paper_key(key)) is not None:
            return Fact(key, f"Form {number} is in the package", "yes_no", compared=False)
        if (kept := party_key(key)) is not None:
            return _party_fact(None, 0, kept.field)
        return None

    def place(self, key: str) -> int:
        """Return the fact's place in the catalog's order."""
        return self._places.get(key, len(self.facts))

    @cached_property
    def _places(self) -> dict[str, int]:
        return {key: n for n, key in enumerate(self.facts)}

    @cached_property
    def due(self) -> tuple[Fact, ...]:
        """The facts whose days somebody has to keep."""
        return tuple(fact for fact in self.facts.values() if fact.due)

    def label_of(self, key: str) -> str:
        """Return what a fact or blank is called, whatever became of it."""
        fact = self.find(key)
        return fact.label if fact else in_words(key)

    def __getitem__(self, key: str) -> Fact:
        fact = self.find(key)
        if fact is None:
            raise KeyError(key)
        return fact

    def __iter__(self) -> Any:
        return iter(self.facts.values())


@cache
def _party_fact(group: Group | None, position: int, field: str) -> Fact | None:
    spec = PARTY_FIELDS.get(field)
    if spec is None:
        return None
    label = f"{group.label} {position} {spec.label}" if group is not None else spec.label.capitalize()
    key = group.key(position, field) if group is not None else f".{position}.{field}"
    return Fact(key=key, kind=spec.kind, label=label, options=spec.options, example=spec.example)


def _stated(raw: dict[str, Any], own_side: str | None) -> Fact:
    """Return a fact as its file states it.  What the file says that no fact has, and sides that there are
    not, raise."""
    side = raw.get("own_side", own_side)
    return Fact(**{**raw, "options": tuple(raw.get("options", ())), "own_side": Side(side) if side else None})


@cache
def load_catalog() -> Catalog:
    """Return the catalog that ships.  Faulty data is a bug and raises."""
    facts: dict[str, Fact] = {}
    groups: dict[str, str] = {}
    sides: dict[str, tuple[str, ...]] = {}
    for path in sorted(DATA.glob("*.yaml")):
        sheet = yaml.load(path.read_bytes(), Loader=_Loader)
        for one in sheet["groups"]:
            name = one["group"]
            groups[name] = one["label"]
            if "sides" in one:
                sides[name] = tuple(one["sides"])
            for raw in one["facts"]:
                fact = _stated({**raw, "key": f"{name}.{raw['key']}"}, one.get("own_side"))
                if fact.key in facts or fact.kind not in KINDS:
                    raise ValueError(
                        f"{path.name}: {fact.key} is repeated or has an unknown kind {fact.kind!r}"
                    )
                facts[fact.key] = fact
    for group in Group:
        groups.setdefault(group, f"{group.label}s")
        for key, kind, label in (
            (group.names, "name", "all names"),
            (group.how_many, "integer", "how many"),
        ):
            facts[key] = Fact(key=key, kind=kind, label=f"{group.label}s, {label}")
    for fact in facts.values():
        if fact.pair is not None and facts[fact.pair].pair != fact.key:
            raise ValueError(f"{fact.key} and {fact.pair} must name each other as pair")
        if (fact.due and fact.kind != "date") or (fact.until is not None and fact.until not in facts):
            raise ValueError(f"{fact.key} is due on no day, or until something that there is not")
        if fact.not_before is not None and facts[fact.not_before].kind != "date":
            raise ValueError(f"{fact.key} can't be before {fact.not_before}, which is no date")
        if fact.due_of and fact.due_of not in RESPONSIBLE:
            raise ValueError(f"{fact.key} is due of “{fact.due_of}”, who is nobody")
    return Catalog(facts, groups, sides)
