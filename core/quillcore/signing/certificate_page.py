"""The record page: who signed a paper, when and from where, how each was known, and what proves it."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime
from zoneinfo import ZoneInfo

from quillcore.pdf import Frame, Overlay, fit, wrap
from quillcore.signing.rounds import Happened
from quillcore.signing.trail import ChainLink

_LEFT, _RIGHT, _TOP, _BOTTOM = 54.0, 558.0, 728.0, 56.0
_TIMES = 190.0
"""The left edge of event texts, behind the time."""
_SHORT = 16
"""Digits of a hash that are printed: the file's own record has it whole."""


@dataclass(frozen=True)
class Signed:
    """One who signed: key in the record, name, address, and how it was made sure who that is."""

    key: str
    name: str
    email: str
    known_by: str


@dataclass(frozen=True)
class Certificate:
    """The content of a paper's record page. ``frozen`` is the SHA-256 of the paper as it was sent; ``zone``
    the time zone in which times are printed."""

    round: str
    subject: str
    sender: str
    paper: str
    frozen: str
    signers: tuple[Signed, ...]
    events: tuple[ChainLink, ...]
    zone: str
    identity: str = ""
    """The identity check for whoever opened a link; "" in records of before that was printed."""

    def name_of(self, key: str) -> str:
        """Return who a key in the record is."""
        return next((s.name for s in self.signers if s.key == key), self.sender)


_SAID = {
    Happened.SENT: "sent for signature",
    Happened.OPENED: "opened the papers",
    Happened.AGREED: "agreed to electronic records and signatures",
    Happened.DONE: "signed and finished",
    Happened.WANTS_PAPER: "asked for paper",
    Happened.READDRESSED: "was sent a new link",
    Happened.REMINDED: "was reminded",
    Happened.BY_PEN: "signed on paper, by pen",
    Happened.IN_PERSON: "got the sender's device, to sign in person",
}


def record_pages(record: Certificate) -> list[Overlay]:
    """Return the pages, each to be laid over an empty letter page."""
    made = _Sheets()
    made.line("Record of signatures", 15, _RIGHT, after=8)
    for label, said in (
        ("Paper", record.paper),
        ("Sent as", record.subject),
        ("Sent by", record.sender),
        ("Round", record.round),
        ("SHA-256 as sent", record.frozen),
        ("Identity check", record.identity),
    ):
        if said:
            made.pair(label, said)
    made.heading("Who signed")
    for signer in record.signers:
        made.pair(f"{signer.name}", f"{signer.email} · {signer.known_by}")
    made.heading("Events")
    for event, said in _told(record):
        made.event(_printed(event.at, record.zone), said, event.hash[:_SHORT])
    made.heading("How to check this file")
    made.text(
        "The seal over this file covers every byte of it, the paper as it was sent and this record. Any "
        "reader of PDF that knows the seal's authority says whether it holds. The record stands in the file "
        "as record.json, each event with the hash of the one before it; the paper as it was sent is the "
        "beginning of this file."
    )
    return made.pages


def _told(record: Certificate) -> Iterator[tuple[ChainLink, str]]:
    """Yield the events that are printed, in words; places signed are told together with finishing."""
    put: dict[str, int] = {}
    carried: dict[str, int] = {}
    for event in record.events:
        counted = {Happened.PUT.value: put, Happened.CARRIED.value: carried}.get(event.kind)
        if counted is not None:
            counted[event.who] = counted.get(event.who, 0) + 1
            continue
        said = _SAID.get(Happened(event.kind)) if event.kind in list(Happened) else None
        if said is None:
            continue
        if event.kind == Happened.DONE and (count := put.get(event.who, 0)):
            said = f"{said}: {count} {'place' if count == 1 else 'places'}"
        if event.kind == Happened.DONE and (kept := carried.get(event.who, 0)):
            said = f"{said}; {kept} signed before, on the same paper of an earlier round"
        if event.kind == Happened.BY_PEN:
            said = (
                f"{said}, on {event.said.get('said', '')}; recorded by {event.said.get('by', 'the sender')}"
            )
        source = f" · from {event.said['from']}" if event.said.get("from") else ""
        yield event, f"{record.name_of(event.who)} {said}{source}"


def _printed(at: str, zone: str) -> str:
    moment = datetime.fromisoformat(at).astimezone(ZoneInfo(zone))
    clock = f"{moment.hour % 12 or 12}:{moment:%M:%S} {'AM' if moment.hour < 12 else 'PM'}"
    return f"{moment:%b} {moment.day}, {moment.year}, {clock} {moment:%Z}"


class _Sheets:
    """Pages being set, from the top down."""

    def __init__(self) -> None:
        self.pages: list[Overlay] = []
        self.at = 0.0

    def _row(self, height: float) -> float:
        """Return the baseline of the next row; on a further page where this one is full."""
        if not self.pages or self.at - height < _BOTTOM:
            self.pages.append(Overlay())
            self.at = _TOP
        self.at -= height
        return self.at

    def _put(self, text: str, left: float, right: float, at: float, size: float, align: str = "left") -> None:
        frame = Frame(left, at - 2, right, at - 2 + size * 1.4, size=size, least=5.0, align=align)
        found = fit(text, frame)
        if found.overflow:
            found = fit(_cut(text, right - left, 5.0), frame)
        self.pages[-1].fits.append(found)

    def line(self, text: str, size: float, right: float, after: float = 0.0) -> None:
        """Draw one line."""
        self._put(text, _LEFT, right, self._row(size * 1.4), size)
        self.at -= after

    def heading(self, text: str) -> None:
        """Draw a heading over a rule."""
        at = self._row(30)
        self._put(text, _LEFT, _RIGHT, at, 11)
        self.pages[-1].rules.append((_LEFT, at - 5, _RIGHT))
        self.at -= 6

    def pair(self, label: str, said: str) -> None:
        """Draw a label and its text, which may take several lines."""
        lines = wrap(said, _RIGHT - _TIMES, 9) or [""]
        for n, line in enumerate(lines):
            at = self._row(13)
            if n == 0:
                self._put(label, _LEFT, _TIMES - 6, at, 9)
            self._put(line, _TIMES, _RIGHT, at, 9)

    def event(self, when: str, said: str, digits: str) -> None:
        """Draw one event: when, what, and the beginning of its hash."""
        for n, line in enumerate(wrap(said, 470 - _TIMES, 8.5) or [""]):
            at = self._row(12.5)
            if n == 0:
                self._put(when, _LEFT, _TIMES - 6, at, 8.5)
                self._put(digits, 474, _RIGHT, at, 7, "right")
            self._put(line, _TIMES, 470, at, 8.5)

    def text(self, said: str) -> None:
        """Draw a paragraph."""
        for line in wrap(said, _RIGHT - _LEFT, 9):
            self._put(line, _LEFT, _RIGHT + 6, self._row(12.5), 9)


def _cut(text: str, room: float, size: float) -> str:
    """Return as much of a text as fits, and a mark that it goes on."""
    lines: Sequence[str] = wrap(text, room - 12, size)
    return f"{lines[0]}…" if len(lines) > 1 else text
