"""The usual papers, signers and end of a signing round, and what stands against sending it."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from datetime import UTC, date, datetime, time, timedelta
from zoneinfo import ZoneInfo

from quillcore.assembly import Package, PackageDocument
from quillcore.assembly.added_places import FILLED_IN
from quillcore.assembly.people import is_there, person
from quillcore.facts import Side
from quillcore.facts.keys import group_of
from quillcore.forms.counteroffer_blanks import Says
from quillcore.signing.asking import questions_of
from quillcore.signing.rounds import RoundSigner, against_sending
from quillcore.signing.spots import Spot, signers, spots_of
from quillcore.values import Fault, Value
from quillcore.values.clock import ends_at

SOON = timedelta(minutes=5)
"""An end nearer than this is none: nobody reads and signs as fast."""
OURS, AGENTS, ADDED = 1, 2, 3
"""Turns as they are proposed: the clients first, then their own agent; others have none until they are
chosen."""


_OFFERS = {"terms.expiry_date": Says.EXPIRES_DAY, "terms.expiry_time": Says.EXPIRES_TIME}
"""The facts that say when the offer itself expires."""


def usual_end(
    package: Package, papers: Iterable[PackageDocument], zone: str, now: datetime
) -> datetime | None:
    """Return the proposed end of a round, in UTC: the earliest expiry that its papers print, at the end of
    its day where it states no hour; None where they print none, or one that is over or as good as over."""
    printed = [found for paper in papers for found in _expiries(package, paper)]
    if not printed:
        return None
    ends = min(ends_at(day, hour, ZoneInfo(zone)) for day, hour in printed)
    return ends.astimezone(UTC) if ends > now + SOON else None


def _expiries(package: Package, paper: PackageDocument) -> Iterator[tuple[date, time | None]]:
    """Yield when a paper expires by what it prints: a counter-offer by its own lines, an offer by the
    offer's."""
    said: dict[str, Value | None] = {}
    for m in paper.form.mapping.meanings:
        says = m.turn or _OFFERS.get(m.fact or "")
        if says is not None and says in _OFFERS.values():
            said[says] = package.sheet.held(f"{paper.prefix}{m.id}" if m.turn else m.fact or "").value
    day, hour = said.get(Says.EXPIRES_DAY), said.get(Says.EXPIRES_TIME)
    if isinstance(day, date):
        yield day, hour if isinstance(hour, time) else None


def usual_turn(side: Side, key: str) -> int:
    """Return the turn that is proposed for a signer; 0 for one who isn't asked unless somebody adds them."""
    if key.startswith(f"{side.clients}."):
        return OURS
    return AGENTS if key == side.own_agent else 0


NO_PAPERS = Fault("papers", "No papers are selected.", "Choose a paper to sign.")


class RoundPlan:
    """A round in the making, as the deal is now.

    ``papers`` are the documents by id and ``turns`` the signers' turns by key, as somebody chose them; None
    for what is usual: the papers that our clients sign, by them and their agent.  Ids and keys that are no
    longer there are left out.  ``spots`` are all places by document, ``people`` all who have places in the
    chosen papers, ``signers`` those of them who are asked.
    """

    def __init__(
        self, package: Package, papers: Sequence[str] | None, turns: Mapping[str, int] | None
    ) -> None:
        self.package, self.side = package, package.sheet.ledger.side
        leaving = package.leaving
        self.spots: dict[str, list[Spot]] = {d.id: spots_of(package, d) for d in leaving}
        by_id = {d.id: d for d in leaving}
        usual = [d.id for d in leaving if self._is_signed_by_ours(d)]
        self.papers: list[PackageDocument] = [
            by_id[id] for id in (usual if papers is None else papers) if id in by_id
        ]
        places = [spot for d in self.papers for spot in self.spots[d.id]]
        keys = dict.fromkeys(spot.who for spot in places)
        self.people = sorted((person(package, key) for key in keys), key=lambda p: self._order(p.key))
        wanted = {key: usual_turn(self.side, key) for key in keys} if turns is None else turns
        self.turns: dict[str, int] = {key: turn for key, turn in wanted.items() if key in keys and turn}
        chosen = [p for p in self.people if p.key in self.turns]
        self.signers: tuple[RoundSigner, ...] = signers(chosen, places, self.turns)

    def _is_signed_by_ours(self, document: PackageDocument) -> bool:
        return any(spot.who.startswith(f"{self.side.clients}.") for spot in self.spots[document.id])

    def _order(self, key: str) -> tuple[int, str]:
        return (usual_turn(self.side, key) or ADDED, key)

    def against(self) -> list[Fault]:
        """Return what stands against sending it."""
        if not self.papers:
            return [NO_PAPERS]
        found = list(against_sending(self.signers))
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
        return found

    def _asked_of_nobody(self, document: PackageDocument) -> Iterator[Fault]:
        """Yield a place put by hand that somebody is to fill in who isn't asked."""
        for spot in document.spots:
            is_asked = spot.who in self.turns or not is_there(self.package, spot.who)
            if spot.what in FILLED_IN and not is_asked:
                who = person(self.package, spot.who)
                title = document.form.edition.named
                yield Fault(
                    "unasked",
                    f"{who.called} must fill in {spot.named} in {title}, but is not a signer of this round.",
                    "Let them sign, or remove that place.",
                    document.id,
                )

    def _asked_too_late(self, document: PackageDocument) -> Iterator[Fault]:
        """Yield a fault where somebody who answers what a paper asks comes after others of the same group:
        they sign what was answered."""
        asked = {q.who for q in questions_of(self.package, document)} & self.turns.keys()
        signing = {spot.who for spot in self.spots[document.id]} & self.turns.keys()
        names, title = {p.key: p.name for p in self.people}, document.form.edition.named
        for who in sorted(asked):
            for other in sorted(signing - asked):
                if group_of(other) == group_of(who) and self.turns[other] < self.turns[who]:
                    yield Fault(
                        "order",
                        f"{names[who]} answers questions in {title}, but {names[other]} signs before.",
                        f"Let {names[who]} sign first.",
                        who,
                    )
