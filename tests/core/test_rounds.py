"""The round as a machine: what can happen, what is then to be done, and what can never be."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st
from quillcore.signing.rounds import (
    ENDED,
    MOST_SIGNERS,
    At,
    Do,
    Effect,
    Event,
    Happened,
    RoundMachine,
    RoundSigner,
    RoundState,
    against_sending,
    step,
)
from quillcore.values import Fault

AMARA = RoundSigner("buyers.1", "Amara Okafor", "amara@post.example", 1, frozenset({"d/1", "d/2"}))
BEN = RoundSigner("buyers.2", "Ben Okafor", "ben@post.example", 1, frozenset({"d/3"}))
LENA = RoundSigner("sellers.1", "Lena Voss", "lena@post.example", 2, frozenset({"d/4"}))


def made(*signers: RoundSigner) -> RoundMachine:
    return RoundMachine(RoundState.MAKING, signers or (AMARA, BEN, LENA))


def happen(now: RoundMachine, *events: Event) -> RoundMachine:
    """The round after events that all can be."""
    for event in events:
        found = step(now, event)
        assert not isinstance(found, Fault), (event, found)
        now = found[0]
    return now


def did(now: RoundMachine, event: Event) -> tuple[Effect, ...]:
    found = step(now, event)
    assert not isinstance(found, Fault), found
    return found[1]


def fault(now: RoundMachine, event: Event) -> Fault:
    found = step(now, event)
    assert isinstance(found, Fault) and found.message and found.mend
    return found


SENT = Event(Happened.SENT)


def of(signer: RoundSigner, *kinds: Happened) -> list[Event]:
    return [Event(kind, signer.key) for kind in kinds]


def signing(signer: RoundSigner) -> list[Event]:
    """Everything that a signer does, from the link to the end."""
    put = [Event(Happened.PUT, signer.key, spot) for spot in sorted(signer.wanted)]
    return [*of(signer, Happened.OPENED, Happened.AGREED), *put, *of(signer, Happened.DONE)]


def test_those_are_asked_whose_turn_it_is_and_the_next_when_all_before_are_done() -> None:
    assert [(e.do, e.who) for e in did(made(), SENT)] == [(Do.ASK, "buyers.1"), (Do.ASK, "buyers.2")]
    out = happen(made(), SENT, *signing(AMARA))
    assert out.waited_on == (out.signer("buyers.2"),)
    ben = happen(out, *signing(BEN)[:-1])
    effects = did(ben, signing(BEN)[-1])
    assert [(e.do, e.who) for e in effects] == [(Do.TELL_AGENT, "buyers.2"), (Do.ASK, "sellers.1")]
    all_done = happen(ben, signing(BEN)[-1], *signing(LENA)[:-1])
    last = did(all_done, signing(LENA)[-1])
    assert [e.do for e in last] == [Do.TELL_AGENT, Do.SEAL, Do.TELL_AGENT]
    assert happen(all_done, signing(LENA)[-1]).state is RoundState.FINISHED


def test_what_comes_twice_is_done_once() -> None:
    now = happen(made(), SENT)
    assert did(now, SENT) == ()
    for event in (*signing(AMARA), *signing(BEN), *signing(LENA)):
        now = happen(now, event)
        again = step(now, event)
        assert not isinstance(again, Fault) and again == (now, ()), event
    over = happen(made(), SENT, Event(Happened.RECALLED, said="Wrong price"))
    assert did(over, Event(Happened.RECALLED)) == ()


def test_nothing_is_signed_before_agreeing_nor_finished_before_everything_is() -> None:
    opened = happen(made(), SENT, *of(AMARA, Happened.OPENED))
    assert fault(opened, Event(Happened.PUT, "buyers.1", "d/1")).rule == "agree"
    assert fault(opened, Event(Happened.DONE, "buyers.1")).rule == "agree"
    agreed = happen(opened, *of(AMARA, Happened.AGREED))
    assert "2 places are" in fault(agreed, Event(Happened.DONE, "buyers.1")).message
    one = happen(agreed, Event(Happened.PUT, "buyers.1", "d/1"))
    assert "One place is" in fault(one, Event(Happened.DONE, "buyers.1")).message
    assert fault(agreed, Event(Happened.PUT, "buyers.1", "d/3")).rule == "place"


def test_nobody_signs_out_of_turn() -> None:
    now = happen(made(), SENT)
    for kind in (Happened.OPENED, Happened.AGREED, Happened.DONE, Happened.DECLINED, Happened.WANTS_PAPER):
        assert fault(now, Event(kind, "sellers.1", said="x")).rule == "turn"
    assert fault(now, Event(Happened.PUT, "sellers.1", "d/4")).rule == "turn"
    assert fault(now, Event(Happened.PUT, "nobody", "d/4")).rule == "signer"


@pytest.mark.parametrize(
    ("signers", "rule"),
    [
        ((), "signers"),
        (
            tuple(replace(BEN, key=f"k{n}", email=f"{n}@post.example") for n in range(MOST_SIGNERS + 1)),
            "signers",
        ),
        ((replace(AMARA, name=""),), "name"),
        ((replace(AMARA, email=""),), "email"),
        ((AMARA, replace(BEN, email="AMARA@post.example")), "email"),
        ((AMARA, replace(BEN, wanted=frozenset())), "no place"),
    ],
)
def test_what_stands_against_sending_is_said_with_whose_it_is(
    signers: tuple[RoundSigner, ...], rule: str
) -> None:
    found = list(against_sending(signers))
    assert rule in {f.rule for f in found} and all(f.message and f.mend for f in found)
    assert fault(RoundMachine(RoundState.MAKING, signers), SENT) == found[0]


def test_who_signed_by_pen_is_through_and_the_others_go_on() -> None:
    pen = Event(Happened.BY_PEN, "buyers.2", said="2026-11-20")
    out = happen(made(), SENT, *signing(AMARA))
    assert [(e.do, e.who) for e in did(out, pen)] == [(Do.ASK, "sellers.1")]
    after = happen(out, pen)
    ben = after.signer("buyers.2")
    assert ben is not None and ben.by_pen and ben.at is At.DONE and ben.put == frozenset()
    assert did(after, pen) == () and happen(after, pen) == after, "said again it changes nothing"
    assert fault(after, Event(Happened.DECLINED, "buyers.2", said="x")).rule == "done"
    finished = happen(after, *signing(LENA))
    assert finished.state is RoundState.FINISHED and happen(finished, pen) == finished


def test_signing_by_pen_has_its_turn_and_is_not_mixed_with_the_link() -> None:
    out = happen(made(), SENT)
    assert fault(out, Event(Happened.BY_PEN, "sellers.1")).rule == "turn"
    begun = happen(out, *of(AMARA, Happened.OPENED, Happened.AGREED), Event(Happened.PUT, "buyers.1", "d/1"))
    assert "by the link already" in fault(begun, Event(Happened.BY_PEN, "buyers.1")).message
    asks = happen(out, Event(Happened.WANTS_PAPER, "buyers.1"))
    paper = happen(asks, Event(Happened.BY_PEN, "buyers.1"))
    assert paper.waited_on == (paper.signer("buyers.2"),)


def test_declining_ends_the_round_for_everybody_and_needs_a_reason() -> None:
    out = happen(made(), SENT, *signing(AMARA))
    assert fault(out, Event(Happened.DECLINED, "buyers.2", said="  ")).rule == "reason"
    effects = did(out, Event(Happened.DECLINED, "buyers.2", said="Too dear"))
    assert [e.do for e in effects] == [Do.CLOSE_LINKS, Do.TELL_AGENT, Do.TELL_SIGNER]
    assert effects[-1].who == "buyers.1", "who was never asked hears nothing"
    over = happen(out, Event(Happened.DECLINED, "buyers.2", said="Too dear"))
    assert "Too dear" in fault(over, Event(Happened.PUT, "buyers.1", "d/9")).message
    assert fault(out, Event(Happened.DECLINED, "buyers.1", said="x")).rule == "done"


def test_a_recall_while_somebody_signs_has_one_outcome() -> None:
    agreed = happen(made(), SENT, *signing(AMARA)[:3])
    recalled = happen(agreed, Event(Happened.RECALLED, said="Wrong price"))
    assert {e.who for e in did(agreed, Event(Happened.RECALLED))} == {"", "buyers.1", "buyers.2"}
    for event in signing(AMARA)[3:]:
        assert "recalled" in fault(recalled, event).message
    assert fault(made(), Event(Happened.RECALLED)).rule == "round"
    done = happen(made(AMARA), SENT, *signing(AMARA))
    assert fault(done, Event(Happened.RECALLED)).message.startswith("Everyone who was asked has signed")


def test_who_asks_for_paper_is_waited_on_and_may_still_sign_here() -> None:
    out = happen(made(BEN), SENT, *of(BEN, Happened.OPENED))
    paper = happen(out, Event(Happened.WANTS_PAPER, "buyers.2"))
    assert paper.state is RoundState.OUT and paper.waited_on[0].at is At.ON_PAPER
    assert did(paper, Event(Happened.WANTS_PAPER, "buyers.2")) == ()
    assert happen(paper, *signing(BEN)[1:]).state is RoundState.FINISHED
    signed = happen(made(AMARA), SENT, *signing(AMARA)[:3])
    assert fault(signed, Event(Happened.WANTS_PAPER, "buyers.1")).rule == "done"


def test_an_address_is_changed_until_the_papers_are_opened_and_the_old_link_dies() -> None:
    now = happen(made(), SENT)
    right = Event(Happened.READDRESSED, "buyers.1", said="a.okafor@post.example")
    assert [(e.do, e.who) for e in did(now, right)] == [(Do.NEW_LINK, "buyers.1")]
    assert did(now, Event(Happened.READDRESSED, "sellers.1", said="voss@post.example")) == ()
    assert did(now, Event(Happened.READDRESSED, "buyers.1", said=AMARA.email)) == ()
    assert fault(now, Event(Happened.READDRESSED, "buyers.1", said=BEN.email.upper())).rule == "email"
    opened = happen(now, *of(AMARA, Happened.OPENED))
    assert fault(opened, right).rule == "opened"


def test_only_who_is_waited_on_is_reminded() -> None:
    now = happen(made(), SENT)
    assert did(now, Event(Happened.REMINDED, "buyers.1")) == (Effect(Do.ASK, "buyers.1", "reminded"),)
    assert fault(now, Event(Happened.REMINDED, "sellers.1")).rule == "turn"


def test_when_the_time_has_run_out_links_close() -> None:
    now = happen(made(), SENT)
    assert {e.do for e in did(now, Event(Happened.RAN_OUT))} == {Do.CLOSE_LINKS, Do.TELL_AGENT}
    assert (
        "expired" in fault(happen(now, Event(Happened.RAN_OUT)), Event(Happened.OPENED, "buyers.1")).message
    )
    assert fault(made(), Event(Happened.OPENED, "buyers.1")).rule == "round"


EVENTS = st.builds(
    Event,
    st.sampled_from(list(Happened)),
    st.sampled_from(["buyers.1", "buyers.2", "sellers.1", "", "nobody"]),
    st.sampled_from(["d/1", "d/2", "d/3", "d/4", "x", ""]),
    st.sampled_from(["", "because", "new@post.example"]),
)


@given(st.lists(EVENTS, max_size=60))
def test_whatever_happens_nothing_signed_is_lost_and_what_has_ended_stays(events: list[Event]) -> None:
    now = made()
    for event in [SENT, *events]:
        found = step(now, event)
        if isinstance(found, Fault):
            assert found.message and found.mend
            continue
        after, effects = found
        for old, new in zip(now.signers, after.signers, strict=True):
            assert old.put <= new.put <= new.wanted == old.wanted
            assert old.at is not At.DONE or new.at is At.DONE
            assert new.at is not At.DONE or not new.left
        if now.state in ENDED:
            assert (after, effects) == (now, ())
        assert (Do.SEAL in {e.do for e in effects}) == (after.state is RoundState.FINISHED is not now.state)
        assert after.state is not RoundState.FINISHED or all(s.at is At.DONE for s in after.signers)
        waits = [s.turn for s in after.signers if s.at is At.WAITS]
        acts = [s.turn for s in after.signers if s.at not in (At.WAITS, At.DONE)]
        assert not waits or not acts or max(acts) < min(waits)
        now = after


def test_what_was_signed_on_the_same_paper_before_counts_and_is_carried_once() -> None:
    out = happen(made(), SENT)
    carried = Event(Happened.CARRIED, AMARA.key, spot="d/1")
    now = happen(out, carried)
    assert now.signer(AMARA.key).put == {"d/1"}  # type: ignore[union-attr]
    assert step(now, carried) == (now, ())
    assert fault(out, Event(Happened.CARRIED, AMARA.key, spot="d/3")).rule == "place"
    assert fault(made(), carried).rule == "round"


def test_whoever_is_handed_a_device_has_opened_the_papers_and_is_known_so() -> None:
    out = happen(made(), SENT)
    handed = Event(Happened.IN_PERSON, AMARA.key)
    signer = happen(out, handed).signer(AMARA.key)
    assert signer is not None and signer.in_person and signer.at is At.OPENED
    assert fault(out, Event(Happened.IN_PERSON, LENA.key)).rule == "turn"
    done = happen(
        out,
        *of(AMARA, Happened.AGREED),
        *(Event(Happened.PUT, AMARA.key, spot=place) for place in sorted(AMARA.wanted)),
        *of(AMARA, Happened.DONE),
    )
    assert fault(done, handed).rule == "done"
