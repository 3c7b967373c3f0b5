"""The blanks of a counter-offer or an amendment that state a turn in a negotiation: a form says itself where
a changed price goes, and no form's number stands in the program."""

from __future__ import annotations

import enum
from dataclasses import dataclass


class Says(enum.StrEnum):
    """The part of a turn that a blank states.

    ``number``: which counter-offer or amendment it is; ``maker``: "seller" or "buyer"; ``day``: when it is
    made; ``answers``: "offer" or "counter-offer", and ``answers-day`` its date; ``expires-day`` and
    ``expires-time``: until when it may be accepted.  ``to`` and ``from`` state
    what terms are after and before it, ``whether`` if any of them changes.  ``rest``: every change without a
    ``to`` of its own on this form, in words.
    """

    NUMBER = "number"
    MAKER = "maker"
    DAY = "day"
    ANSWERS = "answers"
    ANSWERS_DAY = "answers-day"
    EXPIRES_DAY = "expires-day"
    EXPIRES_TIME = "expires-time"
    TO = "to"
    FROM = "from"
    WHETHER = "whether"
    REST = "rest"


_OF_TERMS = (Says.TO, Says.FROM, Says.WHETHER)


@dataclass(frozen=True)
class TurnPart:
    """The part of a turn in one blank; ``keys`` are the terms that it speaks of."""

    says: Says
    keys: tuple[str, ...] = ()


def read_turn(text: str) -> TurnPart | None:
    """Read ``to terms.purchase_price``, ``number`` and the like; None where it can't be read."""
    word, *keys = text.split() or [""]
    if word not in tuple(Says):
        return None
    says = Says(word)
    wants_keys = says in _OF_TERMS
    return TurnPart(says, tuple(keys)) if wants_keys == bool(keys) else None
