"""Pictures of pages, for the paper on the screen."""

from __future__ import annotations

import io
import threading

import pypdfium2

_LOCK = threading.Lock()  # PDFium isn't safe to enter from two threads


def picture(content: bytes, page: int, dots_per_inch: int) -> bytes:
    """A page (from 1) as PNG.  Grey when the page has no colour is left to the encoder."""
    with _LOCK:
        document = pypdfium2.PdfDocument(content)
        try:
            bitmap = document[page - 1].render(scale=dots_per_inch / 72, grayscale=True)
            image = bitmap.to_pil()
        finally:
            document.close()
    out = io.BytesIO()
    image.save(out, format="PNG", compress_level=6)
    return out.getvalue()


def picture_inside(content: bytes, page: str, dots_per_inch: str) -> bytes:
    """The same for pages by strangers, called in a limited child."""
    return picture(content, int(page), int(dots_per_inch))
