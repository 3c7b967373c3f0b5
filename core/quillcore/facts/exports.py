"""Property data from files: a RESO JSON export, or a county's CSV whose columns are named as that county
likes.

A county's columns are mapped to ours once (``proposed_columns`` proposes); every row then reads like one of
the roll's.
"""

from __future__ import annotations

import csv
import io
import json
import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from rapidfuzz import fuzz

from quillcore.facts.catalog import Catalog
from quillcore.sandbox import TABLE, Refused, run_limited
from quillcore.values import Fault
from quillcore.values.addresses import take_apart
from quillcore.values.csv_files import MOST_CELL, MOST_COLUMNS, csv_lines, decoded
from quillcore.values.structured import read_json

MOST_ROWS = 50_000
SITUS = (
    "situs_number",
    "situs_direction",
    "situs_street",
    "situs_suffix",
    "situs_unit",
    "situs_city",
    "situs_state",
    "situs_zip",
)
WHOLE_ADDRESS = "situs"
"""The column of ours that holds an address on one line; it is taken apart."""
PLACE = "situs_place"
"""Likewise of city, state and ZIP code in one."""
SECOND_OWNER = "owner_2"
"""The column of whoever is on the roll beside the owner: joined to it as counties join them in one column."""
_NO_OWNER = re.compile(r"[-–/.\s]*|N/?A|NONE|NULL", re.IGNORECASE)

_SAID = {
    "parcel": "parcel number|parcel id|parcelno|pin|apn|account|account number|tax id|schedule number|folio",
    "county": "county|county name",
    WHOLE_ADDRESS: "situs address|property address|site address|location address|physical address|address",
    "situs_number": "street number|house number|situs number|address number|str num|house no",
    "situs_direction": "direction|street direction|pre direction|predir|str pfx|prefix",
    "situs_street": "street name|situs street|str name|street",
    "situs_suffix": "street type|street suffix|suffix|str sfx|post type",
    "situs_unit": "unit|unit number|apt|suite|situs unit",
    "situs_city": "city|situs city|property city|municipality|town",
    "situs_state": "state|situs state|property state",
    "situs_zip": "zip|zip code|postal code|situs zip|property zip",
    PLACE: "city state zip|city st zip|situs city state zip|property city state zip|city state",
    "owner": "owner|owner name|owners|owner1|owner 1|first owner|taxpayer|taxpayer name|grantee|deed holder",
    SECOND_OWNER: "owner2|owner 2|owner name 2|second owner|co owner|coowner|additional owner|spouse",
    "owner_mailing": (
        "mailing address|owner address|owner mailing address|mail address|taxpayer address|tax bill address"
    ),
    "legal": "legal|legal description|legal desc|full legal",
    "subdivision": "subdivision|subdivision name|subdiv|plat|plat name|addition",
    "lot": "lot|lot number",
    "block": "block|block number|blk",
    "land_use": "land use|use|use code|property class|property type|class",
    "year_built": "year built|yr built|yearbuilt|effective year|actual year built",
    "living_area": (
        "living area|sq ft|sqft|building area|heated area|finished area|bldg sqft|gross living area"
    ),
    "lot_size": "lot size|land area|lot sq ft|land sqft|acres|acreage",
    "tax_year": "tax year|year|assessment year|roll year",
    "assessed": "assessed|assessed value|total assessed|total value|taxable value",
    "annual_tax": "annual tax|tax|taxes|tax amount|total tax|net tax",
    "exemptions": "exemptions|exemption|exempt",
    "deed": "deed|deed reference|book page|recording|instrument|document number",
    "last_sale_date": "sale date|last sale date|deed date|transfer date",
    "last_sale_price": "sale price|last sale price|sales price|consideration|sale amount",
    "flood_zone": "flood|flood zone|flood plain",
}


@dataclass(frozen=True)
class Export:
    """The content of an export file. ``kind`` says as what its rows are read: "listing" (RESO names) or
    "roll" (by a mapping of columns)."""

    kind: str
    columns: tuple[str, ...]
    rows: tuple[Mapping[str, Any], ...]


@dataclass(frozen=True)
class ExportHead:
    """The head of an export, without its rows: see ``Export``."""

    kind: str
    columns: tuple[str, ...]
    count: int


def plain_words(row: Mapping[str, Any]) -> str:
    """Return a row's words in lower case, parted by single blanks: what finding in it looks at."""
    return " ".join(_bare(" ".join(str(v) for v in row.values() if isinstance(v, (str, int, float)))).split())


def read_inside(content: bytes) -> bytes:
    """Return an export as lines of JSON, for a limited child: its head, then each row with its words."""
    found = read_export(content)
    if isinstance(found, Fault):
        raise Refused(found)
    head = json.dumps([found.kind, found.columns, len(found.rows)])
    return "\n".join([head, *(json.dumps([plain_words(row), row]) for row in found.rows)]).encode()


def read_stranger(content: bytes) -> tuple[ExportHead, Iterator[tuple[str, Mapping[str, Any]]]] | Fault:
    """Return an export that somebody sent in: its head, and its rows one by one, each with its words."""
    answer = run_limited("quillcore.facts.exports:read_inside", content, limits=TABLE)
    if isinstance(answer, Fault):
        return answer
    lines = io.BytesIO(answer)
    kind, columns, count = json.loads(lines.readline())
    return ExportHead(kind, tuple(columns), count), ((words, row) for words, row in map(json.loads, lines))


def read_export(content: bytes) -> Export | Fault:
    """Return the file's rows.  A Fault says in a sentence why it can't be used."""
    if not content.strip():
        return _fault("The file is empty.", "Export it again.")
    if b"\x00" in content[:4096] and not content.startswith((b"\xff\xfe", b"\xfe\xff")):
        return _fault(
            "This is neither a RESO JSON export nor a CSV file.", "Save the sheet as CSV and try that file."
        )
    text = _decoded(content)
    return _from_json(text) if text.lstrip()[:1] in ("{", "[") else _from_csv(text)


def _fault(message: str, mend: str) -> Fault:
    return Fault("export", message, mend)


def _decoded(content: bytes) -> str:
    if content.startswith((b"\xff\xfe", b"\xfe\xff")):
        return content.decode("utf-16", errors="replace")
    return decoded(content)


def _from_json(text: str) -> Export | Fault:
    data = read_json(text)
    if isinstance(data, Fault):
        return data
    rows = data.get("value", [data]) if isinstance(data, dict) else data
    if not isinstance(rows, list) or not all(isinstance(r, dict) for r in rows):
        return _fault(
            "The file holds no listings.",
            "A RESO export is a list of records, or an object with them under “value”.",
        )
    rows = [
        {k: v for k, v in r.items() if len(k) <= 100 and len(str(v)) <= MOST_CELL}
        for r in rows[: 2 * MOST_ROWS]
    ]
    rows = [r for r in rows if r.get("ListingId") or r.get("ParcelNumber") or r.get("StreetName")][:MOST_ROWS]
    if not rows:
        return _fault(
            "No record of the file has a listing number, a parcel number or a street.",
            "Export it with RESO Data Dictionary names.",
        )
    columns = dict.fromkeys(str(name) for row in rows[:50] for name in row)
    return Export("listing", tuple(columns)[:MOST_COLUMNS], tuple(rows))


def _from_csv(text: str) -> Export | Fault:
    try:
        lines = csv_lines(text, ",;\t|")
    except csv.Error as trouble:
        return _fault(f"The file can't be read as CSV: {trouble}.", "Save the sheet as CSV again.")
    if len(lines) < 2 or len(lines[0]) < 2:
        return _fault(
            "The file has no rows under a line of column names.",
            "The first line names the columns; choose comma, semicolon or tab.",
        )
    if len(lines) - 1 > MOST_ROWS or len(lines[0]) > MOST_COLUMNS:
        return _fault(
            f"The file is too large: {MOST_ROWS:,} rows of {MOST_COLUMNS} columns are the most.",
            "Take one town or street at a time.",
        )
    columns: list[str] = []
    for n, name in enumerate(lines[0], 1):
        plain = " ".join(name.split()) or f"Column {n}"
        columns.append(plain if plain not in columns else f"{plain} ({n})")
    rows = tuple(
        {name: cell.strip() for name, cell in zip(columns, line, strict=False)} for line in lines[1:]
    )
    return Export("roll", tuple(columns), rows)


def our_columns(catalog: Catalog) -> dict[str, str]:
    """Return the columns that a county's can be mapped to, with what each is called."""
    labels = {f.roll: f.label for f in catalog if f.roll}
    known = {"parcel": labels.get("parcel", "Parcel number"), WHOLE_ADDRESS: "Full address"}
    labels |= {PLACE: "City, state and ZIP code in one", SECOND_OWNER: "Second owner"}
    return (
        known
        | {name: labels[name] for name in _SAID if name in labels}
        | {n: label for n, label in labels.items() if n not in _SAID}
    )


def proposed_columns(columns: Sequence[str], catalog: Catalog) -> dict[str, str]:
    """Return their column for each of ours, where that is clear from its name: a proposal to be looked
    over."""
    ours = our_columns(catalog)
    scored = []
    for theirs in columns:
        plain = _plain(theirs)
        for own in ours:
            names = {own.replace("_", " "), _plain(ours[own]), *_SAID.get(own, "").split("|")}
            score = max(fuzz.ratio(plain, name) for name in names)
            if score >= 86:
                scored.append((score, own, theirs))
    proposed: dict[str, str] = {}
    for _, own, theirs in sorted(scored, key=lambda s: -s[0]):
        if own not in proposed and theirs not in proposed.values():
            proposed[own] = theirs
    return proposed


def roll_row(row: Mapping[str, Any], mapping: Mapping[str, str]) -> dict[str, str]:
    """Return a county's row under our column names.  An address on one line fills only the parts that have
    no column of their own; streets and places in capitals are printed as people write them; an area without
    a unit is in the unit of its column's name.
    """
    found = {own: str(row.get(theirs) or "").strip() for own, theirs in mapping.items()}
    owners = [found.get("owner", ""), found.pop(SECOND_OWNER, "")]
    named = [owner for owner in dict.fromkeys(owners) if not _NO_OWNER.fullmatch(owner)]
    found["owner"] = " & ".join(named)
    street, place = found.pop(WHOLE_ADDRESS, ""), found.pop(PLACE, "")
    # A place alone is read behind a street that is thrown away.
    if whole := ", ".join(filter(None, (street or (place and "1 Any St"), place))):
        parts = take_apart(whole)
        if not street:
            parts = replace(parts, number="", direction="", street="", suffix="", unit="")
        said = (
            parts.number,
            parts.direction,
            parts.street,
            parts.suffix,
            parts.unit,
            parts.city,
            parts.state,
            parts.postal_code,
        )
        for name, text in zip(SITUS, said, strict=True):
            found[name] = found.get(name) or text
    for name in ("situs_street", "situs_suffix", "situs_city", "subdivision"):
        if found.get(name, "").isupper():
            found[name] = re.sub(r"[A-Z]+(?:'[A-Z]+)*", lambda m: m[0].capitalize(), found[name])
    if re.fullmatch(r"[\d.,]+", found.get("living_area", "")):
        found["living_area"] += " sq ft"
    if re.fullmatch(r"[\d.,]+", found.get("lot_size", "")):
        found["lot_size"] += " acres" if "acre" in mapping.get("lot_size", "").lower() else " sq ft"
    return {name: text for name, text in found.items() if text}


def _bare(text: str) -> str:
    return re.sub(r"[^a-z0-9]+", " ", text.lower())


def _plain(text: str) -> str:
    spaced = re.sub(r"(?<=[a-z])(?=[A-Z])", " ", text)
    return " ".join(_bare(spaced).split())
