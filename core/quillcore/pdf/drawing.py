"""How a value looks on a page: the operators that draw it."""

from __future__ import annotations

from functools import lru_cache

from quillcore.pdf.fitting import Fit
from quillcore.pdf.typeface import Face

INK = "0.07 0.11 0.27 rg 0.07 0.11 0.27 RG"


@lru_cache(maxsize=8_000)
def cross(left: float, bottom: float, right: float, top: float) -> str:
    """The mark in a box."""
    inset = (right - left) * 0.18
    a, b, c, d = left + inset, bottom + inset, right - inset, top - inset
    return f"1.4 w 1 J {a:.2f} {b:.2f} m {c:.2f} {d:.2f} l {a:.2f} {d:.2f} m {c:.2f} {b:.2f} l S"


def drawn(fitted: Fit, face: Face) -> str:
    """A fitted text, in the page's own points.  Fits are kept and come again with every package, so what they
    look like is kept with them."""
    kept: dict[str, str] = fitted.__dict__.setdefault("drawn", {})
    found = kept.get(face.name)
    if found is None:
        lines = [f"1 0 0 1 {line.x:g} {line.y:g} Tm <{face.shown(line.text)}> Tj" for line in fitted.lines]
        found = kept[face.name] = "\n".join([f"/GQ {fitted.size:g} Tf", *lines])
    return found


def characters(fitted: Fit) -> frozenset[str]:
    """What a fitted text is made of."""
    kept = fitted.__dict__
    if "characters" not in kept:
        kept["characters"] = frozenset(c for line in fitted.lines for c in line.text)
    found: frozenset[str] = kept["characters"]
    return found
