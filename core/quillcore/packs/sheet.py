"""A pack's own sheet: whose forms they are, since when, and the holidays and rates that formulas stand on."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import date, time
from decimal import Decimal
from typing import Any

from quillcore.calendars import Calendar
from quillcore.forms.model import Data, Form, Name, Number, Sentence, Word
from quillcore.formulas import Rates, Setting

FILE_NAME = re.compile(r"[a-z0-9][a-z0-9-]{0,79}")


class RateTable(Data):
    """A pack's rates as written: see ``quillcore.money.Rates``."""

    transfer_tax: tuple[Decimal, Decimal]
    title_brackets: tuple[tuple[Decimal | None, Decimal], ...]
    title_minimum: Decimal


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

    def setting(self) -> Setting:
        """The calendar, rates and clock that formulas stand on."""
        rates = Rates(self.rates.transfer_tax, self.rates.title_brackets, self.rates.title_minimum)
        return Setting(Calendar(self.holidays), rates, self.time_zone, self.deadline_time, self.released)


@dataclass(frozen=True)
class Pack:
    """One release of an association's forms.  ``templates`` are the files' parsed content by file name."""

    sheet: PackSheet
    forms: dict[str, Form]
    templates: dict[str, Any]
