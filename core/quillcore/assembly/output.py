"""A package as PDF: filled and flattened, or still to be filled in; with continuation pages where something
did not fit."""

from __future__ import annotations

import threading
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import lru_cache

from cachetools import LRUCache, cached

from quillcore.assembly.blanks import Blank, Package, PackageDocument
from quillcore.assembly.continuation_pages import FurtherSpot, continuation
from quillcore.assembly.fieldnames import field_names, option_name, own_names
from quillcore.assembly.fixed import FixedBlank, spots_of
from quillcore.assembly.initialed import draw_on
from quillcore.assembly.spotted import draw_names, spotted
from quillcore.facts import Catalog
from quillcore.forms.model import Form
from quillcore.pdf import (
    Background,
    FieldKind,
    FilePart,
    Frame,
    Interactive,
    Mark,
    Overlay,
    Rect,
    Widget,
    combine,
    fit,
)

MOST_KEPT = 60_000_000
"""Bytes of forms that are kept taken apart: an association's have 3 million, one scan up to 60."""


@dataclass(frozen=True)
class Assembled:
    """The file, and what its reader should know: open blanks, texts that went to continuation pages, sign
    spots there."""

    pdf: bytes
    pages: int
    open: tuple[Blank, ...]
    continued: tuple[Blank, ...]
    further: tuple[FurtherSpot, ...]


@dataclass(frozen=True)
class Tag:
    """A pointer to a place for somebody who signs with a pen: page of the document's own file from 1, the
    place in points, and what stands over it ("" for nothing)."""

    page: int
    rect: Rect
    text: str = ""

    def draw_on(self, overlay: Overlay) -> None:
        """Draw an arrow before the place, or over one that is short, as others stand close before it; and the
        text in small letters in its upper edge."""
        left, bottom, right, top = self.rect
        is_short = right - left < _SHORT
        if is_short:
            corners = ((left, top), (left + 5, top), (left + 2.5, top - 5))
        else:
            at = (bottom + min(top, bottom + _TALLEST)) / 2
            corners = ((left - 9, at + 3.5), (left - 2, at), (left - 9, at - 3.5))
        first, second, third = (f"{x:.1f} {y:.1f}" for x, y in corners)
        overlay.outlines.append(f"{first} m {second} l {third} l h f")
        if self.text:
            begin = left + 5 if is_short else left
            frame = Frame(begin, top - _SMALL * 1.2, max(right, begin + 60), top, size=_SMALL, least=3.5)
            overlay.fits.append(fit(self.text, frame))


_TALLEST, _SHORT, _SMALL = 20.0, 70.0, 5.2


@cached(
    LRUCache[str, Background](MOST_KEPT, getsizeof=lambda background: background.size),
    key=lambda form: form.edition.page_content,
    lock=threading.Lock(),
)
def background_of(form: Form) -> Background:
    """Return the form's pages, taken apart once and kept while there is room."""
    return Background(form.pdf)


def assemble(
    package: Package,
    title: str,
    documents: Sequence[PackageDocument] | None = None,
    fillable: bool = False,
    tags: Mapping[str, Sequence[Tag]] | None = None,
) -> Assembled:
    """Return the documents (all that aren't set aside, if none are named) as one PDF: flattened, or
    ``fillable`` with the values in its fields; with ``tags``, by document, that point to places."""
    parts: list[FilePart] = []
    open_blanks: list[Blank] = []
    continued: list[Blank] = []
    further: list[FurtherSpot] = []
    fields: list[Interactive] = []
    at = 0
    wanted = list(documents) if documents is not None else package.leaving
    names = field_names(wanted) if fillable else {}
    for document in wanted:
        blanks = list(package.blanks([document]))
        edition = document.form.edition
        widgets = _widgets_of(document.form, package.catalog) if fillable else {}
        overlays = [Overlay() for _ in range(edition.pages)]
        for blank in blanks:
            if fillable:
                field = blank.field.id
                fields.append(_interactive(blank, widgets[field], names[document.id][field], at))
                continue
            sheet = overlays[blank.field.page - 1]
            if blank.fit is not None:
                sheet.fits.append(blank.fit)
            elif blank.marked:
                sheet.marks.append(Mark(blank.field.rect))
        draw_on(overlays, package, document)
        draw_names(overlays, spotted(package, document))
        parts.append(
            FilePart(
                background_of(document.form),
                overlays,
                f"{edition.number} {edition.title}",
                f"{edition.number}, page ",
            )
        )
        at += edition.pages
        open_blanks += [b for b in blanks if b.state == "open"]
        over = [b for b in blanks if b.overflow]
        continued += over
        pages, spots = continuation(package, document, over, at)
        further += spots
        for tag in (tags or {}).get(document.id, ()):
            tag.draw_on([*overlays, *pages][tag.page - 1])
        if pages:
            parts.append(FilePart(None, pages, label=f"{edition.number}, continuation "))
            at += len(pages)
    return Assembled(combine(parts, title, fields), at, tuple(open_blanks), tuple(continued), tuple(further))


def _interactive(blank: Blank, widget: Widget, name: str, first_page: int) -> Interactive:
    is_text = blank.field.shape == "text"
    is_computed = is_text and blank.meaning.formula is not None and not blank.only_here
    page = first_page + blank.field.page - 1
    return Interactive(name, widget, page, is_computed, blank.text, blank.fit, blank.marked)


@lru_cache(maxsize=256)
def _widgets_of(form: Form, catalog: Catalog) -> Mapping[str, Widget]:
    """Return the places of the form's fields, by their ids."""
    names = own_names(form)
    return {spot.field.id: _widget(spot, names[spot.field.id]) for spot in spots_of(form, catalog)}


def _widget(spot: FixedBlank, own: str) -> Widget:
    f, m = spot.field, spot.meaning
    if m.sign is not None and m.sign != "date":
        return Widget(own, "signature", f.rect, spot.label)
    if f.shape == "box":
        kind: FieldKind = "check" if m.value is None else "one_of"
        return Widget(own, kind, f.rect, spot.label, option=option_name(m.value))
    return Widget(own, "text", f.rect, spot.label, f.lines, f.size)
