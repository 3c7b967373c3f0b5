"""A paper that came back, laid over the one that was sent by words and by sight; in a limited child.

Pages are matched by what is printed on them, and laid over each other by the words that both have, so that a
paper printed smaller or shifted is compared all the same.  A scan has no words; its pages are matched in
order and laid over each other by what is seen on them.
"""

from __future__ import annotations

import json
from collections import Counter
from collections.abc import Sequence
from dataclasses import asdict
from difflib import SequenceMatcher
from typing import Any

import cv2
import numpy as np

from quillcore.papers.returned import MOST_FOUND, MOST_PAGES, InkPlace, Kind, PaperDifference
from quillcore.pdf import Rect
from quillcore.pdf.renderer import Word, drawn, printed_words
from quillcore.pdf.within import lies_in, lines_in

_DOTS = 100
_SCALE = _DOTS / 72
_ALIKE = 0.6
"""Of the words of two pages that they share, from which on one is a copy of the other: a page with every
blank changed and a clause struck shares more, two pages of one form less."""
_MOST_WORDS = 2_500
"""Of one page: beyond them words aren't compared one by one."""
_FEW = 12
"""Words, fewer than which make a page a picture."""
_STRONG, _FAINT = 140, 242
"""Greys: darker is ink, lighter is paper.  What is between may be the edge of a thin line, which one printer
or scanner shows and another one doesn't: it is neither new nor gone.
"""
_BOX_INK = 0.1
"""Of a box's inside, by which one that is marked is darker: the thinnest cross covers a fifth."""
_SIGN_INK = 45
"""Dark dots within a place to sign that weren't there: a speck of dust has five, initials two hundred."""
_STROKE = 45
"""Dark dots of something drawn: a short stroke of a pen has eighty."""
_REACH, _REACH_MOVED, _REACH_SCANNED = 1, 3, 3
"""Dots across around what was printed in which ink is the print itself: where pages lie on each other
exactly, where one was printed smaller or shifted, and where it was scanned.  A stroke through a line of print
is seen between its letters alone, so it may not be more."""
_SPECK, _MOST_PIECES = 6, 400
"""Dots, fewer than which are dust; and pieces on one page that are looked at."""
_BESIDE = 6
"""Dots by which pieces of one stroke may stand higher or lower: nobody strikes a line with a ruler."""
_ONE_STROKE = 40.0
"""Points between pieces on one line that are one stroke, part of which lies over print."""


def compare_inside(content: bytes) -> bytes:
    """Return the comparing itself, as JSON."""
    head, _, rest = content.partition(b"\n")
    said = json.loads(head)
    ours, theirs = rest[: said["ours"]], rest[said["ours"] :]
    spots = [InkPlace(**row | {"rect": tuple(row["rect"])}) for row in said["spots"]]
    our_words, their_words = printed_words(ours)[:MOST_PAGES], printed_words(theirs)[:MOST_PAGES]
    found: list[PaperDifference] = []
    signed: list[str] = []
    for page, their_page in pairs_of(our_words, their_words):
        if page is None:
            found.append(
                PaperDifference(
                    "new page", 0, their_page or 0, now=_begins(their_words[(their_page or 1) - 1])
                )
            )
        elif their_page is None:
            found.append(PaperDifference("missing page", page, 0, was=_begins(our_words[page - 1])))
        else:
            here = [spot for spot in spots if spot.page == page]
            pair = _Pair(
                page,
                their_page,
                our_words[page - 1],
                their_words[their_page - 1],
                _grey(ours, page),
                _grey(theirs, their_page),
                here,
            )
            found += pair.differences()
            signed += pair.signed()
    to_sign = [spot.id for spot in spots if spot.shape == "sign"]
    return json.dumps(
        {
            "differences": [asdict(one) for one in found[:MOST_FOUND]],
            "signed": signed,
            "unsigned": [id for id in to_sign if id not in set(signed)],
        }
    ).encode()


def _begins(words: Sequence[Word]) -> str:
    return " ".join(word.text for word in words[:14])


# Pages


def pairs_of(
    ours: Sequence[Sequence[Word]], theirs: Sequence[Sequence[Word]]
) -> list[tuple[int | None, int | None]]:
    """Return pages (from 1) that belong together, in our order; those that nothing belongs to with None,
    where they stand.  Pages without words are matched in order with what is left."""
    bags = [[Counter(word.text for word in page) for page in pages] for pages in (ours, theirs)]
    scored = sorted(
        (-_alike(a, b), abs(m - n), m, n) for m, a in enumerate(bags[0]) for n, b in enumerate(bags[1])
    )
    match: dict[int, int] = {}
    taken: set[int] = set()
    for score, _, m, n in scored:
        if -score >= _ALIKE and m not in match and n not in taken:
            match[m] = n
            taken.add(n)
    pictures = [n for n, bag in enumerate(bags[1]) if n not in taken and bag.total() < _FEW]
    for m, n in zip([m for m in range(len(ours)) if m not in match], pictures, strict=False):
        match[m] = n
        taken.add(n)
    found: list[tuple[int | None, int | None]] = [
        (m + 1, match[m] + 1 if m in match else None) for m in range(len(ours))
    ]
    return found + [(None, n + 1) for n in range(len(theirs)) if n not in taken]


def _alike(a: Counter[str], b: Counter[str]) -> float:
    whole = a.total() + b.total()
    return 2 * (a & b).total() / whole if whole and min(a.total(), b.total()) >= _FEW else 0.0


def _grey(content: bytes, page: int) -> Any:
    """Return a page as an array of greys from 0 for black."""
    return np.asarray(drawn(content, page, _DOTS)).copy()


# One page and what came of it


class _Pair:
    """A page that was sent and the one that came back, in our page's points and dots."""

    def __init__(
        self,
        page: int,
        their_page: int,
        ours: Sequence[Word],
        theirs: Sequence[Word],
        grey: Any,
        their_grey: Any,
        spots: Sequence[InkPlace],
    ) -> None:
        self.page, self.their_page, self.spots = page, their_page, spots
        self.height = grey.shape[0] / _SCALE
        self.is_picture = len(theirs) < _FEW
        self.ours = list(ours)
        by_words = None if self.is_picture else _laid_by_words(ours, theirs, grey, their_grey)
        laid = by_words if by_words is not None else _laid_by_sight(grey, their_grey)
        self.can_be_laid = laid is not None
        self.theirs = (
            [_moved(word, laid, self.height, their_grey.shape[0]) for word in theirs]
            if laid is not None
            else []
        )
        self.grey, self.their_grey = grey, grey
        if laid is not None:
            size = (grey.shape[1], grey.shape[0])
            self.their_grey = cv2.warpAffine(their_grey, laid, size, borderValue=(255.0,))
        is_exact = by_words is not None and bool(np.allclose(by_words, np.eye(2, 3), atol=0.05))
        reach = _REACH if is_exact else _REACH_SCANNED if self.is_picture else _REACH_MOVED
        self.new = _ink_beside(self.their_grey, self.grey, reach)
        self.gone = _ink_beside(self.grey, self.their_grey, reach)

    def differences(self) -> list[PaperDifference]:
        """Return all that differ, from the top."""
        if not self.can_be_laid:
            return [PaperDifference("unread page", self.page, self.their_page)]
        found = [] if self.is_picture else [*self._blanks(), *self._words()]
        found += self._boxes()
        found += self._drawn(found)
        return sorted(found, key=lambda one: -(one.rect or (0, 0, 0, 0))[3])

    def signed(self) -> list[str]:
        """Return the places to sign that have new ink in them."""
        if not self.can_be_laid:
            return []
        return [
            spot.id
            for spot in self.spots
            if spot.shape == "sign" and int(np.count_nonzero(self._cut(self.new, spot.rect))) >= _SIGN_INK
        ]

    def _blanks(self) -> list[PaperDifference]:
        found = []
        for spot in self.spots:
            if spot.shape != "text":
                continue
            was, now = (" ".join(lines_in(words, spot.rect)) for words in (self.ours, self.theirs))
            if was != now:
                found.append(
                    PaperDifference("blank", self.page, self.their_page, spot.rect, was, now, spot.id)
                )
        return found

    def _words(self) -> list[PaperDifference]:
        """Return printed words that were struck or added, outside of blanks."""
        rects = [spot.rect for spot in self.spots]
        a, b = (
            [w for w in words if not any(lies_in(w, r) for r in rects)] for words in (self.ours, self.theirs)
        )
        if max(len(a), len(b)) > _MOST_WORDS:
            return []
        matcher = SequenceMatcher(None, [w.text for w in a], [w.text for w in b], autojunk=False)
        return [
            PaperDifference(
                "words",
                self.page,
                self.their_page,
                _around(a[i1:i2] or b[j1:j2]),
                " ".join(w.text for w in a[i1:i2]),
                " ".join(w.text for w in b[j1:j2]),
            )
            for what, i1, i2, j1, j2 in matcher.get_opcodes()
            if what != "equal"
        ]

    def _boxes(self) -> list[PaperDifference]:
        found = []
        for spot in self.spots:
            if spot.shape != "box":
                continue
            left, bottom, right, top = spot.rect
            x, y = (right - left) * 0.2, (top - bottom) * 0.2
            inner = (left + x, bottom + y, right - x, top - y)
            was, now = (_darkness(self._cut(grey, inner)) for grey in (self.grey, self.their_grey))
            if abs(was - now) > _BOX_INK:
                said = ("marked", "") if was > now else ("", "marked")
                found.append(PaperDifference("box", self.page, self.their_page, spot.rect, *said, spot.id))
        return found

    def _drawn(self, known: Sequence[PaperDifference]) -> list[PaperDifference]:
        """Return what is seen and isn't told by words, blanks, boxes or signatures."""
        told = [one.rect for one in known if one.rect is not None]
        told += [spot.rect for spot in self.spots if spot.shape != "text"]
        found = []
        kinds: tuple[tuple[Kind, Any], ...] = (("drawn", self.new), ("gone", self.gone))
        for kind, ink in kinds:
            rest = ink.copy()
            for rect in told:
                self._cut(rest, rect, 4)[:] = 0
            for rect in map(self._points, _strokes(rest)):
                found.append(
                    PaperDifference(kind, self.page, self.their_page, rect, spot=self._blank_at(rect))
                )
        return found

    def _blank_at(self, rect: Rect) -> str:
        """Return the blank that something seen lies in, "" for none."""
        x, y = (rect[0] + rect[2]) / 2, (rect[1] + rect[3]) / 2
        inside = (s.id for s in self.spots if s.rect[0] <= x <= s.rect[2] and s.rect[1] <= y <= s.rect[3])
        return next(inside, "")

    def _cut(self, ink: Any, rect: Rect, beyond: float = 0) -> Any:
        left, bottom, right, top = rect
        y = (self.height - top - beyond, self.height - bottom + beyond)
        x = (left - beyond, right + beyond)
        rows, columns = (slice(max(0, round(a * _SCALE)), max(0, round(b * _SCALE))) for a, b in (y, x))
        return ink[rows, columns]

    def _points(self, dots: tuple[int, int, int, int]) -> Rect:
        left, top, right, bottom = (n / _SCALE for n in dots)
        return (round(left, 1), round(self.height - bottom, 1), round(right, 1), round(self.height - top, 1))


def _ink_beside(grey: Any, other: Any, reach: int) -> Any:
    """Return where one page has ink and the other none around it, as an array of 0 and 255."""
    ink = np.where(grey < _STRONG, 255, 0).astype(np.uint8)
    printed = np.where(other < _FAINT, 255, 0).astype(np.uint8)
    return cv2.subtract(ink, cv2.dilate(printed, np.ones((reach, reach), np.uint8)))


def _darkness(part: Any) -> float:
    """Return the darkness from 0 for white paper to 1 for black."""
    return float(1 - part.mean() / 255) if part.size else 0.0


def _strokes(ink: Any) -> list[tuple[int, int, int, int]]:
    """Return where ink lies together: left, top, right and bottom in dots. Pieces on one line are one stroke,
    since a text that lies over print is seen between the letters alone; specks are none."""
    joined = cv2.dilate(ink, np.ones((9, 21), np.uint8))
    count, labels, stats, _ = cv2.connectedComponentsWithStats(joined)
    pieces = []
    for n in range(1, min(count, _MOST_PIECES)):
        x, y, wide, high = (int(v) for v in stats[n][:4])
        rows, columns = np.nonzero(
            (labels[y : y + high, x : x + wide] == n) & (ink[y : y + high, x : x + wide] > 0)
        )
        if rows.size >= _SPECK:
            box = [x + columns.min(), y + rows.min(), x + columns.max() + 1, y + rows.max() + 1]
            pieces.append(([int(v) for v in box], int(rows.size)))
    found: list[tuple[list[int], int]] = []
    for box, dots in sorted(pieces):
        before = next((n for n, (known, _) in enumerate(found) if _on_one_line(known, box)), None)
        if before is None:
            found.append((box, dots))
        else:
            known, so_far = found[before]
            left, top, right, bottom = known
            whole = [min(left, box[0]), min(top, box[1]), max(right, box[2]), max(bottom, box[3])]
            found[before] = (whole, so_far + dots)
    return [(box[0], box[1], box[2], box[3]) for box, dots in found if dots >= _STROKE]


def _on_one_line(known: Sequence[int], box: Sequence[int]) -> bool:
    is_near = box[0] - known[2] < _ONE_STROKE * _SCALE
    return is_near and box[1] - _BESIDE < known[3] and known[1] < box[3] + _BESIDE


def _around(words: Sequence[Word]) -> Rect:
    return (
        min(w.left for w in words),
        min(w.bottom for w in words),
        max(w.right for w in words),
        max(w.top for w in words),
    )


# Laying one over the other


def _laid_by_words(ours: Sequence[Word], theirs: Sequence[Word], grey: Any, their_grey: Any) -> Any:
    """Return how their dots lie on ours (a 2 by 3 matrix), by the words that stand once on both; None where
    too few do."""
    once = [
        {w.text: w for w in words if counts[w.text] == 1 and len(w.text) > 2}
        for words, counts in (
            (ours, Counter(w.text for w in ours)),
            (theirs, Counter(w.text for w in theirs)),
        )
    ]
    both = [(once[0][text], once[1][text]) for text in once[0] if text in once[1]]
    if len(both) < _FEW:
        return None
    heights = (grey.shape[0] / _SCALE, their_grey.shape[0] / _SCALE)
    to, of = (
        np.array([(w.left * _SCALE, (heights[n] - w.top) * _SCALE) for w in words], np.float32)
        for n, words in enumerate(zip(*both, strict=True))
    )
    shift = np.median(to - of, axis=0)
    if np.median(np.abs(to - of - shift)) < 0.5:  # neither larger nor turned: the commonest, and exact
        return np.array([[1, 0, shift[0]], [0, 1, shift[1]]], np.float32)
    laid, _ = cv2.estimateAffinePartial2D(of, to, ransacReprojThreshold=2.0)
    return laid


def _laid_by_sight(grey: Any, their_grey: Any) -> Any:
    """Return the same by what is seen on both pages; None where they show different things."""
    finder = cv2.ORB_create(3_000)  # type: ignore[attr-defined]  # not in the stubs
    points, marks = finder.detectAndCompute(grey, None)
    their_points, their_marks = finder.detectAndCompute(their_grey, None)
    if marks is None or their_marks is None:
        return None
    pairs = cv2.BFMatcher(cv2.NORM_HAMMING, crossCheck=True).match(their_marks, marks)
    if len(pairs) < 4 * _FEW:
        return None
    of = np.array([their_points[p.queryIdx].pt for p in pairs], np.float32)
    to = np.array([points[p.trainIdx].pt for p in pairs], np.float32)
    laid, sure = cv2.estimateAffinePartial2D(of, to, ransacReprojThreshold=2.5)
    return _refined(laid, grey, their_grey) if laid is not None and int(sure.sum()) >= 3 * _FEW else None


def _refined(laid: Any, grey: Any, their_grey: Any) -> Any:
    """Return a matrix made exact to a part of a dot: paper is drawn through scanners unevenly."""
    soft = [cv2.GaussianBlur(page, (0, 0), 2.0) for page in (grey, their_grey)]
    back = cv2.invertAffineTransform(laid).astype(np.float32)
    often = (cv2.TERM_CRITERIA_EPS | cv2.TERM_CRITERIA_COUNT, 60, 1e-4)
    try:
        _, back = cv2.findTransformECC(soft[0], soft[1], back, cv2.MOTION_AFFINE, often)
    except cv2.error:  # it found nothing better
        return laid
    return cv2.invertAffineTransform(back)


def _moved(word: Word, laid: Any, height: float, their_dots: int) -> Word:
    """Return their word where it lies on our page, in points."""
    their_height = their_dots / _SCALE
    corners = [(word.left, word.bottom), (word.right, word.top)]
    found = []
    for x, y in corners:
        dots = laid @ np.array([x * _SCALE, (their_height - y) * _SCALE, 1.0])
        found.append((float(dots[0]) / _SCALE, height - float(dots[1]) / _SCALE))
    (left, bottom), (right, top) = found
    return Word(left, bottom, right, top, word.text)
