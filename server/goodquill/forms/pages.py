"""What is drawn and read of an edition's pages, once: pictures, and the words printed on them."""

from __future__ import annotations

from collections.abc import Callable

from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from django.http import HttpResponse
from quillcore.limited import run_limited
from quillcore.pdf import picture
from quillcore.pdf.renderer import words_inside
from quillcore.values import Fault

from goodquill import files
from goodquill.api import Refusal

SHARPNESS = (48, 110, 165, 220, 330)
"""Dots per inch that pictures come in: the map, the paper on plain and dense screens, and enlarged."""

_INSIDE = "quillcore.pdf.renderer"
"""Pages from elsewhere are drawn and read by it in a limited child."""


def page_picture(content: str, page: int, sharpness: int, foreign: bool) -> HttpResponse:
    """A page (from 1) of stored pages as PNG."""

    def draw(pdf: bytes) -> bytes | Fault:
        if foreign:
            return run_limited(f"{_INSIDE}:picture_inside", pdf, str(page), str(sharpness))
        return picture(pdf, page, sharpness)

    return _made_once(content, f"{page}-{sharpness}.png", "image/png", draw, foreign)


def page_words(content: str, foreign: bool) -> HttpResponse:
    """The words of all stored pages as JSON: by page, left, bottom, right and top in points, and the text."""

    def read(pdf: bytes) -> bytes | Fault:
        return run_limited(f"{_INSIDE}:words_inside", pdf) if foreign else words_inside(pdf)

    return _made_once(content, "words.json", "application/json", read, foreign)


def _made_once(
    content: str, name: str, kind: str, make: Callable[[bytes], bytes | Fault], foreign: bool
) -> HttpResponse:
    """What is made of stored pages, kept beside them.  Refuses with the fault where it can't be made."""
    path = f"pictures/{content[:2]}/{content}-{name}"
    if default_storage.exists(path):
        with default_storage.open(path, "rb") as kept:
            made: bytes | Fault = kept.read()
    else:
        made = make(files.fetch(content))
        if isinstance(made, Fault):
            raise Refusal.of(made, 422)
        default_storage.save(path, ContentFile(made))
    answer = HttpResponse(made, content_type=kind)
    answer["Cache-Control"] = kept_by_browsers(foreign)
    return answer


def kept_by_browsers(foreign: bool) -> str:
    """How long a browser may keep what an edition's hash stands for.  An association's blank pages are no
    secret among its members; what came from elsewhere may bear a client's name, and a browser that several
    people use keeps none of it.
    """
    return "no-store" if foreign else "private, max-age=31536000, immutable"
