"""Listings and parcels as homes that were found."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING, Any

from quillcore.facts.intake import category_of

if TYPE_CHECKING:
    from goodquill.http import wire


def _line(record: Mapping[str, Any], street: Sequence[str], unit: str, city: str) -> str:
    said = " ".join(str(record[k]) for k in street if record.get(k)) + (
        f" Unit {record[unit]}" if record.get(unit) else ""
    )
    return ", ".join(x for x in (said, str(record.get(city) or "")) if x)


def parcel_found(row: Mapping[str, Any]) -> wire.Found:
    """Return a row of a roll as a home that was found."""
    line = _line(
        row, ("situs_number", "situs_direction", "situs_street", "situs_suffix"), "situs_unit", "situs_city"
    )
    return {
        "listing": "",
        "parcel": row.get("parcel", ""),
        "county": row.get("county", ""),
        "address": line,
        "status": "",
        "price": "",
        "owner": row.get("owner", ""),
        "kind": "sale",
        "category": row.get("land_use", ""),
    }


def listing_found(record: Mapping[str, Any]) -> wire.Found:
    """Return a listing as a home that was found."""
    price = record.get("ListPrice")
    return {
        "listing": str(record.get("ListingId") or ""),
        "parcel": str(record.get("ParcelNumber") or ""),
        "county": str(record.get("CountyOrParish") or ""),
        "owner": "",
        "address": _line(
            record, ("StreetNumber", "StreetDirPrefix", "StreetName", "StreetSuffix"), "UnitNumber", "City"
        ),
        "kind": "lease" if "Lease" in str(record.get("PropertyType")) else "sale",
        "category": category_of(record),
        "status": str(record.get("StandardStatus") or ""),
        "price": f"${price:,.0f}" if isinstance(price, (int, float)) and abs(price) < 1e12 else "",
    }


def home_of(record: Mapping[str, Any]) -> dict[str, object]:
    """Return a listing as a home that was seen."""
    return {k: v for k, v in listing_found(record).items() if k not in ("status", "owner")}
