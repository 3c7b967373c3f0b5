"""Derives from the value font what setting and embedding need of it.  Run by ``make fonts``; a test says when
it is stale."""

from __future__ import annotations

import base64
import io
import json
import unicodedata
import zlib
from typing import Any

from fontTools import subset
from fontTools.ttLib import TTFont

from quillcore.pdf.typeface import DERIVED, VALUE_FONT
from quillcore.values.scripts import SETTABLE

_LATIN = frozenset(c for c in SETTABLE if ord(c) <= 0x17F or 0x2013 <= ord(c) <= 0x2122)
_BLOCK = 100  # a character map takes at most so many pairs a block


def derive() -> str:
    """Return the derived file's content: widths of all settable characters, and two embeddable subsets."""
    font = TTFont(VALUE_FONT, lazy=True)
    table, metrics, per_em = font.getBestCmap(), font["hmtx"], font["head"].unitsPerEm
    widths = {c: round(metrics[table[ord(c)]][0] * 1000 / per_em) for c in sorted(SETTABLE)}
    faces = {
        "latin": _face(_LATIN, "GQVALA+SourceSans3-Medium"),
        "all": _face(SETTABLE, "GQVALX+SourceSans3-Medium"),
    }
    return json.dumps({"widths": widths, "faces": faces}, ensure_ascii=False, separators=(",", ":")) + "\n"


def _face(wanted: frozenset[str], name: str) -> dict[str, Any]:
    options = subset.Options(
        layout_features=[],
        hinting=False,
        name_IDs=[1, 2, 4, 6],
        drop_tables=["GSUB", "GPOS", "GDEF", "DSIG", "STAT"],
        notdef_outline=True,
    )
    options.recalc_timestamp = False
    font = subset.load_font(str(VALUE_FONT), options)
    worker = subset.Subsetter(options)
    worker.populate(unicodes=[ord(c) for c in wanted])
    worker.subset(font)
    out = io.BytesIO()
    font.save(out)
    order = {glyph: n for n, glyph in enumerate(font.getGlyphOrder())}
    numbers = {
        chr(code): order[glyph] for code, glyph in sorted(font.getBestCmap().items()) if chr(code) in wanted
    }
    per_em = font["head"].unitsPerEm
    return {
        "name": name,
        "glyphs": {c: f"{n:04X}" for c, n in numbers.items()},
        "program": base64.b64encode(zlib.compress(out.getvalue(), 9)).decode(),
        "length": len(out.getvalue()),
        "advances": [round(font["hmtx"][glyph][0] * 1000 / per_em) for glyph in font.getGlyphOrder()],
        "to_unicode": _character_map(numbers),
    }


def _character_map(numbers: dict[str, int]) -> str:
    # A glyph that serves two characters (hyphen and soft hyphen, Greek mu and the micro sign) reads back as
    # the plainer one.
    readable = {n: c for c, n in sorted(numbers.items(), key=lambda pair: _plainness(pair[0]), reverse=True)}
    pairs = [f"<{n:04X}> <{ord(c):04X}>" for n, c in sorted(readable.items())]
    blocks = [pairs[i : i + _BLOCK] for i in range(0, len(pairs), _BLOCK)]
    body = "\n".join(f"{len(b)} beginbfchar\n" + "\n".join(b) + "\nendbfchar" for b in blocks)
    return (
        "/CIDInit /ProcSet findresource begin 12 dict begin begincmap /CMapName /GQ def /CMapType 2 def\n"
        f"1 begincodespacerange <0000> <FFFF> endcodespacerange\n{body}\nendcmap end end"
    )


def _plainness(char: str) -> tuple[bool, bool, str]:
    return unicodedata.decomposition(char).startswith("<"), unicodedata.category(char) == "Cf", char


def main() -> None:
    """Write the derived file."""
    DERIVED.write_text(derive(), encoding="utf-8")


if __name__ == "__main__":
    main()
