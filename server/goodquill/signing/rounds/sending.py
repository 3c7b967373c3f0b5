"""A look at just what will be sent, and sending it."""

from __future__ import annotations

from uuid import UUID

from django.db import transaction
from django.utils import timezone
from quillcore.assembly import PackageDocument, assemble
from quillcore.assembly.people import Person
from quillcore.forms.model import LETTER
from quillcore.proofreading import RemarkWeight
from quillcore.signing.asking import as_rows, questions_of
from quillcore.signing.planning import NO_PAPERS, SOON, RoundPlan
from quillcore.signing.rounds import Event, Happened, RoundState
from quillcore.signing.spots import needed_signatures

from goodquill.deals.opening import OpenDeal, find_deal, open_deal
from goodquill.http.endpoints import Refusal
from goodquill.offices.models import User
from goodquill.proofreading.queries import proof_of
from goodquill.signing.models import Paper, Round, Signer
from goodquill.signing.rounds.changed import said_on
from goodquill.signing.rounds.making import find_round, look_anew, only_in_the_making, plan_of
from goodquill.signing.rounds.replacing import carry_over, take_answers, take_marks, trusted_before
from goodquill.signing.rounds.transitions import happen
from goodquill.signing.sealing.seal import NO_CERTIFICATE, is_ready_to_seal
from goodquill.storage import files


def look(user: User, round_id: UUID) -> Round:
    """Make the papers as they will be sent, and keep them: just these are sent."""
    row = find_round(user, round_id)
    only_in_the_making(row)
    opened = open_deal(user, row.deal_id, row.offer)
    plan = plan_of(row, opened)
    if not plan.papers:
        raise Refusal.of(NO_PAPERS, 409)
    made = [_frozen(opened, plan, n, d) for n, d in enumerate(plan.papers)]
    must = _must_be_mended(opened, plan)
    with transaction.atomic():
        row = find_round(user, round_id, lock=True)
        only_in_the_making(row)
        look_anew(row)
        row.looked, row.must = opened.record.seq, must
        row.save(update_fields=["looked", "must"])
        people = _people(plan, row)
        before = trusted_before(row)
        if before is not None:
            take_marks(before, people)
            take_answers(before, made, people)
        for paper in made:
            paper.round = row
        Paper.objects.bulk_create(made)
        Signer.objects.bulk_create(people)
    return row


def _frozen(opened: OpenDeal, plan: RoundPlan, position: int, document: PackageDocument) -> Paper:
    """Return a paper's bytes, kept; places of those alone who sign in this round."""
    edition = document.form.edition
    made = assemble(opened.package, document.form.edition.named, [document])
    sizes = [list(edition.size(n)) for n in range(1, edition.pages + 1)]
    sizes += [list(LETTER)] * (made.pages - edition.pages)
    places = [
        {"id": s.id, "page": s.page, "rect": list(s.rect), "sign": s.sign, "who": s.who}
        for s in plan.spots[document.id]
        if s.who in plan.turns
    ]
    return Paper(
        position=position,
        document=document.id,
        number=edition.number,
        title=edition.title,
        frozen=files.keep(made.pdf),
        sizes=sizes,
        places=places,
        wants=[{"key": key, "name": name} for key, name in needed_signatures(opened.package, document)],
        said=said_on(opened, document),
        asks=as_rows(q for q in questions_of(opened.package, document) if q.who in plan.turns),
    )


def _must_be_mended(opened: OpenDeal, plan: RoundPlan) -> list[str]:
    """Return what the proofread says must be mended in the chosen papers, as sentences."""
    chosen = {d.id for d in plan.papers}
    return [
        remark["message"]
        for remark in proof_of(opened)["remarks"]
        if remark["weight"] == RemarkWeight.MUST
        and remark["left"] is None
        and (not remark["document"] or remark["document"] in chosen)
    ]


def _people(plan: RoundPlan, row: Round) -> list[Signer]:
    by_key: dict[str, Person] = {p.key: p for p in plan.people}
    signing = [
        Signer(
            round=row,
            key=s.key,
            turn=s.turn,
            name=s.name,
            signs_as=by_key[s.key].signs_as,
            role=by_key[s.key].role,
            email=s.email,
        )
        for s in plan.signers
    ]
    copied = [
        Signer(
            round=row, key=f"copy.{n}", turn=0, name=one["name"], signs_as="", role="Copy", email=one["email"]
        )
        for n, one in enumerate(row.plan.get("copied", []), 1)
    ]
    return signing + copied


@transaction.atomic
def send(user: User, round_id: UUID, reason: str, source: str) -> Round:
    """Send just what was looked at.  Sent twice, it goes once."""
    row = find_round(user, round_id, lock=True)
    if row.state != RoundState.MAKING:
        return row
    if row.looked is None or row.looked != find_deal(user, row.deal_id, lock=True).record.seq:
        raise Refusal(
            "The deal has changed since you previewed these papers.",
            "Nothing was sent. Preview them again.",
            "looked",
            409,
        )
    if not is_ready_to_seal():
        raise Refusal.of(NO_CERTIFICATE, 409, "Nothing was sent.")
    if row.must and not reason.strip():
        raise Refusal(
            f"The proofread found something that must be fixed: {row.must[0]}",
            "Fix it, or enter a reason to send it as is.",
            "must",
            409,
        )
    if row.ends is not None and row.ends <= timezone.now() + SOON:
        raise Refusal("The end date has passed.", "Nothing was sent. Choose another date.", "ends", 409)
    row.reason = reason.strip()[:300]
    row.save(update_fields=["reason"])
    row = happen(row.pk, Event(Happened.SENT), said={"from": source, "by": user.name})
    before = trusted_before(row)
    if before is not None:
        carry_over(before, row)
    return row
