"""Amounts written out, as contracts want them beside the figures."""

from __future__ import annotations

import re
from decimal import ROUND_HALF_UP, Decimal

from num2words import num2words

CENT = Decimal("0.01")


def to_cents(amount: Decimal) -> Decimal:
    """Round half-up to the cent; the one rounding used for every printed money line."""
    return amount.quantize(CENT, rounding=ROUND_HALF_UP)


def amount_in_words(amount: Decimal) -> str:
    """Return US dollars in title case with cents as a fraction: ``72115.07`` is
    "Seventy-Two Thousand One Hundred Fifteen and 07/100 Dollars".  Negative amounts begin "Minus"."""
    exact = to_cents(amount)
    whole, cents = divmod(abs(exact), 1)
    spelled = num2words(int(whole), lang="en").replace(",", "").replace(" and ", " ")
    title = re.sub(r"[a-z]+", lambda m: m.group().capitalize(), spelled)
    sign = "Minus " if exact < 0 else ""
    return f"{sign}{title} and {int(cents * 100):02d}/100 Dollars"
