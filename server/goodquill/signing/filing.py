"""Sealed papers put in the places of those that were sent: a step of the deal like any other, to be undone.

The sealed file itself stays with its round, byte for byte; what is put into the package is made of its pages,
so that it can be read, combined and sent like every other paper.
"""

from __future__ import annotations

from uuid import UUID

from django.db import transaction
from django.http import Http404
from django.utils import timezone
from django_tasks import task
from quillcore.papers.received import AUDIENCE, Received, read_paper
from quillcore.values import Fault

from goodquill import files
from goodquill.api import Refusal, Sent
from goodquill.deals.receiving import put_in_package
from goodquill.deals.steps import begin, finish
from goodquill.record.models import Kind
from goodquill.signing.models import Paper, Round

AT_ONCE = 20


@task()
def file_due() -> int:
    """File all that was sealed and isn't filed; gives how many rounds."""
    waiting = Round.objects.filter(filed=None).exclude(sealed=None).order_by("sealed")
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
        Round.objects.select_for_update().filter(pk=round_id).values_list("pk").first()
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


def _put(row: Round, papers: list[tuple[Paper, Received]]) -> None:
    step = begin(row.deal.owner, row.deal_id, Sent.new(), Kind.DOCUMENTS, offer=row.offer)
    said = []
    for paper, found in papers:
        at_hand = {d.code: d for d in step.opened.documents}
        waits = at_hand.get(paper.document)
        place = paper.document if waits is not None and not waits.set_aside else ""
        audience = step.opened.forms[paper.document].edition.audience if place else AUDIENCE
        said += put_in_package(
            step,
            [(f"{paper.named}, signed", found)],
            f"signed by everybody on {timezone.localtime(row.ended).date().isoformat()}",
            place,
            came={"signed": str(paper.pk)},
            audience=audience,
        )
    step.say(". ".join(said))
    finish(step)
