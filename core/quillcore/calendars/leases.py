"""Lease terms in whole months."""

from __future__ import annotations

from datetime import date, timedelta

from dateutil.relativedelta import relativedelta


def months_after(start: date, months: int) -> date:
    """Return the same day-number that many months on, or the month's last day where it has no such day."""
    return start + relativedelta(months=months)


def lease_end(start: date, months: int) -> date:
    """Return the last day of a lease of whole months: the day before the same day-number, or the last day
    of a month without it."""
    anniversary = months_after(start, months)
    return anniversary - timedelta(days=1) if anniversary.day == start.day else anniversary


def lease_months(start: date, end: date) -> int | None:
    """Return the whole months from ``start`` to ``end`` inclusive, or None where they aren't whole."""
    guess = (end.year - start.year) * 12 + end.month - start.month
    return next((n for n in (guess, guess + 1) if n > 0 and lease_end(start, n) == end), None)
