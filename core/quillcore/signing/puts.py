"""The content that goes into a finished paper: marks in their places, and scans of papers signed by pen."""

from __future__ import annotations

import hashlib
from collections.abc import Collection, Mapping
from dataclasses import dataclass
from datetime import date, datetime
from zoneinfo import ZoneInfo

from quillcore.pdf import Frame, Rect
from quillcore.signing.marks import Drawing
from quillcore.values.clock import day_of


def signed_on(
    put: Mapping[str, str], places: Collection[str], zone: ZoneInfo, by_pen: str = ""
) -> date | None:
    """Return the day on which somebody signed a paper: that of their last place on it, by the property's
    clock, or the day that is stated of a pen (``by_pen``, ISO).

    ``put`` gives when each place was signed (ISO, with offset), by place, ``places`` are those of the paper.
    None while none of them is signed.
    """
    if by_pen:
        return date.fromisoformat(by_pen)
    moments = [datetime.fromisoformat(at) for place, at in put.items() if place in places]
    return day_of(max(moments), zone) if moments else None


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
