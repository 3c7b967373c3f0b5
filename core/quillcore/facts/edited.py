"""The record that edits change, and what they come to."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Protocol

from quillcore.facts.ledger import Entry, Ledger, Source
from quillcore.values import Fault, Value


@dataclass(frozen=True)
class EditDraft:
    """A typed text that can't be read, with the reason. It waits beside the value that holds."""

    text: str
    message: str
    mend: str


@dataclass(frozen=True)
class EditClash:
    """A text that ``author`` typed from a version that somebody else had changed meanwhile. It waits until
    somebody decides."""

    text: str
    author: str


class Vocabulary(Protocol):
    """The keys that exist, and the values that each may have."""

    def knows(self, key: str) -> bool:
        """Return whether something may be kept under that stored key."""

    def kind_of(self, key: str) -> str:
        """Return the value kind of a stored key."""

    def options_of(self, key: str) -> tuple[str, ...]:
        """Return what a choice under it may be; () for any other kind."""

    def beyond(self, key: str, value: Value) -> Fault | None:
        """Return what is wrong with a value that can't be; None for one that can."""

    def only_answered_by(self, key: str) -> str | None:
        """Return the role that alone may answer; None where the agent may."""


@dataclass
class EditedRecord:
    """The record that edits change. ``versions`` gives the newest order of each stored key (0 without one);
    ``shows`` what a shown key says now, worked out or stated. ``drafts`` and ``clashes`` are those that wait,
    by stored key."""

    ledger: Ledger
    vocabulary: Vocabulary
    versions: Mapping[str, int]
    shows: Callable[[str], Value | None]
    drafts: Mapping[str, EditDraft]
    clashes: Mapping[str, Sequence[EditClash]]
    standing: TemplateMode | None = None

    @property
    def source(self) -> Source:
        """The source of typed values."""
        return Source.TYPED if self.standing is None else Source.TEMPLATE


@dataclass(frozen=True)
class TemplateMode:
    """Settings for editing a template: a typed text is a standing answer, may be a formula (``check`` gives
    what is wrong with one for a stored key), and may be locked by whoever ``may_lock``; nobody is named."""

    check: Callable[[str, str], Fault | None]
    may_lock: bool = False


@dataclass
class Edited:
    """The result of edits.

    ``entries`` in order (the record's ledger has them already); for each key that they touched, the draft
    that waits now (None: none any more) and the clashes; ``moved`` are all stored keys whose look has
    changed.
    """

    entries: list[Entry] = field(default_factory=list)
    drafts: dict[str, EditDraft | None] = field(default_factory=dict)
    clashes: dict[str, tuple[EditClash, ...]] = field(default_factory=dict)
    moved: dict[str, None] = field(default_factory=dict)
    said: str = ""
