"""The dates of a deal that somebody has to keep: the catalog says which facts are such dates, and until
when."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from typing import NamedTuple

from quillcore.facts import Catalog
from quillcore.facts.catalog import Fact
from quillcore.formulas import Sheet


class KeyDate(NamedTuple):
    """One day, as the fact of ``key`` says it; ``label`` is what is due then, in a few words."""

    day: date
    label: str
    key: str


def key_dates(sheet: Sheet, catalog: Catalog) -> list[KeyDate]:
    """What is due in a deal, earliest first; what has been overtaken (an offer's expiry once it is accepted)
    is left out, what isn't known yet, and what only the other side has to keep (a listing's end, when
    buying)."""
    found = ((fact, sheet.held(fact.key).value) for fact in catalog.due if not _is_over(sheet, fact))
    return sorted(KeyDate(day, fact.due, fact.key) for fact, day in found if isinstance(day, date))


def _is_over(sheet: Sheet, fact: Fact) -> bool:
    if fact.own_side not in (None, sheet.ledger.side):
        return True
    return fact.until is not None and sheet.held(fact.until).value is not None


def next_date(dates: Sequence[KeyDate], today: date) -> KeyDate | None:
    """Of dates, earliest first, the one that is next: today's still is; None when all have passed."""
    return next((d for d in dates if d.day >= today), None)
