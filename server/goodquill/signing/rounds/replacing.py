"""A round that comes after one that ended unsigned: what was signed and is unchanged stays signed.

A paper is unchanged where its bytes are: the same SHA-256.  A signer is the same where key, name and e-mail
are.  Whoever has changed anything signs anew, and so does everybody where the earlier round is no longer as
its chain says.
"""

from __future__ import annotations

from collections.abc import Iterable

from quillcore.signing.rounds import Event, Happened

from goodquill.signing.checking import check
from goodquill.signing.models import Paper, Round, Signer
from goodquill.signing.rounds.transitions import happen


def trusted_before(row: Round) -> Round | None:
    """Return the round whose signatures stay in this one; None where it replaces none, or where that one no
    longer is as its chain says."""
    if row.replaces_id is None or not check(row.replaces_id):
        return None
    return row.replaces


def take_marks(before: Round, people: Iterable[Signer]) -> None:
    """Give those who signed before the signature that they have."""
    earlier = {s.key: s for s in before.signers.all()}
    for signer in people:
        was = earlier.get(signer.key)
        if was is not None and _is_same(was, signer) and was.put:
            signer.signature, signer.initials = was.signature, was.initials


def take_answers(before: Round, papers: Iterable[Paper], people: Iterable[Signer]) -> None:
    """Give papers that are just the same the answers of those who are."""
    earlier = {s.key: s for s in before.signers.all()}
    same = {s.key for s in people if s.key in earlier and _is_same(earlier[s.key], s)}
    answers = {paper.frozen: paper.answers for paper in before.papers.all()}
    for paper in papers:
        found = answers.get(paper.frozen, {})
        paper.answers = {key: said for key, said in found.items() if said["by"] in same}


def carry_over(before: Round, row: Round) -> None:
    """Let what was signed on the same papers count in a round that has just been sent, as of then."""
    same = {paper.frozen for paper in before.papers.all()} & {paper.frozen for paper in row.papers.all()}
    unchanged = [paper for paper in row.papers.all() if paper.frozen in same]
    places = {p["id"] for paper in unchanged for p in paper.places} | {paper.given for paper in unchanged}
    earlier = {s.key: s for s in before.signers.all()}
    for signer in row.signers.all():
        was = earlier.get(signer.key)
        if was is None or signer.is_copied or not _is_same(was, signer):
            continue
        kept = {place: at for place, at in was.put.items() if place in places}
        events = [Event(Happened.CARRIED, signer.key, spot=place) for place in sorted(kept)]
        if events:
            happen(row.pk, *events, carried=kept, said={"round": str(before.pk)})


def _is_same(was: Signer, now: Signer) -> bool:
    return (was.name, was.email) == (now.name, now.email)
