"""The one typeface in which values are set, on paper and in the browser.

Kerning and ligatures are off in both places, so that a line is as wide as the sum of its characters.
"""

from __future__ import annotations

import io
import zlib
from dataclasses import dataclass
from functools import cache
from pathlib import Path

from fontTools import subset
from fontTools.ttLib import TTFont

from quillcore.values.scripts import SETTABLE

FONTS = Path(__file__).parent / "fonts"
VALUE_FONT = FONTS / "SourceSans3-Medium.ttf"
FAMILY = "Quill Values"
# Share of the size above and below the baseline that ordinary letters need.
ASCENT, DESCENT = 0.75, 0.25
_LATIN = frozenset(c for c in SETTABLE if ord(c) <= 0x17F or 0x2013 <= ord(c) <= 0x2122)


@cache
def widths() -> dict[str, int]:
    """Advance width of every settable character, in thousandths of the size."""
    font = TTFont(VALUE_FONT, lazy=True)
    table, metrics = font.getBestCmap(), font["hmtx"]
    per_em = font["head"].unitsPerEm
    return {c: round(metrics[table[ord(c)]][0] * 1000 / per_em) for c in SETTABLE}


def width(text: str, size: float) -> float:
    """Width of the text in points at that size.  Every character has to be settable."""
    table = widths()
    return sum([table[c] for c in text]) * size / 1000


@dataclass(frozen=True)
class Face:
    """A subset of the value font, ready to be embedded: ``program`` is its compressed file."""

    name: str
    glyphs: dict[str, str]
    program: bytes
    length: int
    advances: tuple[int, ...]
    to_unicode: bytes

    def shown(self, text: str) -> str:
        """The text as a PDF hex string of glyph numbers."""
        return "".join([self.glyphs[c] for c in text])


def face_for(characters: set[str]) -> Face:
    """The smaller face that has all the characters: Latin, or everything settable."""
    return _face(characters <= _LATIN)


@cache
def _face(latin: bool) -> Face:
    wanted = _LATIN if latin else SETTABLE
    options = subset.Options(
        layout_features=[], hinting=False, name_IDs=[1, 2, 4, 6], drop_tables=["GSUB", "GPOS", "GDEF", "DSIG", "STAT"], notdef_outline=True
    )
    options.recalc_timestamp = False
    font = subset.load_font(str(VALUE_FONT), options)
    worker = subset.Subsetter(options)
    worker.populate(unicodes=[ord(c) for c in wanted])
    worker.subset(font)
    out = io.BytesIO()
    font.save(out)
    order = {name: n for n, name in enumerate(font.getGlyphOrder())}
    numbers = {chr(code): order[name] for code, name in font.getBestCmap().items() if chr(code) in wanted}
    advances = tuple(round(font["hmtx"][name][0] * 1000 / font["head"].unitsPerEm) for name in font.getGlyphOrder())
    # A glyph that serves two characters (hyphen and soft hyphen) reads back as the plainer one.
    readable = {n: c for c, n in sorted(numbers.items(), reverse=True)}
    blocks = "\n".join(_blocks([f"<{n:04X}> <{ord(c):04X}>" for n, c in sorted(readable.items())]))
    cmap = (
        f"/CIDInit /ProcSet findresource begin 12 dict begin begincmap /CMapName /GQ def /CMapType 2 def\n"
        f"1 begincodespacerange <0000> <FFFF> endcodespacerange\n{blocks}\nendcmap end end"
    )
    raw = out.getvalue()
    return Face(
        "GQVALA+SourceSans3-Medium" if latin else "GQVALX+SourceSans3-Medium",
        {c: f"{n:04X}" for c, n in numbers.items()},
        zlib.compress(raw, 9),
        len(raw),
        advances,
        cmap.encode(),
    )


def _blocks(lines: list[str]) -> list[str]:
    """A character map takes at most 100 pairs a block."""
    return [f"{len(part)} beginbfchar\n" + "\n".join(part) + "\nendbfchar" for part in (lines[i : i + 100] for i in range(0, len(lines), 100))]
