"""Whatever happens to a round, it is as its chain says; whatever is changed past the chain is found."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from quillcore.signing.record_check import (
    KeptPaper,
    KeptRound,
    KeptSigner,
    as_sent,
    differences,
    keyed,
    put_by,
)
from quillcore.signing.rounds import At, Happened, RoundMachine, RoundState, step
from quillcore.signing.rounds import Event as RoundEvent
from quillcore.signing.trail import ChainLink, follow
from quillcore.values import Fault

from tests.core.test_rounds import EVENTS, SENT, made

BEGUN = datetime(2026, 12, 1, 15, tzinfo=UTC)


def kept(machine: RoundMachine, put: dict[str, dict[str, str]], days: dict[str, str]) -> KeptRound:
    """The round as it would be kept: one paper, a mark for each signer."""
    places = sorted({place for s in machine.signers for place in s.wanted})
    signs = dict.fromkeys(places, "signature")
    paper = KeptPaper("p1", "301 Offer", "f" * 64, {"places": places}, signs, "d/answers", {})
    signers = tuple(
        KeptSigner(
            s.key,
            s.name,
            s.name,
            "Buyer",
            s.email,
            s.turn,
            {"signature": {"name": s.name, "face": "flowing"}},
            put.get(s.key, {}),
            {"day": days[s.key], "scans": {}} if s.by_pen else {},
        )
        for s in machine.signers
    )
    return KeptRound({"subject": "Offer", "zone": "UTC", "second step": "code"}, (paper,), signers, machine)


def lived(events: list[RoundEvent]) -> tuple[list[ChainLink], KeptRound]:
    """A chain and the round that it leads to."""
    machine, chain, put, days = made(), [], {}, {}
    for n, event in enumerate([SENT, *events]):
        found = step(machine, event)
        if isinstance(found, Fault) or (found[0] == machine and not found[1]):
            continue
        now = kept(machine, put, days)
        said = {"place": event.spot, "said": event.said}
        if event.kind is Happened.SENT:
            said |= as_sent(now)
        elif event.kind in (Happened.PUT, Happened.CARRIED):
            said |= put_by(now, event.who, event.spot)
        if event.kind is Happened.CARRIED:
            said["put"] = "2026-11-01T12:00:00.000+00:00"
        at = BEGUN + timedelta(minutes=n)
        chain.append(follow(chain[-1] if chain else None, at, event.kind, event.who, **said))
        if event.kind in (Happened.PUT, Happened.CARRIED):
            put.setdefault(event.who, {})[event.spot] = said.get("put", chain[-1].at)
        if event.kind is Happened.BY_PEN:
            days[event.who] = event.said
        machine = found[0]
    machine = replace(machine, said=machine.said[:500])
    return chain, kept(machine, put, days)


@given(st.lists(EVENTS, max_size=40))
def test_whatever_happens_a_round_is_as_its_chain_says(events: list[RoundEvent]) -> None:
    chain, now = lived(events)
    assert differences(chain, now) == []


def signer_changed(now: KeptRound, **changed: Any) -> KeptRound:
    return replace(now, signers=(replace(now.signers[0], **changed), *now.signers[1:]))


def paper_changed(now: KeptRound, **changed: Any) -> KeptRound:
    return replace(now, papers=(replace(now.papers[0], **changed),))


def machine_changed(now: KeptRound, **changed: Any) -> KeptRound:
    first, *others = now.machine.signers
    return replace(now, machine=replace(now.machine, signers=(replace(first, **changed), *others)))


CHANGES: dict[str, Callable[[KeptRound], KeptRound]] = {
    "another file": lambda now: paper_changed(now, frozen="e" * 64),
    "another place": lambda now: paper_changed(now, content={"places": ["d/9"]}),
    "a file that was never sealed": lambda now: paper_changed(now, finished="e" * 64),
    "another paper": lambda now: replace(now, papers=(*now.papers, replace(now.papers[0], id="p2"))),
    "no paper": lambda now: replace(now, papers=()),
    "a different name": lambda now: signer_changed(now, name="Somebody Else"),
    "another capacity": lambda now: signer_changed(now, signs_as="Trustee"),
    "another address": lambda now: signer_changed(now, email="mallory@post.example"),
    "another turn": lambda now: signer_changed(now, turn=7),
    "another signer": lambda now: replace(now, signers=(*now.signers, replace(now.signers[0], key="copy.9"))),
    "another time": lambda now: signer_changed(now, put={"d/1": "2026-01-01T00:00:00.000+00:00"}),
    "another zone": lambda now: replace(now, terms={**now.terms, "zone": "Asia/Tokyo"}),
    "another state": lambda now: replace(now, machine=replace(now.machine, state=RoundState.MAKING)),
    "handed over": lambda now: machine_changed(now, in_person=not now.machine.signers[0].in_person),
    "further than that": lambda now: machine_changed(now, at=At.WAITS),
}


@pytest.mark.parametrize("change", CHANGES.values(), ids=CHANGES)
@given(st.lists(EVENTS, max_size=25))
def test_whatever_is_changed_where_a_round_is_kept_is_found(
    change: Callable[[KeptRound], KeptRound], events: list[RoundEvent]
) -> None:
    chain, now = lived(events)
    other = change(now)
    if other != now:
        (first, *_) = differences(chain, other)
        assert first.endswith(".")


def test_a_signature_that_was_exchanged_is_found_once_it_was_used() -> None:
    key = made().signers[0].key
    signs = [
        RoundEvent(Happened.OPENED, key),
        RoundEvent(Happened.AGREED, key),
        RoundEvent(Happened.PUT, key, "d/1"),
    ]
    other = {"signature": {"name": "Somebody Else", "face": "lively"}}
    chain, now = lived(signs[:2])
    assert differences(chain, signer_changed(now, marks=other)) == [], "nothing was signed with it yet"
    chain, now = lived(signs)
    (found,) = differences(chain, signer_changed(now, marks=other))
    assert "signature" in found


def test_a_link_that_was_left_out_or_written_anew_is_found() -> None:
    key = made().signers[0].key
    chain, now = lived([RoundEvent(Happened.OPENED, key), RoundEvent(Happened.AGREED, key)])
    assert differences(chain[:-1], now), "cut short"
    assert differences([chain[0], chain[2]], now) and differences([], now)
    rewritten = follow(chain[0], BEGUN, Happened.OPENED, key, **{"from": "203.0.113.7"})
    assert keyed(b"key", "round", rewritten) != keyed(b"key", "round", chain[1])
    assert keyed(b"key", "round", chain[1]) != keyed(b"other", "round", chain[1])
    assert keyed(b"key", "round", chain[1]) != keyed(b"key", "another round", chain[1])


def test_a_round_that_was_sent_before_the_chain_took_papers_down_is_held_against_its_events() -> None:
    key = made().signers[0].key
    _, now = lived([RoundEvent(Happened.OPENED, key)])
    sent = follow(None, BEGUN, Happened.SENT)
    chain = [sent, follow(sent, BEGUN, Happened.OPENED, key)]
    assert differences(chain, now) == []
    assert differences(chain, machine_changed(now, at=At.DONE))
