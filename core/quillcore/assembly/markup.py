"""Changes made by hand on a paper's pages: words struck out, and words written in."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from quillcore.forms.model import FormEdition
from quillcore.pdf import Fit, Frame, Rect, fit, wrap
from quillcore.pdf.fitting import PAD
from quillcore.values import Fault
from quillcore.values.scripts import tidy, unsettable

MOST_CHANGES = 80
"""On one paper: whoever changes more writes it anew."""
MOST_LINES = 60
"""Lines struck out by one change: a page has some fifty."""
MOST_TEXT = 600
"""Characters written in at one place."""
_SIZE, _LEAST, _NARROWEST = 8.5, 6.0, 40.0
_LINE = 11.5
"""From line to line of what is written in, in points."""
MARGIN = 42.0
"""Points that stay free at the right of inserted text: initials go there."""


@dataclass(frozen=True)
class HandChange:
    """One change on a page (from 1): ``struck`` are boxes of words struck out, a line each, ``words`` what
    they say; ``text`` is written in with its upper left corner at ``at``."""

    id: str
    page: int
    struck: tuple[Rect, ...] = ()
    words: str = ""
    text: str = ""
    at: tuple[float, float] | None = None


def read_change(row: Mapping[str, Any], edition: FormEdition) -> HandChange | Fault:
    """Return a change as it is kept, checked against the paper's pages."""
    page, struck, text = row["page"], row.get("struck", ()), tidy(str(row.get("text", "")))
    at = row.get("at")
    if not 1 <= page <= edition.pages:
        return _wrong("This page doesn't exist.")
    size = edition.size(page)
    if len(struck) > MOST_LINES:
        return _wrong(f"{MOST_LINES} lines at once is the limit.")
    if len(text) > MOST_TEXT:
        return _wrong(f"{MOST_TEXT} characters in one place is the limit.", "Write an addendum instead.")
    if not struck and not text:
        return _wrong("Nothing was struck out or written in.", "Choose words to strike out or to write in.")
    if text and at is None:
        return _wrong("Choose where to write it.", "Choose a place on the page.")
    if (unprintable := unsettable(text)) is not None:
        return unprintable
    boxes = tuple((float(a), float(b), float(c), float(d)) for a, b, c, d in struck)
    is_on_page = all(_within(box, size) for box in boxes) and (at is None or _within((*at, *at), size))
    if not is_on_page:
        return _wrong("This place is not on the page.")
    where = (float(at[0]), float(at[1])) if text and at is not None else None
    change = HandChange(str(row["id"]), page, boxes, str(row.get("words", ""))[:MOST_TEXT], text, where)
    found = written(change, size[0])
    if found is not None and (found.overflow or min(line.y for line in found.lines) < 0):
        return _wrong("This text doesn't fit there.", "Write less, or choose another place.")
    return change


def _wrong(message: str, mend: str = "Nothing was changed.") -> Fault:
    return Fault("by hand", message, mend)


def _within(box: Sequence[float], size: tuple[float, float]) -> bool:
    left, bottom, right, top = box
    is_number = all(math.isfinite(n) for n in box)
    return is_number and 0 <= left <= right <= size[0] and 0 <= bottom <= top <= size[1]


def written(change: HandChange, width: float) -> Fit | None:
    """Return the text of a change as it is set, on a page of that width; None without one."""
    if not change.text or change.at is None:
        return None
    left, top = change.at
    right = max(left + _NARROWEST, width - MARGIN)
    lines = len(wrap(change.text, right - left - 2 * PAD, _SIZE))
    frame = Frame(left, top - _LINE * lines, right, top, lines, _SIZE, _LEAST)
    return fit(change.text, frame)
