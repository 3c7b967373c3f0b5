"""Setting a value in its blank: shrink, wrap, or say that it does not fit."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import NamedTuple

from quillcore.pdf.typeface import ASCENT, DESCENT, width, widths

SIZE, LEAST, STEP = 10.0, 7.0, 0.5
PAD = 1.5
RISE = 2.6  # of the baseline above the rule on which a blank stands


class Frame(NamedTuple):
    """A blank's rectangle in points from the page's lower left corner, and how text stands in it."""

    left: float
    bottom: float
    right: float
    top: float
    lines: int = 1
    size: float = SIZE
    least: float = LEAST
    align: str = "left"


class SetLine(NamedTuple):
    """One set line: its baseline's start in points, and the text."""

    x: float
    y: float
    text: str


@dataclass(frozen=True)
class Fit:
    """The layout of a value in its place. With ``overflow`` nothing is set: the value goes to a continuation
    page."""

    size: float
    lines: tuple[SetLine, ...]
    overflow: bool = False


def wrap(text: str, room: float, size: float) -> list[str]:
    """Return lines of at most ``room`` points, broken at spaces; a word longer than a line is broken
    within."""
    table = widths()
    limit = room * 1000 / size
    lines: list[str] = []
    for paragraph in text.split("\n"):
        line, used = "", 0.0
        for word in paragraph.split(" "):
            long = sum([table[c] for c in word])
            if line and used + table[" "] + long <= limit:
                line, used = f"{line} {word}", used + table[" "] + long
                continue
            if line:
                lines.append(line)
            while long > limit and len(word) > 1:
                cut = _cut(word, limit)
                lines.append(word[:cut])
                word = word[cut:]
                long = sum([table[c] for c in word])
            line, used = word, long
        lines.append(line)
    return lines


def _cut(word: str, limit: float) -> int:
    table, used = widths(), 0
    for at, char in enumerate(word):
        used += table[char]
        if used > limit:
            return max(at, 1)
    return len(word)


LONGEST_KEPT = 300
"""Characters: fits of longer texts are worked out anew, since thousands of them would fill the memory."""


def fit(text: str, frame: Frame) -> Fit:
    """Return the largest size from the frame's own down to its least at which the text fits its lines."""
    return _fit_kept(text, frame) if len(text) <= LONGEST_KEPT else _fit(text, frame)


@lru_cache(maxsize=6_000)  # some ten megabytes; a package of sixty pages has 1,300
def _fit_kept(text: str, frame: Frame) -> Fit:
    return _fit(text, frame)


def _fit(text: str, frame: Frame) -> Fit:
    room = frame.right - frame.left - 2 * PAD
    height = (frame.top - frame.bottom) / frame.lines
    size = min(frame.size, height / (ASCENT + DESCENT))
    while size >= min(frame.least, frame.size):
        lines = wrap(text, room, size) if frame.lines > 1 or "\n" in text else [text]
        if len(lines) <= frame.lines and (frame.lines > 1 or width(lines[0], size) <= room):
            return Fit(size, tuple(_placed(lines, frame, size, height, room)))
        size -= STEP
    return Fit(frame.least, (), overflow=True)


def _placed(lines: list[str], frame: Frame, size: float, height: float, room: float) -> list[SetLine]:
    placed = []
    for n, text in enumerate(lines):
        spare = 0.0 if frame.align == "left" else room - width(text, size)
        x = frame.left + PAD + (spare / 2 if frame.align == "center" else spare)
        placed.append(
            SetLine(round(x, 2), round(frame.top - height * (n + 1) + min(RISE, height * DESCENT), 2), text)
        )
    return placed
