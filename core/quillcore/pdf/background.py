"""A page background: an edition's PDF made ready to be copied and written over many times."""

from __future__ import annotations

import io

import pikepdf


class Damaged(Exception):
    """The bytes are no PDF that can be used; the message says why in plain words."""


class Background:
    """An opened, field-free PDF whose pages can be taken over into others.

    Each page's own content stands between q and Q, so that what is laid over it keeps an upright
    coordinate system.  It is never unpacked: that is slow, and a few packed bytes can stand for gigabytes.  An instance belongs to the thread that made it.
    """

    def __init__(self, content: bytes) -> None:
        try:
            self.pdf = pikepdf.open(io.BytesIO(content))
        except pikepdf.PdfError as trouble:
            raise Damaged("This isn't a PDF that can be read.") from trouble
        before, after = (self.pdf.make_stream(mark) for mark in (b"q\n", b"\nQ\n"))
        for page in self.pdf.pages:
            page.obj.Contents = pikepdf.Array([before, *_streams(page.obj.get("/Contents")), after])
            if "/Resources" not in page.obj:
                page.obj.Resources = pikepdf.Dictionary()
            if "/Font" not in page.obj.Resources:
                page.obj.Resources.Font = pikepdf.Dictionary()
            for key in ("/Annots", "/StructParents", "/AA"):
                if key in page.obj:
                    del page.obj[key]

    @property
    def pages(self) -> int:
        """How many pages it has."""
        return len(self.pdf.pages)


def _streams(contents: pikepdf.Object | None) -> list[pikepdf.Object]:
    """A page's content as the streams that it consists of."""
    if contents is None:
        return []
    return [s for s in contents if isinstance(s, pikepdf.Stream)] if isinstance(contents, pikepdf.Array) else [contents]
