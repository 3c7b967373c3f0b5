"""A round that comes after one that ended unsigned: what was signed and is unchanged stays signed.

A paper is unchanged where its bytes are: the same SHA-256.  A signer is the same where key, name and e-mail
are.  Whoever has changed anything signs anew.
"""

from __future__ import annotations

from collections.abc import Iterable

from quillcore.signing.rounds import Event, Happened

from goodquill.signing.models import Round, Signer
from goodquill.signing.turning import happen


def take_marks(before: Round, people: Iterable[Signer]) -> None:
    """Give those who signed before the signature that they have."""
    earlier = {s.key: s for s in before.signers.all()}
    for signer in people:
        was = earlier.get(signer.key)
        if was is not None and _is_same(was, signer) and was.put:
            signer.signature, signer.initials = was.signature, was.initials


def carry_over(before: Round, row: Round) -> None:
    """Let what was signed on the same papers count in a round that has just been sent, as of then."""
    same = {paper.frozen for paper in before.papers.all()} & {paper.frozen for paper in row.papers.all()}
    places = {p["id"] for paper in row.papers.all() if paper.frozen in same for p in paper.places}
    earlier = {s.key: s for s in before.signers.all()}
    for signer in row.signers.all():
        was = earlier.get(signer.key)
        if was is None or signer.is_copied or not _is_same(was, signer):
            continue
        kept = {place: at for place, at in was.put.items() if place in places}
        events = [Event(Happened.CARRIED, signer.key, spot=place) for place in sorted(kept)]
        if events:
            happen(row.pk, *events, round=str(before.pk))
            Signer.objects.filter(pk=signer.pk).update(put=kept)


def _is_same(was: Signer, now: Signer) -> bool:
    return (was.name, was.email) == (now.name, now.email)
