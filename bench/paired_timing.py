"""Measuring actions against each other: turn by turn, so that a machine that pauses slows all of them."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable


def turns(
    *actions: Callable[[], object], rounds: int, between: Callable[[], object] = lambda: None
) -> list[float]:
    """Return median seconds of computing and waiting of each action, each once beforehand; ``between`` is
    done before every round and not measured."""
    taken: list[list[float]] = [[] for _ in actions]
    for action in actions:
        action()
    for _ in range(rounds):
        between()
        for times, action in zip(taken, actions, strict=True):
            begun = time.perf_counter()
            action()
            times.append(time.perf_counter() - begun)
    return [statistics.median(times) for times in taken]
