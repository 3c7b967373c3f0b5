"""Makes the stand-ins' data: 2,000 parcels and 60 listings of a made-up state.  The same seed gives the same
files.

``python -m standins.make_world`` writes ``data/listings.json`` and ``data/roll/*.csv``.
"""

from __future__ import annotations

import csv
import json
import random
from datetime import date, timedelta
from pathlib import Path
from typing import Any

HERE = Path(__file__).parent / "data"
MADE = date(2026, 11, 2)
COUNTIES = {
    "juniper": ("3", [("Port Linden", "09914"), ("Ashgrove", "09921")], 820),
    "stonewater": ("5", [("Harrow Falls", "09932"), ("Quarry Bend", "09937")], 700),
    "linden": ("8", [("Tern Harbor", "09948")], 480),
}
STREETS = [
    "Alder",
    "Basalt",
    "Candlewick",
    "Dovetail",
    "Eddy",
    "Fennel",
    "Gantry",
    "Hollow Oak",
    "Inkwell",
    "Juniper",
    "Kettle",
    "Larkspur",
    "Millrace",
    "Nettle",
    "Orchard",
    "Parsonage",
    "Quarry",
    "Ropewalk",
    "Saddle",
    "Thimble",
    "Umber",
    "Vesper",
    "Willow",
    "Yarrow",
]
SUFFIXES = ["Street", "Avenue", "Lane", "Road", "Court", "Drive", "Place"]
ADDITIONS = [
    "Alder Grove Second Addition",
    "Brickyard Flats",
    "Candlewick Park",
    "Harbor View Estates",
    "Millrace Landing",
    "Old Town Plat",
    "Quarry Heights First Filing",
    "Tern Point",
]
FAMILY = [
    "OKAFOR",
    "PARK",
    "MCALLISTER",
    "VOSS",
    "DELACROIX",
    "O'BRIEN-TATE",
    "VAN DER MEER",
    "RUIZ",
    "NGUYEN",
    "LINDQVIST",
    "ABERNATHY",
    "KOWALCZYK",
    "HADDAD",
    "PEREIRA",
    "TANAKA",
    "WHITFIELD",
    "ODUYA",
    "SAARINEN",
    "BRANNIGAN",
    "CASTELLANOS",
    "FENWICK",
    "GUPTA",
    "HOLLOWAY",
    "IBARRA",
]
GIVEN = [
    "AMARA",
    "CHIDI",
    "MIN SEO",
    "ROBERT",
    "LENA",
    "PAUL",
    "JUNE",
    "PIETER",
    "ANA",
    "THANH",
    "ASTRID",
    "MILES",
    "ZOFIA",
    "OMAR",
    "BEATRIZ",
    "KENJI",
    "CLARA",
    "EMEKA",
    "AINO",
    "SEAN",
    "MARISOL",
    "EDWIN",
    "PRIYA",
    "TOBIAS",
]
COMPANIES = [
    "RIDGELINE HOLDINGS LLC",
    "BLUE HERON RENTALS LLC",
    "TERN POINT PARTNERS LP",
    "KETTLE STREET HOMES INC",
]
REMARKS = [
    "Light-filled rooms, a level yard and a short walk to the river path.",
    "Updated kitchen; roof replaced in the last ten years.",
    "Quiet street, original woodwork, and a workshop behind the garage.",
    "South-facing porch and room for a garden.",
]


def owner(r: random.Random) -> str:
    """Return an owner line as counties write them."""
    family, given, middle = r.choice(FAMILY), r.choice(GIVEN), r.choice("ABCDEFGHJKLMRSTW")
    second = r.choice(GIVEN)
    shapes = [
        (26, f"{family} {given} {middle}"),
        (20, f"{family} {given}"),
        (22, f"{family} {given} {middle} & {second}"),
        (8, f"{family} {given} & {r.choice(FAMILY)} {second}"),
        (4, f"{family} {given} ET UX"),
        (4, f"{family} {given} TR"),
        (4, f"{family} FAMILY TRUST"),
        (4, r.choice(COMPANIES)),
        (2, f"EST OF {family} {given}"),
        (2, f"{family} {given} {middle} JR"),
        (4, f"{family} {given} TRUSTEE"),
    ]
    return r.choices([s for _, s in shapes], [w for w, _ in shapes])[0]


def parcels(r: random.Random) -> list[dict[str, str]]:
    """Return all parcels, county by county."""
    rows = []
    for county, (code, towns, count) in COUNTIES.items():
        for n in range(count):
            rows.append(parcel(r, county, code, r.choice(towns), n))
    return rows


def parcel(r: random.Random, county: str, code: str, town: tuple[str, str], n: int) -> dict[str, str]:
    """Return one parcel as the county keeps it."""
    use = r.choices(
        [
            "single-family",
            "condominium",
            "townhouse",
            "manufactured",
            "multi-family 2–4",
            "land",
            "commercial",
        ],
        [62, 10, 8, 5, 5, 7, 3],
    )[0]
    addition, lot, block = r.choice(ADDITIONS), r.randint(1, 32), r.randint(1, 14)
    number, direction = r.randint(1, 98) * 10 + r.randint(0, 9), r.choice(["", "", "N", "S", "E", "W"])
    year = (
        ""
        if use == "land"
        else str(r.choice([r.randint(1888, 1940), r.randint(1946, 1977), r.randint(1978, 2024)]))
    )
    area = "" if use == "land" else str(r.randint(74, 390) * 10)
    value = r.randint(90, 880) * 1000
    book, page = r.randint(100, 940), r.randint(1, 990)
    legal = (
        f"Lot {lot}, Block {block}, {addition}, according to the plat recorded in Book {r.randint(2, 40)} of"
        f" Plats, page {r.randint(1, 120)}, records of {county.title()} County, Calloway"
    )
    unit = str(r.randint(1, 24)) if use == "condominium" else ""
    if unit:
        legal = (
            f"Unit {unit}, {addition} Condominium, and its undivided interest in the common elements, as"
            f" declared in Book {book}, page {page}, records of {county.title()} County, Calloway"
        )
    return {
        "parcel": f"{code}-{n // 100 + 400:04d}-{n % 100 + 1:04d}",
        "county": county.title(),
        "situs_number": str(number),
        "situs_direction": direction,
        "situs_street": r.choice(STREETS),
        "situs_suffix": r.choice(SUFFIXES),
        "situs_unit": unit,
        "situs_city": town[0],
        "situs_state": "CW",
        "situs_zip": town[1],
        "owner": owner(r),
        "owner_mailing": f"{number} {r.choice(STREETS)} {r.choice(SUFFIXES)}, {town[0]}, CW {town[1]}",
        "legal": legal,
        "subdivision": addition,
        "lot": str(lot) if not unit else "",
        "block": str(block) if not unit else "",
        "land_use": use,
        "year_built": year,
        "living_area": f"{area} sq ft" if area else "",
        "lot_size": f"{r.randint(36, 290) * 50} sq ft" if not unit else "",
        "tax_year": "2026",
        "assessed": str(value),
        "annual_tax": f"{value * 0.0109:.2f}",
        "exemptions": r.choice(["", "", "homestead"]),
        "deed": f"Book {book}, page {page}",
        "last_sale_date": (MADE - timedelta(days=r.randint(400, 9000))).isoformat(),
        "last_sale_price": str(int(value * r.uniform(0.4, 0.95)) // 500 * 500),
        "flood_zone": r.choices(["no", "yes"], [92, 8])[0],
    }


AGENTS = [
    (
        "Marguerite Oyelaran",
        "CW-31877",
        "TO-1140",
        "Tidewater & Oak Homes",
        "CW-F0912",
        "(555) 555-0141",
        "88 Harbor Row, Tern Harbor, CW 09948",
    ),
    (
        "Desmond Falk",
        "CW-28410",
        "TO-1162",
        "Tidewater & Oak Homes",
        "CW-F0912",
        "(555) 555-0142",
        "88 Harbor Row, Tern Harbor, CW 09948",
    ),
    (
        "Ilse Brandvold",
        "CW-40255",
        "HB-2207",
        "Harrow Bridge Realty",
        "CW-F1377",
        "(555) 555-0157",
        "5 Bridge Street, Harrow Falls, CW 09932",
    ),
    (
        "Caspian Reyes-Holt",
        "CW-37719",
        "HB-2231",
        "Harrow Bridge Realty",
        "CW-F1377",
        "(555) 555-0158",
        "5 Bridge Street, Harrow Falls, CW 09932",
    ),
]
SUBTYPE = {
    "single-family": "Single Family Residence",
    "condominium": "Condominium",
    "townhouse": "Townhouse",
    "manufactured": "Manufactured Home",
    "multi-family 2–4": "Duplex",
    "land": "Unimproved Land",
    "commercial": "Office",
}


def listings(r: random.Random, rows: list[dict[str, str]]) -> list[dict[str, Any]]:
    """Return sixty listings on parcels of the roll, with planted disagreements."""
    homes = [p for p in rows if p["land_use"] in ("single-family", "townhouse")]
    others = [p for p in rows if p["land_use"] in ("condominium", "land", "multi-family 2–4", "manufactured")]
    chosen = r.sample(homes, 42) + r.sample(others, 18)
    return [listing(r, p, n) for n, p in enumerate(chosen)]


def listing(r: random.Random, p: dict[str, str], n: int) -> dict[str, Any]:
    """Return one listing of a parcel."""
    agent = r.choice(AGENTS)
    area = int(p["living_area"].split()[0]) if p["living_area"] else None
    year = int(p["year_built"]) if p["year_built"] else None
    lease = n % 10 == 7
    plant = n % 4
    listed = MADE - timedelta(days=r.randint(3, 80))
    association = p["land_use"] == "condominium" or r.random() < 0.3
    return {
        "ListingKey": f"{26110400 + n * 7}",
        "ListingId": f"26-{1104 + n * 7}",
        "StandardStatus": ["Active", "Active", "Active", "Pending", "Withdrawn", "Expired"][n % 6],
        "PropertyType": (
            "Residential Lease" if lease else "Land" if p["land_use"] == "land" else "Residential"
        ),
        "PropertySubType": SUBTYPE[p["land_use"]],
        "ListPrice": r.randint(14, 46) * 100 if lease else (int(p["assessed"]) * 115 // 100) // 500 * 500,
        "StreetNumber": p["situs_number"],
        "StreetDirPrefix": p["situs_direction"] or None,
        "StreetName": p["situs_street"],
        "StreetSuffix": p["situs_suffix"],
        "UnitNumber": p["situs_unit"] or None,
        "City": p["situs_city"],
        "CountyOrParish": p["county"],
        "StateOrProvince": "CW",
        "PostalCode": p["situs_zip"],
        # Planted: the parcel number without hyphens, a larger living area, another year.
        "ParcelNumber": p["parcel"].replace("-", "") if plant == 1 else p["parcel"],
        "LivingArea": round(area * 1.09) if area and plant == 2 else area,
        "YearBuilt": year + 3 if year and plant == 3 else year,
        "LotSizeSquareFeet": int(p["lot_size"].split()[0]) if p["lot_size"] else None,
        "SubdivisionName": p["subdivision"],
        "BedroomsTotal": r.randint(2, 5) if area else None,
        "BathroomsFull": r.randint(1, 3) if area else None,
        "BathroomsHalf": r.randint(0, 1) if area else None,
        "GarageSpaces": r.randint(0, 2) if area else None,
        "Heating": [r.choice(["Forced air", "Heat pump", "Hot water"])] if area else [],
        "WaterSource": ["Public"] if r.random() < 0.85 else ["Well"],
        "Sewer": ["Public sewer"] if r.random() < 0.85 else ["Septic"],
        "OccupantType": r.choice(["Owner", "Owner", "Vacant", "Tenant"]),
        "AssociationYN": association,
        "AssociationName": f"{p['subdivision']} Owners" if association else None,
        "AssociationFee": r.randint(3, 40) * 10 if association else None,
        "AssociationFeeFrequency": "Monthly" if association else None,
        "TaxYear": 2026,
        "TaxAnnualAmount": float(p["annual_tax"]),
        "Inclusions": r.choice(["Refrigerator, washer and dryer", "Refrigerator, garden shed", None]),
        "Exclusions": r.choice(["Dining room light", None]),
        "PublicRemarks": r.choice(REMARKS),
        "ShowingInstructions": "Give two hours' notice.",
        "ListingContractDate": listed.isoformat(),
        "ExpirationDate": (listed + timedelta(days=180)).isoformat(),
        "ListAgentFullName": agent[0],
        "ListAgentStateLicense": agent[1],
        "ListAgentMlsId": agent[2],
        "ListAgentEmail": f"{agent[0].split()[0].lower()}@{agent[3].split()[0].lower()}.example",
        "ListAgentDirectPhone": agent[5],
        "ListOfficeName": agent[3],
        "ListOfficeStateLicense": agent[4],
        "ListOfficePhone": agent[5][:-1] + "0",
        "ListOfficeAddress": agent[6],
    }


def main() -> None:
    """Write the files."""
    r = random.Random(20261102)
    rows = parcels(r)
    (HERE / "roll").mkdir(parents=True, exist_ok=True)
    for county in COUNTIES:
        with (HERE / "roll" / f"{county}.csv").open("w", encoding="utf-8", newline="") as out:
            writer = csv.DictWriter(out, list(rows[0]), lineterminator="\n")
            writer.writeheader()
            writer.writerows(p for p in rows if p["county"].lower() == county)
    sheet = {"made": MADE.isoformat(), "value": listings(r, rows)}
    (HERE / "listings.json").write_text(
        json.dumps(sheet, ensure_ascii=False, indent=1) + "\n", encoding="utf-8"
    )


if __name__ == "__main__":
    main()
