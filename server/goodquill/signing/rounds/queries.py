"""Rounds as their deal shows them."""

from __future__ import annotations

from collections.abc import Collection
from typing import TYPE_CHECKING
from uuid import UUID

from quillcore.signing.record_check import SEALED
from quillcore.signing.rounds import Happened, RoundState
from quillcore.signing.sendings import round_in_words, signed_in_words

from goodquill.deals.opening import OpenDeal, open_deal
from goodquill.mail.queries import not_taken
from goodquill.offices.access import may_see_deals
from goodquill.offices.models import User
from goodquill.signing.kept import RoundRows
from goodquill.signing.models import Paper, Round, Signer
from goodquill.signing.progress import sending_of
from goodquill.signing.rounds.changed import changed_since
from goodquill.signing.rounds.making import plan_of, reasons_against
from goodquill.signing.rounds.who_signs import counted, paper_of, with_place

if TYPE_CHECKING:
    from goodquill.http import wire

MOST_LISTED = 100


def rounds_of(deal: UUID) -> list[wire.Round]:
    """Return a deal's rounds, the newest first; as many queries however many there are."""
    rows = Round.objects.filter(deal=deal).select_related("by").prefetch_related("papers", "signers")
    every = list(rows[:MOST_LISTED])
    refused = not_taken(s.letter for row in every for s in row.signers.all())
    return [_row(row, refused) for row in every]


def out_for(user: User) -> list[wire.RoundOut]:
    """Return the user's rounds that are out, those that wait longest first; with whom they wait for."""
    rows = Round.objects.filter(may_see_deals(user, "deal__"), by=user, state=RoundState.OUT)
    every = list(
        rows.select_related("by", "deal").prefetch_related("papers", "signers").order_by("sent")[:50]
    )
    refused = not_taken(s.letter for row in every for s in row.signers.all())
    return [{**_row(row, refused), "deal_name": row.deal.name} for row in every]


def whole_round(user: User, row: Round, just_sent: bool = False) -> wire.WholeRound:
    """Return one round: what happened, and while it is being made what there is to choose.  The deal isn't
    opened for one that was ``just_sent``: nothing can have changed since."""
    told = _row(row, not_taken(s.letter for s in row.signers.all()))
    may_differ = row.state in (RoundState.OUT, RoundState.FINISHED) and not just_sent
    opened = open_deal(user, row.deal_id, row.offer) if may_differ or row.state == RoundState.MAKING else None
    to_choose = opened if row.state == RoundState.MAKING else None
    return {
        **told,
        "changed": changed_since(row, opened) if opened is not None and may_differ else [],
        "events": _events(row),
        "choice": _choice(row, to_choose) if to_choose is not None else None,
        "current": to_choose is not None and row.looked == to_choose.record.seq,
    }


def _row(row: Round, refused: dict[UUID | None, str]) -> wire.Round:
    rows = RoundRows.of(row)
    machine, papers = rows.as_machine(), rows.papers
    waited = {s.key for s in machine.waited_on}
    people, is_done = rows.people.values(), row.state == RoundState.FINISHED
    return {
        "id": row.pk,
        "deal": row.deal_id,
        "offer": row.offer,
        "state": row.state,
        "subject": row.subject,
        "message": row.message,
        "by": row.by.name,
        "ends": row.ends,
        "zone": row.zone,
        "remind_every": row.remind_every,
        "code": row.code,
        "question": row.question,
        "has_answer": row.answer != "",
        "must": row.must,
        "reason": row.reason,
        "said": row.said,
        "made": row.made,
        "sent": row.sent,
        "ended": row.ended,
        "sealed": row.sealed,
        "doubt": row.doubt,
        "looked": row.looked is not None,
        "copied": row.plan.get("copied", []),
        "done": round_in_words(sending_of(p, row, people) for p in papers) if is_done else "",
        "papers": [_paper(p, row, people) for p in papers],
        "signers": [_signer(s, papers, waited, refused) for s in rows.people.values()],
    }


def _paper(paper: Paper, row: Round, people: Collection[Signer]) -> wire.RoundPaperShape:
    how_far = sending_of(paper, row, people)
    return {
        "id": paper.pk,
        "document": paper.document,
        "title": paper.named,
        "pages": paper.pages,
        "places": paper.places,
        "finished": bool(paper.finished),
        "progress": signed_in_words(how_far.signed, how_far.missing) if how_far.is_frozen else "",
    }


def _signer(
    signer: Signer, papers: list[Paper], waited: set[str], refused: dict[UUID | None, str]
) -> wire.RoundSignerShape:
    own = [p for paper in papers for p in paper.places if p["who"] == signer.key and p["sign"] != "date"]
    return {
        "id": signer.pk,
        "key": signer.key,
        "turn": signer.turn,
        "name": signer.name,
        "role": signer.role,
        "email": signer.email,
        "at": signer.at,
        "waited_on": signer.key in waited,
        "in_person": signer.in_person,
        "by_pen": signer.by_pen.get("day", ""),
        "asked": signer.asked,
        "reminded": signer.reminded,
        "put": len(signer.put),
        "places": len(own),
        "asked_of": sum(ask["who"] == signer.key for paper in papers for ask in paper.asks),
        "answered": sum(said["by"] == signer.key for paper in papers for said in paper.answers.values()),
        "read": [paper.named for paper in papers if str(paper.pk) in signer.read],
        "refused": refused.get(signer.letter, ""),
    }


_SAID: dict[str, str] = {
    SEALED: "{paper} was sealed",
    Happened.SENT: "The round was sent",
    Happened.OPENED: "{who} opened the papers",
    Happened.AGREED: "{who} agreed to sign electronically",
    Happened.DONE: "{who} has signed",
    Happened.DECLINED: "{who} declined: {said}",
    Happened.WANTS_PAPER: "{who} asked for paper",
    Happened.RECALLED: "The round was recalled: {said}",
    Happened.RAN_OUT: "Time ran out",
    Happened.REMINDED: "{who} was reminded",
    Happened.IN_PERSON: "{who} got the sender's device, to sign in person",
    Happened.CARRIED: "{who} signed a place of the same paper before",
    Happened.BY_PEN: "{who} signed on paper on {said}, and the scan was put in",
    Happened.READDRESSED: "{who} was sent a new link, to {said}",
}


def _events(row: Round) -> list[wire.RoundEventShape]:
    """Return what happened, in words; single places signed are told by the round's progress."""
    names = {s.key: s.name for s in row.signers.all()}
    papers = {str(paper.pk): paper.named for paper in row.papers.all()}
    return [
        {
            "at": link.at,
            "said": _SAID[link.kind].format(
                who=names.get(link.who, ""),
                said=link.said.get("said", ""),
                paper=papers.get(link.said.get("paper", ""), "A paper"),
            ),
            "source": link.said.get("from", ""),
        }
        for link in row.happenings.exclude(kind__in=(Happened.PUT.value, Happened.CARRIED.value))
    ]


def _choice(row: Round, opened: OpenDeal) -> wire.ChoiceShape:
    plan, leaving = plan_of(row, opened), opened.package.leaving
    chosen, people = {d.id for d in plan.papers}, {p.key: p for p in plan.people}
    in_order = iter(plan.papers)  # a paper that is left out stays in its place, and nothing jumps
    rows = [next(in_order) if d.id in chosen else d for d in leaving]
    return {
        "papers": [{**paper_of(d), **counted(plan.spots[d.id]), "chosen": d.id in chosen} for d in rows],
        "people": [
            {
                "key": p.key,
                "name": p.name,
                "signs_as": p.signs_as,
                "role": p.role,
                "email": p.email,
                "name_key": p.name_key,
                "email_key": p.email_key,
                "turn": plan.turns.get(p.key, 0),
                "places": sum(s.who == p.key for d in plan.papers for s in plan.spots[d.id]),
            }
            for p in plan.people
        ],
        "against": [with_place(fault, people) for fault in reasons_against(row, plan)],
    }
