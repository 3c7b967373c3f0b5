"""Homes by what was typed: a listing or parcel number, an address in any usual writing, or an owner."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable
from concurrent.futures import ThreadPoolExecutor
from itertools import zip_longest
from typing import TYPE_CHECKING, Any

from quillcore.facts.owner_words import OWNER_WRITINGS
from quillcore.values.addresses import finds, is_abbreviated, normal_form, says_unit, writings

from goodquill.runtime.services import Trouble
from goodquill.sources import clients
from goodquill.sources.clients import quoted
from goodquill.sources.found import listing_found, parcel_found

if TYPE_CHECKING:
    from goodquill.http import wire

MOST_WORDS = 8
MOST_SHOWN = 12
LEAST_DIGITS = 9
"""From so many digits on it is a parcel's number: a house number, a unit and a postal code together can have
nine, but are then words beside others."""
_SHORT = ("StreetDirPrefix", "StreetSuffix", "StateOrProvince")
_WORDS = ("StreetName", "City")
_TELLING = 3
"""A shorter word stands inside too many others to be looked for there."""
_NUMBERS = ("StreetNumber", "UnitNumber", "PostalCode")
_SAYS_NOTHING = {"OF", "THE", "AND", "A"}
"""Words of an owner's name that rolls leave out or write otherwise."""

Row = dict[str, Any]


def search(text: str, county: str = "") -> tuple[list[wire.Found], int, list[Trouble]]:
    """Return homes as lists show them, active listings first and the counties in turn; how many more there
    are; and what kept a source from answering.  A home in both sources is one row."""
    listings, parcels, troubles = _ask(text, county)
    rows: dict[str, wire.Found] = {}
    for parcel in parcels:
        rows[_bare(parcel.get("parcel"))] = parcel_found(parcel)
    for record in listings:
        found = listing_found(record)
        name = _bare(found["parcel"] or found["listing"])
        if known := rows.get(name):
            found |= {"parcel": known["parcel"], "county": known["county"], "owner": known["owner"]}
        rows[name] = found
    listed = [row for row in rows.values() if row["listing"]]
    listed.sort(key=lambda row: row["status"] != "Active")
    ordered = [*listed, *_in_turn(row for row in rows.values() if not row["listing"])]
    return ordered[:MOST_SHOWN], max(0, len(ordered) - MOST_SHOWN), troubles


def _bare(number: object) -> str:
    return str(number or "").replace("-", "")


def _in_turn(rows: Iterable[wire.Found]) -> list[wire.Found]:
    """Return one of each county after the other, so that none is left out of a short list."""
    by_county: dict[str, list[wire.Found]] = {}
    for row in rows:
        by_county.setdefault(row["county"], []).append(row)
    return [row for several in zip_longest(*by_county.values()) for row in several if row is not None]


def _ask(text: str, county: str) -> tuple[list[Row], list[Row], list[Trouble]]:
    """Return both services at once."""
    where = county or "any"
    words = normal_form(text).split()[:MOST_WORDS]
    is_number = sum(c.isdigit() for c in text) >= LEAST_DIGITS and not re.search(r"[A-Za-z]{3}", text)
    asks: list[Callable[[], list[Row] | Trouble]] = [
        lambda: clients.listings(_condition(text, words, county))
    ]
    if is_number:
        asks.append(lambda: clients.parcels(where, parcel=text))
    else:
        asks.append(lambda: _parcels_at(where, text, words))
        if not any(c.isdigit() for c in text):  # no house number: it may be a name
            asks.append(lambda: _parcels_of(where, words))
    with ThreadPoolExecutor(3) as pool:
        answers = [f.result() for f in [pool.submit(ask) for ask in asks]]
    troubles = {x.message: x for x in answers if isinstance(x, Trouble)}
    found, *rolls = [x if isinstance(x, list) else [] for x in answers]
    found = [r for r in found if _is_meant(r, text)]
    parcels = [row for roll in rolls for row in roll]
    if is_number and parcels and not found:
        # The county writes the number as the listing has it.
        again = clients.listings(f"ParcelNumber eq {quoted(str(parcels[0].get('parcel', '')))}")
        found = again if isinstance(again, list) else []
    return found, parcels, list(troubles.values())


def _is_meant(record: Row, text: str) -> bool:
    """Return whether a listing was found by its number, or its address has every word that was typed."""
    typed = text.strip().lower()
    numbers = (str(record.get("ListingId") or "").lower(), str(record.get("ParcelNumber") or ""))
    region = f"{record.get('StateOrProvince', '')} {record.get('PostalCode', '')}"
    is_number = numbers[0].startswith(typed) or _bare(numbers[1]) == _bare(typed)
    return is_number or finds(text, f"{listing_found(record)['address']} {region}")


def _condition(text: str, words: list[str], county: str) -> str:
    """Return what the listing service is asked: every word begins a part of the address, in one of its
    writings."""
    typed = text.strip()
    either = [f"startswith(ListingId,{quoted(typed)})", f"ParcelNumber eq {quoted(typed)}"]
    parts = [_is_part(word) for word in words if not says_unit(word)]
    if parts:
        either.append("(" + " and ".join(parts) + ")")
    condition = " or ".join(either)
    return f"({condition}) and CountyOrParish eq {quoted(county)}" if county else condition


def _is_part(word: str) -> str:
    """Return a word begins a part of the address, or one of the words of its street and city."""
    starts = _NUMBERS if word[0].isdigit() else _SHORT
    tests = [f"startswith({field},{quoted(w)})" for field in starts for w in writings(word)]
    if not word.isdigit():
        test = "contains" if len(word) >= _TELLING else "startswith"
        tests += [f"{test}({field},{quoted(w)})" for field in _WORDS for w in writings(word)]
    return "(" + " or ".join(tests) + ")"


def _parcels_at(where: str, text: str, words: list[str]) -> list[Row] | Trouble:
    """Search the roll for the words that all write alike; its rows are then read with the others."""
    alike = [w for w in words if not is_abbreviated(w)] or words
    found = clients.parcels(where, address=" ".join(alike))
    if isinstance(found, Trouble):
        return found
    return [row for row in found if finds(text, f"{parcel_found(row)['address']} {_region(row)}")]


def _region(row: Row) -> str:
    return f"{row.get('situs_state', '')} {row.get('situs_zip', '')}"


def _parcels_of(where: str, words: list[str]) -> list[Row] | Trouble:
    """Search by owner: "estate of Tanaka" finds "EST OF TANAKA MILES"."""
    wanted = [OWNER_WRITINGS.get(w, (w,)) for w in words if w not in _SAYS_NOTHING]
    if not wanted:
        return []
    # Asked for what is written alike everywhere: the shortest writing begins all others.
    found = clients.parcels(where, owner=" ".join(min(w, key=len) for w in wanted))
    if isinstance(found, Trouble):
        return found
    return [row for row in found if _is_owned(str(row.get("owner", "")), wanted)]


def _is_owned(owner: str, wanted: list[tuple[str, ...]]) -> bool:
    """Return whether every word is one of the owner's: a word with several writings as a whole, a name by its
    beginning."""
    there = re.findall(r"[^\W_]+", owner.upper())
    return all(
        any(word in ways if len(ways) > 1 else word.startswith(ways[0]) for word in there) for ways in wanted
    )
