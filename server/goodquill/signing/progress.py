"""The progress of papers that were sent, as the core says it in words."""

from __future__ import annotations

from collections.abc import Iterable

from quillcore.signing.rounds import RoundState
from quillcore.signing.sendings import Sending, round_in_words

from goodquill.signing.models import Paper, Round, Signer


def done_in_words(row: Round) -> str:
    """Return how far a round's papers are, once everybody has signed who was asked to."""
    people = list(row.signers.all())
    return round_in_words(sending_of(paper, row, people) for paper in row.papers.all())


def sending_of(paper: Paper, row: Round, people: Iterable[Signer]) -> Sending:
    """Return how far a paper is in its round."""
    signers = {signer.key: signer for signer in people if not signer.is_copied}
    wanted = paper.wants or [{"key": key, "name": signers[key].name} for key in _with_places(paper)]
    have = {key for key in _with_places(paper) if _has_signed(paper, signers[key])}
    return Sending(
        RoundState(row.state),
        row.sent or row.made,
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
