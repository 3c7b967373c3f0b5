"""Rectangles of a page against each other."""

from __future__ import annotations

from quillcore.pdf.widgets import Rect

TOUCH = 1.0
"""Points by which each of two neighbours may reach into the other: they touch, and no more."""

LEAST = 8.0
"""Points that a place takes at least, across and upright: a thumb can't hit a smaller one, nor a pen write in
it."""


def common(a: Rect, b: Rect) -> float:
    """Return the area that two have in common."""
    width, height = min(a[2], b[2]) - max(a[0], b[0]), min(a[3], b[3]) - max(a[1], b[1])
    return width * height if width > 0 and height > 0 else 0.0


def lie_on_each_other(a: Rect, b: Rect) -> bool:
    """Return whether two do more than touch."""
    return common(_shrunk(a), _shrunk(b)) > 0


def _shrunk(r: Rect) -> Rect:
    return (r[0] + TOUCH, r[1] + TOUCH, r[2] - TOUCH, r[3] - TOUCH)
