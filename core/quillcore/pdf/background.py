"""A page background: an edition's PDF made ready to be copied and written over many times."""

from __future__ import annotations

import io

import pikepdf


class Damaged(Exception):
    """The bytes are no PDF that can be used; the message says why in plain words."""


class Background:
    """An opened, field-free PDF whose pages can be taken over into others.

    A page's content is never unpacked: that is slow, and a few packed bytes can stand for gigabytes.  An
    instance belongs to the thread that made it.
    """

    def __init__(self, content: bytes) -> None:
        try:
            self.pdf = pikepdf.open(io.BytesIO(content))
        except pikepdf.PdfError as trouble:
            raise Damaged("This isn't a PDF that can be read.") from trouble
        for page in self.pdf.pages:
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
