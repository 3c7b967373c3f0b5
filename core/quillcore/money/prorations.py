"""Shares of a year's tax and of a month's rent."""

from __future__ import annotations

import calendar
from datetime import date
from decimal import Decimal


def tax_owed(annual: Decimal, closing: date) -> Decimal:
    """Return the seller's share of a tax paid in arrears: January 1 to the day before closing."""
    days = (closing - date(closing.year, 1, 1)).days
    return annual * days / (366 if calendar.isleap(closing.year) else 365)


def part_month_rent(rent: Decimal, start: date) -> Decimal:
    """Return rent for the days left in the first month, the start day included."""
    length = calendar.monthrange(start.year, start.month)[1]
    return rent * (length - start.day + 1) / length
