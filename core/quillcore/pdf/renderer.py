"""The one door to the page renderer: pictures of pages, and the words printed on them.

PDFium may not be entered from two threads at once: a process in which that happened has ended.  So this
module alone imports it (a lint rule holds that), and every entry goes through one lock.  Only pages that are
known to be sound come here in the process that serves people; a stranger's pages are drawn and read in a
limited child.
"""

from __future__ import annotations

import io
import json
import re
import threading
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from ctypes import c_double, c_ushort
from itertools import islice
from typing import NamedTuple

import pypdfium2
import pypdfium2.raw as raw
from PIL import Image

_LOCK = threading.Lock()
MOST_CHARACTERS = 40_000
"""Of one page: a page of a contract has 6,000, one set in the smallest print 20,000."""
MOST_WORDS = 400_000
"""Characters of text that are kept of a whole paper: of 500 close-printed pages, the first fifty or more."""
MOST_PIXELS = 12_000_000
"""Of one picture: a letter page at 300 dots per inch has 8.4 million; a poster is drawn less sharply instead.
"""


class RuledLine(NamedTuple):
    """A printed line to write on: its page from 1, its ends and its height in points."""

    page: int
    left: float
    right: float
    at: float


MOST_RULES = 4_000
"""Of one paper: the longest of the demo's packages has 2,500."""
MOST_DRAWN = 4_000
"""Things drawn on one page that are looked at: a form has some hundreds, a map more and no rules."""
_THIN, _SHORT = 3.5, 40.0
"""Points: a thicker bar is no rule to write on (a stroke counts on both sides of it), a shorter one is
a box's edge or a dash."""


_TO_PRINT = [round(grey / 17) for grey in range(256)]
"""For each grey, which of sixteen is nearest."""
_BETWEEN_WORDS = "\x00\ufffd_…"
"""No part of a word: what has no character, and lines of them to write on."""
_WORD = re.compile(rf"[^\s{_BETWEEN_WORDS}]+")
_HYPHEN, _LINE_END = "\x02", "\ufffe"
"""PDFium's characters for a hyphen at a line's end: as a letter, and in a text, where it joins the two
lines."""


class Word(NamedTuple):
    """One word and its box in points on the page as it is seen."""

    left: float
    bottom: float
    right: float
    top: float
    text: str


@contextmanager
def _opened(content: bytes) -> Iterator[pypdfium2.PdfDocument]:
    with _LOCK:
        document = pypdfium2.PdfDocument(content)
        try:
            yield document
        finally:
            document.close()


def drawn(content: bytes, page: int, dots_per_inch: int) -> Image.Image:
    """Return a page (from 1) in 256 greys.  A page so large that it would be no picture any more is drawn
    less sharply."""
    with _opened(content) as document:
        sheet = document[page - 1]
        width, height = sheet.get_size()
        scale = dots_per_inch / 72
        scale = min(scale, (MOST_PIXELS / max(width * height, 1.0)) ** 0.5)
        bitmap = sheet.render(scale=scale, grayscale=True)
        image = bitmap.to_pil().copy()
        bitmap.close()
        sheet.close()
    return image


def picture(content: bytes, page: int, dots_per_inch: int) -> bytes:
    """Return the same as PNG."""
    return _as_png(drawn(content, page, dots_per_inch), compress_level=6)


def print_picture(content: bytes, page: int, dots_per_inch: int) -> bytes:
    """Return a page of print alone as PNG, in 16 greys: letters and their edges need no more, and it is
    written in less than half the time and is a quarter smaller.  Photographs need all."""
    image = drawn(content, page, dots_per_inch).point(_TO_PRINT)
    image.putpalette([grey for shade in range(16) for grey in (shade * 17,) * 3])
    return _as_png(image, bits=4, compress_level=3)


def _as_png(image: Image.Image, **how: int) -> bytes:
    out = io.BytesIO()
    image.save(out, format="PNG", **how)
    return out.getvalue()


def picture_inside(content: bytes, page: str, dots_per_inch: str) -> bytes:
    """Return the same for pages by strangers, called in a limited child."""
    return picture(content, int(page), int(dots_per_inch))


def words_of(content: bytes, pages: set[int]) -> dict[int, list[Word]]:
    """Return the words of the pages wanted (from 1), in the file's order; a page that can't be read has
    none."""
    found: dict[int, list[Word]] = {}
    try:
        with _opened(content) as document:
            for number in sorted(pages):
                if words := _words_on(document, number):
                    found[number] = words
    except pypdfium2.PdfiumError:
        pass
    return found


def printed_words(content: bytes) -> list[list[Word]]:
    """Return the words of every page, in order; of all pages together at most MOST_WORDS characters."""
    return words_and_text(content)[0]


def words_and_text(content: bytes) -> tuple[list[list[Word]], str]:
    """Return the words of every page and the plain text, of a file that is opened once."""
    words, parts = [], []
    for text, characters in _texts(content):
        words.append(_words(text, characters) if text is not None else [])
        parts.append(characters)
    return words, _in_one_line(parts)


def words_inside(content: bytes) -> bytes:
    """Return the same as JSON, boxes to a tenth of a point; of pages by strangers, called in a limited
    child."""
    pages = [
        [[*(round(n, 1) for n in word[:4]), word.text] for word in words] for words in printed_words(content)
    ]
    return json.dumps({"pages": pages}, ensure_ascii=False, separators=(",", ":")).encode()


def rules_of(content: bytes, pages: set[int]) -> list[RuledLine]:
    """Return the level lines printed on the pages wanted (from 1), from the top down; a page that can't be
    read has none."""
    found: list[RuledLine] = []
    try:
        with _opened(content) as document:
            for number in sorted(pages):
                try:
                    page = document[number - 1]
                    found += _rules(page, number)[: MOST_RULES - len(found)]
                    page.close()
                except (pypdfium2.PdfiumError, IndexError):
                    continue
    except pypdfium2.PdfiumError:
        pass
    return found


def _rules(page: pypdfium2.PdfPage, number: int) -> list[RuledLine]:
    rules: list[RuledLine] = []
    paths = page.get_objects(filter=[raw.FPDF_PAGEOBJ_PATH], max_depth=3)
    for drawn in islice(paths, MOST_DRAWN):
        try:
            left, bottom, right, top = drawn.get_bounds()
        except pypdfium2.PdfiumError:
            continue
        if top - bottom <= _THIN and right - left >= _SHORT:
            rules.append(RuledLine(number, left, right, (bottom + top) / 2))
    return sorted(rules, key=lambda r: (-r.at, r.left))


def plain_text(content: bytes) -> str:
    """Return the printed text, for finding words in it: of each page as much as a page can hold, of all at
    most MOST_WORDS."""
    return _in_one_line(characters for _, characters in _texts(content))


def _in_one_line(parts: Iterable[str]) -> str:
    return " ".join(" ".join(parts).replace(_LINE_END, "-").split())[:MOST_WORDS]


def _texts(content: bytes) -> Iterator[tuple[pypdfium2.PdfTextPage | None, str]]:
    """Yield the text of every page and its characters; nothing once MOST_WORDS have come."""
    left = MOST_WORDS
    with _opened(content) as document:
        for number in range(1, len(document) + 1):
            if left <= 0:
                yield None, ""
                continue
            with _text_of(document, number) as text:
                characters = _characters(text) if text is not None else ""
                left -= len(characters)
                yield text, characters


@contextmanager
def _text_of(document: pypdfium2.PdfDocument, number: int) -> Iterator[pypdfium2.PdfTextPage | None]:
    """Return the text of one page (from 1), None where it can't be read."""
    try:
        page = document[number - 1]
        text = page.get_textpage()
    except (pypdfium2.PdfiumError, IndexError):
        yield None
        return
    try:
        yield text
    finally:
        text.close()
        page.close()


def _words_on(document: pypdfium2.PdfDocument, number: int) -> list[Word]:
    """Return the words of one page (from 1), none where it can't be read."""
    with _text_of(document, number) as text:
        return _words(text, _characters(text)) if text is not None else []


def _count(text: pypdfium2.PdfTextPage) -> int:
    """Return how many characters of a page are looked at."""
    return max(0, min(text.count_chars(), MOST_CHARACTERS))


def _characters(text: pypdfium2.PdfTextPage) -> str:
    """Return all of them, in order."""
    count = _count(text)
    if not count:
        return ""
    units = (c_ushort * (2 * count + 1))()
    written = raw.FPDFText_GetText(text, 0, count, units)
    return bytes(units)[: 2 * (written - 1)].decode("utf-16-le", "replace")


def _words(text: pypdfium2.PdfTextPage, characters: str) -> list[Word]:
    """Return the words of a page: what ends one are spaces, rules to write on, and gaps."""
    count = _count(text)
    if len(characters) != count:  # one is missing, so none is known by its number
        return _by_letters(text, 0, count)
    words: list[Word] = []
    left, top, right, bottom = box = c_double(), c_double(), c_double(), c_double()
    for found in _WORD.finditer(characters):
        start, end = found.span()
        # What was set in one piece has one box.  Asking for it is a fifth of asking for each letter's.
        is_one_piece = raw.FPDFText_CountRects(text, start, end - start) == 1
        if is_one_piece and _LINE_END not in found[0] and raw.FPDFText_GetRect(text, 0, *box):
            words.append(Word(left.value, bottom.value, right.value, top.value, found[0]))
        else:
            words += _by_letters(text, start, end)
    return words


def _by_letters(text: pypdfium2.PdfTextPage, start: int, end: int) -> list[Word]:
    """Return the words between two characters of a page, by where each letter stands."""
    words: list[Word] = []
    letters: list[str] = []
    left, right, bottom, top = box = c_double(), c_double(), c_double(), c_double()
    word_left = word_bottom = word_right = word_top = 0.0
    for n in range(start, end):
        char = chr(raw.FPDFText_GetUnicode(text, n) or 0xFFFD)
        is_between = char.isspace() or char in _BETWEEN_WORDS
        if not is_between and not raw.FPDFText_GetCharBox(text, n, *box):
            continue
        is_apart = left.value > word_right + 6 or abs(bottom.value - word_bottom) > 8
        if letters and (is_between or is_apart):
            words.append(Word(word_left, word_bottom, word_right, word_top, "".join(letters)))
            letters.clear()
        if is_between:
            continue
        if letters:
            word_left, word_bottom = min(word_left, left.value), min(word_bottom, bottom.value)
            word_right, word_top = max(word_right, right.value), max(word_top, top.value)
        else:
            word_left, word_bottom, word_right, word_top = left.value, bottom.value, right.value, top.value
        letters.append("-" if char == _HYPHEN else char)
    if letters:
        words.append(Word(word_left, word_bottom, word_right, word_top, "".join(letters)))
    return words
