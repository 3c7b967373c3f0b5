"""Deadlines counted from a day: day 1 is the day after the trigger."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date, timedelta
from functools import cache
from importlib import import_module

ONE = timedelta(days=1)
FURTHEST = 36_500


@cache
def _federal(year: int) -> dict[date, str]:
    """Return US federal holidays as observed, of the years around ``year`` (New Year may be observed in
    December)."""
    holidays = import_module("holidays")  # takes a tenth of a second, and most formulas count no days
    return dict(holidays.country_holidays("US", years=[year - 1, year, year + 1], observed=True).items())


@dataclass(frozen=True)
class Deadline:
    """A day and how it was counted, in words fit for a tooltip."""

    day: date
    explanation: str


@dataclass(frozen=True)
class Calendar:
    """Federal holidays as observed, and the state's own (``extra``: day to name, from the pack)."""

    extra: Mapping[date, str] = field(default_factory=dict)

    def closed(self, day: date) -> str | None:
        """Return why ``day`` isn't a business day ("Sat", "Memorial Day"), or None."""
        if day.weekday() >= 5:
            return f"{day:%a}"
        return self.extra.get(day) or _federal(day.year).get(day)

    def holidays(self, year: int) -> dict[date, str]:
        """Return the days of a year that would be business days but for a holiday, in order."""
        days = {**_federal(year), **self.extra}
        return {day: days[day] for day in sorted(days) if day.year == year and day.weekday() < 5}

    def rolled(self, day: date, step: int = 1) -> date:
        """Return ``day``, or the first business day beyond it in the direction of counting."""
        while self.closed(day):
            day += ONE * step
        return day

    def days_after(self, start: date, days: int) -> date:
        """Return calendar days after ``start`` (before it, when negative); a closed day moves on in the same
        direction."""
        return self.rolled(start + ONE * _bounded(days), -1 if days < 0 else 1)

    def days_after_as_is(self, start: date, days: int) -> date:
        """Return calendar days after ``start``, whatever day that is."""
        return start + ONE * _bounded(days)

    def business_days_after(self, start: date, days: int) -> date:
        """Return the n-th business day after ``start`` (before it, when negative); 0 rolls ``start`` on."""
        if days == 0:
            return self.rolled(start)
        step, day = (1 if days > 0 else -1), start
        for _ in range(abs(_bounded(days))):
            day = self.rolled(day + ONE * step, step)
        return day

    def explain_business_days(self, start: date, days: int, trigger: str) -> Deadline:
        """Return the deadline with its reason: "3 business days after acceptance (Fri May 28), skipping
        Sat, Sun and Memorial Day"."""
        due = self.business_days_after(start, days)
        said = _counted(days, "business day", trigger, start)
        return Deadline(due, said + self._reasons("skipping", start, due))

    def explain_days(self, start: date, days: int, trigger: str) -> Deadline:
        """Return the same for calendar days: "10 days after acceptance (Fri May 21), moved past Memorial
        Day"."""
        due, plain = self.days_after(start, days), self.days_after_as_is(start, days)
        said = _counted(days, "day", trigger, start)
        if due == plain:
            return Deadline(due, said)
        step = ONE if due > plain else -ONE
        return Deadline(due, said + self._reasons("moved past", plain - step, due))

    def _reasons(self, verb: str, start: date, due: date) -> str:
        """Return why days between two were no business days, each reason once."""
        low, high = sorted((start, due))
        between = (low + ONE * n for n in range(1, (high - low).days))
        skipped = list(dict.fromkeys(reason for day in between if (reason := self.closed(day))))
        if not skipped:
            return ""
        listed = skipped[0] if len(skipped) == 1 else f"{', '.join(skipped[:-1])} and {skipped[-1]}"
        return f", {verb} {listed}"


def _counted(days: int, what: str, trigger: str, start: date) -> str:
    count = abs(days)
    direction = "before" if days < 0 else "after"
    return f"{count} {what}{'s' * (count != 1)} {direction} {trigger} ({start:%a %b} {start.day})"


def _bounded(days: int) -> int:
    """Return the same number.  Raises ValueError beyond a century, so that no typed number can make
    counting run away, and none gives a day that nobody counted."""
    if abs(days) > FURTHEST:
        raise ValueError(f"{days:,} days are more than a hundred years")
    return days
