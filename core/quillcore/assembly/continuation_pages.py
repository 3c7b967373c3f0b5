"""Continuation pages: a form's own further pages, with what did not fit its blanks and the places where those
sign for whom it has no lines."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date
from functools import lru_cache

from quillcore.assembly.blanks import Blank, Package, PackageDocument
from quillcore.facts.keys import Group, Role, read_role
from quillcore.forms import Form
from quillcore.pdf import Frame, Overlay, fit, wrap
from quillcore.pdf.typeface import width
from quillcore.values.dates import print_date

_LEFT, _RIGHT, _TOP, _BOTTOM = 54.0, 558.0, 712.0, 82.0
_MASTHEAD, _FOOT, _FOOT_LINE = 743.0, 27.0, 60.0
"""Baselines of the masthead and the foot, and the line over the foot: as on the forms' own pages."""
_SIZE, _LEAST, _PITCH = 10.0, 7.0, 14.0
_SIGNER_ROW, _HEADING_ROW = 46.0, 24.0
_INITIALS = 26.0
_MOST_INITIALS = 8
"""The most initials that fit side by side at a page's foot; further signers put theirs in their own row."""


@dataclass(frozen=True)
class FurtherSpot:
    """A sign spot on a continuation page: page of the file from 1, rectangle in points."""

    document: str
    role: str
    sign: str
    page: int
    rect: tuple[float, float, float, float]


@dataclass(frozen=True)
class _Row:
    """One thing below another: a heading, a line of text, or a signer."""

    height: float
    text: str = ""
    is_heading: bool = False
    signer: tuple[Group, int] | None = None


def continuation(
    package: Package, document: PackageDocument, over: Sequence[Blank], before: int
) -> tuple[list[Overlay], list[FurtherSpot]]:
    """Return the form's further pages and the sign spots on them; none where everything fits.  ``before``
    are the pages of the file that come first."""
    signs = _Signers.of(package, document)
    rows = [*_texts(over), *_signers(signs)]
    if not rows:
        return [], []
    head = _head(package, document, signs)
    room = _TOP - 40 - 13 * len(head) - _BOTTOM
    pages = list(_paged(rows, room))
    sheets, spots = [], []
    for number, page in enumerate(pages, 1):
        made = _Page(package, document, signs, before + number)
        page_of = f"Continuation {number} of {len(pages)}"
        made.masthead()
        made.head([page_of, *head])
        for row in page:
            made.row(row)
        made.foot(page_of)
        sheets.append(made.sheet)
        spots += made.spots
    return sheets, spots


def has_continuation(package: Package, document: PackageDocument, overflows: bool) -> bool:
    """Return whether the form has further pages, without setting them; ``overflows`` where a blank's text
    is too long."""
    return overflows or bool(_Signers.of(package, document).further)


@lru_cache(maxsize=1_024)
def _lines_of(form: Form) -> tuple[dict[Group, int], frozenset[Group]]:
    """Return how many lines a form has for each group, and who puts initials; who only puts initials has
    lines in the foot."""
    signed: dict[Group, int] = {}
    initials: dict[Group, int] = {}
    for m in form.mapping.meanings:
        role = read_role(m.role or "")
        group = role.party_group if role is not None else None
        if role is not None and group is not None and m.sign in ("signature", "initials"):
            counted = signed if m.sign == "signature" else initials
            counted[group] = max(counted.get(group, 0), role.position)
    return {**initials, **signed}, frozenset(initials)


def groups_that_sign(form: Form) -> list[Group]:
    """Return the groups of parties for whom a form has lines to sign."""
    return list(_lines_of(form)[0])


@dataclass(frozen=True)
class _Signers:
    """The signers of a form: how many lines it has for each group, who puts initials, and how many there
    are."""

    lines: dict[Group, int]
    initialled: frozenset[Group]
    there: dict[Group, int]

    @classmethod
    def of(cls, package: Package, document: PackageDocument) -> _Signers:
        """Return the signers as the form's mapping and the deal's parties have it."""
        lines, initialled = _lines_of(document.form)
        there = {group: len(package.sheet.ledger.parties(group)) for group in lines}
        return cls(lines, initialled, there)

    @property
    def further(self) -> list[tuple[Group, int]]:
        """Those for whom the form has no lines."""
        return [(g, n) for g, most in self.lines.items() for n in range(most + 1, self.there[g] + 1)]


def _texts(over: Sequence[Blank]) -> list[_Row]:
    """Return each text whole, under its number."""
    rows: list[_Row] = []
    for number, blank in enumerate(over, 1):
        said = f"Continuation {number}: {blank.label} (page {blank.field.page})"
        rows.append(_Row(_HEADING_ROW, said, is_heading=True))
        rows += [_Row(_PITCH, line) for line in wrap(blank.text, _RIGHT - _LEFT, _SIZE)]
    return rows


def _signers(signs: _Signers) -> list[_Row]:
    if not signs.further:
        return []
    rows = [_Row(_SIGNER_ROW, signer=one) for one in signs.further]
    return [_Row(_HEADING_ROW, "Further signatures", is_heading=True), *rows]


def _paged(rows: Sequence[_Row], room: float) -> Iterator[list[_Row]]:
    """Yield the rows by page; a heading never stands alone at a page's end."""
    page: list[_Row] = []
    used = 0.0
    for n, row in enumerate(rows):
        following = rows[n + 1].height if row.is_heading and n + 1 < len(rows) else 0.0
        if page and used + row.height + following > room:
            yield page
            page, used = [], 0.0
        page.append(row)
        used += row.height
    if page:
        yield page


def _head(package: Package, document: PackageDocument, signs: _Signers) -> list[str]:
    """Return what says to which deal the pages belong: property, parties, and the day of the agreement."""
    sheet = package.sheet
    said = []
    address = sheet.held("property.one_line").value
    said += [f"Property: {address}"] if isinstance(address, str) else []
    for group in signs.lines:
        names = sheet.held(group.names).value
        said += [f"{group.label}: {names}"] if isinstance(names, str) else []
    dated = [m.fact for m in document.form.mapping.meanings if (m.fact or "").endswith(".agreement_date")]
    day = sheet.held(dated[0]).value if dated and dated[0] else None
    return [*said, f"Agreement date: {print_date(day)}"] if isinstance(day, date) else said


class _Page:
    """One page being set, from its head down."""

    def __init__(self, package: Package, document: PackageDocument, signs: _Signers, number: int) -> None:
        self.package, self.document, self.signs, self.number = package, document, signs, number
        self.sheet = Overlay()
        self.spots: list[FurtherSpot] = []
        self.at = _TOP

    def line(
        self, text: str, left: float, right: float, bottom: float, size: float, align: str = "left"
    ) -> None:
        """Draw one line, as small as it must be, and cut it where it can't be read any more."""
        frame = Frame(left, bottom, right, bottom + size * 1.4, size=size, least=_LEAST, align=align)
        found = fit(text, frame)
        if found.overflow:
            kept = text
            while kept and width(f"{kept}…", _LEAST) > right - left - 4:
                kept = kept[:-1]
            found = fit(f"{kept}…", frame)
        self.sheet.fits.append(found)

    def masthead(self) -> None:
        """Draw the form's publisher and number, as on its other pages."""
        edition = self.document.form.edition
        self.line(" · ".join(filter(None, (edition.publisher, edition.title))), _LEFT, 480.0, _MASTHEAD, 8)
        self.line(f"Form {edition.number}", 490.0, _RIGHT, _MASTHEAD, 8, "right")
        self.sheet.rules.append((_LEFT, _MASTHEAD - 9, _RIGHT))

    def head(self, head: Sequence[str]) -> None:
        """Draw the page number, then property, parties and day, over a line."""
        first, *rest = head
        self.line(first, _LEFT, _RIGHT, self.at, 13)
        self.at -= 4
        for text in rest:
            self.at -= 13
            self.line(text, _LEFT, _RIGHT, self.at, 9)
        self.at -= 8
        self.sheet.rules.append((_LEFT, self.at, _RIGHT))

    def row(self, row: _Row) -> None:
        """Draw one item below the previous one."""
        self.at -= row.height
        if row.signer is not None:
            self.signer(*row.signer)
        elif row.text:
            size = _SIZE + 1 if row.is_heading else _SIZE
            self.line(row.text, _LEFT, _RIGHT + 10, self.at, size)

    def signer(self, group: Group, position: int) -> None:
        """Draw a line for a signature, one for the date and, where the form wants them, one for initials."""
        name = self.package.sheet.held(group.key(position, "signature_name")).value
        base = self.at + 15
        self.line(f"{group.label} {position}: {name or ''}", _LEFT, 336.0, base - 13, 8.5)
        places = {"signature": (_LEFT, 336.0), "date": (350.0, 440.0)}
        if group in self.signs.initialled:
            places["initials"] = (456.0, 500.0)
        for sign, (left, right) in places.items():
            self.spot(group, position, sign, left, base, right)
            if sign != "signature":
                said = "Date signed" if sign == "date" else "Initials"
                self.line(said, left, right, base - 13, 8.5)

    def spot(
        self,
        group: Group,
        position: int,
        sign: str,
        left: float,
        base: float,
        right: float,
        height: float = 20,
    ) -> None:
        """Draw a place to sign, on a line."""
        self.sheet.rules.append((left, base, right))
        role = str(Role(group, position, ""))
        self.spots.append(
            FurtherSpot(self.document.id, role, sign, self.number, (left, base, right, base + height))
        )

    def foot(self, page: str) -> None:
        """Draw edition and page, and initials of those for whom the form has lines, as on its other pages."""
        edition = self.document.form.edition
        self.sheet.rules.append((_LEFT, _FOOT_LINE, _RIGHT))
        day = print_date(edition.released)
        self.line(f"Form {edition.number} · Edition of {day}", _LEFT, 400.0, _FOOT, 7.8)
        self.line(page, 410.0, _RIGHT, _FOOT, 7.8, "right")
        wanted = [
            (group, n)
            for group in self.signs.lines
            if group in self.signs.initialled
            for n in range(1, min(self.signs.there[group], self.signs.lines[group]) + 1)
        ][:_MOST_INITIALS]
        left = _LEFT
        if wanted:
            self.line("Initials:", left, left + 40, _FOOT + 16, 7.8)
            left += 42
        for group, n in wanted:
            self.line(f"{group.label} {n}", left, left + 30, _FOOT + 16, _LEAST)
            self.spot(group, n, "initials", left + 30, _FOOT + 16, left + 30 + _INITIALS, 15)
            left += 62
