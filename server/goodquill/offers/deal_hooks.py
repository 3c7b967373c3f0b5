"""Turns that go along with what is changed on their papers, and the terms that were agreed on by them."""

from __future__ import annotations

from collections.abc import Iterator

from quillcore.proofreading import Agreed

from goodquill.deals.hooks import AGREED, SETTLE
from goodquill.deals.opening import OpenDeal
from goodquill.offers.taking import settle
from goodquill.offers.turns import named_turn, stated_by, turns_of


def _agreed(opened: OpenDeal) -> Iterator[Agreed]:
    """Yield the terms of turns that both sides agreed on, the newest last.  One query."""
    turns = turns_of(opened)
    for n, turn in enumerate(turns):
        if turn.agreed:
            yield from (Agreed(key, value, named_turn(turns, n)) for key, value in stated_by(turn).items())


SETTLE.append(settle)
AGREED.append(_agreed)
