"""Forms that go with those gathered already: named in their text, or usually used beside them."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Collection, Iterable, Mapping
from typing import NamedTuple

_WORD = re.compile(r"[a-z0-9]+")
_APOSTROPHE = re.compile(r"['’]")
LEAST_TIMES, LEAST_SHARE = 3, 0.5
"""A form that came along twice may be chance; one that came along in less than every second package isn't
usual."""


def _plain(text: str) -> str:
    return " ".join(_WORD.findall(_APOSTROPHE.sub("", text.casefold())))


def named_in(words: str, titles: Mapping[str, str]) -> list[str]:
    """Return the numbers of the forms that a text names: "Form 401", or a title of two words or more.
    ``titles`` are those that there are, by number."""
    text = f" {_plain(words)} "
    return [
        number
        for number, title in titles.items()
        if f" form {_plain(number)} " in text
        or (len((said := _plain(title)).split()) > 1 and f" {said} " in text)
    ]


class Usual(NamedTuple):
    """A form that stood beside another in ``times`` of ``of`` packages that have that one."""

    number: str
    beside: str
    times: int
    of: int


def usually_with(packages: Iterable[Collection[str]], present: Collection[str]) -> list[Usual]:
    """Return, for each form that isn't present, the one that it most usually accompanies, the most usual
    first. ``packages`` are what others consist of, by number."""
    have: Counter[str] = Counter()
    both: Counter[tuple[str, str]] = Counter()
    for package in packages:
        numbers = set(package)
        here = numbers & set(present)
        have.update(here)
        both.update((other, one) for other in numbers - set(present) for one in here)
    best: dict[str, Usual] = {}
    for (number, beside), times in both.items():
        found = Usual(number, beside, times, have[beside])
        is_usual = times >= LEAST_TIMES and times / found.of >= LEAST_SHARE
        before = best.get(number)
        if is_usual and (before is None or _rank(found) < _rank(before)):
            best[number] = found
    return sorted(best.values(), key=_rank)


def _rank(usual: Usual) -> tuple[float, int, str, str]:
    return (-usual.times / usual.of, -usual.times, usual.number, usual.beside)
