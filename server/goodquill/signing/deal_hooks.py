"""Papers out for signature: a reason against deleting their deal, and how far each is."""

from __future__ import annotations

from collections.abc import Collection, Mapping

from quillcore.signing.rounds import RoundState
from quillcore.signing.sendings import Sending

from goodquill.deals.hooks import SENDINGS, STILL_NEEDED
from goodquill.deals.models import Deal
from goodquill.http.endpoints import Refusal
from goodquill.signing.models import Paper, Round, Signer


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
    return {paper.document: sending_of(paper) for paper in rows}


def sending_of(paper: Paper) -> Sending:
    """Return how far a paper is in its round."""
    row = paper.round
    assert row.sent is not None
    signers = {signer.key: signer for signer in row.signers.all() if not signer.is_copied}
    wanted = paper.wants or [{"key": key, "name": signers[key].name} for key in _with_places(paper)]
    have = {key for key in _with_places(paper) if _has_signed(paper, signers[key])}
    return Sending(
        RoundState(row.state),
        row.sent,
        row.ended,
        tuple(signers[one["key"]].name for one in wanted if one["key"] in have),
        tuple(one["name"] for one in wanted if one["key"] not in have),
        row.said,
    )


def _with_places(paper: Paper) -> list[str]:
    return list(dict.fromkeys(place["who"] for place in paper.places if place["sign"] == "signature"))


def _has_signed(paper: Paper, signer: Signer) -> bool:
    """Return whether somebody has filled every place to sign that they have on a paper, or signed it by
    pen."""
    places = [p["id"] for p in paper.places if p["who"] == signer.key and p["sign"] == "signature"]
    return str(paper.pk) in signer.by_pen.get("scans", {}) or all(place in signer.put for place in places)


STILL_NEEDED.append(_still_out)
SENDINGS.append(_sendings)
