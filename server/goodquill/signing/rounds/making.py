"""Making a round: which papers, who signs them in which turn, and what stands against sending it."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any
from uuid import UUID

from django.db import transaction
from django.shortcuts import get_object_or_404
from django.utils import timezone
from quillcore.signing.planning import RoundPlan, usual_end
from quillcore.signing.rounds import RoundState
from quillcore.values import Fault

from goodquill.deals.opening import OpenDeal, find_deal, only_a_deal
from goodquill.forms.queries import setting_of
from goodquill.http.endpoints import Refusal
from goodquill.http.limits import MOST_COPIED, MOST_ROUNDS_MADE
from goodquill.mail.addresses import check_address
from goodquill.offices.access import may_see_deals
from goodquill.offices.models import User
from goodquill.signing.models import Round, Signer
from goodquill.signing.question import hash_of_answer
from goodquill.signing.sealing.seal import NO_CERTIFICATE, is_ready_to_seal
from goodquill.storage.locks import hold

ENDED_UNSIGNED = (RoundState.RECALLED, RoundState.RUN_OUT, RoundState.DECLINED)


def find_round(user: User, round_id: UUID, lock: bool = False) -> Round:
    """Return the round, if the user may see its deal."""
    if lock:
        hold(Round, round_id)
    rows = Round.objects.filter(may_see_deals(user, "deal__"))
    return get_object_or_404(rows.select_related("deal", "by__brokerage"), pk=round_id)


def find_signer(user: User, round_id: UUID, signer: UUID) -> Signer:
    """Return somebody who signs in a round that the user may see."""
    person = find_round(user, round_id).signers.filter(pk=signer, turn__gt=0).first()
    if person is None:
        raise Refusal("This signer is not in the round.", "Reload and try again.", "signer", 404)
    return person


@transaction.atomic
def begin_round(
    user: User,
    deal_id: UUID,
    offer: int | None,
    like: UUID | None = None,
    papers: Sequence[str] | None = None,
) -> Round:
    """Return a new round of a deal: with what is usual proposed, or with what an earlier one of it had, or
    with these documents alone."""
    opened = OpenDeal(find_deal(user, deal_id, lock=True), offer, reader=user)
    only_a_deal(opened.deal)
    if opened.deal.rounds.filter(state=RoundState.MAKING).count() >= MOST_ROUNDS_MADE:
        raise Refusal(
            f"This deal already has {MOST_ROUNDS_MADE} drafts to sign.",
            "Send one or discard one.",
            "rounds",
            409,
        )
    zone = setting_of(opened.deal.release).zone
    usual = RoundPlan(opened.package, papers or None, None)
    begun = Round(
        deal=opened.deal,
        offer=opened.offer.pk,
        by=user,
        subject=f"{opened.deal.name}: papers to sign"[:150],
        ends=usual_end(opened.package, usual.papers, zone, timezone.now()),
        zone=zone,
    )
    before = opened.deal.rounds.filter(pk=like).first() if like is not None else None
    if before is not None:
        begun.replaces = before if before.state in ENDED_UNSIGNED else None
        begun.plan = _planned(before)
        for name in _LIKE:
            setattr(begun, name, getattr(before, name))
    if papers is not None:
        begun.plan = {**begun.plan, "papers": list(papers)}
    begun.save(force_insert=True)
    return begun


_LIKE = ("offer", "subject", "message", "remind_every", "code", "question", "answer")
"""The settings that a round takes of the one that it is like, beside its plan."""


def _planned(before: Round) -> dict[str, Any]:
    """Return what an earlier round had, as a plan for another one."""
    return {
        "papers": [paper.document for paper in before.papers.all()],
        "turns": {s.key: s.turn for s in before.signers.all() if not s.is_copied},
        "copied": before.plan.get("copied", []),
    }


@transaction.atomic
def change(user: User, round_id: UUID, said: dict[str, Any]) -> Round:
    """Change what is planned.  Other papers or signers have to be looked at anew."""
    row = find_round(user, round_id, lock=True)
    only_in_the_making(row)
    plan = {name: said.pop(name) for name in ("papers", "turns", "copied") if name in said}
    if plan.keys() & {"copied"}:
        _check_copied(plan["copied"])
    if said.get("ends") and said["ends"] <= timezone.now():
        raise Refusal("This end date has passed.", "Choose a date in the future.", "ends")
    if any(row.plan.get(name) != value for name, value in plan.items()):
        row.plan = row.plan | plan
        look_anew(row)
    _plan_step(row, said)
    for name, value in said.items():
        setattr(row, name, value)
    row.save()
    return row


def _plan_step(row: Round, said: dict[str, Any]) -> None:
    """Plan the second step: a code or a question. A question that is taken away leaves the code. An answer
    belongs to its question: another one has none yet."""
    question = said.get("question", row.question).strip()
    answer = said.pop("answer", None)
    if said.get("code"):
        question = ""
    elif question:
        said["code"] = False
    elif row.question:
        said.setdefault("code", True)
    if answer is not None:
        said["answer"] = hash_of_answer(question, answer)
    elif question != row.question:
        said["answer"] = ""
    said["question"] = question


def _check_copied(copied: Sequence[dict[str, str]]) -> None:
    if len(copied) > MOST_COPIED:
        raise Refusal(f"{MOST_COPIED} people can get a copy.", "Send it to the others by mail.", "copied")
    for one in copied:
        check_address(one["email"])


def only_in_the_making(row: Round) -> None:
    """Refuse what is done to rounds alone that weren't sent."""
    if row.state != RoundState.MAKING:
        raise Refusal("This was already sent for signature.", "Recall it and send a new one.", "round", 409)


def look_anew(row: Round) -> None:
    """Drop what was looked at."""
    row.looked = None
    row.papers.all().delete()
    row.signers.all().delete()


@transaction.atomic
def throw_away(user: User, round_id: UUID) -> None:
    """Drop a round that was never sent."""
    row = find_round(user, round_id, lock=True)
    only_in_the_making(row)
    row.delete()


def plan_of(row: Round, opened: OpenDeal) -> RoundPlan:
    """Return a round in the making, as the deal is now."""
    return RoundPlan(opened.package, row.plan.get("papers"), row.plan.get("turns"))


def reasons_against(row: Round, plan: RoundPlan) -> list[Fault]:
    """Return what stands against sending it: its papers and signers, its question, and the seal."""
    found = plan.against()
    if row.question and not row.answer:
        found.append(Fault("answer", "The question has no answer yet.", "Enter the answer you agreed on."))
    if not is_ready_to_seal():
        found.append(NO_CERTIFICATE)
    return found
