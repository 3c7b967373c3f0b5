"""The remarks of a proofread, and its rules."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal
from enum import StrEnum
from functools import cached_property

from quillcore.assembly import Blank, Package
from quillcore.facts import Group
from quillcore.facts.parties import Party
from quillcore.forms import Form
from quillcore.values import Value


class RemarkWeight(StrEnum):
    """The weight of a remark: it must be mended before a package is ready, should be, or is looked at."""

    MUST = "must"
    SHOULD = "should"
    LOOK = "look"


@dataclass(frozen=True)
class Mend:
    """A fix as one change: a text typed under a key (or, of a ``clause``, its wording from then on), or a
    form added or set aside."""

    says: str
    key: str = ""
    text: str = ""
    add: str = ""
    aside: str = ""
    clause: str = ""


@dataclass(frozen=True)
class Remark:
    """One remark.  ``rule`` is a stable name; ``document`` and ``field`` say where on paper ("" where it is
    nowhere in particular), ``key`` the fact or blank it speaks of."""

    rule: str
    weight: RemarkWeight
    message: str
    mend: str = ""
    key: str = ""
    document: str = ""
    field: str = ""
    does: Mend | None = None


@dataclass(frozen=True)
class Expected:
    """A paper that the package waits for."""

    title: str
    of: str


@dataclass(frozen=True)
class Agreed:
    """A term that both sides agreed on, and the paper that says so: "Counter-offer 1"."""

    key: str
    value: Value
    paper: str


@dataclass(frozen=True)
class Newer:
    """The wording of a clause before (``said``) and now (``says``), its name, and how an origin names
    that."""

    name: str
    said: str
    says: str
    ref: str


@dataclass(frozen=True)
class Came:
    """A form that came filled in, by the document that it is, and what it calls the blanks left open on
    it."""

    title: str
    document: str
    open: Sequence[str]


@dataclass(frozen=True)
class Proof:
    """The subject of a proofread: a package with its facts, the papers that it waits for, and the day that it
    is.

    ``retired`` gives by document since when a newer release has its form otherwise; ``available`` the forms
    that could be added, by number; ``newer`` by the origin of a clause what became of it since; ``came``
    forms that the other side filled in; ``agreed`` the terms that both sides agreed on after the agreement.
    """

    package: Package
    today: date
    expected: Sequence[Expected] = ()
    retired: Mapping[str, date] = field(default_factory=dict)
    available: Mapping[str, Form] = field(default_factory=dict)
    newer: Mapping[str, Newer] = field(default_factory=dict)
    came: Sequence[Came] = ()
    agreed: Sequence[Agreed] = ()

    @cached_property
    def blanks(self) -> list[Blank]:
        """All blanks of the documents that leave, in reading order."""
        leaving = self.package.leaving
        return list(self.package.blanks(leaving))

    @cached_property
    def first(self) -> Mapping[str, Blank]:
        """By key the first blank that shows it."""
        found: dict[str, Blank] = {}
        for blank in self.blanks:
            found.setdefault(blank.key, blank)
        return found

    @cached_property
    def numbers(self) -> dict[str, list[str]]:
        """By form number the documents of it that leave."""
        found: dict[str, list[str]] = {}
        for d in self.package.documents:
            if not d.set_aside:
                found.setdefault(d.form.edition.number, []).append(d.id)
        return found

    def value(self, key: str) -> Value | None:
        """Return what a key shows."""
        return self.package.sheet.held(key).value

    def said(self, key: str) -> str:
        """Return a text or choice; "" where there is none."""
        found = self.value(key)
        return found if isinstance(found, str) else ""

    def money(self, key: str) -> Decimal | None:
        """Return a number; None where there is none."""
        found = self.value(key)
        return found if isinstance(found, Decimal) else None

    def day(self, key: str) -> date | None:
        """Return a date; None where there is none."""
        found = self.value(key)
        return found if isinstance(found, date) else None

    def yes(self, key: str) -> bool | None:
        """Return a yes or no; None where there is neither."""
        found = self.value(key)
        return found if isinstance(found, bool) else None

    def label(self, key: str) -> str:
        """Return what a key is called."""
        return self.package.catalog.label_of(key)

    def parties(self, group: Group) -> list[Party]:
        """Return a group's parties, in order."""
        return self.package.sheet.parties(group)

    @property
    def groups(self) -> tuple[Group, Group]:
        """The client's group, and the other side's."""
        side = self.package.sheet.ledger.side
        return side.clients, side.others

    def at(
        self,
        rule: str,
        weight: RemarkWeight,
        key: str,
        message: str,
        mend: str = "",
        does: Mend | None = None,
    ) -> Remark:
        """Return a remark on a key, placed where it is shown first."""
        blank = self.first.get(key)
        place = (blank.document, blank.field.id) if blank is not None else ("", "")
        return Remark(rule, weight, message, mend, key, *place, does)

    def on(self, rule: str, weight: RemarkWeight, blank: Blank, message: str, mend: str = "") -> Remark:
        """Return a remark on a blank."""
        return Remark(rule, weight, message, mend, blank.key, blank.document, blank.field.id)


Rule = Callable[[Proof], Iterable[Remark]]
Remarks = Iterator[Remark]
