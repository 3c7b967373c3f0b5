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
from goodquill.signing.kept import RoundRows, rows_of
from goodquill.signing.models import Round, Signer
from goodquill.signing.sealing.finishing import seal_round


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
    return happen_to(rows_of(round_id, lock=True), *events, said=said, carried=carried).row


def happen_to(
    rows: RoundRows,
    *events: Event,
    said: Mapping[str, str] | None = None,
    carried: Mapping[str, str] | None = None,
) -> RoundRows:
    """Do the same with a round that is read and locked; its rows are then as they are kept."""
    row, people = rows.row, rows.people
    if not events:
        return rows
    if row.doubt and any(event.kind not in _ENDING for event in events):
        raise Refusal.of(IN_DOUBT, 409)
    kept = rows.as_kept()
    now = kept.machine
    last = last_link(row)
    links: list[ChainLink] = []
    touched: dict[str, set[str]] = {}
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
        _put_down(row, people, after, last, carried or {}, touched)
        carry_out(row, people, effects)
        if any(effect.do is Do.SEAL for effect in effects):
            seal_round.enqueue(str(row.pk))
        now = after
    append(row, links)
    for key, fields in touched.items():
        (people[key] if key else row).save(update_fields=sorted(fields))
    return rows


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


def _put_down(
    row: Round,
    people: dict[str, Signer],
    after: rounds.RoundMachine,
    link: ChainLink,
    carried: Mapping[str, str],
    touched: dict[str, set[str]],
) -> None:
    """Put what the machine changed, as of the link in the chain, into the rows.  Fields to be saved are noted
    in ``touched``, by the signer's key; "" for the round itself."""
    moment = datetime.fromisoformat(link.at)
    if (row.state, row.said) != (after.state.value, after.said):
        row.state, row.said = after.state.value, after.said[:500]
        if after.state is RoundState.OUT:
            row.sent = moment
        elif after.state in ENDED:
            row.ended = moment
        touched.setdefault("", set()).update(("state", "said", "sent", "ended"))
    for found in after.signers:
        signer = people[found.key]
        now = {"at": found.at.value, "email": found.email, "in_person": found.in_person}
        changed: dict[str, Any] = {
            name: value for name, value in now.items() if getattr(signer, name) != value
        }
        if added := sorted(found.put - set(signer.put)):
            changed["put"] = signer.put | {place: carried.get(place, link.at) for place in added}
        for name, value in changed.items():
            setattr(signer, name, value)
        if changed:
            touched.setdefault(found.key, set()).update(changed)
