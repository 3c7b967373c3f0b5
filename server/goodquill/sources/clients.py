"""Speaking to outside services: bounded in time, and never believed without a look."""

from __future__ import annotations

import re
from typing import Any
from urllib.parse import quote, urlsplit

from django.conf import settings

from goodquill.runtime.services import Trouble, ask, fetch

COUNTY = re.compile(r"[^\W\d_]+(?:[ .'’-]+[^\W\d_]+)*\.?")
"""A county's name: words of letters.  It becomes a part of an address at the roll."""
ACTIVE_FIRST = {"Active": 0, "Pending": 1}


def quoted(text: str) -> str:
    """Return a text as OData's filters have it."""
    return "'" + text.replace("'", "''") + "'"


def listings(condition: str, top: int = 8) -> list[dict[str, Any]] | Trouble:
    """Return listings that meet an OData condition, active ones first."""
    service = settings.LISTING_SERVICE
    found = ask(
        "listing service",
        f"{service['url']}/odata/Property",
        {"$filter": condition, "$top": str(top)},
        {"Authorization": f"Bearer {service['token']}"},
    )
    if isinstance(found, Trouble):
        return found
    rows = found.get("value")
    if not isinstance(rows, list) or not all(isinstance(r, dict) for r in rows):
        return Trouble(
            "listing service",
            "The listing service sent an answer that can't be read. Continue without it and try again later.",
        )
    return sorted(rows, key=lambda r: ACTIVE_FIRST.get(str(r.get("StandardStatus")), 2))


def listing_numbered(number: str) -> list[dict[str, Any]] | Trouble:
    """Return the listing of that number."""
    return listings(f"ListingId eq {quoted(number)}")


def listings_of_parcel(parcel: str) -> list[dict[str, Any]] | Trouble:
    """Return listings of a parcel, its number written with or without hyphens."""
    bare = parcel.replace("-", "")
    return listings(f"ParcelNumber eq {quoted(parcel)} or ParcelNumber eq {quoted(bare)}")


def papers_of(listing_key: str) -> list[dict[str, str]] | Trouble:
    """Return papers attached to a listing: each with ``key``, ``title`` and ``url``.  Photos are not asked
    for."""
    service = settings.LISTING_SERVICE
    condition = f"ResourceRecordKey eq {quoted(listing_key)} and MediaCategory eq 'Document'"
    found = ask(
        "listing service",
        f"{service['url']}/odata/Media",
        {"$filter": condition},
        {"Authorization": f"Bearer {service['token']}"},
    )
    if isinstance(found, Trouble):
        return found
    rows = found.get("value")
    if not isinstance(rows, list):
        return Trouble(
            "listing service",
            "The listing service sent a list of attached papers that can't be read. Continue without them.",
        )
    named = [
        (
            str(r.get("MediaKey") or ""),
            str(r.get("ShortDescription") or "Paper"),
            str(r.get("MediaURL") or ""),
        )
        for r in rows
        if isinstance(r, dict)
    ]
    return [{"key": key, "title": title[:200], "url": url} for key, title, url in named if key and url]


def fetch_paper(url: str) -> bytes | Trouble:
    """Return a paper's bytes.  Only the listing service itself is asked, whatever address it names."""
    service = settings.LISTING_SERVICE
    if urlsplit(url)[:2] != urlsplit(service["url"])[:2]:
        return Trouble(
            "listing service",
            "The listing service names a file somewhere else, which isn't fetched. Ask the listing agent"
            " for it.",
        )
    return fetch("listing service", url, {"Authorization": f"Bearer {service['token']}"})


def parcels(county: str = "any", **wanted: str) -> list[dict[str, Any]] | Trouble:
    """Return parcels by ``parcel``, ``owner`` or ``address`` within a county, or in any.  What is no
    county's name has none."""
    if not COUNTY.fullmatch(county):
        return []
    address = f"{settings.COUNTY_ROLL['url']}/counties/{quote(county.lower())}/parcels"
    found = ask("county tax roll", address, wanted, may_be_missing=True)
    if isinstance(found, Trouble):
        return found
    rows = found.get("parcels", [] if not found else None)  # the roll doesn't know the county
    return (
        rows
        if isinstance(rows, list)
        else Trouble(
            "county tax roll",
            "The county tax roll sent an answer that can't be read. Continue without it and try again later.",
        )
    )


def parcel_history(county: str, parcel: str) -> dict[str, Any] | Trouble:
    """Return a parcel's assessments by year and its sales, as the county has them; empty where it keeps
    none."""
    roll, number = settings.COUNTY_ROLL["url"], quote(parcel, safe="")
    address = f"{roll}/counties/{quote(county.lower() or 'any')}/parcels/{number}/history"
    found = ask("county tax roll", address, {}, may_be_missing=True)
    return found if isinstance(found, (dict, Trouble)) else {}


def counties() -> list[str] | Trouble:
    """Return the counties whose rolls can be searched."""
    found = ask("county tax roll", f"{settings.COUNTY_ROLL['url']}/counties", {})
    if isinstance(found, Trouble):
        return found
    rows = found.get("counties")
    return (
        [str(r["name"]) for r in rows if isinstance(r, dict) and "name" in r]
        if isinstance(rows, list)
        else []
    )
