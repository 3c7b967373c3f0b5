"""Drawing of changes made by hand: lines through words, insertions, and beside each a place for the initials
of everybody who signs the paper."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from quillcore.assembly.added_places import SIGNED
from quillcore.assembly.blanks import Package, PackageDocument
from quillcore.assembly.continuation_pages import groups_that_sign
from quillcore.assembly.markup import HandChange, written
from quillcore.assembly.people import is_there
from quillcore.facts.keys import Group, signer_key
from quillcore.pdf import Fit, Frame, Overlay, Rect, fit

_LEFT, _RIGHT, _ROW = 40.0, 8.0, 12.0
"""Initials stand in the right margin: their row's ends from the page's edge, and from row to row."""
_NAME = 15.0
"""The part of a row that the small letters with the owner's name take."""
_SIZE, _FOOT = 5.5, 18.0


@dataclass(frozen=True)
class Initials:
    """A place for one party's initials: which party, and where the line to write on is."""

    group: Group
    position: int
    name: str
    rect: Rect


@dataclass(frozen=True)
class Drawn:
    """A change as it is drawn: lines through words (left, height, right), the text as set, and initials."""

    change: HandChange
    rules: tuple[tuple[float, float, float], ...]
    text: Fit | None
    initials: tuple[Initials, ...]


def drawn(package: Package, document: PackageDocument) -> list[Drawn]:
    """Return a document's changes as they are drawn, in order.  Initials stand in the right margin beside
    what was changed, below each other where two changes are close."""
    signers = signers_of(package, document)
    taken: dict[int, list[tuple[float, float]]] = {}
    return [_drawn(package, document, c, signers, taken.setdefault(c.page, [])) for c in document.by_hand]


def _drawn(
    package: Package,
    document: PackageDocument,
    change: HandChange,
    signers: Sequence[tuple[Group, int]],
    taken: list[tuple[float, float]],
) -> Drawn:
    size = document.form.edition.size(change.page)
    rules = tuple((left, (bottom + top) / 2, right) for left, bottom, right, top in change.struck)
    top = max([box[3] for box in change.struck] + ([change.at[1]] if change.at else []))
    height = _ROW * len(signers)
    begin = _free(top + 2, height, taken)
    taken.append((begin - height, begin))
    initials = tuple(
        Initials(group, position, _initials(package, group, position), _row(size[0], begin, n))
        for n, (group, position) in enumerate(signers, 1)
    )
    return Drawn(change, rules, written(change, size[0]), initials)


def _row(width: float, begin: float, n: int) -> Rect:
    bottom = begin - _ROW * n
    return (width - _LEFT, bottom, width - _RIGHT, bottom + _ROW - 2)


def _free(top: float, height: float, taken: Sequence[tuple[float, float]]) -> float:
    """Return where a column of that height begins: at ``top``, as little below as is free, or else above."""
    begin = max(top, _FOOT + height)
    for low, high in sorted(taken, key=lambda t: -t[1]):
        overlaps = begin > low and begin - height < high
        if overlaps:
            begin = low - 2
    if begin - height >= _FOOT or not taken:
        return begin
    return max(high for _, high in taken) + height + 2


def _initials(package: Package, group: Group, position: int) -> str:
    return package.sheet.party(group, position).initials


def signers_of(package: Package, document: PackageDocument) -> list[tuple[Group, int]]:
    """Return the parties who sign a document: those of the groups that its form has lines for; of a paper
    without lines those who have places put by hand on it, and without these both sides'."""
    groups = groups_that_sign(document.form)
    if not groups and document.spots:
        return _by_hand(package, document)
    ledger = package.sheet.ledger
    return [(g, n) for g in groups or _both_sides(package) for n in range(1, len(ledger.parties(g)) + 1)]


def _by_hand(package: Package, document: PackageDocument) -> list[tuple[Group, int]]:
    keys = {spot.who for spot in document.spots if spot.what in SIGNED and is_there(package, spot.who)}
    signers = filter(None, map(signer_key, keys))
    return sorted((who.group, who.position) for who in signers if who.group is not None)


def _both_sides(package: Package) -> Iterable[Group]:
    side = package.sheet.ledger.side
    return sorted((side.clients, side.others))


def draw_on(overlays: Sequence[Overlay], package: Package, document: PackageDocument) -> None:
    """Draw a document's changes on its pages' overlays."""
    for change in drawn(package, document):
        sheet = overlays[change.change.page - 1]
        sheet.rules += change.rules
        if change.text is not None:
            sheet.fits.append(change.text)
        for spot in change.initials:
            left, bottom, right, _ = spot.rect
            sheet.fits.append(named(spot))
            sheet.rules.append((left + _NAME, bottom, right))


def named(spot: Initials) -> Fit:
    """Return whose initials belong there, in small letters before the line."""
    left, bottom, _, top = spot.rect
    return fit(spot.name, Frame(left, bottom, left + _NAME, top, size=_SIZE, least=4.0))
