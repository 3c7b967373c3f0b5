"""Marks: a signature or initials as somebody adopted them, drawn as outlines and never as a picture."""

from __future__ import annotations

import unicodedata
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import Any

from quillcore.pdf import Rect
from quillcore.signing.script_faces import FACES, PER_EM, Step, face
from quillcore.values import Fault

MOST_LETTERS = 80
MOST_STROKES = 200
MOST_POINTS = 4_000
"""Of one drawing, all its strokes together: a long name written slowly on a phone gives some 1,500."""
_LEAST_SPAN = 12.0
"""In the drawing's own thousandths: what is smaller than this both ways is a dot and no name."""
_LEAST_SEEN = 0.001
"""In the unit in which it came: a screen's pixels, or parts of its width; what is smaller nobody drew."""
_PEN = 16.0
"""Width of a drawn stroke, in thousandths of the drawing's longer side."""
_APART = 4.0
"""Points nearer than this to the one before say nothing more about a stroke, but for its end."""


@dataclass(frozen=True)
class Drawing:
    """A drawing in units of its own: ``box`` is left, bottom, right and top; ``steps`` as of a script face.
    It is filled, or with ``pen`` stroked by a pen that wide."""

    box: Rect
    steps: tuple[Step, ...]
    pen: float = 0.0


def typed(name: str, face_name: str) -> Drawing | Fault:
    """Return a name in one of the script faces."""
    said = " ".join(unicodedata.normalize("NFC", name).split())
    if face_name not in FACES:
        return Fault("mark", f"There is no script style “{face_name}”.", f"Choose one of {', '.join(FACES)}.")
    if not said:
        return Fault("mark", "Enter your name.", "Enter it the way you sign.")
    if len(said) > MOST_LETTERS:
        return Fault("mark", "This signature is too long.", f"{MOST_LETTERS} letters is the limit.")
    outlines = face(face_name)
    missing = [c for c in said if c not in outlines]
    if missing:
        return Fault(
            "mark",
            f"“{missing[0]}” can't be written in this style.",
            "Draw your signature instead, or type it in Latin letters.",
        )
    at = 0.0
    steps: list[Step] = []
    for letter in said:
        advance, drawn = outlines[letter]
        steps += [_moved(step, at) for step in drawn]
        at += advance
    return Drawing(_bounds(steps) if any(steps) else (0.0, 0.0, at, float(PER_EM)), tuple(steps))


def _moved(step: Step, right: float) -> Step:
    if len(step) == 3:
        return (0, step[1] + right, step[2])
    return tuple(n + right if place % 2 == 0 else n for place, n in enumerate(step))


def drawn(strokes: object) -> Drawing | Fault:
    """Return what was drawn by finger or pointer, smoothed: strokes of points, x to the right and y down,
    in any unit."""
    read = _read(strokes)
    if isinstance(read, Fault):
        return read
    left, top, right, bottom = _extent(p for stroke in read for p in stroke)
    span = max(right - left, bottom - top)
    if span < _LEAST_SEEN:
        return Fault("mark", "This is only a dot.", "Draw your name, or type it.")
    scale = PER_EM / span
    points = [[((x - left) * scale, (bottom - y) * scale) for x, y in stroke] for stroke in read]
    width, height = (right - left) * scale, (bottom - top) * scale
    length = sum(_length(stroke) for stroke in points)
    if length < 8 * _LEAST_SPAN:
        return Fault("mark", "This signature is too small.", "Draw your name, or type it.")
    steps = [step for stroke in points for step in _smooth(_thinned(stroke))]
    half = _PEN / 2
    return Drawing((-half, -half, width + half, height + half), tuple(steps), _PEN)


def _read(strokes: object) -> list[list[tuple[float, float]]] | Fault:
    """Return the strokes as numbers, none of them wild; a Fault for anything else."""
    wrong = Fault("mark", "This drawing can't be read.", "Clear it and draw again, or type your name.")
    if not isinstance(strokes, list) or not strokes:
        return Fault("mark", "Draw your signature first.", "Draw your name, or type it.")
    if (
        len(strokes) > MOST_STROKES
        or sum(len(s) if isinstance(s, list) else 1 for s in strokes) > MOST_POINTS
    ):
        return Fault("mark", "This drawing has too many lines.", "Clear it and draw your name once.")
    found: list[list[tuple[float, float]]] = []
    for stroke in strokes:
        if not isinstance(stroke, list):
            return wrong
        points = [_point(point) for point in stroke]
        if any(point is None for point in points):
            return wrong
        found += [[p for p in points if p is not None]] if points else []
    return found or wrong


def _point(point: object) -> tuple[float, float] | None:
    if not isinstance(point, list) or len(point) != 2:
        return None
    x, y = point
    fits = all(isinstance(n, int | float) and not isinstance(n, bool) and abs(n) <= 1e5 for n in (x, y))
    return (float(x), float(y)) if fits else None


def _extent(points: Iterable[tuple[float, float]]) -> Rect:
    xs, ys = zip(*points, strict=True)
    return min(xs), min(ys), max(xs), max(ys)


def _length(stroke: Sequence[tuple[float, float]]) -> float:
    return sum(((a - c) ** 2 + (b - d) ** 2) ** 0.5 for (a, b), (c, d) in pairwise(stroke))


def _thinned(stroke: Sequence[tuple[float, float]]) -> list[tuple[float, float]]:
    """Return the stroke without points that stand on one another."""
    kept = [stroke[0]]
    for point in stroke[1:]:
        if _length([kept[-1], point]) >= _APART:
            kept.append(point)
    if len(kept) > 1 and stroke[-1] != kept[-1]:
        kept[-1] = stroke[-1]
    return kept


def _smooth(points: Sequence[tuple[float, float]]) -> list[Step]:
    """Return a curve through the points (Catmull and Rom's, as cubic curves): what a hand drew has no
    corners."""
    first = points[0]
    if len(points) == 1:
        return [first, (0, first[0] + 0.01, first[1])]
    steps: list[Step] = [first]
    for n in range(1, len(points)):
        before, a = points[max(n - 2, 0)], points[n - 1]
        b, behind = points[n], points[min(n + 1, len(points) - 1)]
        out = (a[0] + (b[0] - before[0]) / 6, a[1] + (b[1] - before[1]) / 6)
        into = (b[0] - (behind[0] - a[0]) / 6, b[1] - (behind[1] - a[1]) / 6)
        steps.append((*out, *into, *b))
    return steps


def _bounds(steps: Sequence[Step]) -> Rect:
    numbers = [step[1:] if len(step) == 3 else step for step in steps]
    return _extent((step[n], step[n + 1]) for step in numbers for n in range(0, len(step), 2))


_STANDING = 0.72
"""Of a place's height that a mark takes at most: descenders and the line below keep their room."""


def placed(drawing: Drawing, rect: Rect) -> str:
    """Return the drawing as PDF operators, as large as fits into the place, at its left on its line."""
    left, bottom, right, top = rect
    low, base, far, high = drawing.box
    room, tall = right - left - 2, (top - bottom) * _STANDING
    scale = min(room / max(far - low, 1e-6), tall / max(high - base, 1e-6))
    out = [f"q {scale:.5f} 0 0 {scale:.5f} {left + 1 - low * scale:.3f} {bottom + 1.5 - base * scale:.3f} cm"]
    if drawing.pen:
        out.append(f"{drawing.pen:g} w 1 J 1 j")
    out += [_operator(step) for step in drawing.steps]
    out.append("S Q" if drawing.pen else "f Q")
    return "\n".join(out)


def _operator(step: Step) -> str:
    if not step:
        return "h"
    said = " ".join(f"{n:.1f}".removesuffix(".0") for n in (step[1:] if len(step) == 3 else step))
    return f"{said} {'m' if len(step) == 2 else 'l' if len(step) == 3 else 'c'}"


def as_svg(drawing: Drawing) -> dict[str, Any]:
    """Return the same for a screen: ``box`` as left, top, width and height, ``path`` with y going down, and
    the pen's width (0 where it is filled)."""
    low, base, far, high = drawing.box
    letters = {2: "M", 3: "L", 6: "C"}
    path = []
    for step in drawing.steps:
        if not step:
            path.append("Z")
            continue
        numbers = step[1:] if len(step) == 3 else step
        turned = [n if place % 2 == 0 else -n for place, n in enumerate(numbers)]
        path.append(letters[len(step)] + " ".join(f"{n:.1f}".removesuffix(".0") for n in turned))
    return {"box": [low, -high, far - low, high - base], "path": "".join(path), "pen": drawing.pen}


def adopted(said: Mapping[str, Any]) -> Drawing | Fault:
    """Return a mark as it is kept or sent: ``face`` and ``name`` of a typed one, ``strokes`` of a drawn
    one."""
    if "strokes" in said:
        return drawn(said["strokes"])
    return typed(str(said.get("name", "")), str(said.get("face", "")))
