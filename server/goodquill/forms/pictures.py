"""Pictures of pages, drawn once."""

from __future__ import annotations

from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from django.http import HttpResponse
from quillcore.limited import run_limited
from quillcore.pdf import picture
from quillcore.values import Fault

from goodquill import files
from goodquill.api import Refusal

SHARPNESS = (48, 110, 165, 220)
"""Dots per inch that pictures come in: the map, and the paper on plain and dense screens."""


def page_picture(content: str, page: int, sharpness: int, foreign: bool) -> HttpResponse:
    """A page (from 1) of stored pages as PNG.  Pages from elsewhere are drawn in a limited child."""
    name = f"pictures/{content[:2]}/{content}-{page}-{sharpness}.png"
    if default_storage.exists(name):
        with default_storage.open(name, "rb") as kept:
            drawn: bytes | Fault = kept.read()
    else:
        pdf = files.fetch(content)
        drawn = (
            run_limited("quillcore.pdf.renderer:picture_inside", pdf, str(page), str(sharpness))
            if foreign
            else picture(pdf, page, sharpness)
        )
        if isinstance(drawn, Fault):
            raise Refusal.of(drawn, 422)
        default_storage.save(name, ContentFile(drawn))
    answer = HttpResponse(drawn, content_type="image/png")
    answer["Cache-Control"] = kept_by_browsers(foreign)
    return answer


def kept_by_browsers(foreign: bool) -> str:
    """How long a browser may keep what an edition's hash stands for.  An association's blank pages are no
    secret among its members; what came from elsewhere may bear a client's name, and a browser that several
    people use keeps none of it.
    """
    return "no-store" if foreign else "private, max-age=31536000, immutable"
