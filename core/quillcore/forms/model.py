"""What a form is: an immutable edition, a mapping that can be mended, and the pack around them."""

from __future__ import annotations

import hashlib
import json
import re
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import date, time
from decimal import Decimal
from functools import cached_property
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict

from quillcore.calendars import Calendar
from quillcore.facts import PARTY_GROUPS, Catalog
from quillcore.formulas import Rates, Rule, Setting, target_rule
from quillcore.pdf import Frame
from quillcore.values import Fault

FIELD_ID = re.compile(r"[a-z0-9][a-z0-9_.-]*(@\d+)?")
ROLE = re.compile(r"(buyer|seller|landlord|tenant)\.[1-9]|listing_agent|buyer_agent|listing_broker|buyer_broker")
Side = Literal["listing", "buying", "leasing out", "renting"]


class _Data(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid")

    def digest(self) -> str:
        """SHA-256 of the canonical JSON, which is what the thing is known by."""
        text = json.dumps(self.model_dump(mode="json", exclude_defaults=True), sort_keys=True, ensure_ascii=False)
        return hashlib.sha256(text.encode()).hexdigest()


class Field(_Data):
    """Geometry of one blank, box or sign spot: page from 1, rectangle (left, bottom, right, top) in points."""

    id: str
    page: int
    rect: tuple[float, float, float, float]
    shape: Literal["text", "box", "sign"]
    lines: int = 1
    size: float = 10.0
    least: float = 7.0
    align: Literal["left", "right", "center"] = "left"

    @cached_property
    def frame(self) -> Frame:
        """The rectangle as the fitting wants it."""
        return Frame(*self.rect, self.lines, self.size, self.least, self.align)


class Edition(_Data):
    """The fixed text and blanks of a form as of a release.  ``page_content`` is the SHA-256 of its PDF."""

    number: str
    title: str
    topic: str
    sides: tuple[Side, ...]
    kinds: tuple[str, ...] = ()
    audience: tuple[str, ...] = ("client", "other side")
    released: date
    pages: int
    page_content: str
    fields: tuple[Field, ...]

    @cached_property
    def by_id(self) -> dict[str, Field]:
        """Fields by id."""
        return {f.id: f for f in self.fields}


class Meaning(_Data):
    """What one field means: a shared ``fact``, a ``formula`` of the form's own, or a value of its own of ``kind``.

    A box belongs to a ``fact`` or to the form's own ``group`` and stands for ``value``; without
    ``value`` it is a yes/no.  A sign spot has a ``role`` and a ``sign`` kind.  ``required`` and
    ``relevant`` are expressions; "always" and "never" are allowed for required.  ``who`` names a role
    where only that party may answer.
    """

    id: str
    fact: str | None = None
    formula: str | None = None
    kind: str | None = None
    options: tuple[str, ...] = ()
    group: str | None = None
    value: str | None = None
    role: str | None = None
    sign: Literal["signature", "initials", "date"] | None = None
    required: str = "always"
    relevant: str | None = None
    who: str | None = None
    default: str | None = None
    empty_text: str = "None"
    label: str = ""
    help: str = ""


class Mapping(_Data):
    """The meanings of an edition's fields, versioned apart from it."""

    meanings: tuple[Meaning, ...]

    @cached_property
    def by_id(self) -> dict[str, Meaning]:
        """Meanings by field id."""
        return {m.id: m for m in self.meanings}

    @cached_property
    def own_kinds(self) -> dict[str, str]:
        """Value kinds of the blanks and groups that belong to the form itself."""
        kinds: dict[str, str] = {}
        for m in self.meanings:
            if m.group is not None:
                kinds[m.group] = "choice" if m.value is not None else "yes_no"
            elif m.fact is None and m.sign is None:
                kinds[m.id] = m.kind or "text"
        return kinds


def group_of(role: str) -> tuple[str, int] | None:
    """The party group and position of a role (``buyer.2`` is buyers, 2); None for agents and brokers."""
    one, _, position = role.partition(".")
    return (f"{one}s", int(position)) if f"{one}s" in PARTY_GROUPS and position.isdigit() else None


@dataclass(frozen=True, eq=False)
class Form:
    """An edition with its page content and the mapping in use.  Known by identity, so that what is worked out once for
    a form can be kept by it; whether two are the same edition, ``edition_hash`` says."""

    edition: Edition
    mapping: Mapping
    pdf: bytes = field(repr=False)

    @cached_property
    def edition_hash(self) -> str:
        """What the edition is known by: its geometry and, through ``page_content``, its pages."""
        return self.edition.digest()

    def pairs(self) -> Iterator[tuple[Field, Meaning]]:
        """Every field with its meaning, in reading order."""
        meanings = self.mapping.by_id
        for f in self.edition.fields:
            yield f, meanings[f.id]


def form_rules(mapping: Mapping, catalog: Catalog, document: str) -> tuple[list[Rule], list[Fault]]:
    """The rules of a form's own formulas for one document of a package, and what is wrong with them."""
    rules, faults = [], []
    kinds, prefix = mapping.own_kinds, f"doc.{document}."
    for m in mapping.meanings:
        if m.formula is None:
            continue
        rule = target_rule(prefix + m.id, m.kind or "text", m.formula, catalog, kinds, prefix)
        if isinstance(rule, Fault):
            faults.append(rule.at(f"{m.id}, formula, {rule.place.rpartition(', ')[2]}"))
        else:
            rules.append(rule)
    return rules, faults


class RateTable(_Data):
    """A pack's rates as written: see ``quillcore.money.Rates``."""

    transfer_tax: tuple[Decimal, Decimal]
    title_brackets: tuple[tuple[Decimal | None, Decimal], ...]
    title_minimum: Decimal


class PackSheet(_Data):
    """``pack.yaml``."""

    association: str
    short: str
    state: str
    released: date
    time_zone: str
    deadline_time: time
    holidays: dict[date, str]
    rates: RateTable
    forms: tuple[str, ...]
    built_from: str = ""

    def setting(self) -> Setting:
        """The calendar and rates that formulas stand on."""
        rates = Rates(self.rates.transfer_tax, self.rates.title_brackets, self.rates.title_minimum)
        return Setting(Calendar(self.holidays), rates)


@dataclass(frozen=True)
class Pack:
    """One release of an association's forms.  ``templates`` are the files' parsed content by file name."""

    sheet: PackSheet
    forms: dict[str, Form]
    templates: dict[str, Any]
