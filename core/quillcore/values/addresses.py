"""US addresses: taken apart, and brought to one form for comparing (USPS Publication 28 abbreviations)."""

from __future__ import annotations

import re
from dataclasses import dataclass

import usaddress

_DIRECTIONS = {
    "NORTH": "N",
    "SOUTH": "S",
    "EAST": "E",
    "WEST": "W",
    "NORTHEAST": "NE",
    "NORTHWEST": "NW",
    "SOUTHEAST": "SE",
    "SOUTHWEST": "SW",
}
_SUFFIXES = {
    "ALLEY": "ALY",
    "AVENUE": "AVE",
    "AV": "AVE",
    "AVEN": "AVE",
    "BEND": "BND",
    "BOULEVARD": "BLVD",
    "BOUL": "BLVD",
    "BRIDGE": "BRG",
    "CIRCLE": "CIR",
    "CIRC": "CIR",
    "COURT": "CT",
    "COVE": "CV",
    "CREEK": "CRK",
    "CRESCENT": "CRES",
    "CROSSING": "XING",
    "DRIVE": "DR",
    "DRV": "DR",
    "ESTATES": "ESTS",
    "EXPRESSWAY": "EXPY",
    "EXTENSION": "EXT",
    "FREEWAY": "FWY",
    "GARDENS": "GDNS",
    "GLEN": "GLN",
    "GREEN": "GRN",
    "GROVE": "GRV",
    "HARBOR": "HBR",
    "HEIGHTS": "HTS",
    "HIGHWAY": "HWY",
    "HILL": "HL",
    "HILLS": "HLS",
    "HOLLOW": "HOLW",
    "ISLAND": "IS",
    "JUNCTION": "JCT",
    "LAKE": "LK",
    "LANDING": "LNDG",
    "LANE": "LN",
    "MANOR": "MNR",
    "MEADOWS": "MDWS",
    "MOUNT": "MT",
    "MOUNTAIN": "MTN",
    "PARKWAY": "PKWY",
    "PKY": "PKWY",
    "PLACE": "PL",
    "PLAZA": "PLZ",
    "POINT": "PT",
    "RIDGE": "RDG",
    "RIVER": "RIV",
    "ROAD": "RD",
    "ROUTE": "RTE",
    "SAINT": "ST",
    "SPRINGS": "SPGS",
    "SQUARE": "SQ",
    "STATION": "STA",
    "STREET": "ST",
    "STR": "ST",
    "TERRACE": "TER",
    "TRACE": "TRCE",
    "TRAIL": "TRL",
    "TURNPIKE": "TPKE",
    "VALLEY": "VLY",
    "VIEW": "VW",
    "VILLAGE": "VLG",
    "VISTA": "VIS",
}
_UNITS = {
    "APARTMENT": "APT",
    "BUILDING": "BLDG",
    "FLOOR": "FL",
    "SUITE": "STE",
    "ROOM": "RM",
    "#": "UNIT",
    "NUMBER": "UNIT",
    "NO": "UNIT",
}
_ORDINALS = {
    "FIRST": "1ST",
    "SECOND": "2ND",
    "THIRD": "3RD",
    "FOURTH": "4TH",
    "FIFTH": "5TH",
    "SIXTH": "6TH",
    "SEVENTH": "7TH",
    "EIGHTH": "8TH",
    "NINTH": "9TH",
    "TENTH": "10TH",
}
_ABBREVIATED = _DIRECTIONS | _SUFFIXES | _UNITS | _ORDINALS
_WRITINGS: dict[str, list[str]] = {}
"""The other way round: what is short for a word, and the words that it is short for."""
for _long, _short in (_DIRECTIONS | _SUFFIXES | _ORDINALS).items():
    _WRITINGS.setdefault(_short, []).append(_long)
LONGEST_ADDRESS = 300
"""Characters: the longest of 2,000 parcels has 71; a parser of words takes seconds for thousands of them."""
_UNIT_WORDS = {"UNIT", "APT", "STE", "BLDG", "FL", "RM", "LOT", "SPC", "TRLR"}


def normal_form(text: str) -> str:
    """Return the address in one form for comparing: ``214 North Alder Street #3`` and ``214 N. ALDER ST,
    UNIT 3`` are both "214 N ALDER ST UNIT 3".  Case, punctuation and the four digits behind a postal code
    don't count.
    """
    plain = re.sub(r"\b(\d{5})-\d{4}\b", r"\1", text.upper())
    plain = re.sub(r"#\s*", " # ", plain)
    words = [w.strip("-") for w in re.sub(r"[^A-Z0-9#/\- ]+", " ", re.sub(r"[.']", "", plain)).split()]
    out: list[str] = []
    for word in filter(None, words):
        short = _ABBREVIATED.get(word, word)
        if short == "UNIT" and out and out[-1] in _UNIT_WORDS:
            continue  # "APT #3" says it twice
        out.append(short)
    return " ".join(out)


def says_unit(word: str) -> bool:
    """Return whether a word only says that a unit's number follows: "Unit", "Apt"."""
    return _UNITS.get(word.upper(), word.upper()) in _UNIT_WORDS


def is_abbreviated(word: str) -> bool:
    """Return whether a word is one that people write long or short: "Rd", "North", "Unit"."""
    plain = word.upper().strip(".,")
    return plain in _ABBREVIATED or plain in _WRITINGS


def writings(word: str) -> tuple[str, ...]:
    """Return a word of an address as others write it, itself first: "Rd" is written "ROAD" and "RD" too."""
    plain = word.upper().strip(".,")
    short = _ABBREVIATED.get(plain, plain)
    return tuple(dict.fromkeys((plain, short, *_WRITINGS.get(short, ()))))


def finds(find: str, address: str) -> bool:
    """Return whether what was typed leads to an address: each of its words, however it is written, begins
    one of the address's.  A word that is still being typed ("Ropew") does, too."""
    there = [w for word in normal_form(address).split() for w in writings(word)]
    return all(
        any(known.startswith(w) for known in there for w in writings(word))
        for word in normal_form(find).split()
    )


@dataclass(frozen=True)
class Address:
    """An address taken apart; what it doesn't have is ""."""

    number: str = ""
    direction: str = ""
    street: str = ""
    suffix: str = ""
    post_direction: str = ""
    unit_type: str = ""
    unit: str = ""
    city: str = ""
    state: str = ""
    postal_code: str = ""


_PARTS = {
    "AddressNumber": "number",
    "StreetNamePreDirectional": "direction",
    "StreetName": "street",
    "StreetNamePostType": "suffix",
    "StreetNamePostDirectional": "post_direction",
    "OccupancyType": "unit_type",
    "OccupancyIdentifier": "unit",
    "PlaceName": "city",
    "StateName": "state",
    "ZipCode": "postal_code",
    "StreetNamePreType": "street",
    "StreetNamePreModifier": "street",
    "AddressNumberSuffix": "number",
    "SubaddressType": "unit_type",
    "SubaddressIdentifier": "unit",
}


def take_apart(text: str) -> Address:
    """Return the parts of a US address on one or two lines, as written; parts that can't be told are left
    out.  A text longer than any address has none."""
    if len(text) > LONGEST_ADDRESS:
        return Address()
    parts: dict[str, list[str]] = {}
    for word, label in usaddress.parse(" ".join(text.split())):
        if name := _PARTS.get(label):
            parts.setdefault(name, []).append(word.strip(",;"))
    found = {name: " ".join(w for w in words if w) for name, words in parts.items()}
    if found.get("unit", "").startswith("#"):
        found["unit"] = found["unit"].lstrip("# ")
    return Address(**found)
