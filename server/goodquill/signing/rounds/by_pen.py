"""Somebody of a round who signed on paper while the others sign electronically: their scan is looked at,
recorded with the day, and goes into the finished files.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from datetime import date
from typing import TYPE_CHECKING, Any
from uuid import UUID

from django.db import transaction
from quillcore.assembly import PackageDocument
from quillcore.papers.returned import InkPlace, compare_returned
from quillcore.signing.rounds import At, Event, Happened
from quillcore.values import Fault

from goodquill.changelog.models import Kind
from goodquill.deals.opening import OpenDeal, open_deal
from goodquill.deals.parts import DOCUMENTS
from goodquill.deals.requests import DealRequest
from goodquill.deals.steps import begin, finish
from goodquill.http.endpoints import Refusal
from goodquill.offices.models import User
from goodquill.signing.models import Paper, Round, Signer
from goodquill.signing.rounds.making import find_signer
from goodquill.signing.rounds.on_paper import refuse_day_to_come
from goodquill.signing.rounds.transitions import happen
from goodquill.storage import files
from goodquill.storage.locks import hold

if TYPE_CHECKING:
    from goodquill.http import wire

MOST_SCANS = 6
"""Scans that are looked through for one signer: comparing takes a second a page."""


def scans_in(user: User, round_id: UUID, signer_id: UUID, codes: Sequence[str]) -> wire.Scans:
    """Return the papers of a round's deal that came from elsewhere and aren't what is being signed; and for
    each paper that somebody is to sign which of those named is most likely its scan: the one with ink in
    most of their places."""
    signer = find_signer(user, round_id, signer_id)
    row = signer.round
    opened = open_deal(user, row.deal_id, row.offer)
    sent = {paper.document for paper in row.papers.all()}
    came = [d for d in opened.package.leaving if not d.form.edition.number and d.id not in sent]
    scans = _scans(opened, codes[:MOST_SCANS])
    return {
        "came": [{"document": d.id, "title": d.form.edition.title} for d in came],
        "papers": [_looked(paper, own, scans) for paper, own in _papers_of(signer)],
    }


def _scans(opened: OpenDeal, codes: Iterable[str]) -> list[PackageDocument]:
    found = [opened.package.by_id.get(code) for code in codes]
    scans = [d for d in found if d is not None and not d.form.edition.number]
    if len(scans) < len(found):
        raise Refusal(
            "A scan is no longer in the package.", "Reload the package and try again.", "document", 409
        )
    return scans


def _papers_of(signer: Signer) -> list[tuple[Paper, list[dict[str, Any]]]]:
    """Return the papers that somebody is to sign, each with their places."""
    every = [
        (p, [place for place in p.places if place["who"] == signer.key]) for p in signer.round.papers.all()
    ]
    return [(paper, own) for paper, own in every if own]


def _looked(paper: Paper, own: list[dict[str, Any]], scans: Sequence[PackageDocument]) -> wire.LookedScan:
    to_sign = [p for p in own if p["sign"] != "date"]
    inked = {scan.id: _ink_in(paper, to_sign, scan) for scan in scans}
    best = max(inked, key=lambda code: inked[code], default="")
    return {
        "paper": paper.pk,
        "title": paper.named,
        "places": len(to_sign),
        "document": best,
        "inked": inked.get(best, 0),
    }


def _ink_in(paper: Paper, places: list[dict[str, Any]], scan: PackageDocument) -> int:
    """Return in how many of these places of a paper a scan of it has ink."""
    spots = [InkPlace(p["id"], p["page"], "sign", tuple(p["rect"])) for p in places]
    found = compare_returned(files.fetch(paper.frozen), scan.form.pdf, spots)
    if isinstance(found, Fault):
        if found.rule == "busy":
            raise Refusal.of(found, safe="Nothing was changed.")
        return 0
    return len(found.signed)


@transaction.atomic
def record_by_pen(user: User, round_id: UUID, signer_id: UUID, scans: Mapping[UUID, str], day: date) -> Round:
    """Record that somebody has signed every paper of theirs by pen, on that day; ``scans`` has for each paper
    the document that is its scan.  The scans leave the package: from then on they are in the finished
    files."""
    hold(Round, round_id)
    signer = find_signer(user, round_id, signer_id)
    row = signer.round
    if signer.at == At.DONE:
        raise Refusal(f"{signer.name} has signed already.", "Nothing was changed.", "done", 409)
    refuse_day_to_come(day)
    papers = [paper for paper, _ in _papers_of(signer)]
    missing = [paper.named for paper in papers if paper.pk not in scans]
    if missing:
        raise Refusal(f"There is no scan of {missing[0]}.", "Choose which paper it is.", "document")
    _refuse_questions(signer, papers)
    step = begin(DealRequest.own(user, row.deal_id, row.offer), Kind.DOCUMENTS)
    found = _scans(step.opened, dict.fromkeys(scans[paper.pk] for paper in papers))
    kept = {scan.id: files.keep(scan.form.pdf) for scan in found}
    signer.by_pen = {
        "day": day.isoformat(),
        "scans": {str(paper.pk): kept[scans[paper.pk]] for paper in papers},
    }
    signer.save(update_fields=["by_pen"])
    event = Event(Happened.BY_PEN, signer.key, said=day.isoformat())
    happened = happen(row.pk, event, said={"by": user.name, "scans": " ".join(kept.values())})
    step.do(DOCUMENTS, {scan.id: {"set_aside": True} for scan in found})
    step.say(f"{signer.name} signed by pen; the scan will be part of the signed papers"[:300])
    finish(step)
    return happened


def _refuse_questions(signer: Signer, papers: Iterable[Paper]) -> None:
    """Refuse where a paper's questions to a signer would stay unanswered: the others have to read the answers
    before they sign."""
    asked = next((p for p in papers if any(ask["who"] == signer.key for ask in p.asks)), None)
    if asked is not None:
        raise Refusal(
            f"{signer.name} has questions to answer in {asked.named} before the others sign it.",
            "Recall the round, then have everyone sign that paper by pen.",
            "answers",
            409,
        )
