"""A property report: what the county's roll knows of one parcel, ordered for reading and printing."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import ROUND_HALF_UP, Decimal
from typing import Any

from quillcore.facts.catalog import Catalog
from quillcore.facts.intake import from_roll
from quillcore.facts.owners import Owner, read_owners
from quillcore.values import KINDS, Fault, Value, shown
from quillcore.values.kinds import area_in_square_feet
from quillcore.values.structured import digits

_SECTIONS = {
    "On the plat": ("property.legal_description", "property.subdivision", "property.lot", "property.block"),
    "Building and land": (
        "property.category",
        "property.year_built",
        "property.living_area",
        "property.lot_size",
        "property.zoning",
        "property.flood_zone",
    ),
    "Ownership": ("tax.owners", "tax.mailing_address", "tax.exemptions", "tax.deed"),
}


@dataclass(frozen=True)
class Year:
    """One year of the assessment.  ``change`` is in percent of the year before (one place), None for the
    first."""

    year: int
    assessed: Decimal | None
    change: Decimal | None
    tax: Decimal | None


@dataclass(frozen=True)
class Sale:
    """One sale, the newest first.  ``per_foot`` is the price for a square foot of living area."""

    on: date
    price: Decimal | None
    per_foot: Decimal | None
    deed: str


@dataclass(frozen=True)
class Report:
    """``address`` on one line; ``sections`` hold labels with texts; ``owners`` are the recorded line read as
    people."""

    address: str
    parcel: str
    county: str
    sections: Mapping[str, Sequence[tuple[str, str]]]
    owners: Sequence[Owner]
    years: Sequence[Year]
    sales: Sequence[Sale]


def property_report(catalog: Catalog, row: Mapping[str, Any], history: Mapping[str, Any]) -> Report:
    """Return the report of one row of the roll with its ``history``: {"assessments": [{year, assessed, tax}],
    "sales": [{date, price, deed}]}.  What can't be read is left out."""
    facts, _ = from_roll(catalog, row)

    def text(key: str) -> str:
        value = facts.get(key)
        return shown(value, catalog[key].kind)

    parts = ("street_number", "direction", "street_name", "street_suffix")
    line = " ".join(filter(None, (text(f"property.{p}") for p in parts)))
    line += f" Unit {text('property.unit')}" if text("property.unit") else ""
    place = " ".join(filter(None, (text("property.state"), text("property.postal_code"))))
    sections = {
        title: tuple((catalog[key].label, text(key)) for key in keys if catalog.find(key) and text(key))
        for title, keys in _SECTIONS.items()
    }
    area = facts.get("property.living_area")
    feet = area_in_square_feet(area) if isinstance(area, str) else Decimal(0)
    return Report(
        ", ".join(filter(None, (line, text("property.city"), place))),
        text("property.parcel_number"),
        text("property.county"),
        sections,
        read_owners(text("tax.owners")),
        _years(history.get("assessments")),
        _sales(history.get("sales"), feet or Decimal(0)),
    )


def _value(kind: str, raw: Any) -> Value | None:
    read = KINDS[kind].read(str(raw), ()) if raw not in (None, "") else None
    return None if isinstance(read, Fault) else read


def _amount(raw: Any) -> Decimal | None:
    value = _value("money", raw)
    return value if isinstance(value, Decimal) else None


def _years(rows: Any) -> tuple[Year, ...]:
    known = (
        [r for r in rows if isinstance(r, dict) and digits(str(r.get("year", "")), 4) is not None]
        if isinstance(rows, list)
        else []
    )
    years: list[Year] = []
    for r in sorted(known, key=lambda r: int(r["year"])):
        assessed, before = _amount(r.get("assessed")), years[-1].assessed if years else None
        change = (
            ((assessed - before) / before * 100).quantize(Decimal("0.1"), ROUND_HALF_UP)
            if assessed is not None and before
            else None
        )
        years.append(Year(int(r["year"]), assessed, change, _amount(r.get("tax"))))
    return tuple(reversed(years))


def _sales(rows: Any, feet: Decimal) -> tuple[Sale, ...]:
    sales = []
    for r in rows if isinstance(rows, list) else []:
        on = _value("date", r.get("date")) if isinstance(r, dict) else None
        if not isinstance(on, date):
            continue
        price = _amount(r.get("price"))
        per_foot = (
            (price / feet).quantize(Decimal("0.01"), ROUND_HALF_UP)
            if price is not None and feet > 0
            else None
        )
        sales.append(Sale(on, price, per_foot, str(r.get("deed") or "")))
    return tuple(sorted(sales, key=lambda s: s.on, reverse=True))
