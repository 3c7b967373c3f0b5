"""Charges that a pack's dated rates define."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import ROUND_CEILING, Decimal


@dataclass(frozen=True)
class Rates:
    """A pack's rates, in force from its release date.

    ``transfer_tax``: (dollars of tax, per dollars or part of them).  ``title_brackets``: rows of
    (thousands in the bracket, None for the rest; dollars per thousand); ``title_minimum`` in dollars.
    """

    transfer_tax: tuple[Decimal, Decimal]
    title_brackets: tuple[tuple[Decimal | None, Decimal], ...]
    title_minimum: Decimal


def _up(amount: Decimal, step: Decimal) -> Decimal:
    return (amount / step).to_integral_value(rounding=ROUND_CEILING)


def transfer_tax(price: Decimal, rates: Rates) -> Decimal:
    """Return tax on the transfer: so much for each step of the price or part of one."""
    tax, step = rates.transfer_tax
    return _up(price, step) * tax


def title_premium(price: Decimal, rates: Rates) -> Decimal:
    """Return owner's title premium: the price in thousands, rounded up, through the brackets; never under
    the least."""
    left, premium = _up(price, Decimal(1000)), Decimal(0)
    for size, per_thousand in rates.title_brackets:
        here = left if size is None else min(left, size)
        premium += here * per_thousand
        left -= here
    return max(premium, rates.title_minimum)
