"""The one typeface in which values are set, on paper and in the browser.

Kerning and ligatures are off in both places, so that a line is as wide as the sum of its characters.
What setting needs of the font (widths, and two subsets ready to be embedded) is derived once by
``faces.py`` and kept beside it, so that no font has to be taken apart at run time.
"""

from __future__ import annotations

import base64
import hashlib
import json
import zlib
from dataclasses import dataclass
from functools import cache, cached_property
from pathlib import Path
from typing import Any

FONTS = Path(__file__).parent / "fonts"
VALUE_FONT = FONTS / "SourceSans3-Medium.ttf"
DERIVED = FONTS / "value-faces.json"
# Share of the size above and below the baseline that ordinary letters need.
ASCENT, DESCENT = 0.75, 0.25


@cache
def _derived() -> dict[str, Any]:
    found: dict[str, Any] = json.loads(DERIVED.read_text(encoding="utf-8"))
    return found


@cache
def widths() -> dict[str, int]:
    """Advance width of every settable character, in thousandths of the size."""
    found: dict[str, int] = _derived()["widths"]
    return found


def width(text: str, size: float) -> float:
    """Return width of the text in points at that size.  Every character has to be settable."""
    table = widths()
    return sum([table[c] for c in text]) * size / 1000


@dataclass(frozen=True)
class Face:
    """A subset of the value font, ready to be embedded: ``program`` is its compressed file, ``length`` its
    size before; ``glyphs`` gives each character's glyph number as four hex digits."""

    name: str
    glyphs: dict[str, str]
    program: bytes
    length: int
    advances: tuple[int, ...]
    to_unicode: bytes
    """The characters of its glyphs, compressed like the program."""

    @cached_property
    def widths_array(self) -> str:
        """The advance widths as a file has them."""
        return f"[0 [{' '.join(map(str, self.advances))}]]"

    @cached_property
    def resource(self) -> str:
        """Its name on pages: another face has another name, also on a page that was made here, came back and
        is written over."""
        return f"GQ{hashlib.sha256(self.program).hexdigest()[:6]}"

    def shown(self, text: str) -> str:
        """Return the text as a PDF hex string of glyph numbers."""
        return "".join([self.glyphs[c] for c in text])


@cache
def face(name: str) -> Face:
    """Return the face of that name: "latin" or "all"."""
    kept = _derived()["faces"][name]
    return Face(
        kept["name"],
        kept["glyphs"],
        base64.b64decode(kept["program"]),
        kept["length"],
        tuple(kept["advances"]),
        zlib.compress(kept["to_unicode"].encode()),
    )
