"""A round as it is kept, compared with its chain of events: whether what will be sealed is what was signed.

When a round is sent, its chain takes down the papers, their places and the signers (``as_sent``); when a
place is signed, the mark and the paper that it stands on.  Whoever changes one of them afterwards where it
is kept can't change the chain as well: each link bears a keyed hash (``keyed``), and the key is not kept
where the links are.
"""

from __future__ import annotations

import hashlib
import hmac
import json
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

from quillcore.signing.rounds import At, Happened, RoundMachine, RoundSigner, RoundState, step
from quillcore.signing.rounds import Event as RoundEvent
from quillcore.signing.trail import ChainLink, first_break
from quillcore.values import Fault

SEALED = "sealed"
"""The kind of the link that says which file a paper became."""
IN_DOUBT = Fault(
    "doubt",
    "These papers no longer match their signing record.",
    "Nothing more can be signed here. Contact the agent, who was told.",
)
"""Why nothing goes on in a round that differs from its chain."""


@dataclass(frozen=True)
class KeptPaper:
    """A paper of a round: its document, what it is called, the SHA-256 of its bytes, and ``content``, all
    that decides what is signed on it and where (plain JSON).  ``signs`` gives for each place what is put
    there ("signature", "initials" or "date"); ``given`` is the place that its answers count as, ``texts``
    are each signer's answers by question; ``finished`` is the SHA-256 of the sealed file, "" while there is
    none."""

    id: str
    named: str
    frozen: str
    content: Mapping[str, Any]
    signs: Mapping[str, str]
    given: str
    texts: Mapping[str, Mapping[str, str]]
    finished: str = ""

    @property
    def as_sent(self) -> dict[str, str]:
        """The facts of it that the chain takes down."""
        return {"sha256": self.frozen, "content": digest(self.content)}


@dataclass(frozen=True)
class KeptSigner:
    """Somebody who signs (``turn`` from 1) or gets a copy (0): ``marks`` their adopted marks by "signature"
    and "initials", ``put`` when they signed each place, ``by_pen`` {"day", "scans"} of somebody who signed
    on paper."""

    key: str
    name: str
    signs_as: str
    role: str
    email: str
    turn: int
    marks: Mapping[str, Any] = field(default_factory=dict)
    put: Mapping[str, str] = field(default_factory=dict)
    by_pen: Mapping[str, Any] = field(default_factory=dict)

    @property
    def as_sent(self) -> dict[str, str]:
        """The facts of them that the chain takes down."""
        named = {"name": self.name, "signs_as": self.signs_as, "role": self.role, "email": self.email}
        return {**named, "turn": str(self.turn)}


@dataclass(frozen=True)
class KeptRound:
    """A round as it is kept: ``terms`` what holds for all of it (subject, zone, second step), ``machine``
    how far it is."""

    terms: Mapping[str, str]
    papers: tuple[KeptPaper, ...]
    signers: tuple[KeptSigner, ...]
    machine: RoundMachine


def digest(value: object) -> str:
    """Return the SHA-256 of a plain JSON value, in hexadecimal."""
    text = json.dumps(value, sort_keys=True, ensure_ascii=False, separators=(",", ":"))
    return hashlib.sha256(text.encode()).hexdigest()


def keyed(key: bytes, chain: str, event: ChainLink) -> str:
    """Return the keyed hash (HMAC-SHA256) of a link in the chain of that name."""
    return hmac.new(key, f"{chain}:{event.number}:{event.hash}".encode(), hashlib.sha256).hexdigest()


def as_sent(now: KeptRound) -> dict[str, str]:
    """Return what the chain takes down when a round is sent: its terms, papers and signers, each as JSON."""
    return {
        "terms": json.dumps(dict(now.terms), sort_keys=True, ensure_ascii=False),
        "papers": json.dumps({p.id: p.as_sent for p in now.papers}, sort_keys=True, ensure_ascii=False),
        "signers": json.dumps({s.key: s.as_sent for s in now.signers}, sort_keys=True, ensure_ascii=False),
    }


def put_by(now: KeptRound, who: str, place: str) -> dict[str, str]:
    """Return what the chain takes down when somebody signs a place: the mark, and the paper that it stands
    on; or the answers, where these are what is given.  Nothing for a place that isn't there."""
    signer = next((s for s in now.signers if s.key == who), None)
    paper = next((p for p in now.papers if place in p.signs or place == p.given), None)
    if signer is None or paper is None:
        return {}
    if place == paper.given:
        return {"answers": digest(dict(paper.texts.get(who, {}))), "paper": paper.frozen}
    return {"mark": digest(signer.marks.get(paper.signs[place])), "paper": paper.frozen}


def differences(events: Sequence[ChainLink], now: KeptRound) -> list[str]:
    """Return what is no longer as the chain says, as sentences; none where all is."""
    broken = first_break(events)
    if broken is not None:
        return [f"Event {broken} of the record does not follow from the one before it."]
    if not events or events[0].kind != Happened.SENT:
        return ["The record does not begin with the sending of these papers."]
    sent = events[0].said
    if "papers" not in sent:  # sent before the chain took this down; its keyed hashes say that it was
        return list(_of_progress(events, now))
    return [
        *_of_papers(sent, now),
        *_of_signers(events, now),
        *_of_marks(events, now),
        *_of_progress(events, now),
    ]


def _of_papers(sent: Mapping[str, str], now: KeptRound) -> Iterator[str]:
    was = json.loads(sent["papers"])
    if json.loads(sent["terms"]) != dict(now.terms):
        yield "The subject, the time zone or the identity check was changed after sending."
    if set(was) != {p.id for p in now.papers}:
        yield "A paper was added or removed after sending."
    for paper in now.papers:
        recorded = was.get(paper.id, paper.as_sent)
        if recorded["sha256"] != paper.frozen:
            yield f"{paper.named} is not the file that was sent."
        elif recorded != paper.as_sent:
            yield f"Title, places to sign or questions of {paper.named} were changed after sending."


def _of_signers(events: Sequence[ChainLink], now: KeptRound) -> Iterator[str]:
    was: dict[str, dict[str, str]] = json.loads(events[0].said["signers"])
    for event in events:
        if event.kind == Happened.READDRESSED and event.who in was:
            was[event.who]["email"] = event.said.get("said", "").strip()
    if set(was) != {s.key for s in now.signers}:
        yield "A signer was added or removed after sending."
    for signer in now.signers:
        recorded = was.get(signer.key, signer.as_sent)
        changed = [name for name, text in signer.as_sent.items() if recorded.get(name) != text]
        if changed:
            called = " and ".join(_CALLED[name] for name in changed)
            yield f"The {called} of {recorded['name']} was changed after sending."


_CALLED = {
    "name": "name",
    "signs_as": "signing capacity",
    "role": "role",
    "email": "e-mail",
    "turn": "signing order",
}


def _of_marks(events: Sequence[ChainLink], now: KeptRound) -> Iterator[str]:
    """Yield what was signed with, on which paper, when; what was answered; what was signed by pen; what was
    sealed."""
    people = {s.key: s for s in now.signers}
    answers = {p.given: p.named for p in now.papers}
    put: dict[str, dict[str, str]] = {key: {} for key in people}
    sealed: dict[str, str] = {}
    wrong: list[str] = []
    for event in events:
        signer, place = people.get(event.who), event.said.get("place", "")
        if event.kind in (Happened.PUT, Happened.CARRIED) and signer is not None:
            put[event.who][place] = event.said.get("put", event.at)
            is_same = put_by(now, event.who, place).items() <= event.said.items()
            if not is_same and place in answers:
                wrong.append(f"The answers in {answers[place]} are not the ones that {signer.name} gave.")
            elif not is_same:
                wrong.append(f"The signature or initials of {signer.name} are not the ones that were used.")
        if event.kind == Happened.BY_PEN and signer is not None:
            kept = (signer.by_pen.get("day", ""), {*signer.by_pen.get("scans", {}).values()})
            if (event.said.get("said", ""), {*event.said.get("scans", "").split()}) != kept:
                wrong.append(
                    f"The scan of what {signer.name} signed on paper is not the one that was recorded."
                )
        if event.kind == SEALED:
            sealed[event.said.get("paper", "")] = event.said.get("sha256", "")
    wrong += [
        f"The sealed file of {paper.named} is not the one that was sealed."
        for paper in now.papers
        if paper.finished != sealed.get(paper.id, "")
    ]
    wrong += [
        f"The times at which {signer.name} signed are not the recorded ones."
        for signer in now.signers
        if dict(signer.put) != put[signer.key]
    ]
    yield from dict.fromkeys(wrong)


def _of_progress(events: Sequence[ChainLink], now: KeptRound) -> Iterator[str]:
    """Yield whether the round is as far as its events make it: they happen once more, to the round as it was
    made."""
    made = tuple(
        replace(s, put=frozenset(), at=At.WAITS, in_person=False, by_pen=False) for s in now.machine.signers
    )
    if events[0].said.get("signers"):
        was = json.loads(events[0].said["signers"])
        made = tuple(replace(s, email=was.get(s.key, {}).get("email", s.email)) for s in made)
    replayed = RoundMachine(RoundState.MAKING, made)
    for event in events:
        if event.kind not in _KINDS:
            continue
        happened = RoundEvent(
            Happened(event.kind), event.who, event.said.get("place", ""), event.said.get("said", "")
        )
        stepped = step(replayed, happened)
        if isinstance(stepped, Fault):
            yield f"Event {event.number} of the record can't have happened to this round."
            return
        replayed = stepped[0]
    if (replayed.state, replayed.said[:500]) != (now.machine.state, now.machine.said):
        then, kept = replayed.state.value, now.machine.state.value
        yield f"The record says that this round is {then}, but it is stored as {kept}."
    for signer, stored in zip(replayed.signers, now.machine.signers, strict=True):
        if _progress(signer) != _progress(stored):
            yield f"The progress of {stored.name} differs from the record."


def _progress(signer: RoundSigner) -> tuple[Any, ...]:
    return signer.at, signer.put, signer.email, signer.in_person, signer.by_pen


_KINDS = frozenset(kind.value for kind in Happened)
