"""A pack's own sheet: whose forms they are, since when, and the holidays and rates that formulas stand on."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import date, time
from decimal import Decimal
from typing import Any, Self

from pydantic import field_validator, model_validator

from quillcore.calendars import Calendar
from quillcore.forms.model import Data, Form, Name, Number, Sentence, Word
from quillcore.formulas import Rates, Setting
from quillcore.values.clock import zone_named

FILE_NAME = re.compile(r"[a-z0-9][a-z0-9-]{0,79}")


class RateTable(Data):
    """A pack's rates as written: see ``quillcore.money.Rates``."""

    transfer_tax: tuple[Decimal, Decimal]
    title_brackets: tuple[tuple[Decimal | None, Decimal], ...]
    title_minimum: Decimal

    @model_validator(mode="after")
    def _makes_sense(self) -> Self:
        """Return whether rates can be: none negative, brackets that rise, and one for the rest."""
        tax, per = self.transfer_tax
        if tax < 0 or per <= 0:
            raise ValueError("The transfer tax is an amount from 0 for each so many dollars, above 0")
        ends = [end for end, _ in self.title_brackets]
        known = [end for end in ends if end is not None]
        if not ends or ends[-1] is not None or len(known) != len(ends) - 1:
            raise ValueError("The last title bracket, and no other, is for the rest: its end is null")
        if known != sorted(set(known)) or any(end <= 0 for end in known):
            raise ValueError("Each title bracket ends above the one before")
        if self.title_minimum < 0 or any(rate < 0 for _, rate in self.title_brackets):
            raise ValueError("No rate is below 0")
        return self


class PackSheet(Data):
    """``pack.yaml``.  ``prescribed`` names the parts whose words a law prescribes to the letter, with a
    remark on whose words they are now."""

    association: Name
    short: Name
    state: Number
    state_name: Word = ""
    released: date
    time_zone: Word
    deadline_time: time
    holidays: dict[date, str]
    rates: RateTable
    forms: tuple[Number, ...]
    built_from: Word = ""
    prescribed: dict[Word, Sentence] = {}

    @field_validator("time_zone")
    @classmethod
    def _is_a_zone(cls, name: str) -> str:
        if zone_named(name) is None:
            raise ValueError(f"There is no time zone “{name}”; write it as America/Denver")
        return name

    def setting(self) -> Setting:
        """Return the calendar, rates and clock that formulas stand on."""
        rates = Rates(self.rates.transfer_tax, self.rates.title_brackets, self.rates.title_minimum)
        return Setting(Calendar(self.holidays), rates, self.time_zone, self.deadline_time, self.released)


@dataclass(frozen=True)
class Pack:
    """One release of an association's forms.  ``templates`` are the files' parsed content by file name."""

    sheet: PackSheet
    forms: dict[str, Form]
    templates: dict[str, Any]
