"""Dates and times as people type them in the United States."""

from __future__ import annotations

import calendar
import re
from datetime import date, time, timedelta

from quillcore.values.errors import Fault

EARLIEST, LATEST = date(1600, 1, 1), date(2199, 12, 31)
_MONTH_NAMES = tuple(calendar.month_name)
_MONTHS = {name.lower(): i for i, name in enumerate(_MONTH_NAMES) if name}
_MONTHS |= {name.lower(): i for i, name in enumerate(calendar.month_abbr) if name} | {"sept": 9}
_DAYS = {name.lower(): i for i, name in enumerate(calendar.day_name)}
_DAYS |= {name.lower(): i for i, name in enumerate(calendar.day_abbr)} | {"tues": 1, "thur": 3, "thurs": 3}
_HOW = "Write it like 3/9/2027, March 9, 2027, fri or +10."


def parse_date(text: str, today: date) -> date | Fault:
    """``3/9/27``, ``March 9, 2027``, ``9 Mar 2027``, ``2027-03-09``, ``today``, ``tomorrow``, ``fri``
    (the next one after today), ``+10`` (days from today).  A date without a year is the next such day."""
    said = text.strip().lower().rstrip(".").replace(",", " ")
    said = re.sub(r"(\d)(st|nd|rd|th)\b", r"\1", said)
    if said in ("today", "now"):
        return today
    if said == "tomorrow":
        return today + timedelta(days=1)
    if said in _DAYS:
        return today + timedelta(days=(_DAYS[said] - today.weekday() - 1) % 7 + 1)
    if m := re.fullmatch(r"([+-])\s*(\d{1,4})(?:\s*(?:d|days?))?", said):
        return _bounded(today + timedelta(days=int(m[1] + m[2])), text)
    if m := re.fullmatch(r"(\d{4})-(\d{1,2})-(\d{1,2})", said):
        return _day(int(m[1]), int(m[2]), int(m[3]), text)
    if m := re.fullmatch(r"(\d{1,2})[/.\-](\d{1,2})(?:[/.\-](\d{4}|\d{2}))?", said):
        return _with_year(m[3], int(m[1]), int(m[2]), text, today)
    if (m := re.fullmatch(r"([a-z]+)\.?\s+(\d{1,2})(?:\s+(\d{4}|\d{2}))?", said)) and m[1] in _MONTHS:
        return _with_year(m[3], _MONTHS[m[1]], int(m[2]), text, today)
    if (m := re.fullmatch(r"(\d{1,2})\s+([a-z]+)\.?(?:\s+(\d{4}|\d{2}))?", said)) and m[2] in _MONTHS:
        return _with_year(m[3], _MONTHS[m[2]], int(m[1]), text, today)
    return Fault("date", f"“{text.strip()}” isn't a date that can be read.", _HOW)


def _with_year(year: str | None, month: int, day: int, text: str, today: date) -> date | Fault:
    if year is not None:
        return _day(int(year) + (2000 if len(year) == 2 else 0), month, day, text)
    this = _day(today.year, month, day, text)
    if isinstance(this, Fault) and (month, day) != (2, 29):
        return this
    if isinstance(this, date) and this >= today:
        return this
    return _day(today.year + 1, month, day, text)


def _day(year: int, month: int, day: int, text: str) -> date | Fault:
    if not 1 <= month <= 12:
        return Fault("date", f"“{text.strip()}” has no month {month}.", _HOW)
    last = calendar.monthrange(year, month)[1] if 1 <= year <= 9999 else 31
    if not 1 <= day <= last:
        name = f"{_MONTH_NAMES[month]} {year}" if month == 2 else _MONTH_NAMES[month]
        return Fault("date", f"{name} has {last} days, so “{text.strip()}” isn't a date.", "Check the day.")
    return _bounded(date(year, month, day), text) if 1 <= year <= 9999 else _absurd(text)


def _bounded(day: date, text: str) -> date | Fault:
    return day if EARLIEST <= day <= LATEST else _absurd(text)


def _absurd(text: str) -> Fault:
    return Fault(
        "date",
        f"“{text.strip()}” is too far away.",
        f"Years run from {EARLIEST.year} to {LATEST.year}.",
    )


def print_date(day: date) -> str:
    """Print a day: June 15, 2027."""
    return f"{_MONTH_NAMES[day.month]} {day.day}, {day.year}"


def parse_time(text: str) -> time | Fault:
    """Read ``5pm``, ``5:30 p.m.``, ``17:00``, ``noon``, ``midnight``."""
    said = text.strip().lower().replace(".", "").replace(" ", "")
    if said in ("noon", "midnight"):
        return time(12) if said == "noon" else time(0)
    m = re.fullmatch(r"(\d{1,2})(?::(\d{2}))?(am|pm|a|p)?", said)
    if m and (m[2] or m[3]):
        hour, minute, half = int(m[1]), int(m[2] or 0), (m[3] or "")[:1]
        if half and 1 <= hour <= 12:
            hour = hour % 12 + (12 if half == "p" else 0)
        elif half:
            hour = 99
        if hour < 24 and minute < 60:
            return time(hour, minute)
    return Fault("time", f"“{text.strip()}” isn't a time of day.", "Write it like 5pm or 17:00.")


def print_time(at: time) -> str:
    """Print a time: 5:00 PM."""
    return f"{at.hour % 12 or 12}:{at.minute:02d} {'AM' if at.hour < 12 else 'PM'}"
