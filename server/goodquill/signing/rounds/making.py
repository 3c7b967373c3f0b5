"""Making a round: which papers, who signs them in which turn, and what stands against sending it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from datetime import UTC, date, datetime, time, timedelta
from typing import Any
from uuid import UUID
from zoneinfo import ZoneInfo

from django.db import transaction
from django.shortcuts import get_object_or_404
from django.utils import timezone
from quillcore.assembly import PackageDocument
from quillcore.assembly.added_places import FILLED_IN
from quillcore.assembly.people import is_there, person
from quillcore.facts.keys import group_of
from quillcore.signing.asking import questions_of
from quillcore.signing.rounds import RoundSigner, RoundState, against_sending
from quillcore.signing.spots import Spot, signers, spots_of
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

SOON = timedelta(minutes=5)
"""An end nearer than this is none: nobody reads and signs as fast."""
ENDED_UNSIGNED = (RoundState.RECALLED, RoundState.RUN_OUT, RoundState.DECLINED)
OURS, AGENTS, ADDED = 1, 2, 3
"""Turns as they are proposed: the clients first, then their own agent; others have none until they are
chosen."""


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
    begun = Round(
        deal=opened.deal,
        offer=offer,
        by=user,
        subject=f"{opened.deal.name}: papers to sign"[:150],
        ends=_usual_end(opened, zone),
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


def _usual_end(opened: OpenDeal, zone: str) -> datetime | None:
    """Return the offer's own expiry, while it is to come."""
    day = opened.package.sheet.held("terms.expiry_date").value
    hour = opened.package.sheet.held("terms.expiry_time").value
    if not isinstance(day, date):
        return None
    at = hour if isinstance(hour, time) else time(23, 59)
    ends = datetime.combine(day, at, ZoneInfo(zone)).astimezone(UTC)
    return ends if ends > timezone.now() + SOON else None


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


class Choice:
    """The content of a round in the making, as the deal is now: ``spots`` by document, ``people`` all who
    have places in the chosen papers."""

    def __init__(self, row: Round, opened: OpenDeal) -> None:
        self.row, self.opened = row, opened
        leaving = opened.package.leaving
        self.spots: dict[str, list[Spot]] = {d.id: spots_of(opened.package, d) for d in leaving}
        by_id = {d.id: d for d in leaving}
        wanted = row.plan.get("papers")
        usual = [d.id for d in leaving if self._is_signed_by_ours(d)]
        self.papers: list[PackageDocument] = [
            by_id[id] for id in (usual if wanted is None else wanted) if id in by_id
        ]
        places = [spot for d in self.papers for spot in self.spots[d.id]]
        keys = dict.fromkeys(spot.who for spot in places)
        self.people = sorted((person(opened.package, key) for key in keys), key=lambda p: self._order(p.key))
        planned = row.plan.get("turns")
        turns = {key: self._usual_turn(key) for key in keys} if planned is None else planned
        self.turns: dict[str, int] = {key: turn for key, turn in turns.items() if key in keys and turn}
        chosen = [p for p in self.people if p.key in self.turns]
        self.signers: tuple[RoundSigner, ...] = signers(chosen, places, self.turns)

    def _is_signed_by_ours(self, document: PackageDocument) -> bool:
        clients = self.opened.side.clients
        return any(spot.who.startswith(f"{clients}.") for spot in self.spots[document.id])

    def _usual_turn(self, key: str) -> int:
        if key.startswith(f"{self.opened.side.clients}."):
            return OURS
        return AGENTS if key == self.opened.side.own_agent else 0

    def _order(self, key: str) -> tuple[int, str]:
        return (self._usual_turn(key) or ADDED, key)

    def against(self) -> list[Fault]:
        """Return what stands against sending."""
        found = list(against_sending(self.signers)) if self.papers else []
        if not self.papers:
            found.append(Fault("papers", "No papers are chosen.", "Choose a paper to sign."))
        found += [
            Fault(
                "unsigned",
                f"No signer of this round signs {d.form.edition.named}.",
                "Leave it out, or add its signer.",
                d.id,
            )
            for d in self.papers
            if not any(spot.who in self.turns for spot in self.spots[d.id])
        ]
        found += [fault for d in self.papers for fault in self._asked_of_nobody(d)]
        found += [fault for d in self.papers for fault in self._asked_too_late(d)]
        if self.row.question and not self.row.answer:
            found.append(
                Fault("answer", "The question has no answer yet.", "Enter the answer you agreed on.")
            )
        if not is_ready_to_seal():
            found.append(NO_CERTIFICATE)
        return found

    def _asked_of_nobody(self, document: PackageDocument) -> Iterator[Fault]:
        """Yield a place put by hand that somebody is to fill in who isn't asked."""
        for spot in document.spots:
            is_asked = spot.who in self.turns or not is_there(self.opened.package, spot.who)
            if spot.what in FILLED_IN and not is_asked:
                who = person(self.opened.package, spot.who)
                title = document.form.edition.named
                yield Fault(
                    "unasked",
                    f"{who.called} is to fill in {spot.named} in {title}, and isn’t asked.",
                    "Let them sign, or remove that place.",
                    document.id,
                )

    def _asked_too_late(self, document: PackageDocument) -> Iterator[Fault]:
        """Yield a fault where somebody who answers what a paper asks comes after others of the same group:
        they sign what was answered."""
        asked = {q.who for q in questions_of(self.opened.package, document)} & self.turns.keys()
        signing = {spot.who for spot in self.spots[document.id]} & self.turns.keys()
        names, title = {p.key: p.name for p in self.people}, document.form.edition.named
        for who in sorted(asked):
            for other in sorted(signing - asked):
                if group_of(other) == group_of(who) and self.turns[other] < self.turns[who]:
                    yield Fault(
                        "order",
                        f"{names[who]} answers what {title} asks; {names[other]} signs before.",
                        f"Let {names[who]} sign first.",
                        who,
                    )
