"""Addresses: what is the same place, and what stands in which part."""

from __future__ import annotations

import json

import pytest
from hypothesis import given
from hypothesis import strategies as st
from quillcore.cli import main
from quillcore.facts import Ledger, compare
from quillcore.values import KINDS
from quillcore.values.addresses import normal_form, take_apart

from tests.core.small import CATALOG

SAME = [
    ("214 North Alder Street #3", "214 N ALDER ST UNIT 3"),
    ("214 N. Alder St., Unit 3", "214 N ALDER ST UNIT 3"),
    ("88 Harbor Row, Tern Harbor, CW 09948-1234", "88 HBR ROW TERN HBR CW 09948"),
    ("12 First Avenue Apt #4B", "12 1ST AVE APT 4B"),
    ("5 O'Neil Lane", "5 ONEIL LN"),
    ("900 SW Quarry Boulevard Suite 200", "900 SW QUARRY BLVD STE 200"),
    ("41 Saint Claire Court", "41 ST CLAIRE CT"),
    ("1200 Northwest Basalt Highway", "1200 NW BASALT HWY"),
]


@pytest.mark.parametrize(("written", "normal"), SAME)
def test_addresses_have_one_form_for_comparing(written: str, normal: str) -> None:
    assert normal_form(written) == normal
    assert KINDS["address"].same(written, normal)


@pytest.mark.parametrize(
    ("one", "other"),
    [
        ("214 N Alder St", "214 S Alder St"),
        ("214 Alder St Unit 3", "214 Alder St Unit 4"),
        ("214 Alder St", "214 Alder Ave"),
    ],
)
def test_other_places_stay_apart(one: str, other: str) -> None:
    assert not KINDS["address"].same(one, other)


@given(st.text(max_size=80))
def test_the_form_for_comparing_is_its_own(text: str) -> None:
    assert normal_form(normal_form(text)) == normal_form(text)


def test_an_address_is_taken_apart_as_written() -> None:
    found = take_apart("214 North Alder Street #3, Port Linden, CW 09914")
    assert (found.number, found.direction, found.street, found.suffix, found.unit) == (
        "214",
        "North",
        "Alder",
        "Street",
        "3",
    )
    assert (found.city, found.postal_code) == ("Port Linden", "09914")


@given(st.text(max_size=80))
def test_nothing_that_is_typed_breaks_taking_apart(text: str) -> None:
    take_apart(text)


def test_a_listing_that_abbreviates_does_not_differ_from_the_roll() -> None:
    rows = compare(
        Ledger(CATALOG, "buying"),
        {"property.street_suffix": "St", "property.direction": "North"},
        {"property.street_suffix": "Street", "property.direction": "N"},
    )
    assert {r.status for r in rows} == {"new"}


def test_the_command_line_takes_addresses_apart(capsys: pytest.CaptureFixture[str]) -> None:
    assert main(["address", "214 N Alder St Unit 3, Port Linden, CW 09914"]) == 0
    said = json.loads(capsys.readouterr().out)
    assert (said["number"], said["unit"], said["normal"]) == (
        "214",
        "3",
        "214 N ALDER ST UNIT 3 PORT LINDEN CW 09914",
    )
