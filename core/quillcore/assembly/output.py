"""A package as PDF: filled, flattened, combined, with continuation pages where text did not fit."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Sequence
from dataclasses import dataclass

from quillcore.assembly.blanks import Blank, Document, Package
from quillcore.forms.model import Form
from quillcore.pdf import Background, Fit, Frame, Mark, Overlay, Part, combine, fit, wrap

_LEFT, _RIGHT, _TOP, _BOTTOM = 54.0, 558.0, 720.0, 60.0
_SIZE, _PITCH = 10.0, 14.0
_held = threading.local()
_MOST_HELD = 64


@dataclass(frozen=True)
class Assembled:
    """The file, and what its reader should know: open blanks and texts that went to continuation pages."""

    pdf: bytes
    pages: int
    open: tuple[Blank, ...]
    continued: tuple[Blank, ...]


def background_of(form: Form) -> Background:
    """The form's pages, opened once for each thread (an opened PDF belongs to its thread) and kept while in use."""
    cache: OrderedDict[str, Background] = _held.__dict__.setdefault("cache", OrderedDict())
    name = form.edition.page_content
    if name not in cache:
        cache[name] = Background(form.pdf)
        if len(cache) > _MOST_HELD:
            cache.popitem(last=False)
    cache.move_to_end(name)
    return cache[name]


def assemble(package: Package, title: str, documents: Sequence[Document] | None = None) -> Assembled:
    """The documents (all that aren't set aside, if none are named) as one flattened PDF."""
    parts: list[Part] = []
    open_blanks: list[Blank] = []
    continued: list[Blank] = []
    for document in documents if documents is not None else [d for d in package.documents if not d.set_aside]:
        blanks = list(package.blanks([document]))
        overlays = [Overlay() for _ in range(document.form.edition.pages)]
        for blank in blanks:
            sheet = overlays[blank.field.page - 1]
            if blank.fit is not None:
                sheet.fits.append(blank.fit)
            elif blank.marked:
                sheet.marks.append(Mark(blank.field.rect))
        edition = document.form.edition
        parts.append(Part(background_of(document.form), overlays, f"{edition.number} {edition.title}"))
        open_blanks += [b for b in blanks if b.state == "open"]
        over = [b for b in blanks if b.overflow]
        continued += over
        if over:
            parts.append(Part(None, _continuation(document, over)))
    return Assembled(combine(parts, title), sum(len(p.overlays) for p in parts), tuple(open_blanks), tuple(continued))


def _continuation(document: Document, over: Sequence[Blank]) -> list[Overlay]:
    """Pages that carry, whole, what did not fit its blank, each text under its number."""
    edition = document.form.edition
    rows: list[tuple[str, float]] = []
    for number, blank in enumerate(over, 1):
        rows += [("", _SIZE), (f"Continuation {number}: {blank.label} (page {blank.field.page})", _SIZE + 1)]
        rows += [(line, _SIZE) for line in wrap(blank.text, _RIGHT - _LEFT, _SIZE)]
    room = int((_TOP - _BOTTOM) / _PITCH) - 2
    pages = [rows[i : i + room] for i in range(0, len(rows), room)]
    return [_page(page, f"Form {edition.number}, {edition.title}: continuation page {n} of {len(pages)}") for n, page in enumerate(pages, 1)]


def _page(rows: Sequence[tuple[str, float]], head: str) -> Overlay:
    fits: list[Fit] = [fit(head, Frame(_LEFT, _TOP, _RIGHT, _TOP + 18, size=12))]
    for n, (text, size) in enumerate(rows, 1):
        if text:
            fits.append(fit(text, Frame(_LEFT, _TOP - _PITCH * (n + 1), _RIGHT + 10, _TOP - _PITCH * n, size=size, least=6)))
    return Overlay(fits=fits)
