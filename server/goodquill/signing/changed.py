"""What a deal says otherwise now than the papers of a round that was sent."""

from __future__ import annotations

from typing import Any

from goodquill.deals.opening import OpenDeal
from goodquill.signing.models import Round

MOST_TOLD = 60


def changed_since(row: Round, opened: OpenDeal) -> list[dict[str, Any]]:
    """By paper and blank, what was sent and what would be now.  A paper that was taken out since isn't
    compared; one that its signed copy has taken the place of is."""
    by_id = {d.id: d for d in opened.package.documents}
    found: list[dict[str, Any]] = []
    for paper in row.papers.all():
        document = by_id.get(paper.document)
        if document is None:
            continue
        for blank in opened.package.blanks([document]):
            if blank.state == "sign":
                continue
            was, now = paper.said.get(blank.field.id, ""), blank.text or ("x" if blank.marked else "")
            if was != now and len(found) < MOST_TOLD:
                found.append({"paper": paper.named, "label": blank.label, "was": was, "now": now})
    return found
