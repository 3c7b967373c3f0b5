"""The one door to the page renderer: pictures of pages, and the words printed on them.

PDFium may not be entered from two threads at once: a process in which that happened has ended.  So this
module alone imports it (a lint rule holds that), and every entry goes through one lock.  Only pages that are
known to be sound come here in the process that serves people; a stranger's pages are drawn and read in a
limited child.
"""

from __future__ import annotations

import io
import json
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from ctypes import c_double
from itertools import islice
from typing import NamedTuple

import pypdfium2
import pypdfium2.raw as raw

_LOCK = threading.Lock()
MOST_CHARACTERS = 40_000
"""Of one page: a page of a contract has 6,000, one set in the smallest print 20,000."""
MOST_WORDS = 400_000
"""Characters of text that are kept of a whole paper: of 500 close-printed pages, the first fifty or more."""
MOST_PIXELS = 12_000_000
"""Of one picture: a letter page at 300 dots per inch has 8.4 million; a poster is drawn less sharply instead.
"""


class Rule(NamedTuple):
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


_BETWEEN_WORDS = frozenset("\x00\ufffd_…")
"""No part of a word: what has no character, and lines of them to write on."""


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


def picture(content: bytes, page: int, dots_per_inch: int) -> bytes:
    """A page (from 1) as a grey PNG.  A page so large that it would be no picture any more is drawn less
    sharply."""
    with _opened(content) as document:
        sheet = document[page - 1]
        width, height = sheet.get_size()
        scale = dots_per_inch / 72
        scale = min(scale, (MOST_PIXELS / max(width * height, 1.0)) ** 0.5)
        bitmap = sheet.render(scale=scale, grayscale=True)
        image = bitmap.to_pil().copy()
        bitmap.close()
        sheet.close()
    out = io.BytesIO()
    image.save(out, format="PNG", compress_level=6)
    return out.getvalue()


def picture_inside(content: bytes, page: str, dots_per_inch: str) -> bytes:
    """The same for pages by strangers, called in a limited child."""
    return picture(content, int(page), int(dots_per_inch))


def words_of(content: bytes, pages: set[int]) -> dict[int, list[Word]]:
    """The words of the pages wanted (from 1), in the file's order; a page that can't be read has none."""
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
    """The words of every page, in order; of all pages together at most MOST_WORDS characters."""
    found: list[list[Word]] = []
    left = MOST_WORDS
    with _opened(content) as document:
        for number in range(1, len(document) + 1):
            words = _words_on(document, number) if left > 0 else []
            left -= sum(len(word.text) for word in words)
            found.append(words)
    return found


def words_inside(content: bytes) -> bytes:
    """The same as JSON, boxes to a tenth of a point; of pages by strangers, called in a limited child."""
    pages = [
        [[*(round(n, 1) for n in word[:4]), word.text] for word in words] for words in printed_words(content)
    ]
    return json.dumps({"pages": pages}, ensure_ascii=False, separators=(",", ":")).encode()


def rules_of(content: bytes, pages: set[int]) -> list[Rule]:
    """The level lines printed on the pages wanted (from 1), from the top down; a page that can't be read has
    none."""
    found: list[Rule] = []
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


def _rules(page: pypdfium2.PdfPage, number: int) -> list[Rule]:
    rules: list[Rule] = []
    paths = page.get_objects(filter=[raw.FPDF_PAGEOBJ_PATH], max_depth=3)
    for drawn in islice(paths, MOST_DRAWN):
        try:
            left, bottom, right, top = drawn.get_bounds()
        except pypdfium2.PdfiumError:
            continue
        if top - bottom <= _THIN and right - left >= _SHORT:
            rules.append(Rule(number, left, right, (bottom + top) / 2))
    return sorted(rules, key=lambda r: (-r.at, r.left))


def plain_text(content: bytes) -> str:
    """The printed text, for finding words in it: of each page as much as a page can hold, of all at most
    MOST_WORDS."""
    parts: list[str] = []
    used = 0
    with _opened(content) as document:
        for page in document:
            text = page.get_textpage()
            count = min(text.count_chars(), MOST_CHARACTERS)
            said = " ".join(text.get_text_range(0, count).split()) if count > 0 else ""
            text.close()
            page.close()
            parts.append(said[: MOST_WORDS - used])
            used += len(said) + 1
            if used >= MOST_WORDS:
                break
    return " ".join(part for part in parts if part)


def _words_on(document: pypdfium2.PdfDocument, number: int) -> list[Word]:
    """The words of one page (from 1), none where it can't be read."""
    try:
        page = document[number - 1]
        text = page.get_textpage()
    except (pypdfium2.PdfiumError, IndexError):
        return []
    words = _words(text)
    text.close()
    page.close()
    return words


def _words(text: pypdfium2.PdfTextPage) -> list[Word]:
    """The words of a page, letter by letter: what ends one are spaces, rules to write on, and gaps."""
    words: list[Word] = []
    letters: list[str] = []
    # One place for a letter's box and one for the word's: a close-printed page has 20,000 letters.
    left, right, bottom, top = box = c_double(), c_double(), c_double(), c_double()
    word_left = word_bottom = word_right = word_top = 0.0
    for n in range(min(text.count_chars(), MOST_CHARACTERS)):
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
        letters.append(char)
    if letters:
        words.append(Word(word_left, word_bottom, word_right, word_top, "".join(letters)))
    return words
