"""The words that are printed on a page, with their boxes."""

from __future__ import annotations

from typing import NamedTuple

import pypdfium2
import pypdfium2.raw as raw

MOST_CHARACTERS = 40_000


class Word(NamedTuple):
    """One word and its box in points on the page as it is seen."""

    left: float
    bottom: float
    right: float
    top: float
    text: str


def words_of(content: bytes, pages: set[int]) -> dict[int, list[Word]]:
    """The words of the pages wanted (from 1), in the file's order; a page that can't be read has none."""
    found: dict[int, list[Word]] = {}
    try:
        document = pypdfium2.PdfDocument(content)
    except pypdfium2.PdfiumError:
        return found
    try:
        for number in sorted(pages):
            try:
                page = document[number - 1]
                text = page.get_textpage()
            except (pypdfium2.PdfiumError, IndexError):
                continue
            found[number] = _words(text)
            text.close()
            page.close()
    finally:
        document.close()
    return found


def plain_text(content: bytes) -> str:
    """All printed text of pages that are known to be sound, for finding words in it."""
    document = pypdfium2.PdfDocument(content)
    try:
        return " ".join(" ".join(page.get_textpage().get_text_bounded().split()) for page in document)
    finally:
        document.close()


def _words(text: pypdfium2.PdfTextPage) -> list[Word]:
    words: list[Word] = []
    letters: list[str] = []
    box = [1e9, 1e9, -1e9, -1e9]

    def end() -> None:
        if letters:
            words.append(Word(box[0], box[1], box[2], box[3], "".join(letters)))
        letters.clear()
        box[:] = [1e9, 1e9, -1e9, -1e9]

    for n in range(min(text.count_chars(), MOST_CHARACTERS)):
        char = chr(raw.FPDFText_GetUnicode(text, n) or 0xFFFD)
        if char.isspace() or char in "\x00\ufffd_…" or char in "\u2026":
            end()
            continue
        try:
            left, bottom, right, top = text.get_charbox(n)
        except pypdfium2.PdfiumError:
            continue
        if letters and (left > box[2] + 6 or abs(bottom - box[1]) > 8):
            end()
        letters.append(char)
        box[:] = [min(box[0], left), min(box[1], bottom), max(box[2], right), max(box[3], top)]
    end()
    return words
