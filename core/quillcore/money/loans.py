"""Loan arithmetic.  Rates are percent a year as people say them (6.25)."""

from __future__ import annotations

import calendar
from datetime import date
from decimal import Decimal


def payment(principal: Decimal, rate: Decimal, months: int) -> Decimal:
    """Return monthly principal and interest of a level loan; without interest, the principal in equal
    parts."""
    monthly = rate / 1200
    if monthly == 0:
        return principal / months
    growth = (1 + monthly) ** months
    return principal * monthly * growth / (growth - 1)


def prepaid_interest(loan: Decimal, rate: Decimal, closing: date) -> Decimal:
    """Return interest from the closing day to the end of its month, both included, on a 365-day year."""
    days = calendar.monthrange(closing.year, closing.month)[1] - closing.day + 1
    return loan * rate / 100 * days / 365
