"""Blanks that somebody filled in on a paper that is a known form, read where the form has them."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass

from PIL import Image

from quillcore.assembly.blanks import Blank, Package, PackageDocument
from quillcore.facts import Act, Entry, Ledger, Source, load_catalog
from quillcore.facts.keys import Side
from quillcore.forms import Form
from quillcore.forms.vocabulary import FormVocabulary
from quillcore.pdf import Rect
from quillcore.pdf.renderer import drawn, words_of
from quillcore.pdf.within import lines_in
from quillcore.sandbox import run_limited
from quillcore.values import Fault, read_answer

_DOTS = 150
_WITHIN = 0.2
"""Of a box's side that is left out at its edges: the printed box itself."""
_INKED = 0.06
"""Of a box's inside that is darker than on the blank form where it is marked: the thinnest cross drawn covers
a tenth."""
_DARK = 150
_HERE = "came"
"""The id of the only document of a package that is made to look at a paper."""


@dataclass(frozen=True)
class Answer:
    """One answer on the paper: the fact that it is ("" for a blank of the form's own), what the blank is
    called, and what stands in it."""

    key: str
    label: str
    text: str


@dataclass(frozen=True)
class Filled:
    """The texts on a filled paper, and the names of its unanswered blanks."""

    answers: tuple[Answer, ...]
    open: tuple[str, ...]


def read_answers(clean: bytes, first: int, form: Form, side: Side) -> Filled | Fault:
    """Return what is filled in on the pages from ``first`` on, which are the form's."""
    found = _found(clean, first, form)
    if isinstance(found, Fault):
        return found
    blank = _of_blank(form)
    if isinstance(blank, Fault):
        return blank
    said: dict[str, str | bool] = {name: text for name, text in found.texts.items() if text}
    said |= {name: True for name, ink in found.ink.items() if ink - blank.ink.get(name, 0.0) > _INKED}
    return _understood(said, form.seen_from(side), side)


@dataclass(frozen=True)
class _Found:
    """By field its text, or how much of the inside of its box is dark."""

    texts: dict[str, str]
    ink: dict[str, float]


def _found(clean: bytes, first: int, form: Form) -> _Found | Fault:
    fields = [(f.id, f.page, f.shape, f.rect) for f in form.edition.fields if f.shape != "sign"]
    answer = run_limited("quillcore.assembly.answers:read_inside", clean, str(first), json.dumps(fields))
    return answer if isinstance(answer, Fault) else _Found(**json.loads(answer))


_blank: dict[str, _Found] = {}
"""Text that the forms' own pages show in their blanks, read once for each process: an association has some
forty forms."""


def _of_blank(form: Form) -> _Found | Fault:
    name = form.edition_hash
    if name not in _blank:
        read = _found(form.pdf, 1, form)
        if isinstance(read, Fault):
            return read
        _blank[name] = read
    return _blank[name]


def read_inside(content: bytes, first: str, fields: str) -> bytes:
    """Return the reading itself, as JSON."""
    by_page: dict[int, list[tuple[str, str, Rect]]] = {}
    for name, page, shape, rect in json.loads(fields):
        by_page.setdefault(page + int(first) - 1, []).append((name, shape, tuple(rect)))
    texts: dict[str, str] = {}
    ink: dict[str, float] = {}
    for page, spots in by_page.items():
        words = words_of(content, {page}).get(page, [])
        texts |= {name: "\n".join(lines_in(words, rect)) for name, shape, rect in spots if shape == "text"}
        boxes = [(name, rect) for name, shape, rect in spots if shape == "box"]
        ink |= _inked(drawn(content, page, _DOTS), boxes) if boxes else {}
    return json.dumps({"texts": texts, "ink": ink}).encode()


def _inked(grey: Image.Image, boxes: Iterable[tuple[str, Rect]]) -> dict[str, float]:
    """Return how much of each box's inside is dark."""
    scale = _DOTS / 72
    shares = {}
    for name, (left, bottom, right, top) in boxes:
        x, y = (right - left) * _WITHIN, (top - bottom) * _WITHIN
        inner = grey.crop(
            (
                round((left + x) * scale),
                round(grey.height - (top - y) * scale),
                round((right - x) * scale),
                round(grey.height - (bottom + y) * scale),
            )
        )
        counts = inner.histogram()
        shares[name] = sum(counts[:_DARK]) / max(1, sum(counts))
    return shares


def _understood(said: dict[str, str | bool], form: Form, side: Side) -> Filled:
    """Return the answers as the form means them, and what is open with just these."""
    catalog = load_catalog()
    document = PackageDocument(_HERE, form)
    vocabulary = FormVocabulary({_HERE: form})
    ledger = Ledger(catalog, side)
    answers: dict[str, Answer] = {}
    plain = Package([document], ledger)
    for order, blank in enumerate(plain.blanks(), 1):
        text = _said(said.get(blank.field.id), blank)
        if text is None:
            continue
        stored = ledger.stored_key(blank.key) or blank.key
        key = blank.key if catalog.find(blank.key) is not None else ""
        answers.setdefault(blank.key, Answer(key, blank.label, text))
        value = read_answer(text, blank.kind, blank.options) if vocabulary.knows(stored) else None
        if value is not None and not isinstance(value, Fault):
            ledger.add(Entry(stored, Act.STATE, order, Source.TYPED, value))
    filled = Package([document], ledger)
    left = [b.label for b in filled.blanks() if b.state == "open" and b.field.id not in said]
    return Filled(tuple(answers.values()), tuple(dict.fromkeys(left)))


def _said(found: str | bool | None, blank: Blank) -> str | None:
    """Return what a blank says; None for nothing."""
    if found is None:
        return None
    return (blank.meaning.value or "yes") if found is True else str(found)
