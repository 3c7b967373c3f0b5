"""The current day: asked here and nowhere else, so that "today", "fri" and "+10" are those of whoever types
them.

A day begins at midnight where somebody is.  Whoever serves several people says for each piece of work in
which time zone it is done (``in_zone``); without that it is the machine's own.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from datetime import date, datetime, time, tzinfo
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

_zone: ContextVar[ZoneInfo | None] = ContextVar("zone", default=None)


def zone_named(name: str) -> ZoneInfo | None:
    """Return a time zone by its name ("America/Denver"); None for what is none."""
    try:
        return ZoneInfo(name) if 0 < len(name) <= 60 else None
    except (ZoneInfoNotFoundError, ValueError, OSError):  # a name of strangers may be a path
        return None


@contextmanager
def in_zone(zone: ZoneInfo | None) -> Iterator[None]:
    """Work whose days are that zone's; None for the machine's own."""
    before = _zone.set(zone)
    try:
        yield
    finally:
        _zone.reset(before)


def today() -> date:
    """Return the day that it is now, there."""
    return datetime.now(_zone.get()).date()


def ends_at(day: date, hour: time | None, zone: tzinfo | None) -> datetime:
    """Return the moment until which something may be done by a day and an hour; without an hour, by the end
    of the day."""
    return datetime.combine(day, hour or time(23, 59), zone)


def day_of(moment: datetime, zone: ZoneInfo | None = None) -> date:
    """Return the day that a moment falls on in a zone; None for the one in which the work is done.
    The moment has a zone of its own."""
    return moment.astimezone(zone or _zone.get()).date()
