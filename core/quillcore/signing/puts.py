"""The content that goes into a finished paper: marks in their places, and scans of papers signed by pen."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass

from quillcore.pdf import Frame, Rect
from quillcore.signing.marks import Drawing


@dataclass(frozen=True)
class Put:
    """A place that was signed or answered: page from 1 and rectangle in points; a drawing, a text (in
    ``frame``, where it has one of its own) or a box's mark; for signatures ``told`` in small print who and
    when."""

    page: int
    rect: Rect
    drawing: Drawing | None = None
    text: str = ""
    told: str = ""
    frame: Frame | None = None
    is_mark: bool = False


@dataclass(frozen=True)
class Scan:
    """A scan of a paper signed by pen, by the key of the signer: a PDF, which goes into the file as it is."""

    who: str
    content: bytes

    @property
    def name(self) -> str:
        """Its name among the files in the file."""
        return f"scan-{self.who}.pdf"

    @property
    def digest(self) -> str:
        """Its SHA-256, which the record has, too."""
        return hashlib.sha256(self.content).hexdigest()
