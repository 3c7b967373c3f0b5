"""The kinds of value, each knowing how to read, keep, print and compare itself."""

from __future__ import annotations

import enum
import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import date, time
from decimal import ROUND_HALF_UP, Decimal, InvalidOperation
from typing import Any

from quillcore.values import clock, dates
from quillcore.values.addresses import normal_form
from quillcore.values.errors import Fault
from quillcore.values.scripts import tidy, unsettable
from quillcore.values.words import to_cents


class Empty(enum.Enum):
    """The answer "none", given on purpose."""

    EMPTY = "empty"


EMPTY = Empty.EMPTY
Printable = str | Decimal | bool | date | time
"""A value that a paper can print; "none" is none: the form or the screen has a word of its own for it."""
Value = Printable | Empty

LARGEST = Decimal(10) ** 12
LONGEST = 10_000
SHORT, LINE = 60, 300
"""The longest date in words has 30 characters, the longest address on one line some 150."""
_FINEST = Decimal("0.0001")
_RATE, _HUNDREDTH = Decimal("0.001"), Decimal("0.01")
_SUFFIX = {"k": Decimal(1000), "m": Decimal(1_000_000)}


@dataclass(frozen=True)
class ValueKind:
    """One kind of value.

    ``parse`` takes what was typed (never blank) and gives a value or a Fault; ``keep`` gives the
    canonical text that is stored, and ``restore`` its inverse; ``in_blank`` is what a form prints
    (the form prints "$" and "%" itself), ``on_screen`` what a screen shows.
    """

    name: str
    parse: Callable[[str, Sequence[str], date], Printable | Fault]
    keep: Callable[[Printable], str]
    restore: Callable[[str], Printable]
    in_blank: Callable[[Printable], str]
    on_screen: Callable[[Printable], str]
    numeric: bool = False
    longest: int = LONGEST
    """Characters that are read at all."""
    normal: Callable[[str], str] | None = None
    """Brings text to the form in which it is compared; without one, case, spacing and punctuation don't
    count."""
    formula: str = "text"
    """The type that such a value has in formulas."""
    width: str = "50"
    """The usual width of its blank on a form, in millimeters, or "full"; ``align`` how a blank sets it."""
    align: str = "left"
    ask: str = ""
    """The words that make a question of a label; "" where a question mark does."""
    counted: bool = False
    """Whether a label such as "Notice in days" asks how many days."""

    def read(self, text: str, options: Sequence[str] = (), today: date | None = None) -> Printable | Fault:
        """Read what was typed.  ``options`` are the choices a choice allows; ``today`` anchors "fri"."""
        if len(text) > 2 * LONGEST:
            return _too_long(len(text), LONGEST)
        clean = tidy(text)
        if len(clean) > self.longest:
            return _too_long(len(clean), self.longest)
        return unsettable(clean) or self.parse(clean, options, today or clock.today())

    def same(self, a: Value, b: Value) -> bool:
        """Return whether both are equal once normalised."""
        if isinstance(a, str) and isinstance(b, str):
            normal = self.normal or _bare
            return normal(a) == normal(b)
        return a == b


def _too_long(count: int, most: int) -> Fault:
    return Fault(
        "length",
        f"That is {count:,} characters; {most:,} is the most that is read here.",
        "Shorten it, or put it in another blank.",
    )


def _bare(text: str) -> str:
    return re.sub(r"[\W_]+", "", text).casefold()


def _text(text: str, _options: Sequence[str], _today: date) -> Printable | Fault:
    return " ".join(text.split())


def _long_text(text: str, _options: Sequence[str], _today: date) -> Printable | Fault:
    return text


def read_number(text: str, what: str, example: str) -> Decimal | Fault:
    """Return a decimal number with US grouping, "k" and "m"; an accountant's parentheses are negative."""
    bare = text.replace("$", "").replace(" ", "").lower().removesuffix("dollars")
    negative = bare.startswith("(") and bare.endswith(")")
    bare = bare.strip("()") if negative else bare
    factor = _SUFFIX.get(bare[-1:], Decimal(1))
    digits = bare[:-1] if bare[-1:] in _SUFFIX else bare
    if re.fullmatch(r"[+-]?(\d{1,3}(,\d{3})+|\d+)(\.\d*)?|[+-]?\.\d+", digits):
        try:
            number = Decimal(digits.replace(",", "")) * factor * (-1 if negative else 1)
        except InvalidOperation:  # more digits than Decimal keeps
            number = LARGEST
        if abs(number) >= LARGEST:
            return Fault(
                "range", f"“{text}” is larger than any {what} on a form.", "Check the number of zeros."
            )
        return number
    return Fault(
        what,
        f"“{text}” isn't {'an' if what[0] in 'aeiou' else 'a'} {what}.",
        f"Type digits, such as {example}.",
    )


def _money(text: str, _options: Sequence[str], _today: date) -> Printable | Fault:
    amount = read_number(text, "amount", "412,500 or 412.5k")
    if isinstance(amount, Fault):
        return amount
    if amount != to_cents(amount):
        return Fault(
            "amount", f"“{text}” has fractions of a cent.", "Give at most two places after the point."
        )
    return to_cents(amount)


def _exact_money(text: str, _options: Sequence[str], _today: date) -> Printable | Fault:
    """Return an amount to the hundredth of a cent: lenders state interest a day so."""
    amount = read_number(text, "amount", "54.1096")
    if isinstance(amount, Decimal) and amount != amount.quantize(_FINEST):
        return Fault("amount", f"“{text}” has more than four places.", "Round it to four places.")
    return amount


def _print_exact(value: Printable) -> str:
    """Print a number with as many places as it has, two at least."""
    assert isinstance(value, Decimal)
    return f"{value:,.2f}" if value == to_cents(value) else f"{value.normalize():,f}"


def _percent(text: str, _options: Sequence[str], _today: date) -> Printable | Fault:
    number = read_number(text.replace("%", "").removesuffix(" percent"), "percentage", "3 or 2.5%")
    if isinstance(number, Decimal) and abs(number) > 1000:
        return Fault("range", f"“{text}” is too large for a percentage.", "Type 3 for three percent.")
    return _plain(number) if isinstance(number, Decimal) else number


def _number(text: str, _options: Sequence[str], _today: date) -> Printable | Fault:
    number = read_number(text, "number", "3 or 2.5")
    return _plain(number) if isinstance(number, Decimal) else number


def _integer(text: str, _options: Sequence[str], _today: date) -> Printable | Fault:
    number = read_number(text, "whole number", "30")
    if isinstance(number, Decimal) and number != number.to_integral_value():
        return Fault("whole number", f"“{text}” isn't a whole number.", "Leave out the fraction.")
    return _plain(number) if isinstance(number, Decimal) else number


def _plain(number: Decimal) -> Decimal:
    """Return the number without trailing zeros and without an exponent: 5.250 is 5.25, 1E+2 is 100."""
    return number.quantize(Decimal(1)) if number == number.to_integral_value() else number.normalize()


_YES = {"y", "yes", "true", "x", "1"}
_NO = {"n", "no", "false", "0"}


def _yes_no(text: str, _options: Sequence[str], _today: date) -> Printable | Fault:
    said = text.lower()
    if said in _YES or said in _NO:
        return said in _YES
    return Fault("yes/no", f"“{text}” is not yes or no.", "Type y or n.")


def _choice(text: str, options: Sequence[str], _today: date) -> Printable | Fault:
    exact = [o for o in options if _bare(o) == _bare(text)]
    near = exact or [o for o in options if _bare(text) and _bare(o).startswith(_bare(text))]
    if len(near) == 1:
        return near[0]
    listed = ", ".join(options)
    if near:
        return Fault("choice", f"“{text}” could be {' or '.join(near)}.", "Type a few more letters.")
    return Fault(
        "choice", f"“{text}” isn't one of the choices.", f"The choices are: {listed}." if listed else ""
    )


def _date(text: str, _options: Sequence[str], today: date) -> Printable | Fault:
    return dates.parse_date(text, today)


def _time(text: str, _options: Sequence[str], _today: date) -> Printable | Fault:
    return dates.parse_time(text)


def _phone(text: str, _options: Sequence[str], _today: date) -> Printable | Fault:
    digits = re.sub(r"[\s().\-]", "", text)
    m = re.fullmatch(r"(?:\+?1)?(\d{3})(\d{3})(\d{4})(?:(?:x|ext)(\d{1,6}))?", digits.lower())
    if m:
        return f"({m[1]}) {m[2]}-{m[3]}" + (f" ext. {m[4]}" if m[4] else "")
    if re.fullmatch(r"\+\d{7,15}", digits):
        return text
    return Fault("phone", f"“{text}” isn't a phone number.", "Type ten digits, or + and the country code.")


def _email(text: str, _options: Sequence[str], _today: date) -> Printable | Fault:
    if re.fullmatch(r"[^@\s,;<>]+@[^@\s,;<>]+\.[^@\s,;<>.]{2,}", text) and len(text) <= 254:
        return text
    return Fault("email", f"“{text}” isn't an e-mail address.", "It needs a name, an @ and a domain.")


_ACRE = {"ac", "acre", "acres"}
_FOOT = {"", "sf", "sqft", "sqfeet", "squarefeet", "sq", "ft2", "sqfoot"}


def _area(text: str, _options: Sequence[str], _today: date) -> Printable | Fault:
    m = re.fullmatch(r"([\d,.]+)\s*([a-z. 0-9]*)", text.lower())
    unit = re.sub(r"[. ]", "", m[2]) if m else ""
    number = read_number(m[1], "area", "2,150 sq ft or 0.25 ac") if m else None
    if isinstance(number, Decimal) and (unit in _ACRE or unit in _FOOT):
        shown = _plain(number)
        return f"{shown:,f} acres" if unit in _ACRE else f"{shown:,f} sq ft"
    if isinstance(number, Fault) and number.rule == "range":
        return number
    return Fault("area", f"“{text}” isn't an area.", "Type it like 2,150 sq ft or 0.25 acres.")


def area_in_square_feet(area: str) -> Decimal:
    """Return square feet of a value of kind ``area`` ("0.25 acres" is 10,890)."""
    amount, unit = area.split(" ", 1)
    return Decimal(amount.replace(",", "")) * (43_560 if unit == "acres" else 1)


def _kept(value: Printable) -> str:
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, Decimal):
        return f"{value:f}"
    if isinstance(value, (date, time)):
        return value.isoformat()
    assert isinstance(value, str)
    return value


def _decimal(text: str) -> Printable:
    return Decimal(text)


def _same_text(text: str) -> Printable:
    return text


def _in_blank(value: Printable) -> str:
    if isinstance(value, bool):
        return "Yes" if value else "No"
    if isinstance(value, Decimal):
        return f"{value:,f}"
    if isinstance(value, date):
        return dates.print_date(value)
    if isinstance(value, time):
        return dates.print_time(value)
    assert isinstance(value, str)
    return value


def _money_on_screen(value: Printable) -> str:
    assert isinstance(value, Decimal)
    return f"-${-value:,.2f}" if value < 0 else f"${value:,.2f}"


def _plain_digits(value: Printable) -> str:
    assert isinstance(value, Decimal)
    return f"{value:f}"


def _print_rate(value: Printable) -> str:
    """Return a percentage as forms print it: a rate has three places; a quotient that has more is printed
    with two, and stays what it is where a rule compares it."""
    assert isinstance(value, Decimal)
    if value != value.quantize(_RATE):
        value = value.quantize(_HUNDREDTH, rounding=ROUND_HALF_UP).normalize()
    return f"{value:,f}"


def _kind(
    name: str,
    parse: Callable[[str, Sequence[str], date], Printable | Fault],
    longest: int = LONGEST,
    restore: Callable[[str], Printable] = _same_text,
    in_blank: Callable[[Printable], str] = _in_blank,
    on_screen: Callable[[Printable], str] | None = None,
    **how: Any,
) -> ValueKind:
    return ValueKind(name, parse, _kept, restore, in_blank, on_screen or in_blank, longest=longest, **how)


def _numeric(
    name: str,
    parse: Callable[[str, Sequence[str], date], Printable | Fault],
    in_blank: Callable[[Printable], str] = _in_blank,
    on_screen: Callable[[Printable], str] | None = None,
    restore: Callable[[str], Printable] = _decimal,
    formula: str = "number",
    **how: Any,
) -> ValueKind:
    return _kind(name, parse, SHORT, restore, in_blank, on_screen, numeric=True, formula=formula, **how)


KINDS: dict[str, ValueKind] = {
    kind.name: kind
    for kind in (
        _kind("text", _text),
        _kind("long_text", _long_text, width="full"),
        _kind("name", _text, 2_000, width="76"),
        _kind("address", _text, 2_000, normal=normal_form, width="96"),
        _kind("choice", _choice, LINE),
        _kind("phone", _phone, SHORT, width="40"),
        _kind("email", _email, LINE, width="66"),
        _kind("area", _area, SHORT, width="30", ask="how large?"),
        _numeric(
            "money",
            _money,
            lambda v: f"{v:,.2f}",
            _money_on_screen,
            lambda t: to_cents(Decimal(t)),
            formula="money",
            width="30",
            align="right",
            ask="how much?",
        ),
        _numeric(
            "exact_money",
            _exact_money,
            _print_exact,
            lambda v: f"${_print_exact(v)}",
            formula="money",
            width="30",
            align="right",
            ask="how much?",
        ),
        _numeric(
            "percent",
            _percent,
            _print_rate,
            lambda v: f"{_print_rate(v)}%",
            formula="percent",
            counted=True,
            width="18",
            align="center",
            ask="what percent?",
        ),
        _numeric("number", _number, counted=True, width="18", align="center"),
        _numeric("integer", _integer, counted=True, width="14", align="center", ask="how many?"),
        # A year is a number that is never grouped: 1962, not 1,962.
        _numeric("year", _integer, _plain_digits, width="16", align="center", ask="which year?"),
        _kind("date", _date, SHORT, date.fromisoformat, formula="date", width="40", ask="which day?"),
        _kind("time", _time, SHORT, time.fromisoformat, formula="time", width="22", ask="at what time?"),
        _kind("yes_no", _yes_no, SHORT, lambda t: t == "yes", formula="yes_no"),
    )
}


def kind_named(name: str) -> ValueKind:
    """Return the kind of that name; a KeyError is a bug in the catalog, which is checked when loaded."""
    return KINDS[name]


def read_answer(text: str, kind: str, options: Sequence[str] = ()) -> Value | Fault:
    """Return the value that a text states: "none" is the answer that there is none, unless it may be a
    choice."""
    if text.strip().lower() == "none" and kind != "choice":
        return EMPTY
    return KINDS[kind].read(text, options)


def shown(value: Value | None, kind: str) -> str:
    """Return a value as a screen shows it; "" for none."""
    return "" if value is None else "None" if value is EMPTY else KINDS[kind].on_screen(value)


def editable(value: Value | None, kind: str) -> str:
    """Return a value as it is typed over: dates and amounts as people write them; "" for none."""
    return "" if value is None else "None" if value is EMPTY else KINDS[kind].in_blank(value)
