"""A listing's record and a roll's row, turned into facts.

Both are read by the names the catalog gives (``reso``: RESO Data Dictionary field; ``roll``: column
of the county's file).  What can't be read is left out and told, never guessed.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

from quillcore.facts.catalog import Catalog
from quillcore.facts.keys import group_of
from quillcore.facts.ledger import Ledger
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
    """Return facts of one RESO Property record, and what in it could not be read."""
    flat = dict(record)
    if (acres := flat.get("LotSizeAcres")) is not None and flat.get("LotSizeSquareFeet") is None:
        flat["LotSizeSquareFeet"] = f"{acres} acres"
    flat["PropertySubType"] = category_of(record) or flat.get("PropertySubType")
    return _read(catalog, flat, "reso")


_OF_THE_LISTING = ("listing", "listing_agent")
"""Groups of facts that are one listing agreement's business and not the home's."""
_IN_FORCE = ("active", "active under contract", "coming soon", "hold", "pending")
"""Standard statuses in which a listing agreement still binds its owner."""


def for_the_owner(ledger: Ledger, listing: Mapping[str, Value]) -> tuple[dict[str, Value], str]:
    """Return, on the owner's side, a listing's facts without another firm's business, and a sentence about
    that listing. Returns all of them, and "", where the listing is our own or the deal isn't the owner's."""
    firm = str(listing.get("listing_agent.firm") or "another firm")
    if not ledger.side.has_the_home or not listing or _is_ours(ledger, listing):
        return dict(listing), ""
    kept = {key: value for key, value in listing.items() if group_of(key) not in _OF_THE_LISTING}
    status = str(listing.get("listing.status") or "").lower()
    number = f"Listing {listing.get('listing.number') or 'without a number'}"
    left = "Its price, number, dates, remarks and showing notes are not brought in."
    if status in _IN_FORCE:
        return kept, f"{number} of {firm} is {status}: ask the owner whether that agreement has ended. {left}"
    return kept, f"{number} is an earlier one of {firm}{f', {status}' if status else ''}. {left}"


def _is_ours(ledger: Ledger, listing: Mapping[str, Value]) -> bool:
    for key in ("listing_agent.firm_licence", "listing_agent.firm"):
        own, theirs = ledger.in_force(key), listing.get(key)
        if own is not None and own.value and theirs:
            return str(own.value).casefold() == str(theirs).casefold()
    return False


def category_of(record: Mapping[str, Any]) -> str:
    """Return what the catalog calls a listing's kind of property; "" where the listing's word isn't known."""
    return _CATEGORY.get(str(record.get("PropertySubType") or "").lower(), "")


def from_roll(catalog: Catalog, row: Mapping[str, Any]) -> tuple[dict[str, Value], list[Fault]]:
    """Return facts of one row of a county roll, and what in it could not be read."""
    return _read(catalog, {**row, "flood_zone": flood_of(row.get("flood_zone"))}, "roll")


def flood_of(said: Any) -> Any:
    """Return what a flood zone's letters on the federal maps mean: A and V lie in the mapped hazard area;
    B, C and X outside.  D was never determined, and stays what it is: no yes and no no."""
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
