"""The fact catalog: data/*.yaml, one file per group, read once."""

from __future__ import annotations

import re
from functools import cache
from pathlib import Path
from typing import Any, Literal

import yaml
from pydantic import BaseModel, ConfigDict

from quillcore.facts.parties import PARTY_FIELDS, PARTY_GROUPS
from quillcore.values import KINDS, Fault, Kind, Value

DATA = Path(__file__).parent / "data"
OWN_KEY = re.compile(r"doc\.([0-9a-zA-Z-]+)\.([A-Za-z0-9_.-]+)")
_PARTY_KEY = re.compile(rf"({'|'.join(PARTY_GROUPS)})\.([1-9]\d?)\.([a-z_]+)")

_ALIAS = re.compile(r"^(client|own_agent)(?=\.)")


class Fact(BaseModel):
    """One entry of the catalog.

    ``authority`` is the source believed where listing and roll differ ("either" and none mean the
    listing); ``own_side`` is the deal side on which the value is this agent's own, so that a
    listing never brings it in; ``pair`` names the fact that is the other half of one statement
    (amount and percent): the one stated last is the input.  ``heavy`` marks what a comparison shows first.
    """

    model_config = ConfigDict(frozen=True, extra="forbid")

    key: str
    kind: str = "text"
    label: str
    help: str = ""
    example: str = ""
    options: tuple[str, ...] = ()
    authority: Literal["listing", "roll", "either"] | None = None
    reso: str | None = None
    roll: str | None = None
    formula: str | None = None
    pair: str | None = None
    own_side: Literal["listing", "buying", "leasing out", "renting"] | None = None
    heavy: bool = False
    compared: bool = True

    @property
    def group(self) -> str:
        """The part of the key before the first dot."""
        return self.key.split(".", 1)[0]

    @property
    def type(self) -> Kind:
        """The kind of its value."""
        return KINDS[self.kind]

    def read(self, text: str, **context: Any) -> Value | Fault:
        """Read what was typed for this fact; a Fault has the key as its place."""
        found = self.type.read(text, self.options, **context)
        return found.at(self.key) if isinstance(found, Fault) else found


class Catalog:
    """All facts by key, party positions (``sellers.2.email``) included."""

    def __init__(self, facts: dict[str, Fact], groups: dict[str, str], sides: dict[str, tuple[str, ...]] | None = None) -> None:
        self.facts = facts
        self.groups = groups
        self.sides = sides or {}

    def belongs(self, group: str, side: str) -> bool:
        """Whether a group of facts has to do with deals of that side; a group that says no sides has to do with all."""
        return side in self.sides.get(group, (side,))

    def find(self, key: str) -> Fact | None:
        """The fact of that key, or None.  Party positions are made from the party fields' entries; ``client`` and
        ``own_agent`` stand for the buyers and their agent until a form is seen from a deal's side."""
        key = _ALIAS.sub(lambda m: {"client": "buyers", "own_agent": "buyer_agent"}[m[1]], key)
        if fact := self.facts.get(key):
            return fact
        if m := _PARTY_KEY.fullmatch(key):
            return _party_fact(m[1], int(m[2]), m[3])
        if key in PARTY_GROUPS:
            return Fact(key=key, label=f"{PARTY_GROUPS[key]}s, in order")
        if key.startswith("party."):
            return _party_fact("", 0, key.rsplit(".", 1)[-1])
        return None

    def __getitem__(self, key: str) -> Fact:
        fact = self.find(key)
        if fact is None:
            raise KeyError(key)
        return fact

    def __iter__(self) -> Any:
        return iter(self.facts.values())


@cache
def _party_fact(group: str, position: int, field: str) -> Fact | None:
    spec = PARTY_FIELDS.get(field)
    if spec is None:
        return None
    label = f"{PARTY_GROUPS[group]} {position} {spec.label}" if group else spec.label.capitalize()
    return Fact(key=f"{group}.{position}.{field}", kind=spec.kind, label=label, options=spec.options, example=spec.example)


@cache
def load_catalog() -> Catalog:
    """The catalog that ships.  Faulty data is a bug and raises."""
    facts: dict[str, Fact] = {}
    groups: dict[str, str] = {}
    sides: dict[str, tuple[str, ...]] = {}
    for path in sorted(DATA.glob("*.yaml")):
        sheet = yaml.safe_load(path.read_text(encoding="utf-8"))
        for group in sheet["groups"]:
            name = group["group"]
            groups[name] = group["label"]
            if "sides" in group:
                sides[name] = tuple(group["sides"])
            for raw in group["facts"]:
                fact = Fact(**{**raw, "key": f"{name}.{raw['key']}", "own_side": raw.get("own_side", group.get("own_side"))})
                if fact.key in facts or fact.kind not in KINDS:
                    raise ValueError(f"{path.name}: {fact.key} is repeated or has an unknown kind {fact.kind!r}")
                facts[fact.key] = fact
    for name, one in PARTY_GROUPS.items():
        groups.setdefault(name, f"{one}s")
        for field, kind, label in (("names", "name", "joined names"), ("count", "integer", "how many")):
            facts[f"{name}.{field}"] = Fact(key=f"{name}.{field}", kind=kind, label=f"{one}s, {label}")
    for fact in facts.values():
        if fact.pair is not None and facts[fact.pair].pair != fact.key:
            raise ValueError(f"{fact.key} and {fact.pair} must name each other as pair")
    return Catalog(facts, groups, sides)
