"""Sealed papers put in the places of those that were sent: a step of the deal like any other, to be undone.

The sealed file itself stays with its round, byte for byte; what is put into the package is made of its pages,
so that it can be read, combined and sent like every other paper.
"""

from __future__ import annotations

from datetime import date
from uuid import UUID
from zoneinfo import ZoneInfo

from django.db import transaction
from django.http import Http404
from django.utils import timezone
from django_tasks import task
from quillcore.facts import Act, Entry, Source
from quillcore.forms.model import AUDIENCE
from quillcore.offers.agreement import parties_of_both
from quillcore.papers.received import Received, read_paper
from quillcore.signing.asking import from_rows, standing
from quillcore.signing.puts import signed_on
from quillcore.signing.spots import PUT
from quillcore.values import Fault
from quillcore.values.clock import day_of
from quillcore.values.dates import print_date

from goodquill.changelog.models import Kind
from goodquill.deals.incoming.receiving import put_in_package
from goodquill.deals.opening import OpenDeal
from goodquill.deals.requests import DealRequest
from goodquill.deals.steps import DealStep, begin, finish
from goodquill.http.endpoints import Refusal
from goodquill.signing.models import Paper, Round
from goodquill.signing.progress import sending_of
from goodquill.signing.sealing.agreeing import come_to_agree
from goodquill.storage import files
from goodquill.storage.locks import hold

AT_ONCE = 20


@task()
def file_due() -> int:
    """File all that was sealed and isn't filed; gives how many rounds."""
    waiting = Round.objects.filter(filed=None, doubt="").exclude(sealed=None).order_by("sealed")
    found = list(waiting.values_list("pk", flat=True)[:AT_ONCE])
    for round_id in found:
        file_round(round_id)
    return len(found)


def file_round(round_id: UUID) -> None:
    """Put a round's sealed papers in their places, once.  A deal that can't be changed any more (thrown away,
    its agent gone) keeps them in its round alone."""
    read = [
        (paper, read_paper(files.fetch(paper.finished))) for paper in Paper.objects.filter(round=round_id)
    ]
    with transaction.atomic():
        hold(Round, round_id)
        row = Round.objects.select_related("deal__owner").get(pk=round_id)
        if row.filed is not None or row.sealed is None:
            return
        row.filed = timezone.now()
        row.save(update_fields=["filed"])
        try:
            with transaction.atomic():
                _put(row, [(paper, found) for paper, found in read if not isinstance(found, Fault)])
        except (Refusal, Http404):
            return


def _day_of(row: Round) -> date:
    """Return the day on which the last one signed, by the property's clock, or by what is said of a pen."""
    assert row.ended is not None
    zone = ZoneInfo(row.zone)
    days = [signed_on(s.put, s.put, zone, s.by_pen.get("day", "")) for s in row.signers.all()]
    return max((day for day in days if day is not None), default=day_of(row.ended, zone))


def signed_by_both(row: Round, opened: OpenDeal) -> set[str]:
    """Return the codes of a round's papers that everybody of both sides has signed in it."""
    parties = parties_of_both(opened.ledger)
    return {
        paper.document
        for paper in row.papers.all()
        if parties and parties <= {p["who"] for p in paper.places if p["sign"] == "signature"}
    }


def _take_answers(step: DealStep, paper: Paper) -> None:
    """Enter signers' answers into the deal, as theirs: nobody else could have said it. An answer at a place
    put by hand belongs to no blank of the deal, and stands on the paper alone."""
    names = {s.key: s.name for s in paper.round.signers.all()}
    document = step.opened.package.by_id.get(paper.document)
    if document is None:
        return
    entries = [
        Entry(
            f"{document.prefix}{one.question.key}",
            Act.STATE,
            0,
            Source.SIGNER,
            one.value,
            origin=names.get(paper.answers[one.question.key]["by"], ""),
        )
        for one in standing(from_rows(paper.asks), paper.texts)
        if one.is_answered and not one.question.key.startswith(PUT)
    ]
    if entries:
        step.write(*entries)


def _put(row: Round, papers: list[tuple[Paper, Received]]) -> None:
    step = begin(DealRequest.own(row.deal.owner, row.deal_id, row.offer), Kind.DOCUMENTS)
    by_both = signed_by_both(row, step.opened)
    said, people = [], list(row.signers.all())
    for paper, found in papers:
        at_hand = {d.code: d for d in step.opened.documents}
        waits = at_hand.get(paper.document)
        place = paper.document if waits is not None and not waits.set_aside else ""
        audience = step.opened.forms[paper.document].edition.audience if place else AUDIENCE
        said += put_in_package(
            step,
            [(f"{paper.named}, signed", found)],
            f"{sending_of(paper, row, people).in_words}, {print_date(_day_of(row))}"[:200],
            place,
            came={"signed": str(paper.pk)},
            audience=audience,
        )
    step.read_again()
    for paper, _ in papers:
        _take_answers(step, paper)
    said += come_to_agree(step, by_both, _day_of(row))
    step.say(". ".join(said))
    finish(step)
