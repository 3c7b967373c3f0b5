"""Pictures of an edition's pages, and the words printed on them, each made once."""

from __future__ import annotations

import time
from collections.abc import Callable
from itertools import product

from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from django.http import HttpResponse
from django_tasks import task
from quillcore.pdf import print_picture
from quillcore.pdf.renderer import words_inside
from quillcore.sandbox import run_limited
from quillcore.values import Fault

from goodquill.http.endpoints import Refusal
from goodquill.storage import files

SHARPNESS = (48, 110, 165, 220, 330)
"""Dots per inch that pictures come in: the map, the paper on plain and dense screens, and enlarged."""

_INSIDE = "quillcore.pdf.renderer"
"""Pages from elsewhere are drawn and read by it in a limited child."""


AHEAD = (165, 220)
"""The resolutions that the paper begins with on a plain screen and on a dense one."""
AHEAD_SECONDS = 20.0
"""The most seconds that a task draws: a form of ten pages takes two, and a letter waits no longer than
that."""


@task(priority=-10)  # letters and seals first: a page that is not there yet is drawn when somebody looks
def draw_ahead(content: str, pages: int, foreign: bool) -> None:
    """Read the words of stored pages and draw them before somebody looks, as far as that is done in time;
    what is there already stays."""
    until = time.monotonic() + AHEAD_SECONDS
    made = _words(content, foreign)
    for page, sharpness in product(range(1, pages + 1), AHEAD):
        if isinstance(made, Fault) or time.monotonic() > until:
            return
        made = _picture(content, page, sharpness, foreign)


def page_picture(content: str, page: int, sharpness: int, foreign: bool) -> HttpResponse:
    """Return a page (from 1) of stored pages as PNG."""
    return _answer(_picture(content, page, sharpness, foreign), "image/png", foreign)


def page_words(content: str, foreign: bool) -> HttpResponse:
    """Return the words of all stored pages as JSON: by page, left, bottom, right and top in points, and the
    text."""
    return _answer(_words(content, foreign), "application/json", foreign)


def _answer(made: bytes | Fault, kind: str, foreign: bool) -> HttpResponse:
    """Answer, or refuse with the fault where it couldn't be made."""
    if isinstance(made, Fault):
        raise Refusal.of(made, 422)
    answer = HttpResponse(made, content_type=kind)
    answer["Cache-Control"] = kept_by_browsers(foreign)
    return answer


def _picture(content: str, page: int, sharpness: int, foreign: bool) -> bytes | Fault:
    def draw(pdf: bytes) -> bytes | Fault:
        if foreign:
            return run_limited(f"{_INSIDE}:picture_inside", pdf, str(page), str(sharpness))
        return print_picture(pdf, page, sharpness)

    return _made_once(content, f"{page}-{sharpness}.png", draw)


def _words(content: str, foreign: bool) -> bytes | Fault:
    def read(pdf: bytes) -> bytes | Fault:
        return run_limited(f"{_INSIDE}:words_inside", pdf) if foreign else words_inside(pdf)

    return _made_once(content, "words.json", read)


def _made_once(content: str, name: str, make: Callable[[bytes], bytes | Fault]) -> bytes | Fault:
    """Return what is made of stored pages, kept beside them."""
    path = f"pictures/{content[:2]}/{content}-{name}"
    if default_storage.exists(path):
        with default_storage.open(path, "rb") as kept:
            found: bytes = kept.read()
            return found
    made = make(files.fetch(content))
    if not isinstance(made, Fault):
        default_storage.save(path, ContentFile(made))
    return made


def kept_by_browsers(foreign: bool) -> str:
    """Return how long a browser may keep what an edition's hash stands for.  An association's blank pages
    are no secret among its members; what came from elsewhere may bear a client's name, and a browser that
    several people use keeps none of it.
    """
    return "no-store" if foreign else "private, max-age=31536000, immutable"
