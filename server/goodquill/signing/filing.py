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
from quillcore.facts.edits import Edit, Op
from quillcore.papers.received import AUDIENCE, Received, read_paper
from quillcore.signing.asking import from_rows, standing
from quillcore.values import Fault
from quillcore.values.dates import print_date

from goodquill import files
from goodquill.api import Refusal, Sent
from goodquill.deals import edits
from goodquill.deals.opening import OpenDeal
from goodquill.deals.receiving import put_in_package
from goodquill.deals.steps import Step, begin, finish
from goodquill.locks import hold
from goodquill.offers.actions import put_offer_in_force
from goodquill.offers.turns import put_in_force, turns_of
from goodquill.record.models import Kind
from goodquill.signing.models import Paper, Round

AT_ONCE = 20
ACCEPTED = "terms.acceptance_date"


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
    """The day on which the last one signed, by the property's clock."""
    assert row.ended is not None
    return row.ended.astimezone(ZoneInfo(row.zone)).date()


def accepted_by(row: Round, opened: OpenDeal) -> date | None:
    """The day on which a round made a contract, by the rule that the last party's signature makes it: of a
    paper that states the acceptance date, and that everybody of both sides has signed in it.  None where the
    deal has that day already."""
    if opened.package.sheet.held(ACCEPTED).value is not None:
        return None
    forms = (opened.forms.get(code) for code in signed_by_both(row, opened))
    states_it = any(m.fact == ACCEPTED for form in forms if form for m in form.mapping.meanings)
    return _day_of(row) if states_it else None


def signed_by_both(row: Round, opened: OpenDeal) -> set[str]:
    """The codes of a round's papers that everybody of both sides has signed in it."""
    parties = {
        f"{group}.{n}"
        for group in (opened.side.clients, opened.side.others)
        for n in range(1, len(opened.ledger.parties(group)) + 1)
    }
    groups = {key.split(".")[0] for key in parties}
    if len(groups) < 2:
        return set()
    return {
        paper.document
        for paper in row.papers.all()
        if parties <= {p["who"] for p in paper.places if p["sign"] == "signature"}
    }


def _agree_on_turns(step: Step, codes: set[str]) -> str:
    """A counter-offer or an amendment that everybody has signed is agreed on; gives that in words."""
    turns = turns_of(step.opened)
    last = max((n for n, turn in enumerate(turns) if turn.paper in codes), default=None)
    if last is None or turns[last].agreed:
        return ""
    put_in_force(step, turns[: last + 1])
    return "its terms are the deal's"


def _take_answers(step: Step, paper: Paper) -> None:
    """What signers answered becomes the deal's, from them: nobody else could have said it."""
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
        if one.is_answered
    ]
    if entries:
        step.write(*entries)


def _put(row: Round, papers: list[tuple[Paper, Received]]) -> None:
    step = begin(row.deal.owner, row.deal_id, Sent.new(), Kind.DOCUMENTS, offer=row.offer)
    accepted, by_both = accepted_by(row, step.opened), signed_by_both(row, step.opened)
    said = []
    for paper, found in papers:
        at_hand = {d.code: d for d in step.opened.documents}
        waits = at_hand.get(paper.document)
        place = paper.document if waits is not None and not waits.set_aside else ""
        audience = step.opened.forms[paper.document].edition.audience if place else AUDIENCE
        said += put_in_package(
            step,
            [(f"{paper.named}, signed", found)],
            f"signed by everybody on {print_date(_day_of(row))}",
            place,
            came={"signed": str(paper.pk)},
            audience=audience,
        )
    step.read_again()
    for paper, _ in papers:
        _take_answers(step, paper)
    if agreed := _agree_on_turns(step, by_both):
        said.append(agreed)
    if accepted:
        put_offer_in_force(step)
        step.read_again()
        edits.apply(step, [Edit(Op.TYPE, ACCEPTED, accepted.isoformat())])
        said.append(f"accepted on {print_date(accepted)}")
    step.say(". ".join(said))
    finish(step)
