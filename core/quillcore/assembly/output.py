"""A package as PDF: filled and flattened, or still to be filled in; with continuation pages where something
did not fit."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from quillcore.assembly.blanks import Blank, Document, Package
from quillcore.assembly.fieldnames import field_names, option_name
from quillcore.assembly.initialed import draw_on
from quillcore.assembly.sheets import FurtherSpot, continuation
from quillcore.assembly.spotted import draw_names, spotted
from quillcore.forms.model import Form
from quillcore.pdf import Background, FieldKind, Frame, Interactive, Mark, Overlay, Part, Rect, combine, fit

_held = threading.local()
_MOST_HELD = 64


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
        """An arrow before the place, or over one that is short, as others stand close before it; and the text
        in small letters in its upper edge."""
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


def background_of(form: Form) -> Background:
    """The form's pages, opened once for each thread (an opened PDF belongs to its thread) and kept while in
    use."""
    cache: OrderedDict[str, Background] = _held.__dict__.setdefault("cache", OrderedDict())
    name = form.edition.page_content
    if name not in cache:
        cache[name] = Background(form.pdf)
        if len(cache) > _MOST_HELD:
            cache.popitem(last=False)
    cache.move_to_end(name)
    return cache[name]


def assemble(
    package: Package,
    title: str,
    documents: Sequence[Document] | None = None,
    fillable: bool = False,
    tags: Mapping[str, Sequence[Tag]] | None = None,
) -> Assembled:
    """The documents (all that aren't set aside, if none are named) as one PDF: flattened, or ``fillable``
    with the values in its fields; with ``tags``, by document, that point to places."""
    parts: list[Part] = []
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
        overlays = [Overlay() for _ in range(edition.pages)]
        for blank in blanks:
            if fillable:
                fields.append(_interactive(blank, names[document.id], at))
                continue
            sheet = overlays[blank.field.page - 1]
            if blank.fit is not None:
                sheet.fits.append(blank.fit)
            elif blank.marked:
                sheet.marks.append(Mark(blank.field.rect))
        draw_on(overlays, package, document)
        draw_names(overlays, spotted(package, document))
        parts.append(
            Part(
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
            parts.append(Part(None, pages, label=f"{edition.number}, continuation "))
            at += len(pages)
    return Assembled(combine(parts, title, fields), at, tuple(open_blanks), tuple(continued), tuple(further))


def _interactive(blank: Blank, names: Mapping[str, str], first_page: int) -> Interactive:
    f, m = blank.field, blank.meaning
    page = first_page + f.page - 1
    name, tooltip = names[f.id], blank.label
    if m.sign is not None and m.sign != "date":
        return Interactive(name, "signature", page, f.rect, tooltip=tooltip)
    if f.shape == "box":
        kind: FieldKind = "check" if m.value is None else "one_of"
        return Interactive(name, kind, page, f.rect, tooltip, option=option_name(m.value), on=blank.marked)
    is_computed = m.formula is not None and not blank.only_here
    return Interactive(
        name, "text", page, f.rect, tooltip, is_computed, blank.text, blank.fit, f.lines, f.size
    )
