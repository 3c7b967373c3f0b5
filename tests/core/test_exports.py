"""Property data from files: what a county's columns are, and what is refused."""

from __future__ import annotations

import json
from decimal import Decimal

import pytest
from quillcore.facts.exports import Export, proposed_columns, read_export, roll_row
from quillcore.facts.intake import from_listing, from_roll
from quillcore.facts.owners import read_owners
from quillcore.values import Fault

from tests.core.small import CATALOG

COUNTIES = {
    "with semicolons": (
        "PARCEL_ID;Owner Name;Site Address;City;Zip Code;Legal Desc;Yr Built;BLDG_SQFT;Acres;Total Value;Net"
        " Tax\n3-0404-0084;OKAFOR AMARA J & CHIDI;214 N ALDER ST #3;PORT LINDEN;09914;LOT 1 BLK"
        " 2;1962;2,100;0.25;412000;4490.80\n"
    ),
    "with tabs and other names": (
        "PIN\tTaxpayer\tProperty Address\tMunicipality\tZIP\tLegal Description\tYear Built\tHeated Area\tLand"
        " Area\tAssessed Value\tTaxes\n3-0404-0084\tOKAFOR AMARA J & CHIDI\t214 N ALDER ST #3\tPORT"
        " LINDEN\t09914\tLOT 1 BLK 2\t1962\t2100\t10890\t412,000\t4,490.80\n"
    ),
    "in parts, quoted, Windows letters": (
        '"APN","Owner1","Street Number","Direction","Street Name","Street Type","Unit","City","Zip"\r\n'
        '"3-0404-0084","OKAFOR AMARA J & CHIDI","214","N","ALDER","ST","3","PORT LINDEN","09914"\r\n'
    ),
}


@pytest.mark.parametrize("name", COUNTIES)
def test_a_countys_columns_are_proposed_and_its_row_reads_like_the_rolls(name: str) -> None:
    export = read_export(COUNTIES[name].encode("cp1252"))
    assert isinstance(export, Export) and export.kind == "roll"
    facts, unread = from_roll(CATALOG, roll_row(export.rows[0], proposed_columns(export.columns, CATALOG)))
    assert unread == []
    wanted = {
        "property.parcel_number": "3-0404-0084",
        "tax.owners": "OKAFOR AMARA J & CHIDI",
        "property.street_number": "214",
        "property.direction": "N",
        "property.street_name": "Alder",
        "property.street_suffix": "St",
        "property.unit": "3",
        "property.city": "Port Linden",
        "property.postal_code": "09914",
    }
    assert {k: facts[k] for k in wanted} == wanted
    if "tax.annual" in facts:
        assert (facts["tax.annual"], facts["tax.assessed_value"], facts["property.living_area"]) == (
            Decimal("4490.80"),
            Decimal("412000.00"),
            "2,100 sq ft",
        )
        assert facts["property.lot_size"] in (
            "0.25 acres",
            "10,890 sq ft",
        ), "in the unit that the column's name says"


@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16", "cp1252"])
def test_letters_come_through_whatever_the_encoding(encoding: str) -> None:
    export = read_export("PIN,Owner\n1,MUÑOZ JOSÉ\n".encode(encoding))
    assert isinstance(export, Export) and export.rows[0]["Owner"] == "MUÑOZ JOSÉ"


@pytest.mark.parametrize("shape", ["list", "value", "one"])
def test_a_reso_export_comes_as_a_list_under_value_or_as_one_record(shape: str) -> None:
    record = {"ListingId": "26-7", "StreetName": "Alder", "ListPrice": 412500}
    data = {"list": [record], "value": {"@odata.context": "x", "value": [record]}, "one": record}[shape]
    export = read_export(json.dumps(data).encode())
    assert isinstance(export, Export) and export.kind == "listing"
    assert from_listing(CATALOG, export.rows[0])[0]["listing.price"] == Decimal("412500.00")


@pytest.mark.parametrize(
    "content, said",
    [
        (b"", "empty"),
        (b"%PDF-1.7\x00\x01", "neither"),
        (b"PK\x03\x04\x00\x00", "neither"),
        (b'{"value": [1, 2]}', "no listings"),
        (b'[{"a": 1}]', "No record"),
        (b'{"value": [', "isn't valid"),
        (b"just a line of words\n", "no rows"),
        (b"PIN,Owner\n", "no rows"),
        (b"[" * 200_000, "nested more than 40 deep"),
    ],
)
def test_other_files_are_refused_with_a_sentence(content: bytes, said: str) -> None:
    found = read_export(content)
    assert isinstance(found, Fault) and said in found.message and found.mend


def test_short_and_long_rows_and_twin_columns_are_read() -> None:
    export = read_export(b"PIN,Owner,Owner,\n1,A\n2,B,C,D,E\n\n")
    assert isinstance(export, Export)
    assert export.columns == ("PIN", "Owner", "Owner (3)", "Column 4")
    assert [dict(r) for r in export.rows] == [
        {"PIN": "1", "Owner": "A"},
        {"PIN": "2", "Owner": "B", "Owner (3)": "C", "Column 4": "D"},
    ]


def test_two_owner_columns_are_one_line_and_a_place_in_one_is_taken_apart() -> None:
    columns = ["PIN", "Owner Name", "Owner Name 2", "Site Address", "City State Zip", "Acres"]
    mapping = proposed_columns(columns, CATALOG)
    assert (mapping["owner_2"], mapping["situs_place"]) == ("Owner Name 2", "City State Zip")
    row = dict(
        zip(
            columns,
            ["1", "VOSS LENA", "VOSS HENRIK", "214 ALDER ST", "TERN HARBOR CW 09914", "0.3"],
            strict=True,
        )
    )
    found = roll_row(row, mapping)
    assert [owner.name for owner in read_owners(found["owner"])] == ["Lena Voss", "Henrik Voss"]
    assert (found["situs_street"], found["situs_city"], found["situs_zip"]) == (
        "Alder",
        "Tern Harbor",
        "09914",
    )
    for nobody in ("", "N/A", "-", "VOSS LENA"):
        assert roll_row({**row, "Owner Name 2": nobody}, mapping)["owner"] == "VOSS LENA"
    alone = roll_row({**row, "Site Address": ""}, mapping)
    assert (alone["situs_city"], alone.get("situs_number"), alone.get("situs_street")) == (
        "Tern Harbor",
        None,
        None,
    )
