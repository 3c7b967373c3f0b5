"""The words printed beside a form's blanks: people know a place by them better than by its page."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache

from quillcore.forms.model import Field, Form
from quillcore.pdf.renderer import Word, words_of

_BEFORE, _AFTER = 6, 3
"""Words before and behind the blank: as many as tell one place of a contract from the next on one line of a
narrow column."""
_SLACK = 2.0  # points by which a word may reach into the blank's rectangle
_LINE = 16.0  # points: a line of print and its space
_LONGEST = 70


@lru_cache(maxsize=200)
def said_beside(form: Form) -> dict[str, str]:
    """Return, by blank, the words on its line around it: "Buyer will pay … Dollars"; "" where there are none.
    Only for editions of ours: a stranger's pages are read inside a limited child alone."""
    pages = {f.page for f in form.edition.fields}
    words = words_of(form.pdf, pages)
    return {f.id: _beside(f, form.edition.fields, words.get(f.page, [])) for f in form.edition.fields}


def _beside(blank: Field, others: Sequence[Field], words: Sequence[Word]) -> str:
    left, bottom, right, top = blank.rect
    line = bottom + min(top - bottom, 11.0) / 2 if blank.lines == 1 else top - 5.0
    on_line = sorted((w for w in words if w.bottom <= line <= w.top), key=lambda w: w.left)
    neighbours = [f.rect for f in others if f.page == blank.page and f.id != blank.id]
    beside = [r for r in neighbours if r[1] <= line <= r[3]]
    begin = max((r[2] for r in beside if r[2] <= left + _SLACK), default=0.0)
    end = min((r[0] for r in beside if r[0] >= right - _SLACK), default=10_000.0)
    before = [w.text for w in on_line if begin - _SLACK <= w.left and w.right <= left + _SLACK]
    behind = [w.text for w in on_line if right - _SLACK <= w.left and w.right <= end + _SLACK]
    said = " … ".join(
        part for part in (" ".join(before[-_BEFORE:]), " ".join(behind[:_AFTER])) if len(part) > 1
    )
    return (said or _above(blank, words))[:_LONGEST]


def _above(blank: Field, words: Sequence[Word]) -> str:
    """Return the end of the line above a blank that has its line to itself."""
    left, _, right, top = blank.rect
    over = [
        w for w in words if top <= (w.bottom + w.top) / 2 <= top + _LINE and w.left < right and w.right > left
    ]
    return " ".join(w.text for w in sorted(over, key=lambda w: w.left)[-_BEFORE:])
