"""A listing's record and a roll's row, turned into facts.

Both are read by the names the catalog gives (``reso``: RESO Data Dictionary field; ``roll``: column
of the county's file).  What can't be read is left out and told, never guessed.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

from quillcore.facts.catalog import Catalog
from quillcore.values import Fault, Value

_HAZARD = re.compile(r"A(E|H|O|R|99|\d{1,2})?|V(E|\d{1,2})?")
_OUTSIDE = re.compile(r"B|C|X(500)?|X\(?(SHADED|UNSHADED)\)?")
_CATEGORY = {
    "single family residence": "single-family",
    "condominium": "condominium",
    "townhouse": "townhouse",
    "manufactured home": "manufactured",
    "duplex": "multi-family 2–4",
    "triplex": "multi-family 2–4",
    "quadruplex": "multi-family 2–4",
    "unimproved land": "land",
    "farm": "farm",
    "office": "commercial",
    "retail": "commercial",
    "warehouse": "industrial",
}


def from_listing(catalog: Catalog, record: Mapping[str, Any]) -> tuple[dict[str, Value], list[Fault]]:
    """Facts of one RESO Property record, and what in it could not be read."""
    flat = dict(record)
    if (acres := flat.get("LotSizeAcres")) is not None and flat.get("LotSizeSquareFeet") is None:
        flat["LotSizeSquareFeet"] = f"{acres} acres"
    flat["PropertySubType"] = category_of(record) or flat.get("PropertySubType")
    return _read(catalog, flat, "reso")


def category_of(record: Mapping[str, Any]) -> str:
    """What the catalog calls a listing's kind of property; "" where the listing's word isn't known."""
    return _CATEGORY.get(str(record.get("PropertySubType") or "").lower(), "")


def from_roll(catalog: Catalog, row: Mapping[str, Any]) -> tuple[dict[str, Value], list[Fault]]:
    """Facts of one row of a county roll, and what in it could not be read."""
    return _read(catalog, {**row, "flood_zone": flood_of(row.get("flood_zone"))}, "roll")


def flood_of(said: Any) -> Any:
    """What a flood zone's letters on the federal maps mean: A and V lie in the mapped hazard area; B, C and X
    outside.  D was never determined, and stays what it is: no yes and no no."""
    letters = re.sub(r"[\s-]+|ZONE", "", str(said or "").upper())
    if _HAZARD.fullmatch(letters):
        return "yes"
    return "no" if _OUTSIDE.fullmatch(letters) else said


def _read(catalog: Catalog, record: Mapping[str, Any], column: str) -> tuple[dict[str, Value], list[Fault]]:
    facts: dict[str, Value] = {}
    faults: list[Fault] = []
    for fact in catalog:
        raw = record.get(getattr(fact, column) or "")
        text = ", ".join(map(str, raw)) if isinstance(raw, list) else "" if raw is None else str(raw)
        if not text.strip():
            continue
        value = fact.read(text)
        if isinstance(value, Fault):
            faults.append(value)
        else:
            facts[fact.key] = value
    return facts, faults
