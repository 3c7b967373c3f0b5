"""Money sheets: sums taken apart into their lines, other cases beside the deal's own, and what has to be so
that a sum comes out as wanted."""

from quillcore.estimates.lines import MoneyLine, MoneySheet, lines_of, money_sheets
from quillcore.estimates.solving import Solved, solve
from quillcore.estimates.what_if import what_if

__all__ = ["MoneyLine", "MoneySheet", "Solved", "lines_of", "money_sheets", "solve", "what_if"]
