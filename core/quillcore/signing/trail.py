"""The record of a round: what happened, in order, each event's hash over the one before it.

Only appended to.  Whoever has the events can tell whether one was changed, left out, put in or moved: the
hashes no longer follow from each other.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from datetime import UTC, datetime
from typing import Any

from quillcore.values import Fault

MOST_EVENTS = 20_000
"""Of one round: twelve signers of sixty pages put some thousand marks."""


@dataclass(frozen=True)
class ChainLink:
    """One thing that happened: ``number`` from 1, ``at`` the time in UTC to the millisecond, ``kind`` a word,
    ``who`` a signer's key or "" for the sender's side, ``said`` what belongs to it; ``hash`` is over all of
    these and over ``before``, the hash of the event before it ("" for the first)."""

    number: int
    at: str
    kind: str
    who: str
    said: Mapping[str, str]
    before: str
    hash: str


def follow(last: ChainLink | None, at: datetime, kind: str, who: str = "", **said: str) -> ChainLink:
    """Return the event that comes behind ``last``.  A clock that went back doesn't take time back: it is
    then as late as the one before."""
    stamp = at.astimezone(UTC).isoformat(timespec="milliseconds")
    number, before = (last.number + 1, last.hash) if last is not None else (1, "")
    if last is not None:
        stamp = max(stamp, last.at)
    return ChainLink(number, stamp, kind, who, said, before, _hash(number, stamp, kind, who, said, before))


def _hash(number: int, at: str, kind: str, who: str, said: Mapping[str, str], before: str) -> str:
    text = json.dumps(
        [number, at, kind, who, dict(said), before], sort_keys=True, ensure_ascii=False, separators=(",", ":")
    )
    return hashlib.sha256(text.encode()).hexdigest()


def first_break(events: Sequence[ChainLink]) -> int | None:
    """Return the number of the first event that doesn't follow from the one before it; None where all do."""
    before = ""
    for number, event in enumerate(events, 1):
        wanted = _hash(number, event.at, event.kind, event.who, event.said, before)
        if (event.number, event.before, event.hash) != (number, before, wanted):
            return number
        before = event.hash
    return None


def as_rows(events: Sequence[ChainLink]) -> list[dict[str, Any]]:
    """Return the events as they are written into a file."""
    return [asdict(event) | {"said": dict(event.said)} for event in events]


def read_rows(rows: object) -> list[ChainLink] | Fault:
    """Return events out of a file; whether they follow from each other is another question."""
    wrong = Fault("trail", "The record in this file can't be read.", "Ask for the file again.")
    if not isinstance(rows, list) or len(rows) > MOST_EVENTS:
        return wrong
    found = []
    for row in rows:
        if not isinstance(row, dict) or set(row) != set(ChainLink.__dataclass_fields__):
            return wrong
        said = row["said"]
        texts = [row[name] for name in ("at", "kind", "who", "before", "hash")]
        if not isinstance(said, dict) or not all(isinstance(t, str) for t in [*texts, *said.values()]):
            return wrong
        if not isinstance(row["number"], int) or isinstance(row["number"], bool):
            return wrong
        found.append(ChainLink(**row))
    return found
