"""Comparing a returned paper with the one that was sent.

The comparing is ``quillcore.papers.overlaid``, which a limited child alone imports: what it sees with takes a
third of a second and fifty megabytes.
"""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import asdict, dataclass
from typing import Literal

from quillcore.pdf import Rect
from quillcore.sandbox import MEGABYTE, Limits, run_limited
from quillcore.values import Fault

Kind = Literal["blank", "box", "words", "drawn", "gone", "missing page", "new page", "unread page"]
RETURNED = Limits(25, 900 * MEGABYTE, 80_000_000, "Compare it page by page yourself.")
"""A package of 40 pages that came back as a scan takes 11 seconds."""
MOST_PAGES = 60
MOST_FOUND = 300
"""Differences that are told: nobody reads more, and a paper with more is another paper."""


@dataclass(frozen=True)
class InkPlace:
    """A blank, box or place to sign of what was sent; page from 1, rectangle in points."""

    id: str
    page: int
    shape: str
    rect: Rect


@dataclass(frozen=True)
class PaperDifference:
    """One difference: ``page`` in what was sent and ``their_page`` in what came, 0 where there is none;
    ``rect`` in points on the page that was sent; ``was`` and ``now`` in words, "" for nothing; ``spot`` the
    blank or box that it is about."""

    kind: Kind
    page: int
    their_page: int
    rect: Rect | None = None
    was: str = ""
    now: str = ""
    spot: str = ""


@dataclass(frozen=True)
class Compared:
    """All differences in reading order, at most ``MOST_FOUND``, and which places to sign have ink in them."""

    differences: tuple[PaperDifference, ...]
    signed: tuple[str, ...]
    unsigned: tuple[str, ...]


def compare_returned(ours: bytes, theirs: bytes, spots: Sequence[InkPlace]) -> Compared | Fault:
    """Compare, in a limited child: what came is a stranger's."""
    head = json.dumps({"ours": len(ours), "spots": [asdict(spot) for spot in spots]}).encode() + b"\n"
    answer = run_limited("quillcore.papers.overlaid:compare_inside", head + ours + theirs, limits=RETURNED)
    if isinstance(answer, Fault):
        return answer
    data = json.loads(answer)
    found = [
        PaperDifference(**row | {"rect": row["rect"] and tuple(row["rect"])}) for row in data["differences"]
    ]
    return Compared(tuple(found), tuple(data["signed"]), tuple(data["unsigned"]))
