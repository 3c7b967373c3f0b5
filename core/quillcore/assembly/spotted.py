"""Places put by hand as they stand in a deal: for whom, and how a printed name is set."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

from quillcore.assembly.added_places import HandSpot, What, name_in
from quillcore.assembly.blanks import Package, PackageDocument
from quillcore.assembly.people import Person, is_there, person
from quillcore.pdf import Fit, Overlay


@dataclass(frozen=True)
class Spotted:
    """A place with whoever's it is (None where the deal has nobody of that kind), and a printed name as it is
    set (None for other kinds, and while nobody is named)."""

    spot: HandSpot
    who: Person | None
    name: Fit | None


def spotted(package: Package, document: PackageDocument) -> list[Spotted]:
    """Return a document's places put by hand, in the order in which they were put."""
    return [_spotted(package, document, spot) for spot in document.spots]


def _spotted(package: Package, document: PackageDocument, spot: HandSpot) -> Spotted:
    who = person(package, spot.who) if is_there(package, spot.who) else None
    prints = spot.what is What.NAME and who is not None and who.signs_as
    return Spotted(spot, who, name_in(spot, who.signs_as, document.form.edition) if prints and who else None)


def draw_names(overlays: Sequence[Overlay], found: Iterable[Spotted]) -> None:
    """Print the names on their pages' overlays."""
    for one in found:
        if one.name is not None:
            overlays[one.spot.page - 1].fits.append(one.name)
