"""Every source's newest value for each key, and which one is in force."""

from __future__ import annotations

import enum
from collections.abc import Iterable, Set
from dataclasses import dataclass

from quillcore.facts.catalog import Catalog
from quillcore.facts.keys import GROUPS, Group, PartyKey, Side, group_of, party_ids, party_key, place_key
from quillcore.values import Value


class Source(enum.StrEnum):
    """The source of a value."""

    TYPED = "typed"
    SIGNER = "signer"
    LISTING = "listing"
    ROLL = "roll"
    TEMPLATE = "template"
    PROFILE = "profile"
    FORM = "form"
    WORKED_OUT = "worked_out"


class Act(enum.StrEnum):
    """The effect of an entry: state a value, state a formula, leave the answer to the client, take either
    away, or choose a source."""

    STATE = "state"
    FORMULA = "formula"
    LEAVE = "leave"
    CLEAR = "clear"
    CHOOSE = "choose"


@dataclass(frozen=True)
class Stated:
    """A value as one source states it.  ``order`` grows with time; ``formula`` replaces ``value`` for
    standing formulas."""

    value: Value | None
    source: Source
    order: int
    origin: str = ""
    locked: bool = False
    formula: str | None = None


@dataclass(frozen=True)
class Entry:
    """One line of a deal's append-only record, oldest first by ``order``.  For CHOOSE, ``source`` is the one
    chosen and ``act`` CLEAR on a choice is written as CHOOSE without a source."""

    key: str
    act: Act
    order: int
    source: Source | None
    value: Value | None = None
    formula: str | None = None
    origin: str = ""
    locked: bool = False


_RANK = {
    Source.SIGNER: 0,
    Source.TYPED: 1,
    Source.LISTING: 2,
    Source.ROLL: 2,
    Source.WORKED_OUT: 3,
    Source.TEMPLATE: 4,
    Source.PROFILE: 5,
    Source.FORM: 6,
}


class Ledger:
    """Entries folded into what each source says now.

    ``side`` is the deal's side: it bars a listing from stating what is this agent's own.
    """

    def __init__(self, catalog: Catalog, side: str, entries: Iterable[Entry] = ()) -> None:
        self.catalog = catalog
        self.side = Side(side)
        self._by_key: dict[str, dict[Source, Stated]] = {}
        self._chosen: dict[str, Source] = {}
        self._group_of: dict[str, Group] = {}
        self._worked_out: set[str] = set()
        self._left: set[str] = set()
        for entry in entries:
            self.add(entry)

    def add(self, entry: Entry) -> None:
        """Take in one more entry, newer than those before it."""
        held = self._by_key.setdefault(entry.key, {})
        if entry.key in GROUPS:
            self._group_of |= dict.fromkeys(party_ids(entry.value), Group(entry.key))
        if entry.act is Act.CHOOSE:
            self._chosen.pop(entry.key, None)
            if entry.source is not None:
                self._chosen[entry.key] = entry.source
            return
        assert entry.source is not None
        if entry.act is Act.FORMULA:
            self._worked_out.add(entry.key)
        if entry.source is Source.TYPED:
            self._left.discard(entry.key)
        if entry.act is Act.LEAVE:
            self._left.add(entry.key)
        if entry.act in (Act.CLEAR, Act.LEAVE):
            held.pop(entry.source, None)
        else:
            held[entry.source] = Stated(
                entry.value, entry.source, entry.order, entry.origin, entry.locked, entry.formula
            )
        if entry.source in (Source.TYPED, Source.SIGNER):
            self._chosen.pop(entry.key, None)

    def copy(self) -> Ledger:
        """Return another ledger that says the same, and goes its own way from here."""
        other = Ledger(self.catalog, self.side)
        other._by_key = {key: dict(held) for key, held in self._by_key.items()}
        other._chosen, other._group_of = dict(self._chosen), dict(self._group_of)
        other._worked_out, other._left = set(self._worked_out), set(self._left)
        return other

    @property
    def newest(self) -> int:
        """The order of the newest entry that holds; 0 where there is none."""
        return max((s.order for held in self._by_key.values() for s in held.values()), default=0)

    def beside(self, key: str) -> dict[Source, Stated]:
        """Return every source's value for the key."""
        return dict(self._by_key.get(key, {}))

    def speaks_of(self, key: str) -> bool:
        """Return whether anything was ever stated under the key."""
        return key in self._by_key

    def chosen(self, key: str) -> Source | None:
        """Return the source that was chosen by hand for this key."""
        return self._chosen.get(key)

    @property
    def left(self) -> Set[str]:
        """The stored keys whose answer the agent has left to the client, until the agent gives one."""
        return self._left

    def parties(self, group: str) -> list[str]:
        """Return stable ids of the group's parties, in order."""
        stated = self.in_force(group)
        return party_ids(stated.value) if stated is not None else []

    def signers(self, group: Group) -> list[str]:
        """Return the keys of the group's parties as signers, in order: ``buyers.1``, ``buyers.2``."""
        return [group.signer(n) for n in range(1, len(self.parties(group)) + 1)]

    def group_of_party(self, party: str) -> Group | None:
        """Return the group that a party is in, or was in last; None for one that was never named."""
        return self._group_of.get(party)

    def stored_key(self, key: str) -> str | None:
        """Return the key under which entries stand: ``buyers.2.email`` is ``party.<id>.email``; None where
        there is no such party."""
        place = place_key(key)
        if place is None:
            return key
        ids = self.parties(place.group)
        return str(PartyKey(ids[place.position - 1], place.field)) if place.position <= len(ids) else None

    def shown_key(self, stored: str) -> str:
        """Return the other way round: the key by which screens know a stored one; itself where the party is
        gone."""
        kept = party_key(stored)
        group = self.group_of_party(kept.party) if kept is not None else None
        if kept is None or group is None:
            return stored
        ids = self.parties(group)
        return group.key(ids.index(kept.party) + 1, kept.field) if kept.party in ids else stored

    def group_shown(self, stored: str) -> str:
        """Return the group of facts that a stored key belongs to, a party's that of its group."""
        kept = party_key(stored)
        return (self.group_of_party(kept.party) or "") if kept is not None else group_of(stored)

    def keys(self) -> Iterable[str]:
        """Return keys that some source states now."""
        return (key for key, held in self._by_key.items() if held)

    def formulas(self) -> dict[str, str]:
        """Return standing formulas that hold, by the key that they answer."""
        holding = ((key, self.in_force(key)) for key in sorted(self._worked_out))
        return {key: said.formula for key, said in holding if said is not None and said.formula is not None}

    def in_force(self, key: str) -> Stated | None:
        """Return the value that holds: a locked answer, else the chosen source, else by rank; None where
        nothing is stated.

        Of a pair only one half can hold: the stronger source's, then the one stated last.
        """
        mine = self._strongest(key)
        fact = self.catalog.find(key) if mine is not None else None
        if mine is None or fact is None or fact.pair is None:
            return mine
        other = self._strongest(fact.pair)
        if other is None or self._weight(fact.pair, other) > self._weight(key, mine):
            return mine
        if self._weight(fact.pair, other) < self._weight(key, mine):
            return None
        return mine if mine.order >= other.order else None

    def differs(self, key: str) -> bool:
        """Return whether listing and roll disagree, and nobody has decided yet (typed, chosen or locked)."""
        held = self._by_key.get(key, {})
        listing, roll = held.get(Source.LISTING), held.get(Source.ROLL)
        fact = self.catalog.find(key)
        if listing is None or roll is None or fact is None or key in self._chosen:
            return False
        decided = self.in_force(key)
        if decided is None or decided.source not in (Source.LISTING, Source.ROLL):
            return False
        assert listing.value is not None and roll.value is not None
        return not fact.type.same(listing.value, roll.value)

    def _strongest(self, key: str) -> Stated | None:
        held = self._by_key.get(key)
        if not held:
            return None
        if len(held) == 1:  # as almost everywhere
            (only,) = held.values()
            return None if self._barred(key, only.source) else only
        usable = [s for s in held.values() if not self._barred(key, s.source)]
        return min(usable, key=lambda s: self._weight(key, s), default=None)

    def _weight(self, key: str, stated: Stated) -> tuple[int, int]:
        if stated.locked:
            return (-2, 0)
        if self._chosen.get(key) is stated.source:
            return (-1, 0)
        return (_RANK[stated.source], 0 if stated.source is self.authority(key) else 1)

    def authority(self, key: str) -> Source:
        """Return which of listing and roll is believed for the key."""
        fact = self.catalog.find(key)
        return Source.ROLL if fact is not None and fact.authority == "roll" else Source.LISTING

    def _barred(self, key: str, source: Source) -> bool:
        fact = self.catalog.find(key) if source is Source.LISTING else None
        return fact is not None and fact.own_side == self.side
