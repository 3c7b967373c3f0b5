"""Which of a deal's days is next."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from typing import NamedTuple


class KeyDate(NamedTuple):
    """One day; ``label`` is what is due then, in a few words."""

    day: date
    label: str


def next_date(dates: Sequence[KeyDate], today: date) -> KeyDate | None:
    """Of dates, earliest first, the one that is next: today's still is; None when all have passed."""
    return next((d for d in dates if d.day >= today), None)
