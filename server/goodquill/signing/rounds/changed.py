"""Changes of a deal since the papers of a round were sent."""

from __future__ import annotations

from typing import TYPE_CHECKING

from quillcore.assembly import Blank, PackageDocument

from goodquill.deals.opening import OpenDeal
from goodquill.signing.models import Round

if TYPE_CHECKING:
    from goodquill.http import wire

MOST_TOLD = 60


def said_on(opened: OpenDeal, document: PackageDocument) -> dict[str, str]:
    """Return what stands in a paper's blanks, by field; those that are empty are left out."""
    said = {blank.field.id: _says(blank) for blank in opened.package.blanks([document])}
    return {field: text for field, text in said.items() if text}


def _says(blank: Blank) -> str:
    """Return what stands in a blank, a mark as "x"; in a place to be signed nothing does."""
    return blank.text or ("x" if blank.marked else "")


def changed_since(row: Round, opened: OpenDeal) -> list[wire.ChangedShape]:
    """Return, by paper and blank, the text that was sent and the text that would be now. A paper that was
    taken out since isn't compared; one that its signed copy has taken the place of is."""
    by_id = opened.package.by_id
    found: list[wire.ChangedShape] = []
    for paper in row.papers.all():
        document = by_id.get(paper.document)
        if document is None:
            continue
        for blank in opened.package.blanks([document]):
            was, now = paper.said.get(blank.field.id, ""), _says(blank)
            if was != now and len(found) < MOST_TOLD:
                found.append({"paper": paper.named, "label": blank.label, "was": was, "now": now})
    return found
