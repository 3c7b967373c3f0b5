"""The two script faces in which a name can be signed, as outlines: for paper and screens alike.

Derived once from the fonts by ``outlining`` and kept beside them, so that no font is taken apart at run time.
"""

from __future__ import annotations

import json
from functools import cache
from pathlib import Path
from typing import Any

FONTS = Path(__file__).parent / "fonts"
DERIVED = FONTS / "script-faces.json"
FACES = {"flowing": "great-vibes", "lively": "dancing-script"}
"""By the name that a face has here, the font's."""
PER_EM = 1_000

Step = tuple[float, ...]
"""One step of an outline: of two numbers a move, of three (the first 0) a line, of six a curve, of none the
end of a contour."""


@cache
def face(name: str) -> dict[str, tuple[int, tuple[Step, ...]]]:
    """Advance and outline of each character of a face, in thousandths of the size."""
    kept: dict[str, Any] = json.loads(DERIVED.read_text(encoding="utf-8"))[name]
    return {c: (advance, tuple(map(tuple, steps))) for c, (advance, steps) in kept.items()}
