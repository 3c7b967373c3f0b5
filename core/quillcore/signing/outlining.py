"""Derives the script faces' outlines from their fonts.  Run by ``make fonts``; a test says when
they are stale."""

from __future__ import annotations

import json
from collections.abc import Sequence
from typing import Any

from fontTools.pens.basePen import BasePen
from fontTools.ttLib import TTFont

from quillcore.signing.script_faces import DERIVED, FACES, FONTS, PER_EM
from quillcore.values.scripts import SETTABLE

_PARTS = ("latin", "latin-ext", "vietnamese")


def derive() -> str:
    """Return the derived file's content: for each face and character its advance and outline, in
    thousandths."""
    faces = {name: _outlines(font) for name, font in FACES.items()}
    return json.dumps(faces, ensure_ascii=False, separators=(",", ":")) + "\n"


def _outlines(font: str) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for part in _PARTS:
        opened = TTFont(FONTS / f"{font}-{part}-400-normal.woff2")
        scale = PER_EM / opened["head"].unitsPerEm
        glyphs = opened.getGlyphSet()
        for code, glyph in sorted(opened.getBestCmap().items()):
            if chr(code) in SETTABLE and chr(code) not in found:
                advance = round(glyphs[glyph].width * scale)
                found[chr(code)] = [advance, _steps(glyphs, glyph, scale)]
    return dict(sorted(found.items()))


def _steps(glyphs: Any, glyph: str, scale: float) -> list[list[int]]:
    class Pen(BasePen):
        """Writes down what is drawn; curves of three points come as such of four."""

        def __init__(self) -> None:
            super().__init__(glyphs)
            self.steps: list[list[int]] = []

        def _put(self, *points: Sequence[float]) -> list[int]:
            return [round(n * scale) for point in points for n in point]

        def _moveTo(self, at: Sequence[float]) -> None:
            self.steps.append(self._put(at))

        def _lineTo(self, at: Sequence[float]) -> None:
            self.steps.append([0, *self._put(at)])

        def _curveToOne(self, a: Sequence[float], b: Sequence[float], at: Sequence[float]) -> None:
            self.steps.append(self._put(a, b, at))

        def _closePath(self) -> None:
            self.steps.append([])

    pen = Pen()
    glyphs[glyph].draw(pen)
    return pen.steps


if __name__ == "__main__":
    DERIVED.write_text(derive(), encoding="utf-8")
