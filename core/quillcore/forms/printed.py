"""The words printed on an edition's pages, read once and cached: for finding words, and for telling editions
apart."""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import lru_cache

from quillcore.pdf.renderer import words_and_text

_EDGE = 62.0  # points: mastheads and feet change with every edition and say nothing new
MOST_SENTENCES = 1_500
"""Of one form: the longest of the demo's has 160; what is beyond isn't compared."""
_SENTENCE_ENDS = re.compile(r"(?<=[.?]) ")


@dataclass(frozen=True)
class PrintedWords:
    """All printed text in one line, and its sentences without masthead and foot."""

    words: str = ""
    sentences: tuple[str, ...] = ()


@lru_cache(maxsize=400)
def printed_on(content: bytes, heights: tuple[float, ...]) -> PrintedWords:
    """Return what pages of these heights (in points) say.  A stranger's pages are read inside a limited
    child."""
    pages, text = words_and_text(content)
    inner = (
        word.text
        for words, height in zip(pages, heights, strict=False)
        for word in words
        if _EDGE <= word.bottom <= height - _EDGE
    )
    sentences = [part.strip().rstrip(".?") for part in _SENTENCE_ENDS.split(" ".join(inner)) if part.strip()]
    return PrintedWords(text, tuple(sentences[:MOST_SENTENCES]))
