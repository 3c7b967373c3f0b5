"""Papers out for signature: a reason against deleting their deal, and how far each is."""

from __future__ import annotations

from collections.abc import Collection, Mapping

from quillcore.signing.rounds import RoundState
from quillcore.signing.sendings import Sending

from goodquill.deals.hooks import SENDINGS, STILL_NEEDED
from goodquill.deals.models import Deal
from goodquill.http.endpoints import Refusal
from goodquill.signing.models import Paper, Round
from goodquill.signing.progress import sending_of


def _still_out(deal: Deal) -> Refusal | None:
    """Return why a deal can't be deleted: somebody may sign its papers, and nobody could recall them any
    more."""
    if not Round.objects.filter(deal=deal, state=RoundState.OUT).exists():
        return None
    return Refusal(
        "Papers of this deal are out for signature.",
        "Recall them first, or wait until they are signed; nothing was changed.",
        "rounds",
        409,
    )


def _sendings(deal: Deal, codes: Collection[str]) -> Mapping[str, Sending]:
    """Return the last sending of each document.  Two queries."""
    papers = Paper.objects.filter(round__deal=deal, document__in=codes).exclude(round__sent=None)
    rows = papers.select_related("round").prefetch_related("round__signers").order_by("round__sent")
    return {paper.document: sending_of(paper, paper.round, paper.round.signers.all()) for paper in rows}


STILL_NEEDED.append(_still_out)
SENDINGS.append(_sendings)
