"""Bounds of values: bounds.yaml, read once. A value beyond is met with a sentence when it is typed."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from fnmatch import fnmatchcase
from functools import cache, lru_cache
from pathlib import Path

import yaml

from quillcore.values import KINDS, Fault, Value, clock

_FILE = Path(__file__).with_name("bounds.yaml")
_THIS_YEAR = "year + "


@dataclass(frozen=True)
class Bounds:
    """The least and the most that may be typed (None: no end), why, and what to do instead."""

    keys: tuple[str, ...] = ()
    kind: str | None = None
    least: str | None = None
    most: str | None = None
    because: str = ""
    mend: str = ""

    def fit(self, key: str, kind: str) -> bool:
        """Return whether these are the bounds of that key."""
        fits_kind = self.kind is None or self.kind == kind
        return fits_kind and (not self.keys or any(fnmatchcase(key, one) for one in self.keys))


@cache
def _all() -> tuple[Bounds, ...]:
    rows = yaml.safe_load(_FILE.read_text(encoding="utf-8"))
    return tuple(Bounds(**{**row, "keys": tuple(row.get("keys", ()))}) for row in rows)


@lru_cache(maxsize=4096)
def bounds_of(key: str, kind: str) -> Bounds | None:
    """Return the bounds of a fact's key, or of an own blank's id; None for what has none."""
    return next((one for one in _all() if one.fit(key, kind)), None)


def beyond(key: str, kind: str, label: str, value: Value, today: date | None = None) -> Fault | None:
    """Return what is wrong with a value that can't be; None for one that can."""
    found = bounds_of(key, kind) if isinstance(value, Decimal) else None
    if found is None or not isinstance(value, Decimal):
        return None
    year = (today or clock.today()).year
    least, most = _end(found.least, year), _end(found.most, year)
    shown = KINDS[kind].on_screen
    if least is not None and value < least:
        said = f"“{label}” can't be less than {shown(least)}: {found.because}."
    elif most is not None and value > most:
        said = f"“{label}” can't be more than {shown(most)}: {found.because}."
    else:
        return None
    return Fault("bounds", said, found.mend, key)


def _end(text: str | None, year: int) -> Decimal | None:
    if text is None:
        return None
    if text.startswith(_THIS_YEAR):
        return Decimal(year + int(text.removeprefix(_THIS_YEAR)))
    return Decimal(text)
