"""The words that stand within a rectangle of a page, as lines."""

from __future__ import annotations

from collections.abc import Iterable

from quillcore.pdf.renderer import Word
from quillcore.pdf.widgets import Rect

_SLACK = 2.0
"""Points by which a word may reach out of its blank."""
_HALF_A_LINE = 6.0
"""Points: lines of print stand twelve apart or more."""


def lies_in(word: Word, rect: Rect) -> bool:
    """Return whether a word stands within a rectangle."""
    left, bottom, right, top = rect
    is_beside = left - _SLACK <= word.left and word.right <= right + _SLACK
    return is_beside and bottom - _SLACK <= (word.bottom + word.top) / 2 <= top + _SLACK


def lines_in(words: Iterable[Word], rect: Rect) -> list[str]:
    """Return what stands within a rectangle, from the top and from the left: a line's words stand at one
    height within half a line, however deep their letters reach."""
    lines: list[tuple[float, list[Word]]] = []
    for word in sorted((w for w in words if lies_in(w, rect)), key=lambda w: -(w.bottom + w.top)):
        middle = (word.bottom + word.top) / 2
        if lines and lines[-1][0] - middle < _HALF_A_LINE:
            lines[-1][1].append(word)
        else:
            lines.append((middle, [word]))
    return [" ".join(word.text for word in sorted(line, key=lambda w: w.left)) for _, line in lines]
