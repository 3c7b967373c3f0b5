"""The round as a machine: a round and an event give the round as it then is, and what is to be done for it.

Nothing is done here: no mail, no clock, no file.  An event that can't be is a Fault, in words for whoever
caused it; the round then is as it was.  An event that comes again changes nothing and asks for nothing.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

from quillcore.values import Fault

MOST_SIGNERS = 24
"""Of one round: two groups of twelve parties have never signed together; agents and broker come with them."""


class RoundState(StrEnum):
    """The state of a round."""

    MAKING = "making"
    OUT = "out"
    FINISHED = "finished"
    DECLINED = "declined"
    RECALLED = "recalled"
    RUN_OUT = "run out"


ENDED = frozenset({RoundState.FINISHED, RoundState.DECLINED, RoundState.RECALLED, RoundState.RUN_OUT})


class At(StrEnum):
    """The progress of a signer."""

    WAITS = "waits"
    ASKED = "asked"
    OPENED = "opened"
    AGREED = "agreed"
    DONE = "done"
    ON_PAPER = "on paper"
    DECLINED = "declined"


@dataclass(frozen=True)
class RoundSigner:
    """Somebody who signs: ``turn`` is the group in whose turn (from 1), ``wanted`` the places to be signed,
    ``put`` those that are.  Without places a signer reads and agrees, and no more."""

    key: str
    name: str
    email: str
    turn: int = 1
    wanted: frozenset[str] = frozenset()
    put: frozenset[str] = frozenset()
    at: At = At.WAITS
    in_person: bool = False
    """Whether the sender's side handed over a device of its own."""
    by_pen: bool = False
    """Whether they signed on paper, and have no place to sign any more."""

    @property
    def left(self) -> frozenset[str]:
        """The places still to be signed."""
        return frozenset() if self.by_pen else self.wanted - self.put

    @property
    def is_through(self) -> bool:
        """Whether nothing more is expected here.  Of who asked for paper it is: the paper."""
        return self.at is At.DONE


@dataclass(frozen=True)
class RoundMachine:
    """One sending for signature; signers in order of their turns."""

    state: RoundState
    signers: tuple[RoundSigner, ...]
    said: str = ""
    """Why it was declined or recalled."""

    def signer(self, key: str) -> RoundSigner | None:
        """Return the signer of that key."""
        return next((s for s in self.signers if s.key == key), None)

    @property
    def turn(self) -> int:
        """The current turn: the first with somebody who isn't through; behind the last where all are."""
        open_turns = [s.turn for s in self.signers if not s.is_through]
        return min(open_turns, default=max((s.turn for s in self.signers), default=0) + 1)

    @property
    def waited_on(self) -> tuple[RoundSigner, ...]:
        """The signers who could act now."""
        if self.state is not RoundState.OUT:
            return ()
        return tuple(s for s in self.signers if s.turn == self.turn and not s.is_through)


class Happened(StrEnum):
    """An event that can happen to a round."""

    SENT = "sent"
    OPENED = "opened"
    AGREED = "agreed"
    PUT = "put"
    DONE = "done"
    DECLINED = "declined"
    WANTS_PAPER = "wants paper"
    RECALLED = "recalled"
    RAN_OUT = "ran out"
    REMINDED = "reminded"
    READDRESSED = "readdressed"
    IN_PERSON = "in person"
    CARRIED = "carried"
    BY_PEN = "by pen"


@dataclass(frozen=True)
class Event:
    """One event: ``who`` a signer's key where it is somebody's, ``spot`` a place, ``said`` a reason or the
    address that is right."""

    kind: Happened
    who: str = ""
    spot: str = ""
    said: str = ""


class Do(StrEnum):
    """An effect that a round needs."""

    ASK = "ask"
    TELL_AGENT = "tell the agent"
    TELL_SIGNER = "tell the signer"
    CLOSE_LINKS = "close the links"
    NEW_LINK = "new link"
    SEAL = "seal"


@dataclass(frozen=True)
class Effect:
    """One thing to be done, for a signer or for the agent: ``about`` the event that it comes from."""

    do: Do
    who: str = ""
    about: str = ""


Step = tuple[RoundMachine, tuple[Effect, ...]]


@dataclass(frozen=True)
class _Move:
    """An event on its way: the round before it, and the signer whose it is."""

    round: RoundMachine
    event: Event
    signer: RoundSigner | None = None

    def with_signer(self, **changed: object) -> RoundMachine:
        """Return the round with this signer changed."""
        assert self.signer is not None
        now = replace(self.signer, **changed)  # type: ignore[arg-type]  # fields by name
        return replace(self.round, signers=tuple(now if s is self.signer else s for s in self.round.signers))


def step(now: RoundMachine, event: Event) -> Step | Fault:
    """Return the round after an event, and what is to be done for it; a Fault where that event can't be."""
    move = _Move(now, event, now.signer(event.who))
    if event.kind is Happened.SENT:
        return _send(move)
    if event.kind is Happened.RECALLED and now.state is RoundState.MAKING:
        return Fault("round", "This round was not sent.", "Change it or discard it.")
    if now.state is not RoundState.OUT:
        return _again(move) or over(now)
    if event.kind is Happened.RECALLED:
        return _recall(move)
    if event.kind is Happened.RAN_OUT:
        closed = replace(now, state=RoundState.RUN_OUT)
        return closed, (Effect(Do.CLOSE_LINKS), Effect(Do.TELL_AGENT, about=event.kind))
    if move.signer is None:
        return Fault("signer", "This signer is not in the round.", "Ask for a new link.")
    return _OF_SIGNERS[event.kind](move)


def _again(move: _Move) -> Step | None:
    """Return an event that ended the round, coming again; a signer's last tap that was sent twice, too."""
    ends = {
        Happened.RECALLED: RoundState.RECALLED,
        Happened.RAN_OUT: RoundState.RUN_OUT,
        Happened.DECLINED: RoundState.DECLINED,
        Happened.DONE: RoundState.FINISHED,
        Happened.PUT: RoundState.FINISHED,
        Happened.BY_PEN: RoundState.FINISHED,
    }
    now, event, signer = move.round, move.event, move.signer
    if ends.get(event.kind) is not now.state:
        return None
    if event.kind is Happened.DECLINED and (signer is None or signer.at is not At.DECLINED):
        return None
    if event.kind is Happened.PUT and (signer is None or event.spot not in signer.put):
        return None
    return now, ()


def over(now: RoundMachine) -> Fault:
    """Return why nothing is signed in a round that isn't out."""
    because = f" The reason given: {now.said}" if now.said else ""
    told = {
        RoundState.MAKING: ("This round hasn't been sent yet.", "Wait for the link by mail."),
        RoundState.FINISHED: (
            "Everyone who was asked has signed these papers.",
            "You can keep the finished papers.",
        ),
        RoundState.DECLINED: (
            f"A signer declined, so no one can sign these papers any more.{because}",
            "Ask the agent.",
        ),
        RoundState.RECALLED: (
            f"The agent recalled these papers. You can no longer sign them.{because}",
            "Wait for new ones, or ask the agent.",
        ),
        RoundState.RUN_OUT: (
            "The time to sign these papers has expired.",
            "Ask the agent to send them again.",
        ),
    }
    message, mend = told.get(now.state, ("This round is over.", "Ask the agent."))
    return Fault("round", message, mend)


def _send(move: _Move) -> Step | Fault:
    now = move.round
    if now.state is not RoundState.MAKING:
        return now, ()
    if fault := next(iter(against_sending(now.signers)), None):
        return fault
    out = replace(now, state=RoundState.OUT)
    return _asked(out, move.event)


def against_sending(signers: Sequence[RoundSigner]) -> Iterable[Fault]:
    """Yield what keeps a round from being sent, each with its mend and, as its place, whose it is."""
    if not signers:
        yield Fault(
            "signers", "There are no signers.", "Choose papers that have places to sign, or add a signer."
        )
    if len(signers) > MOST_SIGNERS:
        yield Fault("signers", f"A round can have {MOST_SIGNERS} signers.", "Send it in two.")
    by_email: dict[str, RoundSigner] = {}
    for signer in signers:
        named = signer.name or "A signer without a name"
        if not signer.name:
            yield Fault("name", "A signer has no name.", "Enter the signer's name.", signer.key)
        if not signer.email:
            yield Fault("email", f"{named} has no e-mail.", "Enter an e-mail address.", signer.key)
        elif other := by_email.get(signer.email.casefold()):
            yield Fault(
                "email",
                f"{named} and {other.name} have the same e-mail.",
                "Anyone who reads it could sign for both. Enter a separate e-mail for each.",
                signer.key,
            )
        if signer.email:
            by_email.setdefault(signer.email.casefold(), signer)
        if not signer.wanted:
            yield Fault("no place", f"{named} has no place to sign.", "Remove them.", signer.key)


def _asked(now: RoundMachine, event: Event) -> Step:
    """Return the round with those asked whose turn it is; finished where nobody is left."""
    if all(s.is_through for s in now.signers):
        done = replace(now, state=RoundState.FINISHED)
        return done, (Effect(Do.SEAL), Effect(Do.TELL_AGENT, about=RoundState.FINISHED))
    asked = [s for s in now.signers if s.turn == now.turn and s.at is At.WAITS]
    signers = tuple(replace(s, at=At.ASKED) if s in asked else s for s in now.signers)
    return replace(now, signers=signers), tuple(Effect(Do.ASK, s.key, event.kind) for s in asked)


def _recall(move: _Move) -> Step:
    now = move.round
    told = [s.key for s in now.signers if s.at is not At.WAITS]
    recalled = replace(now, state=RoundState.RECALLED, said=move.event.said)
    return recalled, (Effect(Do.CLOSE_LINKS), *(Effect(Do.TELL_SIGNER, key, move.event.kind) for key in told))


def _not_yet(move: _Move) -> Fault | None:
    assert move.signer is not None
    if move.signer.at is At.WAITS:
        return Fault("turn", "It is not your turn to sign yet.", "You will get an e-mail when it is.")
    return None


def _open(move: _Move) -> Step | Fault:
    signer = move.signer
    assert signer is not None
    if fault := _not_yet(move):
        return fault
    if signer.at is not At.ASKED:
        return move.round, ()
    return move.with_signer(at=At.OPENED), ()


def _hand_over(move: _Move) -> Step | Fault:
    """Return the signer signs on the sender's device; from then on that is how they are known."""
    signer = move.signer
    assert signer is not None
    if fault := _not_yet(move):
        return fault
    if signer.at is At.DONE:
        return Fault("done", f"{signer.name} has signed already.", "There is nothing left to sign.")
    at = At.OPENED if signer.at is At.ASKED else signer.at
    return move.with_signer(at=at, in_person=True), ()


def _agree(move: _Move) -> Step | Fault:
    signer = move.signer
    assert signer is not None
    if fault := _not_yet(move):
        return fault
    if signer.at in (At.ASKED, At.OPENED, At.ON_PAPER):
        return move.with_signer(at=At.AGREED), ()
    return move.round, ()


def _put(move: _Move) -> Step | Fault:
    signer, spot = move.signer, move.event.spot
    assert signer is not None
    if fault := _not_yet(move):
        return fault
    if spot not in signer.wanted:
        return Fault("place", "You don't sign here.", "Continue with your next one.")
    if signer.at is not At.AGREED and spot not in signer.put:
        return Fault("agree", "Agree before you sign.", "Read the papers and agree first.")
    if spot in signer.put:
        return move.round, ()
    return move.with_signer(put=signer.put | {spot}), ()


def _carry(move: _Move) -> Step | Fault:
    """Return a place that was signed in an earlier round, on just the same paper, counts in this one."""
    signer, spot = move.signer, move.event.spot
    assert signer is not None
    if spot not in signer.wanted:
        return Fault("place", f"This is no place for {signer.name} to sign.", "Send it without it.")
    if spot in signer.put:
        return move.round, ()
    return move.with_signer(put=signer.put | {spot}), ()


def _finish(move: _Move) -> Step | Fault:
    signer = move.signer
    assert signer is not None
    if signer.at is At.DONE:
        return move.round, ()
    if fault := _not_yet(move):
        return fault
    if signer.at is not At.AGREED:
        return Fault("agree", "Agree before you finish.", "Read the papers and agree first.")
    if signer.left:
        count = len(signer.left)
        places = "One place is" if count == 1 else f"{count} places are"
        return Fault("left", f"{places} still to be signed.", "Continue with the next one.")
    after, effects = _asked(move.with_signer(at=At.DONE), move.event)
    return after, (Effect(Do.TELL_AGENT, signer.key, move.event.kind), *effects)


def _decline(move: _Move) -> Step | Fault:
    signer = move.signer
    assert signer is not None
    if fault := _not_yet(move):
        return fault
    if signer.at is At.DONE:
        return Fault("done", "You have signed already.", "Ask the agent if something is wrong.")
    if not move.event.said.strip():
        return Fault("reason", "Enter a reason.", "Enter in a few words why you won't sign.")
    declined = replace(
        move.with_signer(at=At.DECLINED), state=RoundState.DECLINED, said=move.event.said.strip()
    )
    told = [s.key for s in declined.signers if s.at in (At.ASKED, At.OPENED, At.AGREED, At.DONE)]
    return declined, (
        Effect(Do.CLOSE_LINKS),
        Effect(Do.TELL_AGENT, signer.key, move.event.kind),
        *(Effect(Do.TELL_SIGNER, key, move.event.kind) for key in told),
    )


def _want_paper(move: _Move) -> Step | Fault:
    signer = move.signer
    assert signer is not None
    if fault := _not_yet(move):
        return fault
    if signer.at is At.DONE or signer.put:
        return Fault("done", "You have signed here already.", "Ask the agent if something is wrong.")
    if signer.at is At.ON_PAPER:
        return move.round, ()
    return move.with_signer(at=At.ON_PAPER), (Effect(Do.TELL_AGENT, signer.key, move.event.kind),)


def _by_pen(move: _Move) -> Step | Fault:
    """Record that somebody signed on paper, and their agent has the scan: nothing more is expected of
    them."""
    signer = move.signer
    assert signer is not None
    if signer.at is At.DONE:
        return move.round, ()
    if fault := _not_yet(move):
        return fault
    if signer.put:
        return Fault(
            "done",
            f"{signer.name} has signed places of these papers by the link already.",
            "Let them finish there, or recall the round.",
        )
    return _asked(move.with_signer(at=At.DONE, by_pen=True), move.event)


def _remind(move: _Move) -> Step | Fault:
    signer = move.signer
    assert signer is not None
    if signer not in move.round.waited_on:
        return Fault("turn", f"{signer.name} is not being waited for.", "Nothing was sent.")
    return move.round, (Effect(Do.ASK, signer.key, move.event.kind),)


def _readdress(move: _Move) -> Step | Fault:
    signer, email = move.signer, move.event.said.strip()
    assert signer is not None
    if signer.at not in (At.WAITS, At.ASKED):
        return Fault(
            "opened",
            f"{signer.name} has opened the papers at the address they were sent to.",
            "If that was someone else, recall the round and send it again.",
        )
    others = [s for s in move.round.signers if s is not signer and s.email.casefold() == email.casefold()]
    if others:
        return Fault("email", f"{others[0].name} has that e-mail.", "Give each signer their own.")
    if email == signer.email:
        return move.round, ()
    asked = (Effect(Do.NEW_LINK, signer.key, move.event.kind),) if signer.at is At.ASKED else ()
    return move.with_signer(email=email), asked


_OF_SIGNERS = {
    Happened.OPENED: _open,
    Happened.AGREED: _agree,
    Happened.PUT: _put,
    Happened.DONE: _finish,
    Happened.DECLINED: _decline,
    Happened.WANTS_PAPER: _want_paper,
    Happened.REMINDED: _remind,
    Happened.READDRESSED: _readdress,
    Happened.IN_PERSON: _hand_over,
    Happened.CARRIED: _carry,
    Happened.BY_PEN: _by_pen,
}
