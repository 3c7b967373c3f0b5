"""A round moved on: its machine read from the rows, the step made, and what follows from it written in the
same transaction.

So there is nothing in between at which a process could die: either an event, its link in the chain, the
letters and the queued work are all there, or nothing happened.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any
from uuid import UUID

from django.db import transaction
from django.utils import timezone
from quillcore.signing import rounds
from quillcore.signing.rounds import ENDED, At, Do, Event, State, step
from quillcore.signing.trail import Event as Link
from quillcore.signing.trail import follow
from quillcore.values import Fault

from goodquill.api import Refusal
from goodquill.locks import hold
from goodquill.signing.chain import append, last_link
from goodquill.signing.effects import carry_out
from goodquill.signing.finishing import seal_round
from goodquill.signing.models import Paper, Round, Signer


def as_machine(row: Round, signers: Iterable[Signer], papers: Sequence[Paper]) -> rounds.Round:
    """The round as the core knows it."""
    every = [place for paper in papers for place in paper.places if place["sign"] != "date"]
    every += [
        {"id": paper.given, "who": who} for paper in papers for who in {ask["who"] for ask in paper.asks}
    ]
    return rounds.Round(
        State(row.state),
        tuple(
            rounds.Signer(
                s.key,
                s.name,
                s.email,
                s.turn,
                frozenset(place["id"] for place in every if place["who"] == s.key),
                frozenset(s.put),
                At(s.at),
                s.in_person,
                bool(s.by_pen),
            )
            for s in signers
            if not s.is_copied
        ),
        row.said,
    )


@transaction.atomic
def happen(round_id: UUID, *events: Event, **said: str) -> Round:
    """Let events happen to a round, all or none; ``said`` goes into its chain beside each.  Refused, in the
    core's words, where one can't be."""
    hold(Round, round_id)
    row = Round.objects.select_related("deal", "by__brokerage").get(pk=round_id)
    people = {s.key: s for s in row.signers.all()}
    now = as_machine(row, people.values(), list(row.papers.all()))
    last = last_link(row)
    links: list[Link] = []
    for event in events:
        stepped = step(now, event)
        if isinstance(stepped, Fault):
            raise Refusal.of(stepped, 409)
        after, effects = stepped
        if after == now and not effects:
            continue
        last = follow(last, timezone.now(), event.kind, event.who, **_told(event), **said)
        links.append(last)
        _keep(row, people, after)
        carry_out(row, people, effects)
        if any(effect.do is Do.SEAL for effect in effects):
            seal_round.enqueue(str(row.pk))
        now = after
    append(row, links)
    return row


def _told(event: Event) -> dict[str, str]:
    told = {"place": event.spot, "said": event.said}
    return {name: text for name, text in told.items() if text}


def _keep(row: Round, people: dict[str, Signer], after: rounds.Round) -> None:
    """Write what the machine changed."""
    moment = timezone.now()
    if (row.state, row.said) != (after.state.value, after.said):
        row.state, row.said = after.state.value, after.said[:500]
        if after.state is State.OUT:
            row.sent = moment
        elif after.state in ENDED:
            row.ended = moment
        row.save(update_fields=["state", "said", "sent", "ended"])
    for found in after.signers:
        signer = people[found.key]
        changed: dict[str, Any] = {}
        if signer.at != found.at.value:
            changed["at"] = found.at.value
        if signer.email != found.email:
            changed["email"] = found.email
        if signer.in_person != found.in_person:
            changed["in_person"] = found.in_person
        if added := sorted(found.put - set(signer.put)):
            changed["put"] = signer.put | {place: moment.isoformat() for place in added}
        if changed:
            for name, value in changed.items():
                setattr(signer, name, value)
            signer.save(update_fields=list(changed))
