"""A round moved on: its machine read from the rows, the step made, and what follows from it written in the
same transaction.

So there is nothing in between at which a process could die: either an event, its link in the chain, the
letters and the queued work are all there, or nothing happened.
"""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime
from typing import Any
from uuid import UUID

from django.db import transaction
from django.utils import timezone
from quillcore.signing import rounds
from quillcore.signing.record_check import IN_DOUBT, KeptRound, as_sent, put_by
from quillcore.signing.rounds import ENDED, Do, Event, Happened, RoundState, step
from quillcore.signing.trail import ChainLink, follow
from quillcore.values import Fault

from goodquill.http.endpoints import Refusal
from goodquill.signing.chain import append, last_link
from goodquill.signing.effects import carry_out
from goodquill.signing.kept import kept_round
from goodquill.signing.models import Round, Signer
from goodquill.signing.sealing.finishing import seal_round
from goodquill.storage.locks import hold


@transaction.atomic
def happen(
    round_id: UUID,
    *events: Event,
    said: Mapping[str, str] | None = None,
    carried: Mapping[str, str] | None = None,
) -> Round:
    """Let events happen to a round, all or none; ``said`` goes into its chain beside each.  Of places that
    were signed in an earlier round ``carried`` gives when.  Raises Refusal, in the core's words, where one
    can't be."""
    hold(Round, round_id)
    row = Round.objects.select_related("deal", "by__brokerage").get(pk=round_id)
    if row.doubt and any(event.kind not in _ENDING for event in events):
        raise Refusal.of(IN_DOUBT, 409)
    people = {s.key: s for s in row.signers.all()}
    kept = kept_round(row, people.values(), list(row.papers.all()))
    now = kept.machine
    last = last_link(row)
    links: list[ChainLink] = []
    for event in events:
        stepped = step(now, event)
        if isinstance(stepped, Fault):
            raise Refusal.of(stepped, 409)
        after, effects = stepped
        if after == now and not effects:
            continue
        taken_down = _taken_down(event, kept, carried or {})
        last = follow(last, timezone.now(), event.kind, event.who, **taken_down, **(said or {}))
        links.append(last)
        _keep(row, people, after, last, carried or {})
        carry_out(row, people, effects)
        if any(effect.do is Do.SEAL for effect in effects):
            seal_round.enqueue(str(row.pk))
        now = after
    append(row, links)
    return row


_ENDING = frozenset((Happened.RECALLED, Happened.RAN_OUT))
"""All that still happens to a round that differs from its chain."""


def _taken_down(event: Event, kept: KeptRound, carried: Mapping[str, str]) -> dict[str, str]:
    """Return what the chain says of an event: what it was, and what was sent or signed then."""
    own = {"place": event.spot, "said": event.said}
    told = {name: text for name, text in own.items() if text}
    if event.kind is Happened.SENT:
        told |= as_sent(kept)
    elif event.kind in (Happened.PUT, Happened.CARRIED):
        told |= put_by(kept, event.who, event.spot)
    if event.kind is Happened.CARRIED:
        told["put"] = carried[event.spot]
    return told


def _keep(
    row: Round,
    people: dict[str, Signer],
    after: rounds.RoundMachine,
    link: ChainLink,
    carried: Mapping[str, str],
) -> None:
    """Write what the machine changed, as of the link in the chain."""
    moment = datetime.fromisoformat(link.at)
    if (row.state, row.said) != (after.state.value, after.said):
        row.state, row.said = after.state.value, after.said[:500]
        if after.state is RoundState.OUT:
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
            changed["put"] = signer.put | {place: carried.get(place, link.at) for place in added}
        if changed:
            for name, value in changed.items():
                setattr(signer, name, value)
            signer.save(update_fields=list(changed))
