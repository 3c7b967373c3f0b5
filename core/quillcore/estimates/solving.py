"""Solving backwards: the value at which a sum comes out as wanted, by the same formulas, to the cent."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from decimal import Decimal

from quillcore.estimates.what_if import what_if
from quillcore.facts import Act, Entry, Source
from quillcore.formulas import Evaluator
from quillcore.values import Fault

_UNITS = {"money": Decimal("0.01"), "exact_money": Decimal("0.01"), "percent": Decimal("0.001")}
"""The finest step in which each kind is said: a rate has three places."""
_MOST = {"money": Decimal(100_000_000), "exact_money": Decimal(100_000_000), "percent": Decimal(100)}
_STEPS_EVERY = Decimal(500)
"""Transfer tax is due for each $500 begun, and premiums for each $1,000: at such prices a sum jumps by some
dollars, and between two of them it only rises or only falls."""
_LOOKED_AT_BESIDE = 4
"""Steps before and behind the one that was found: a jump of $7 moves the price by less than one of them."""


@dataclass(frozen=True)
class Solved:
    """A solution: ``value`` makes the sum ``reached``, which is ``exact`` the one wanted, or as near on the
    far side as it comes."""

    value: Decimal
    reached: Decimal
    exact: bool


def solve(sheet: Evaluator, vary: str, of: str, wanted: Decimal) -> Solved | Fault:
    """Return the least value of one fact with which another comes out as wanted.  ``sheet`` is left as it
    is."""
    kind = sheet.ledger.catalog[vary].kind
    unit = _UNITS.get(kind)
    if unit is None:
        return Fault("solve", f"{sheet.ledger.catalog.label_of(vary)} is not an amount or a percentage.")
    trial = _Trial(sheet, vary, of, unit)
    top = int(_MOST[kind] / unit)
    least, most = trial.at(1), trial.at(top)
    if least is None or most is None:
        return trial.open_fault()
    if least == most:
        return Fault("solve", f"{trial.label(of)} does not depend on {trial.label(vary).lower()}.")
    rises = most > least
    if not min(least, most) <= wanted <= max(least, most):
        return Fault(
            "solve",
            f"No {trial.label(vary).lower()} makes {trial.label(of).lower()} so.",
            "Ask for another amount.",
        )

    def reaches(at: int) -> bool:
        found = trial.at(at)
        return found is not None and (found >= wanted if rises else found <= wanted)

    found = _first(reaches, 1, top)
    jumps = kind != "percent"
    best = _least_exact(trial, reaches, wanted, found, int(_STEPS_EVERY / unit)) if jumps else found
    reached = trial.at(best)
    assert reached is not None
    return Solved(best * unit, reached, reached == wanted)


def _first(reaches: Callable[[int], bool], low: int, high: int) -> int:
    """Return the first number for which it holds, of a range in which it holds from some number on."""
    while low < high:
        middle = (low + high) // 2
        if reaches(middle):
            high = middle
        else:
            low = middle + 1
    return low


def _least_exact(
    trial: _Trial, reaches: Callable[[int], bool], wanted: Decimal, found: int, every: int
) -> int:
    """Return the least number nearby that makes it just so; where none does, the least that reaches it."""
    step = found // every
    least = found
    for n in range(max(0, step - _LOOKED_AT_BESIDE), step + _LOOKED_AT_BESIDE + 1):
        low, high = n * every + 1, (n + 1) * every
        if not reaches(high):
            continue
        here = _first(reaches, low, high)
        if trial.at(here) == wanted:
            return here
        least = min(least, here)
    return least


class _Trial:
    """One sheet in which a fact is set again and again."""

    def __init__(self, sheet: Evaluator, vary: str, of: str, unit: Decimal) -> None:
        self.sheet = what_if(sheet, {})
        self.vary, self.of, self.unit = vary, of, unit
        self.order = self.sheet.ledger.newest

    def at(self, number: int) -> Decimal | None:
        """Return the sum while the fact is so many units; None while it is unknown."""
        self.order += 1
        value = number * self.unit
        self.sheet.ledger.add(Entry(self.vary, Act.STATE, self.order, Source.TYPED, value))
        self.sheet.refresh([self.vary])
        found = self.sheet.held(self.of).value
        return found if isinstance(found, Decimal) else None

    def label(self, key: str) -> str:
        return self.sheet.ledger.catalog.label_of(key)

    def open_fault(self) -> Fault:
        waits = [self.label(key) for key in self.sheet.held(self.of).missing if key != self.of]
        return Fault(
            "open",
            f"{self.label(self.of)} waits for {' and '.join(waits) or 'something that is not known'}.",
            "Fill it in first.",
            self.of,
        )
