"""The next of a deal's days."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from typing import NamedTuple


class KeyDate(NamedTuple):
    """One day; ``label`` is what is due then, in a few words."""

    day: date
    label: str


def next_date(dates: Sequence[KeyDate], today: date) -> KeyDate | None:
    """Return the next of these dates, earliest first: today's still is; None when all have passed."""
    return next((d for d in dates if d.day >= today), None)
