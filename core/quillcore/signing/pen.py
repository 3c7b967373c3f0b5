"""Places shown to whoever signs with a pen."""

from __future__ import annotations

from collections.abc import Iterable

from quillcore.assembly import Package, PackageDocument, Tag
from quillcore.assembly.people import person
from quillcore.facts.parties import initials_of
from quillcore.signing.spots import spots_of


def tags_of(package: Package, documents: Iterable[PackageDocument]) -> dict[str, list[Tag]]:
    """Return, by document, a pointer to each place of those who are there and named: with the name at a
    signature, the letters at initials, and nothing more at a date."""
    found: dict[str, list[Tag]] = {}
    for document in documents:
        for spot in spots_of(package, document):
            name = person(package, spot.who).name
            if name:
                said = {"signature": name, "initials": initials_of(name)}.get(spot.sign, "")
                found.setdefault(document.id, []).append(Tag(spot.page, spot.rect, said))
    return found
