"""Operators that draw a value on a page."""

from __future__ import annotations

from collections.abc import Iterable
from functools import lru_cache

from quillcore.pdf.fitting import Fit
from quillcore.pdf.typeface import Face, face

INK = "0.07 0.11 0.27 rg 0.07 0.11 0.27 RG"


@lru_cache(maxsize=8_000)
def cross(left: float, bottom: float, right: float, top: float) -> str:
    """Return the mark in a box."""
    inset = (right - left) * 0.18
    a, b, c, d = left + inset, bottom + inset, right - inset, top - inset
    return f"1.4 w 1 J {a:.2f} {b:.2f} m {c:.2f} {d:.2f} l {a:.2f} {d:.2f} m {c:.2f} {b:.2f} l S"


def drawn(fitted: Fit, face: Face) -> str:
    """Return a fitted text, in the page's own points.  Fits are kept and come again with every package, so
    what they look like is kept with them."""
    kept = fitted.__dict__
    found: str | None = kept.get(face.name)
    if found is None:
        lines = [f"1 0 0 1 {line.x:g} {line.y:g} Tm <{face.shown(line.text)}> Tj" for line in fitted.lines]
        found = kept[face.name] = "\n".join([f"/{face.resource} {fitted.size:g} Tf", *lines])
    return found


def face_of(fits: Iterable[Fit]) -> Face:
    """Return the smaller face that has all their letters: Latin, or everything that can be set."""
    return face("latin") if all(map(_is_latin, fits)) else face("all")


def _is_latin(fitted: Fit) -> bool:
    kept = fitted.__dict__
    if "is_latin" not in kept:
        glyphs = face("latin").glyphs
        kept["is_latin"] = all(letter in glyphs for line in fitted.lines for letter in line.text)
    found: bool = kept["is_latin"]
    return found
