"""Finishing a round that everybody has signed: each paper sealed once, everybody told, the papers put in
their places.  A worker may die anywhere; what it left undone is found by the clock and done then.
"""

from __future__ import annotations

from datetime import datetime
from typing import Any
from uuid import UUID
from zoneinfo import ZoneInfo

from django.db import transaction
from django.utils import timezone
from django_tasks import task
from quillcore.signing.asking import answered, from_rows
from quillcore.signing.certificate_page import Certificate, Signed
from quillcore.signing.marks import Drawing, adopted
from quillcore.signing.puts import Put, Scan
from quillcore.signing.record_check import SEALED
from quillcore.signing.rounds import RoundState
from quillcore.signing.trail import follow
from quillcore.values import Fault

from goodquill.mail.sending import write
from goodquill.signing import letters
from goodquill.signing.chain import append, last_link, links_of
from goodquill.signing.checking import holds
from goodquill.signing.effects import send
from goodquill.signing.kept import date_on
from goodquill.signing.models import Paper, Round, Signer
from goodquill.signing.progress import sending_of
from goodquill.signing.sealing.filing import file_due
from goodquill.signing.sealing.seal import identity, stamp
from goodquill.storage import files
from goodquill.storage.locks import hold

AT_ONCE = 20
"""Rounds that one task finishes before another may run."""


@task()
def seal_round(round_id: str) -> bool:
    """Seal a finished round's papers, and tell everybody; gives whether all is done."""
    return finish_round(UUID(round_id))


@task()
def finish_due() -> int:
    """Finish all that wait for it: those whose worker died, and those that had no time stamp.  Gives how many
    were looked at."""
    waiting = Round.objects.filter(state=RoundState.FINISHED, sealed=None, doubt="").order_by("ended")
    found = list(waiting.values_list("pk", flat=True)[:AT_ONCE])
    for round_id in found:
        finish_round(round_id)
    return len(found)


def finish_round(round_id: UUID) -> bool:
    """Seal what isn't sealed yet, each paper in a transaction of its own; then tell everybody, once."""
    waiting = Paper.objects.filter(round=round_id, finished="", round__state=RoundState.FINISHED)
    for paper in waiting.values_list("pk", flat=True):
        _seal_paper(paper)
    with transaction.atomic():
        hold(Round, round_id)
        row = Round.objects.select_related("by__brokerage", "deal").get(pk=round_id)
        is_whole = not row.papers.filter(finished="").exists()
        if row.state != RoundState.FINISHED or not is_whole or row.sealed is not None:
            return row.sealed is not None
        row.sealed = timezone.now()
        row.save(update_fields=["sealed"])
        for person in row.signers.all():
            send(row, person, letters.finished(row, person))
        if RoundState.FINISHED.value not in row.by.not_told:
            write(row.by.email, *letters.all_sealed(row), "signing", row.deal.brokerage_id)
        file_due.enqueue()
    return True


@transaction.atomic
def _seal_paper(paper_id: UUID) -> None:
    # Half a second, and the web server only queues this.
    from quillcore.signing.finishing import finished  # noqa: PLC0415
    from quillcore.signing.sealing import seal  # noqa: PLC0415

    waits = Paper.objects.select_for_update(skip_locked=True).filter(pk=paper_id, finished="").first()
    if waits is None:
        return
    hold(Round, waits.round_id)  # its chain gets a link
    paper = Paper.objects.select_related("round__by__brokerage", "round__deal").get(pk=paper_id)
    people = {s.key: s for s in paper.round.signers.all() if not s.is_copied}
    if not holds(paper.round):
        return
    put, record, scans = puts_of(paper, people), record_of(paper, people), scans_of(paper, people)
    content = finished(files.fetch(paper.frozen), put, record, scans)
    paper.finished = files.keep(
        seal(content, identity(), stamp, sending_of(paper, paper.round, people.values()).in_words)
    )
    paper.save(update_fields=["finished"])
    sealed = {"paper": str(paper.pk), "sha256": paper.finished}
    append(paper.round, [follow(last_link(paper.round), timezone.now(), SEALED, **sealed)])


def record_of(paper: Paper, people: dict[str, Signer]) -> Certificate:
    """Return what the paper's record page says."""
    row = paper.round
    return Certificate(
        round=str(row.pk),
        subject=row.subject,
        sender=f"{row.by.name}, {row.by.brokerage.name}",
        paper=paper.named,
        frozen=paper.frozen,
        signers=tuple(Signed(s.key, s.name, s.email, _known_by(s)) for s in people.values()),
        events=tuple(links_of(row)),
        zone=row.zone,
        identity=IDENTITY[row.second_step],
    )


IDENTITY = {
    "code": "a code sent by e-mail to each signer's address when the link is opened",
    "question": "a question; the sender told the signers the answer",
    "none": "none: the sender turned the code off, so anyone with the link can sign",
}
"""By second step, as the certificate page says it."""


def _known_by(signer: Signer) -> str:
    if signer.by_pen:
        return "on paper, by pen; the scan is in this file"
    if signer.in_person:
        return "in person, on the sender's device"
    if signer.round.question:
        return "by a link sent there and the answer to a question"
    return "by a link and a code sent there" if signer.round.code else "by a link sent there, without a code"


def puts_of(paper: Paper, people: dict[str, Signer]) -> list[Put]:
    """Return the marks of a paper: what was answered, signatures and initials as they were adopted, dates
    of when their signer signed on it last."""
    marks: dict[tuple[str, str], Drawing] = {}
    for signer in people.values():
        for sign, said in (("signature", signer.signature), ("initials", signer.initials)):
            drawing = adopted(said) if said is not None else None
            if drawing is not None and not isinstance(drawing, Fault):
                marks[signer.key, sign] = drawing
    said = answered(from_rows(paper.asks), paper.texts)
    return said + [_put(place, people[place["who"]], marks, paper) for place in paper.places]


def scans_of(paper: Paper, people: dict[str, Signer]) -> list[Scan]:
    """Return what was signed by pen on a paper: whose, and the scan."""
    found = ((s, s.by_pen.get("scans", {}).get(str(paper.pk))) for s in people.values())
    return [Scan(s.key, files.fetch(content)) for s, content in found if content]


def _put(place: dict[str, Any], signer: Signer, marks: dict[tuple[str, str], Drawing], paper: Paper) -> Put:
    left, bottom, right, top = place["rect"]
    rect, sign, zone = (left, bottom, right, top), place["sign"], ZoneInfo(paper.round.zone)
    if sign == "date":
        return Put(place["page"], rect, text=date_on(paper, signer))
    if signer.by_pen:
        return Put(place["page"], rect, text="on paper" if sign == "initials" else f"on paper: {signer.name}")
    at = datetime.fromisoformat(signer.put[place["id"]]).astimezone(zone)
    told = f"{signer.signs_as or signer.name}, {at:%m/%d/%Y %H:%M %Z}" if sign == "signature" else ""
    return Put(place["page"], rect, marks.get((signer.key, sign)), told=told)
