"""Derives the browser's value font from the core's, so that paper on the screen and in the PDF are set in one
face."""

from __future__ import annotations

from pathlib import Path

from fontTools.ttLib import TTFont
from quillcore.pdf.typeface import VALUE_FONT

OUT = Path(__file__).resolve().parents[1] / "web" / "public" / "fonts" / "quill-values.woff2"


def main() -> None:
    """Write the WOFF2."""
    font = TTFont(VALUE_FONT)
    font.flavor = "woff2"
    OUT.parent.mkdir(parents=True, exist_ok=True)
    font.save(OUT)


main()
