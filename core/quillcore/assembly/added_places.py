"""Places that somebody put on a paper's pages for those who sign it: on a paper that has none of its own, or
beside those that it has."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

from quillcore.facts.keys import signer_key
from quillcore.forms.model import FormEdition
from quillcore.pdf import Fit, Frame, Rect, fit
from quillcore.pdf.rects import LEAST, lie_on_each_other
from quillcore.values import Fault
from quillcore.values.scripts import tidy, unsettable

MOST_SPOTS = 300
"""On one paper: four people's initials on each of sixty pages, and what else there is."""
MOST_LABEL = 120
"""Letters of what a place to be filled in is called."""
_LINE = 15.0
"""Points that a line takes of a text place: 10-point text with room for a pen."""
_SIZE = 10.0


class What(StrEnum):
    """The purpose of a place. The first three are signed; a name is printed there; the others whoever's it is
    fills in while signing."""

    SIGNATURE = "signature"
    INITIALS = "initials"
    DATE = "date"
    NAME = "name"
    TEXT = "text"
    CHECK = "check"


SIGNED = frozenset({What.SIGNATURE, What.INITIALS, What.DATE})
FILLED_IN = frozenset({What.TEXT, What.CHECK})


@dataclass(frozen=True)
class HandSpot:
    """One place: on a page (from 1), a rectangle in points, ``what`` it is for and ``who``se it is, by a
    signer's key.  ``label`` is what a text or a box asks for; ``required`` whether it has to be answered."""

    id: str
    page: int
    rect: Rect
    what: What
    who: str
    label: str = ""
    required: bool = True

    @property
    def lines(self) -> int:
        """The number of text lines that fit."""
        return max(1, int((self.rect[3] - self.rect[1]) / _LINE)) if self.what is What.TEXT else 1

    @property
    def named(self) -> str:
        """Its name in a sentence."""
        return f"“{self.label}”" if self.label else _IN_WORDS[self.what]


_IN_WORDS = {
    What.SIGNATURE: "a signature",
    What.INITIALS: "initials",
    What.DATE: "a date",
    What.NAME: "a printed name",
    What.TEXT: "a text",
    What.CHECK: "a box",
}


def read_spot(row: Mapping[str, Any], edition: FormEdition) -> HandSpot | Fault:
    """Return a place as it is kept, checked against the paper's pages."""
    page, label = row["page"], tidy(str(row.get("label", "")))
    if not 1 <= page <= edition.pages:
        return _wrong("This page doesn't exist.")
    left, bottom, right, top = (float(n) for n in row["rect"])
    width, height = edition.size(page)
    is_number = all(math.isfinite(n) for n in (left, bottom, right, top))
    if not (is_number and left >= 0 and right <= width and bottom >= 0 and top <= height):
        return _wrong("This place is not on the page.")
    if right - left < LEAST or top - bottom < LEAST:
        return _wrong("This place is too small to sign.", "Draw it larger.")
    if signer_key(str(row["who"])) is None:
        return _wrong("This role doesn't sign papers.", "Choose who signs there.")
    if len(label) > MOST_LABEL:
        return _wrong(f"{MOST_LABEL} letters is the limit.", "Use fewer words.")
    if (unprintable := unsettable(label)) is not None:
        return unprintable
    rect = (left, bottom, right, top)
    required = bool(row.get("required", True))
    return HandSpot(str(row["id"]), page, rect, What(row["what"]), str(row["who"]), label, required)


def _wrong(message: str, mend: str = "Nothing was changed.") -> Fault:
    return Fault("spot", message, mend)


def in_the_way(new: Sequence[HandSpot], others: Iterable[HandSpot], edition: FormEdition) -> Fault | None:
    """Return what a place would lie on: another one, or one of the form's own blanks; None where all are
    free."""
    standing = list(others)
    own: dict[int, list[Rect]] = {}
    for field in edition.fields:
        own.setdefault(field.page, []).append(field.rect)
    for spot in new:
        if any(lie_on_each_other(spot.rect, rect) for rect in own.get(spot.page, ())):
            return _wrong(f"On page {spot.page} a blank is in the way.", "Move it beside the blank.")
        beside = (o for o in standing if o.page == spot.page)
        other = next((o for o in beside if lie_on_each_other(o.rect, spot.rect)), None)
        if other is not None:
            return _wrong(f"On page {spot.page} {other.named} is in the way.", "Move it beside the blank.")
        standing.append(spot)
    return None


def name_in(spot: HandSpot, name: str, edition: FormEdition) -> Fit:
    """Return a printed name as it is set in its place; one that is too long for it goes on to the right."""
    left, bottom, right, top = spot.rect
    found = fit(name, Frame(left, bottom, right, top, size=_SIZE, least=5.0))
    if not found.overflow:
        return found
    return fit(name, Frame(left, bottom, edition.size(spot.page)[0] - 12, top, size=_SIZE, least=4.0))
