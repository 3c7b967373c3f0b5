"""The functions a formula may call: their types and what they compute.

Eager functions get all their arguments; if one is unknown the result is unknown.  The lazy ones
(``if``, ``coalesce``, ``and``, ``or``) are in evaluation.py, since they look only at what they need.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from datetime import date, time
from decimal import ROUND_HALF_UP, Decimal
from typing import Any

from quillcore import calendars, money
from quillcore.facts.parties import joined
from quillcore.values import amount_in_words, clock
from quillcore.values.kinds import LONGEST
from quillcore.values.words import to_cents


class FormulaRefused(Exception):
    """Internal: a computation that has no answer (division by zero, days out of range), in plain words."""


@dataclass(frozen=True)
class Setting:
    """The setting of formulas besides facts: the pack's calendar, its rates with the day on which they were
    ``released``, and its clock: at what ``hour`` of which ``zone`` a day on which something is due ends."""

    calendar: calendars.Calendar = field(default_factory=calendars.Calendar)
    rates: money.Rates | None = None
    zone: str = "UTC"
    hour: time = time(23, 59)
    released: date | None = None

    @property
    def today(self) -> date:
        """The current day there."""
        with clock.in_zone(clock.zone_named(self.zone)):
            return clock.today()


@dataclass(frozen=True)
class Function:
    """Argument types ("any" takes all; a trailing "*" repeats the last), the result's type, the
    computation."""

    takes: tuple[str, ...]
    gives: str
    compute: Callable[..., Any]
    needs_rates: bool = False
    counts_days: bool = False

    @property
    def needs_pack(self) -> bool:
        """Whether the pack's rates or holidays have a say in it."""
        return self.needs_rates or self.counts_days


def _whole(number: Decimal, what: str) -> int:
    if number != number.to_integral_value() or abs(number) > 100_000:
        raise FormulaRefused(f"{number:,f} isn't a usable number of {what}")
    return int(number)


def _days(number: Decimal) -> int:
    days = _whole(number, "days")
    if abs(days) > calendars.FURTHEST:
        raise FormulaRefused(f"{number:,f} days are more than a hundred years")
    return days


def _round(x: Decimal, places: Decimal) -> Decimal:
    return x.quantize(Decimal(1).scaleb(-min(max(_whole(places, "places"), 0), 10)), rounding=ROUND_HALF_UP)


def _payment(principal: Decimal, rate: Decimal, months: Decimal) -> Decimal:
    if not 1 <= months <= 1200:
        raise FormulaRefused("a loan runs from 1 to 1,200 months")
    return money.payment(principal, rate, _whole(months, "months"))


def _month_shift(rule: Callable[[date, int], date]) -> Callable[[Setting, date, Decimal], date]:
    def shifted(_s: Setting, start: date, months: Decimal) -> date:
        if not -1200 <= months <= 1200:
            raise FormulaRefused("terms run to 1,200 months at most")
        return rule(start, _whole(months, "months"))

    return shifted


def _lease_months(start: date, end: date) -> Decimal:
    months = calendars.lease_months(start, end)
    if months is None:
        raise FormulaRefused("from the start to this end isn't a number of whole months")
    return Decimal(months)


def _names(_s: Setting, parties: Any) -> str:
    return joined([p.name for p in parties if p.name])


def _join(separator: str, texts: Sequence[str]) -> str:
    said = [text for text in texts if text]
    if sum(map(len, said)) + len(separator) * len(said) > 2 * LONGEST:  # refused before it is made
        raise FormulaRefused(f"its text would have more than {LONGEST:,} characters")
    return separator.join(said)


def _count(_s: Setting, *args: Any) -> Decimal:
    return Decimal(len(args[0])) if len(args) == 1 and isinstance(args[0], tuple) else Decimal(len(args))


EAGER: dict[str, Function] = {
    "sum": Function(("money*",), "same", lambda _s, *xs: sum(xs, Decimal(0))),
    "min": Function(("ordered*",), "same", lambda _s, *xs: min(xs)),
    "max": Function(("ordered*",), "same", lambda _s, *xs: max(xs)),
    "round": Function(("money", "number"), "same", lambda _s, x, n: _round(x, n)),
    "count": Function(("any*",), "number", _count),
    "join": Function(("text", "any*"), "text", lambda _s, sep, *xs: _join(sep, xs)),
    "upper": Function(("text",), "text", lambda _s, t: t.upper()),
    "names": Function(("parties",), "text", _names),
    "words": Function(("money",), "text", lambda _s, x: amount_in_words(x)),
    "money": Function(("money",), "money", lambda _s, x: to_cents(x)),
    "year": Function(("date",), "number", lambda _s, d: Decimal(d.year)),
    "days_between": Function(("date", "date"), "number", lambda _s, a, b: Decimal((b - a).days)),
    "days_after": Function(
        ("date", "number"),
        "date",
        lambda s, d, n: s.calendar.days_after(d, _days(n)),
        counts_days=True,
    ),
    "days_after_as_is": Function(
        ("date", "number"), "date", lambda s, d, n: s.calendar.days_after_as_is(d, _days(n))
    ),
    "business_days_after": Function(
        ("date", "number"),
        "date",
        lambda s, d, n: s.calendar.business_days_after(d, _days(n)),
        counts_days=True,
    ),
    "months_after": Function(("date", "number"), "date", _month_shift(calendars.months_after)),
    "lease_end": Function(("date", "number"), "date", _month_shift(calendars.lease_end)),
    "lease_months": Function(("date", "date"), "number", lambda _s, a, b: _lease_months(a, b)),
    "part_month_rent": Function(("money", "date"), "money", lambda _s, r, d: money.part_month_rent(r, d)),
    "payment": Function(("money", "percent", "number"), "money", lambda _s, p, r, n: _payment(p, r, n)),
    "prepaid_interest": Function(
        ("money", "percent", "date"), "money", lambda _s, p, r, d: money.prepaid_interest(p, r, d)
    ),
    "tax_owed": Function(("money", "date"), "money", lambda _s, a, d: money.tax_owed(a, d)),
    "transfer_tax": Function(
        ("money",), "money", lambda s, p: money.transfer_tax(p, s.rates), needs_rates=True
    ),
    "title_premium": Function(
        ("money",), "money", lambda s, p: money.title_premium(p, s.rates), needs_rates=True
    ),
    "rates_of": Function((), "date", lambda s: s.released, needs_rates=True),
}
