"""Limits on failed attempts, and the queue for hashing passwords one at a time.

Each thing that can be guessed has a count of its own, and only failures count: 150 bad links from one office
must not keep its members from signing in.
"""

from __future__ import annotations

import math
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from functools import wraps
from typing import Any, TypeVar, cast

from django.http import HttpResponse
from rest_framework.request import Request
from rest_framework.throttling import SimpleRateThrottle

from goodquill.http.callers import network_of
from goodquill.http.limits import FAILURES_AN_HOUR, SIGN_IN_TURN, SIGN_INS_AT_ONCE, SIGN_INS_WAITING
from goodquill.http.problems import Refusal

View = TypeVar("View", bound=Callable[..., HttpResponse])
FAILURES = frozenset({400, 401, 404, 410})
"""Refusals that say that a guess was wrong.  A busy server's are none."""


class Attempts(SimpleRateThrottle):
    """The failures of one caller at one thing within an hour, kept in the cache."""

    rate = f"{FAILURES_AN_HOUR}/hour"
    duration: int

    def __init__(self, thing: str, who: str) -> None:
        self.scope, self.named = thing, f"attempts:{thing.replace(' ', '-')}:{who}"
        super().__init__()

    def get_cache_key(self, request: Any, view: Any) -> str:
        """Return what they are counted under."""
        return self.named

    def throttle_success(self) -> bool:
        """Let it be tried; it counts once it has failed."""
        return True

    def count(self) -> None:
        """Count one."""
        self.cache.set(self.key, [self.timer(), *self.history], self.duration)


@contextmanager
def counted(thing: str, who: str, always: bool = False) -> Iterator[None]:
    """Count what fails inside, or with ``always`` every attempt.  Raises Refusal (429) after too many."""
    attempts = Attempts(thing, who)
    if not attempts.allow_request(cast(Any, None), cast(Any, None)):
        minutes = math.ceil((attempts.wait() or 60) / 60)
        after = "a minute" if minutes == 1 else f"{minutes} minutes"
        raise Refusal(
            "Too many attempts.",
            f"Wait {after} and try again.",
            "attempts",
            429,
            again=False,
            wait=60 * minutes,
        )
    if always:
        attempts.count()
    try:
        yield
    except Refusal as refused:
        if refused.status_code in FAILURES and not always:
            attempts.count()
        raise


def counts_attempts(thing: str, always: bool = False) -> Callable[[View], View]:
    """Decorate an endpoint's method with ``counted``: by member where somebody is signed in, else by
    address."""

    def decorate(view: View) -> View:
        @wraps(view)
        def run(self: Any, request: Request, *args: Any, **kwargs: Any) -> HttpResponse:
            who = request.user.pk if request.user and request.user.is_authenticated else None
            with counted(thing, str(who or network_of(request._request)), always):
                return view(self, request, *args, **kwargs)

        return cast(View, run)

    return decorate


@dataclass
class Waiting:
    """Somebody who waits: ``rank`` is smaller for whoever comes first."""

    rank: tuple[bool, float, int]
    is_dropped: bool = False


class FairQueue:
    """Lets a few callers at a time do something expensive, and keeps a short queue of the others.

    One place a caller.  Known callers come first, then those who had the fewest turns lately: an address
    that guesses all the time stands behind everybody who comes once.  Where the queue is full, its last is
    sent away."""

    def __init__(self, at_once: int, places: int, patience: float) -> None:
        self.at_once, self.places, self.patience = at_once, places, patience
        self.changed = threading.Condition()
        self.working = self.arrived = 0
        self.waiting: dict[str, Waiting] = {}
        self.turns: dict[str, tuple[float, float]] = {}  # turns that are not worn off, and as of when

    @contextmanager
    def turn(self, who: str, is_known: bool) -> Iterator[bool]:
        """Wait for a turn, and hold it; False where none came."""
        taken = self._take(who, is_known)
        try:
            yield taken
        finally:
            if taken:
                with self.changed:
                    self.working -= 1
                    self.changed.notify_all()

    def _take(self, who: str, is_known: bool) -> bool:
        with self.changed:
            if who in self.waiting:
                return False
            self.arrived += 1
            mine = Waiting((not is_known, self._lately(who), self.arrived))
            if len(self.waiting) >= self.places:
                last = max(self.waiting, key=lambda name: self.waiting[name].rank)
                if self.waiting[last].rank < mine.rank:
                    return False
                self.waiting.pop(last).is_dropped = True
                self.changed.notify_all()
            self.waiting[who] = mine
            came = self.changed.wait_for(lambda: mine.is_dropped or self._is_next(mine), self.patience)
            if mine.is_dropped:
                return False
            del self.waiting[who]
            self.changed.notify_all()
            if came:
                self.working += 1
                self._count(who)
            return came

    def _is_next(self, mine: Waiting) -> bool:
        return self.working < self.at_once and mine.rank == min(one.rank for one in self.waiting.values())

    def _lately(self, who: str) -> float:
        count, at = self.turns.get(who, (0.0, 0.0))
        return max(0.0, count - (time.monotonic() - at) / WORN_OFF)

    def _count(self, who: str) -> None:
        self.turns[who] = (self._lately(who) + 1, time.monotonic())
        if len(self.turns) > MOST_REMEMBERED:
            self.turns = {name: kept for name, kept in self.turns.items() if self._lately(name)}


WORN_OFF = 20.0
"""Seconds after which one turn is forgotten."""
MOST_REMEMBERED = 2_000
SIGN_INS = FairQueue(SIGN_INS_AT_ONCE, SIGN_INS_WAITING, SIGN_IN_TURN)
"""This worker's own."""
