"""A package as PDF: filled and flattened, or still to be filled in; with continuation pages where something
did not fit."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Sequence
from dataclasses import dataclass

from quillcore.assembly.blanks import Blank, Document, Package
from quillcore.assembly.fieldnames import field_names, option_name
from quillcore.facts.keys import Group, Role, read_role
from quillcore.forms.model import Form
from quillcore.pdf import Background, Fit, Frame, Interactive, Mark, Overlay, Part, combine, fit, wrap

_LEFT, _RIGHT, _TOP, _BOTTOM = 54.0, 558.0, 720.0, 60.0
_SIZE, _PITCH = 10.0, 14.0
_ROW = 46.0  # height of a further signer's row
_held = threading.local()
_MOST_HELD = 64


@dataclass(frozen=True)
class FurtherSpot:
    """A sign spot on a continuation page, for a party beyond those the form has lines for: page of the file
    from 1, rectangle in points."""

    document: str
    role: str
    sign: str
    page: int
    rect: tuple[float, float, float, float]


@dataclass(frozen=True)
class Assembled:
    """The file, and what its reader should know: open blanks, texts that went to continuation pages, sign
    spots there."""

    pdf: bytes
    pages: int
    open: tuple[Blank, ...]
    continued: tuple[Blank, ...]
    further: tuple[FurtherSpot, ...]


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
    package: Package, title: str, documents: Sequence[Document] | None = None, fillable: bool = False
) -> Assembled:
    """The documents (all that aren't set aside, if none are named) as one PDF: flattened, or ``fillable``
    with the values in its fields."""
    parts: list[Part] = []
    open_blanks: list[Blank] = []
    continued: list[Blank] = []
    further: list[FurtherSpot] = []
    fields: list[Interactive] = []
    at = 0
    wanted = list(documents) if documents is not None else [d for d in package.documents if not d.set_aside]
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
        pages = _continuation(document, over) if over else []
        more, spots = _further_signers(package, document, at + len(pages))
        further += spots
        if pages or more:
            parts.append(Part(None, [*pages, *more], label=f"{edition.number}, continuation "))
            at += len(pages) + len(more)
    return Assembled(combine(parts, title, fields), at, tuple(open_blanks), tuple(continued), tuple(further))


def _interactive(blank: Blank, names: dict[str, str], first_page: int) -> Interactive:
    f, m = blank.field, blank.meaning
    page = first_page + f.page - 1
    name = names[f.id]
    if m.sign is not None and m.sign != "date":
        return Interactive(name, "signature", page, f.rect, tooltip=blank.label)
    if f.shape == "box":
        one_of = m.value is not None
        return Interactive(
            name,
            "one_of" if one_of else "check",
            page,
            f.rect,
            option=option_name(m.value),
            on=blank.marked,
            tooltip=blank.label,
        )
    computed = m.formula is not None and not blank.only_here
    return Interactive(
        name,
        "text",
        page,
        f.rect,
        blank.text,
        blank.fit,
        f.lines,
        f.size,
        tooltip=blank.label,
        read_only=computed,
    )


def _continuation(document: Document, over: Sequence[Blank]) -> list[Overlay]:
    """Pages that carry, whole, what did not fit its blank, each text under its number."""
    rows: list[tuple[str, float]] = []
    for number, blank in enumerate(over, 1):
        rows += [("", _SIZE), (f"Continuation {number}: {blank.label} (page {blank.field.page})", _SIZE + 1)]
        rows += [(line, _SIZE) for line in wrap(blank.text, _RIGHT - _LEFT, _SIZE)]
    room = int((_TOP - _BOTTOM) / _PITCH) - 2
    pages = [rows[i : i + room] for i in range(0, len(rows), room)]
    return [
        _page(page, f"{_head(document)}: continuation page {n} of {len(pages)}")
        for n, page in enumerate(pages, 1)
    ]


def _head(document: Document) -> str:
    return f"Form {document.form.edition.number}, {document.form.edition.title}"


def _page(rows: Sequence[tuple[str, float]], head: str) -> Overlay:
    fits: list[Fit] = [fit(head, Frame(_LEFT, _TOP, _RIGHT, _TOP + 18, size=12))]
    for n, (text, size) in enumerate(rows, 1):
        if text:
            fits.append(
                fit(
                    text,
                    Frame(_LEFT, _TOP - _PITCH * (n + 1), _RIGHT + 10, _TOP - _PITCH * n, size=size, least=6),
                )
            )
    return Overlay(fits=fits)


def _further_signers(
    package: Package, document: Document, before: int
) -> tuple[list[Overlay], list[FurtherSpot]]:
    """Pages on which those sign for whom the form has no lines: each with a signature, a date and, where the
    form wants them, initials."""
    lines: dict[Group, int] = {}
    initialled: set[Group] = set()
    for m in document.form.mapping.meanings:
        role = read_role(m.role or "")
        group = role.party_group if role is not None else None
        if role is None or group is None:
            continue
        if m.sign == "signature":
            lines[group] = max(lines.get(group, 0), role.position)
        elif m.sign == "initials":
            initialled.add(group)
    rows = [
        (g, n) for g, most in lines.items() for n in range(most + 1, len(package.sheet.ledger.parties(g)) + 1)
    ]
    room = int((_TOP - _BOTTOM - 2 * _PITCH) / _ROW)
    pages: list[Overlay] = []
    spots: list[FurtherSpot] = []
    for begin in range(0, len(rows), room):
        sheet = Overlay(
            fits=[
                fit(f"{_head(document)}: further signatures", Frame(_LEFT, _TOP, _RIGHT, _TOP + 18, size=12))
            ]
        )
        for at, (group, position) in enumerate(rows[begin : begin + room]):
            base = _TOP - _ROW * (at + 1)
            signer = str(Role(group, position, ""))
            name = package.sheet.held(group.key(position, "signature_name")).value
            who = f"{group.label} {position}: {name if isinstance(name, str) else ''}"
            sheet.fits.append(fit(who, Frame(_LEFT, base - 13, 330, base - 1, size=8.5, least=5)))
            places = {"signature": (_LEFT, 330.0), "date": (346.0, 440.0)} | (
                {"initials": (456.0, 500.0)} if group in initialled else {}
            )
            for sign, (left, right) in places.items():
                sheet.rules.append((left, base, right))
                spots.append(
                    FurtherSpot(
                        document.id, signer, sign, before + len(pages) + 1, (left, base, right, base + 20)
                    )
                )
                if sign != "signature":
                    sheet.fits.append(
                        fit(
                            "Date signed" if sign == "date" else "Initials",
                            Frame(left, base - 13, right, base - 1, size=8.5, least=5),
                        )
                    )
        pages.append(sheet)
    return pages, spots
