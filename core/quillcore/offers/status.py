"""The status of a turn: the one place that says it, of what was checked."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime, time

from quillcore.signing.rounds import RoundState
from quillcore.signing.sendings import Sending
from quillcore.values.clock import ends_at
from quillcore.values.dates import print_date, print_time


@dataclass(frozen=True)
class TurnStands:
    """A turn's status in words, and what may be done with it."""

    words: str
    may_change: bool = False
    may_send: bool = False
    may_agree: bool = False


def turn_stands(
    *,
    ours: bool,
    other: str,
    paper: str,
    sending: Sending | None,
    agreed: str | None,
    following: str | None,
    expires: tuple[date | None, time | None],
    now: datetime,
) -> TurnStands:
    """Return how a turn stands.

    ``ours``: our client makes it; ``other`` is the side that answers, "buyer" or "seller"; ``paper`` the code
    of its document, "" without one, and ``sending`` how far that is.  ``agreed`` is how agreement came about,
    "" where nobody said, None without one; ``following`` is how a turn came after it ("Answered by
    Counter-offer 2").  ``now`` is by the clock of the property.
    """
    if agreed is not None:
        return TurnStands(agreed or "Agreed on")
    if following is not None:
        return TurnStands(following)
    frozen = sending is not None and sending.is_frozen
    may_send = ours and bool(paper) and not frozen
    over = expired_by(expires, now)
    if sending is not None:
        words = _of_sending(sending, now)
    elif ours and paper:
        words = "Not sent yet"
    else:
        words = f"The {other} is to answer"
    words = f"{words}. Expired {over}" if over else words
    return TurnStands(words, may_change=not frozen, may_send=may_send, may_agree=True)


def _of_sending(sending: Sending, now: datetime) -> str:
    """Return how far its paper is; one that came back unsigned isn't sent."""
    if sending.is_frozen:
        return sending.in_words
    ended = (
        f", {print_date(sending.ended.astimezone(now.tzinfo).date())}" if sending.ended is not None else ""
    )
    reason = f": {sending.said}" if sending.said and sending.state is RoundState.DECLINED else ""
    return f"{sending.in_words}{ended}{reason}. Not sent again"


def expired_by(expires: tuple[date | None, time | None], at: datetime) -> str:
    """Return when something expired, by that moment; "" where it hadn't, or has no end."""
    day, hour = expires
    if day is None:
        return ""
    until = f", {print_time(hour)}" if hour is not None else ""
    return f"{print_date(day)}{until}" if ends_at(day, hour, at.tzinfo) < at else ""
