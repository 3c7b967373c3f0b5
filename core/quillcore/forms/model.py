"""Forms: an immutable edition, and a mapping that can be corrected."""

from __future__ import annotations

import hashlib
import json
import re
from collections import Counter
from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import date
from functools import cached_property, lru_cache
from typing import Annotated, Literal, get_args

from pydantic import BaseModel, ConfigDict, StringConstraints
from pydantic import Field as Count

from quillcore.facts import Catalog, Side
from quillcore.facts.keys import Alias, document_prefix, group_of, read_role
from quillcore.facts.scopes import TERMS
from quillcore.formulas import Rule, parse, references, target_rule
from quillcore.pdf import Frame
from quillcore.values import Fault

FIELD_ID = re.compile(r"[a-z0-9][a-z0-9_.-]*(@\d+)?")
AUDIENCE = ("client", "other side")
"""All outside the firm whom a paper may concern, and usually does."""
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


SignKind = Literal["signature", "initials", "date"]
SIGN_KINDS: tuple[str, ...] = get_args(SignKind)
"""The marks that a place to sign can ask for."""


class Data(BaseModel):
    """The content of a pack's file: nothing beyond its fields, and never changed."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    def digest(self) -> str:
        """Return SHA-256 of the canonical JSON, which is what the thing is known by."""
        text = json.dumps(
            self.model_dump(mode="json", exclude_defaults=True), sort_keys=True, ensure_ascii=False
        )
        return hashlib.sha256(text.encode()).hexdigest()


class Field(Data):
    """Geometry of one blank, box or sign spot: page from 1, rectangle (left, bottom, right, top) in
    points."""

    id: Word
    page: int
    rect: tuple[float, float, float, float]
    shape: Literal["text", "box", "sign"]
    lines: Annotated[int, Count(ge=1, le=200)] = 1
    size: Annotated[float, Count(gt=0, le=100)] = 10.0
    least: Annotated[float, Count(gt=0, le=100)] = 7.0
    align: Literal["left", "right", "center"] = "left"

    @property
    def usual_size(self) -> float:
        """The size in points at which text stands that is short enough: as large as the line is high, at
        most."""
        return min(self.size, (self.rect[3] - self.rect[1]) / self.lines)

    @cached_property
    def frame(self) -> Frame:
        """The rectangle as the fitting wants it."""
        return Frame(*self.rect, self.lines, self.size, self.least, self.align)


class FormEdition(Data):
    """The fixed text and blanks of a form as of a release.  ``page_content`` is the SHA-256 of its PDF.

    ``filled_by`` are the sides on which this form is ours to fill; on the others of ``sides`` it is
    expected from over there (none: all sides fill it).  ``sizes`` are the pages' widths and heights in
    points where they aren't all letter pages; ``publisher`` is whose name stands in the masthead.
    """

    number: Number
    title: Name
    topic: Word
    sides: tuple[Side, ...]
    kinds: tuple[Word, ...] = ()
    audience: tuple[Word, ...] = AUDIENCE
    filled_by: tuple[Side, ...] = ()
    purpose: Sentence = ""
    released: date
    pages: Annotated[int, Count(ge=1, le=500)]
    page_content: Word
    fields: tuple[Field, ...]
    sizes: tuple[tuple[float, float], ...] = ()
    publisher: Annotated[str, StringConstraints(max_length=200)] = ""

    def size(self, page: int) -> tuple[float, float]:
        """Return width and height of a page (from 1) in points."""
        return self.sizes[page - 1] if self.sizes else LETTER

    @property
    def named(self) -> str:
        """Number and title, as lists and files call it."""
        return f"{self.number} {self.title}".strip()

    @property
    def heights(self) -> tuple[float, ...]:
        """The pages' heights in points."""
        return tuple(self.size(n)[1] for n in range(1, self.pages + 1))

    def is_ours(self, side: str) -> bool:
        """Return whether it is ours to fill in a deal of that side."""
        return not self.filled_by or side in self.filled_by

    @property
    def is_the_clients_own(self) -> bool:
        """Whether it is between the client and the agent, and so outlives a deal with somebody else."""
        return "client" in self.audience and "other side" not in self.audience

    @cached_property
    def by_id(self) -> dict[str, Field]:
        """Fields by id."""
        return {f.id: f for f in self.fields}

    @cached_property
    def line_of(self) -> dict[str, float]:
        """For each field by id how far below its page's top the middle of its first line is, in points: the
        same for all that stand on one line of print, for the margin to mark them together."""
        lines: dict[int, list[float]] = {}
        return {f.id: _joined_to(lines.setdefault(f.page, []), self._middle(f)) for f in self.fields}

    def _middle(self, field: Field) -> float:
        _, bottom, _, top = field.rect
        return round(self.size(field.page)[1] - top + (top - bottom) / field.lines / 2, 2)


_ONE_LINE = 7.0
"""Points by which the middles of a line's fields may differ: print is set 12 points apart or more, and a box
stands a little higher than the words beside it."""


def _joined_to(lines: list[float], middle: float) -> float:
    """Return the line of a page that something stands on, or a new one among them."""
    found = next((line for line in lines if abs(line - middle) < _ONE_LINE), None)
    if found is None:
        lines.append(found := middle)
    return found


class ChoiceTable(Data):
    """The choices of a blank that depend on another key: by that key's value ("" without one), each choice
    with its explanation.

    A value that the table doesn't have is kept and shown, and called into question.
    """

    depends: str | None = None
    values: dict[str, dict[str, str]]

    def allowed(self, on: str | None) -> dict[str, str]:
        """Return the values allowed while the key it depends on says ``on``; none while it has no answer."""
        return self.values.get((on or "") if self.depends else "", {})


class Meaning(Data):
    """The meaning of one field: a shared ``fact``, a ``formula`` of the form's own, or a value of its own of
    ``kind``.

    A box belongs to a ``fact`` or to the form's own ``group`` and stands for ``value``; without ``value`` it
    is a yes/no.  A sign spot has a ``role`` and a ``sign`` kind.  ``required`` and ``relevant`` are
    expressions; "always" and "never" are allowed for required.  ``otherwise`` is printed where a blank isn't
    relevant and a signer would wonder.  ``who`` names a role where only that party may answer.  ``choices``
    names one of the mapping's tables of allowed values.  ``ask`` is how somebody is asked for it, where its
    label alone doesn't make a question.  ``section`` is the number of the section that it stands in; ``turn``
    what it says of a turn in a negotiation (``forms.turns``).
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
    sign: SignKind | None = None
    required: Sentence = "always"
    relevant: Sentence | None = None
    otherwise: Name = ""
    who: Word | None = None
    default: Sentence | None = None
    empty_text: Name = "None"
    label: Name = ""
    help: Sentence = ""
    ask: Name = ""
    section: Number = ""
    turn: Sentence | None = None

    @property
    def speaks_of_a_side(self) -> bool:
        """Whether it means something else on another side of a deal."""
        role = read_role(self.role or self.who or "")
        keys = (self.fact, self.formula, self.required, self.relevant)
        return any(map(Alias.stands_in, keys)) or (role is not None and role.speaks_of_a_side)

    def seen_from(self, side: Side) -> Meaning:
        """Return the same on that side of a deal."""
        if not self.speaks_of_a_side:
            return self
        texts = {
            name: text
            for name in ("fact", "formula", "required", "relevant")
            if (text := getattr(self, name))
        }
        roles = {name: role for name in ("role", "who") if (role := read_role(getattr(self, name) or ""))}
        seen = {name: Alias.seen_from(text, side) for name, text in texts.items()}
        return self.model_copy(
            update=seen | {name: str(role.seen_from(side)) for name, role in roles.items()}
        )


class Called(Data):
    """A form's own rule for when it belongs to a package: where ``when`` (over facts alone) holds,
    ``because`` of a reason; where it doesn't, the form does not apply, as ``unless`` says. ``weight`` says
    how much it weighs that it is missing; "may": it never has to be there."""

    when: Sentence
    because: Sentence
    unless: Sentence
    weight: Literal["must", "should", "look", "may"] = "should"


class OwnRemark(Data):
    """A remark of the form itself in a proofread: ``says``, where ``when`` (over facts and the form's own
    blanks) holds; ``at`` the field that it speaks of."""

    when: Sentence
    says: Sentence
    at: Word
    mend: Sentence = ""
    weight: Literal["must", "should", "look"] = "look"


class Mapping(Data):
    """The meanings of an edition's fields, versioned apart from it, when the form is called for (None:
    whoever puts a package together decides), and what the form itself remarks on.  ``turn``: what it is in a
    negotiation: the paper of a turn, of its being told that there are several offers, or of one's being taken
    as a back-up."""

    meanings: tuple[Meaning, ...]
    choices: dict[str, ChoiceTable] = {}
    called: Called | None = None
    turn: Literal["counter", "amendment", "several", "back-up"] | None = None
    remarks: Annotated[tuple[OwnRemark, ...], Count(max_length=200)] = ()

    @cached_property
    def by_id(self) -> dict[str, Meaning]:
        """Meanings by field id."""
        return {m.id: m for m in self.meanings}

    def boxes_of(self, key: str) -> tuple[str, ...]:
        """Return the values that a fact's boxes stand for; none where its blanks have no boxes."""
        return self._boxes.get(key, ())

    @cached_property
    def _boxes(self) -> dict[str, tuple[str, ...]]:
        found: dict[str, tuple[str, ...]] = {}
        for m in self.meanings:
            if m.fact is not None and m.value is not None:
                found[m.fact] = (*found.get(m.fact, ()), m.value)
        return found

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

    @cached_property
    def fact_counts(self) -> Counter[str]:
        """To how many fields each fact goes."""
        return Counter(m.fact for m in self.meanings if m.fact is not None)

    def only_answered_by(self, name: str) -> str | None:
        """Return the role that alone may answer a blank or group of the form's own; None where the agent
        may."""
        return next((m.who for m in self.meanings if m.who is not None and name in (m.id, m.group)), None)

    def seen_from(self, side: Side) -> Mapping:
        """Return the mapping with ``client`` and ``own_agent`` read as what they are on that side of a
        deal."""
        seen = tuple(m.seen_from(side) for m in self.meanings)
        # A copy would take along what was worked out for this one.
        remarks = tuple(r.model_copy(update={"when": Alias.seen_from(r.when, side)}) for r in self.remarks)
        return Mapping(
            meanings=seen, choices=self.choices, called=self.called, turn=self.turn, remarks=remarks
        )


@dataclass(frozen=True, eq=False)
class Form:
    """An edition with its page content and the mapping in use.  Known by identity, so that what is worked out
    once for a form can be kept by it; whether two are the same edition, ``edition_hash`` says."""

    edition: FormEdition
    mapping: Mapping
    pdf: bytes = field(repr=False)

    @cached_property
    def edition_hash(self) -> str:
        """The hash that identifies the edition: of its geometry and, through ``page_content``, its pages."""
        return self.edition.digest()

    def seen_from(self, side: Side) -> Form:
        """Return the form as it stands in a deal of that side; the same object each time."""
        if side not in self._seen:
            speaks = any(m.speaks_of_a_side for m in self.mapping.meanings) or any(
                Alias.stands_in(r.when) for r in self.mapping.remarks
            )
            self._seen[side] = Form(self.edition, self.mapping.seen_from(side), self.pdf) if speaks else self
        return self._seen[side]

    @cached_property
    def _seen(self) -> dict[Side, Form]:
        return {}

    @cached_property
    def speaks_of_terms(self) -> bool:
        """Whether a blank of it shows a term, so that each offer within a deal has a copy of its own."""
        return any(group_of(m.fact) in TERMS for m in self.mapping.meanings if m.fact)

    def pairs(self) -> Iterator[tuple[Field, Meaning]]:
        """Yield every field with its meaning, in reading order."""
        meanings = self.mapping.by_id
        for f in self.edition.fields:
            yield f, meanings[f.id]


def label_in(form: Form, name: str) -> str:
    """Return what a form's own blank or group is called."""
    found = next((m for m in form.mapping.meanings if name in (m.group, m.id) and m.label), None)
    return found.label if found is not None else name.replace("-", " ").capitalize()


def facts_read(meaning: Meaning) -> set[str]:
    """Return the facts that a form's own formula reads; the form's own blanks are none."""
    tree = parse(meaning.formula) if meaning.formula is not None else None
    if tree is None or isinstance(tree, Fault):
        return set()
    return {key for key in references(tree) if not key.startswith("form.")}


@lru_cache(maxsize=512)
def call_rule(when: str, catalog: Catalog) -> Rule | Fault:
    """Return when a form is called for, ready to be asked, or what is wrong with it."""
    return target_rule("called", "yes_no", when, catalog)


def form_rules(mapping: Mapping, catalog: Catalog, document: str) -> tuple[list[Rule], list[Fault]]:
    """Return the rules of a form's own formulas for one document of a package, and what is wrong with
    them."""
    rules, faults = [], []
    kinds, prefix = mapping.own_kinds, document_prefix(document)
    for m in mapping.meanings:
        if m.formula is None:
            continue
        rule = target_rule(prefix + m.id, m.kind or "text", m.formula, catalog, kinds, prefix)
        if isinstance(rule, Fault):
            faults.append(rule.at(f"{m.id}, formula, {rule.place.rpartition(', ')[2]}"))
        else:
            rules.append(rule)
    return rules, faults
