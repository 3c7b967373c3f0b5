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
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, StringConstraints
from pydantic import Field as Count

from quillcore.calendars import Calendar
from quillcore.facts import PARTY_GROUPS, Catalog
from quillcore.facts.scopes import TERMS, client_group, own_agent
from quillcore.formulas import Rates, Rule, Setting, target_rule
from quillcore.pdf import Frame
from quillcore.values import Fault
from quillcore.values.structured import digits

FIELD_ID = re.compile(r"[a-z0-9][a-z0-9_.-]*(@\d+)?")
FILE_NAME = re.compile(r"[a-z0-9][a-z0-9-]{0,79}")
ROLE = re.compile(r"(buyer|seller|landlord|tenant|client)\.[1-9]|listing_agent|buyer_agent|own_agent|listing_broker|buyer_broker|own_broker")
Side = Literal["listing", "buying", "leasing out", "renting"]
LETTER = (612.0, 792.0)


Number = Annotated[str, StringConstraints(max_length=20)]
"""A form's number or a short code."""
Word = Annotated[str, StringConstraints(max_length=100)]
"""The name of a field, key, role, kind or section: what is kept and compared under it has this much room."""
Name = Annotated[str, StringConstraints(max_length=200)]
"""A title, label or association's name."""
Sentence = Annotated[str, StringConstraints(max_length=2_000)]
"""A help text, an expression or a formula."""
PAGE = (36.0, 3_400.0)
"""The least and the most that a page's side measures, in points: a card, and a surveyor's largest sheet."""


class _Data(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    def digest(self) -> str:
        """SHA-256 of the canonical JSON, which is what the thing is known by."""
        text = json.dumps(self.model_dump(mode="json", exclude_defaults=True), sort_keys=True, ensure_ascii=False)
        return hashlib.sha256(text.encode()).hexdigest()


class Field(_Data):
    """Geometry of one blank, box or sign spot: page from 1, rectangle (left, bottom, right, top) in points."""

    id: Word
    page: int
    rect: tuple[float, float, float, float]
    shape: Literal["text", "box", "sign"]
    lines: Annotated[int, Count(ge=1, le=200)] = 1
    size: Annotated[float, Count(gt=0, le=100)] = 10.0
    least: Annotated[float, Count(gt=0, le=100)] = 7.0
    align: Literal["left", "right", "center"] = "left"

    @cached_property
    def frame(self) -> Frame:
        """The rectangle as the fitting wants it."""
        return Frame(*self.rect, self.lines, self.size, self.least, self.align)


class Edition(_Data):
    """The fixed text and blanks of a form as of a release.  ``page_content`` is the SHA-256 of its PDF.

    ``filled_by`` are the sides on which this form is ours to fill; on the others of ``sides`` it is
    expected from over there (none: all sides fill it).  ``sizes`` are the pages' widths and heights in
    points where they aren't all letter pages.
    """

    number: Number
    title: Name
    topic: Word
    sides: tuple[Side, ...]
    kinds: tuple[Word, ...] = ()
    audience: tuple[Word, ...] = ("client", "other side")
    filled_by: tuple[Side, ...] = ()
    purpose: Sentence = ""
    released: date
    pages: Annotated[int, Count(ge=1, le=500)]
    page_content: Word
    fields: tuple[Field, ...]
    sizes: tuple[tuple[float, float], ...] = ()

    def size(self, page: int) -> tuple[float, float]:
        """Width and height of a page (from 1) in points."""
        return self.sizes[page - 1] if self.sizes else LETTER

    @property
    def heights(self) -> tuple[float, ...]:
        """The pages' heights in points."""
        return tuple(self.size(n)[1] for n in range(1, self.pages + 1))

    def is_ours(self, side: str) -> bool:
        """Whether it is ours to fill in a deal of that side."""
        return not self.filled_by or side in self.filled_by

    @cached_property
    def by_id(self) -> dict[str, Field]:
        """Fields by id."""
        return {f.id: f for f in self.fields}


class ChoiceTable(_Data):
    """What a blank may say, depending on another key: by that key's value ("" without one), each value with its explanation.

    A value that the table doesn't have is kept and shown, and called into question.
    """

    depends: str | None = None
    values: dict[str, dict[str, str]]

    def allowed(self, on: str | None) -> dict[str, str]:
        """The values allowed while the key it depends on says ``on``; none while that is open."""
        return self.values.get((on or "") if self.depends else "", {})


class Meaning(_Data):
    """What one field means: a shared ``fact``, a ``formula`` of the form's own, or a value of its own of ``kind``.

    A box belongs to a ``fact`` or to the form's own ``group`` and stands for ``value``; without
    ``value`` it is a yes/no.  A sign spot has a ``role`` and a ``sign`` kind.  ``required`` and
    ``relevant`` are expressions; "always" and "never" are allowed for required.  ``who`` names a role
    where only that party may answer.  ``choices`` names one of the mapping's tables of allowed values.
    """

    id: Word
    fact: Word | None = None
    formula: Sentence | None = None
    kind: Word | None = None
    options: tuple[Name, ...] = ()
    choices: Word | None = None
    group: Word | None = None
    value: Name | None = None
    role: Word | None = None
    sign: Literal["signature", "initials", "date"] | None = None
    required: Sentence = "always"
    relevant: Sentence | None = None
    who: Word | None = None
    default: Sentence | None = None
    empty_text: Name = "None"
    label: Name = ""
    help: Sentence = ""


class Mapping(_Data):
    """The meanings of an edition's fields, versioned apart from it."""

    meanings: tuple[Meaning, ...]
    choices: dict[str, ChoiceTable] = {}

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

    def only_answered_by(self, name: str) -> str | None:
        """The role that alone may answer a blank or group of the form's own; None where the agent may."""
        return next((m.who for m in self.meanings if m.who is not None and name in (m.id, m.group)), None)

    def seen_from(self, side: str) -> Mapping:
        """The mapping with ``client`` and ``own_agent`` read as what they are on that side of a deal."""
        words = {"client": client_group(side), "own_agent": own_agent(side)}

        def key(text: str | None) -> str | None:
            return _ALIASES.sub(lambda m: words[m[1]], text) if text else text

        def role(text: str | None) -> str | None:
            return (
                ALIAS_ROLE.sub(lambda m: words[m[1]].removesuffix("s") if m[1] == "client" else words["own_agent"][:-6] + m[2], text)
                if text
                else text
            )

        seen = [
            m.model_copy(
                update={
                    "fact": key(m.fact), "formula": key(m.formula), "required": key(m.required), "relevant": key(m.relevant), "role": role(m.role), "who": role(m.who),
                }
            )
            for m in self.meanings
        ]  # fmt: skip
        return Mapping(meanings=tuple(seen), choices=self.choices)  # a copy would take along what was worked out for this one


def group_of(role: str) -> tuple[str, int] | None:
    """The party group and position of a role (``buyer.2`` is buyers, 2); None for agents and brokers."""
    one, _, position = role.partition(".")
    number = digits(position)
    return (f"{one}s", number) if f"{one}s" in PARTY_GROUPS and number is not None else None


# In keys: client.names, client.1.email, own_agent.firm.  In roles: client.2, own_agent, own_broker.
_ALIASES = re.compile(r"(?<![\w.])(client|own_agent)(?=\.)")
ALIAS_ROLE = re.compile(r"^(client|own)(?=[._])(_agent|_broker)?")


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

    def seen_from(self, side: str) -> Form:
        """The form as it stands in a deal of that side; the same object each time."""
        if side not in self._seen:
            speaks = any(
                _ALIASES.search(f"{m.fact} {m.formula} {m.required} {m.relevant}") or ALIAS_ROLE.search(m.role or m.who or "")
                for m in self.mapping.meanings
            )
            self._seen[side] = Form(self.edition, self.mapping.seen_from(side), self.pdf) if speaks else self
        return self._seen[side]

    @cached_property
    def _seen(self) -> dict[str, Form]:
        return {}

    @cached_property
    def speaks_of_terms(self) -> bool:
        """Whether a blank of it shows a term, so that each offer within a deal has a copy of its own."""
        return any(m.fact.split(".", 1)[0] in TERMS for m in self.mapping.meanings if m.fact)

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

    association: Name
    short: Name
    state: Number
    state_name: Word = ""
    released: date
    time_zone: Word
    deadline_time: time
    holidays: dict[date, str]
    rates: RateTable
    forms: tuple[Number, ...]
    built_from: Word = ""

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
