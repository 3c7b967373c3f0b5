"""Bringing in, over real HTTP to the stand-ins: compared first, undone in one step, and no harm when a service fails."""

from __future__ import annotations

import csv
import json
import uuid
from pathlib import Path
from typing import Any

import pytest
from django.conf import settings
from goodquill.facts.models import FactEntry

from tests.core.small import ROOT
from tests.server.world import Speaker, World

pytestmark = pytest.mark.usefixtures("stand_ins")
LISTINGS = json.loads((ROOT / "standins" / "data" / "listings.json").read_text())["value"]
NUMBER, PARCEL = LISTINGS[2]["ListingId"], LISTINGS[2]["ParcelNumber"]  # planted: the listing's living area is nine percent larger


def look(speaker: Speaker, **which: str) -> Any:
    return speaker.post(f"{speaker.path}/comparison", **which)


def accept(speaker: Speaker, comparison: str, **more: Any) -> dict[str, Any]:
    answer = speaker.post(f"{speaker.path}/bring-in", change=str(uuid.uuid4()), comparison=comparison, **more)
    assert answer.status_code == 200, answer.content
    return dict(answer.json())


def test_the_world_has_the_size_it_says() -> None:
    rows = sum(len(list(csv.reader(p.open()))) - 1 for p in Path(ROOT / "standins" / "data" / "roll").glob("*.csv"))
    assert (len(LISTINGS), rows) == (60, 2000)


@pytest.mark.parametrize(
    "which", [{"listing": NUMBER}, {"parcel": PARCEL}, {"parcel": PARCEL.replace("-", ""), "county": LISTINGS[2]["CountyOrParish"]}]
)
def test_a_listing_or_a_parcel_number_leads_to_both_sources(ines: Speaker, which: dict[str, str]) -> None:
    found = look(ines, **which).json()
    assert (found["listing"], found["parcel"]) == (NUMBER, PARCEL)
    assert found["rows"][0]["key"] == "property.living_area"
    assert found["rows"][0]["heavy"]
    assert FactEntry.objects.filter(source__in=["listing", "roll"]).count() == 0, "nothing is written before it is accepted"


def test_accepting_keeps_both_values_and_one_undo_takes_all_back(ines: Speaker) -> None:
    before = {f["key"]: f["shown"] for f in ines.open()["facts"]}
    done = accept(ines, look(ines, listing=NUMBER).json()["id"])
    assert done["said"] == f"Brought in listing {NUMBER} and parcel {PARCEL}"
    area = ines.fact("property.living_area")
    assert (area["differs"], {b["source"] for b in area["beside"]}) == (True, {"listing", "roll"})
    assert ines.fact("property.legal_description")["source"] == "roll"
    assert ines.fact("listing_agent.name")["source"] == "listing", "the other side's agent comes along"
    assert ines.fact("buyer_agent.name")["source"] == "profile"
    ines.undo(done["change"])
    assert {f["key"]: f["shown"] for f in ines.open()["facts"]} == before


def test_nothing_typed_is_overwritten_unless_it_is_chosen_in_the_comparison(ines: Speaker) -> None:
    ines.type("property.street_name", "Typed")
    found = look(ines, listing=NUMBER).json()
    row = next(r for r in found["rows"] if r["key"] == "property.street_name")
    assert (row["status"], row["becomes"]) == ("kept", "Typed")
    first = accept(ines, found["id"])
    assert ines.fact("property.street_name")["shown"] == "Typed"
    ines.undo(first["change"])
    accept(ines, look(ines, listing=NUMBER).json()["id"], take={"property.street_name": "listing"})
    assert (ines.fact("property.street_name")["shown"], ines.fact("property.street_name")["source"]) == (LISTINGS[2]["StreetName"], "listing")


def test_a_row_can_take_the_other_source(ines: Speaker) -> None:
    accept(ines, look(ines, listing=NUMBER).json()["id"], take={"property.living_area": "roll"})
    area = ines.fact("property.living_area")
    assert (area["source"], area["differs"]) == ("roll", False)


def test_accepting_again_recognises_a_retry(ines: Speaker) -> None:
    comparison, change = look(ines, listing=NUMBER).json()["id"], str(uuid.uuid4())
    for _ in range(2):
        assert ines.post(f"{ines.path}/bring-in", change=change, comparison=comparison).status_code == 200
    assert FactEntry.objects.filter(key="property.city", source="listing").count() == 1


def test_an_unknown_number_is_told_and_nothing_changes(ines: Speaker) -> None:
    answer = look(ines, listing="99-0000")
    assert answer.status_code == 404
    assert "The listing service has no listing “99-0000”." in answer.json()["detail"]
    assert look(ines, parcel="0-0000-0000").status_code == 404
    assert look(ines).status_code == 400


@pytest.mark.parametrize(
    ("how", "said"), [("down", "refused the request (503)"), ("slow", "did not answer in 1.5 seconds"), ("nonsense", "answers nonsense")]
)
def test_a_service_that_fails_costs_a_sentence_and_the_deal_goes_on(ines: Speaker, mood: Any, how: str, said: str) -> None:
    mood(settings.COUNTY_ROLL["url"], how)
    found = look(ines, listing=NUMBER).json()
    assert said in found["troubles"][0]
    assert found["parcel"] == ""
    accept(ines, found["id"])
    assert ines.fact("property.city")["source"] == "listing"
    mood(settings.LISTING_SERVICE["url"], how)
    answer = look(ines, listing=NUMBER)
    assert (answer.status_code, answer.json()["mend"]) == (503, "Nothing was changed.")
    mood(settings.COUNTY_ROLL["url"], "well")
    mood(settings.LISTING_SERVICE["url"], "well")
    assert look(ines, listing=NUMBER).status_code == 200, "and it recovers by itself"


def test_homes_are_found_while_typing_in_both_sources_at_once(world: World) -> None:
    speaker, home = Speaker(world.ines), LISTINGS[2]
    by_number = speaker.get("/api/properties", text=NUMBER).json()["found"]
    assert [h["listing"] for h in by_number] == [NUMBER]
    by_address = speaker.get("/api/properties", text=f"{home['StreetNumber']} {home['StreetName']}").json()["found"]
    both = next(h for h in by_address if h["listing"] == NUMBER)
    assert both["owner"], "the roll's owner stands in the same row"
    assert speaker.get("/api/properties", text=home["ParcelNumber"]).json()["found"][0]["parcel"]
    assert speaker.get("/api/properties", text="x").status_code == 400
    assert speaker.get("/api/properties", text="O'Neil's (Lane)").json()["found"] == []


def test_a_home_is_found_by_its_owner_within_a_county(world: World, stand_ins: None) -> None:
    speaker = Speaker(world.ines)
    assert speaker.get("/api/counties").json() == ["Juniper", "Linden", "Stonewater"]
    anywhere = speaker.get("/api/properties", text="okafor").json()["found"]
    assert anywhere and all("OKAFOR" in h["owner"] or "okafor" in h["address"].lower() for h in anywhere)
    county = anywhere[0]["county"]
    here = speaker.get("/api/properties", text="okafor", county=county).json()["found"]
    assert here and {h["county"].lower() for h in here} == {county.lower()}


def test_a_roll_that_is_down_is_said_once_and_the_listings_are_there(world: World, mood: Any, settings: Any) -> None:
    mood(settings.COUNTY_ROLL["url"], "down")
    found = Speaker(world.ines).get("/api/properties", text="alder").json()
    assert len(found["troubles"]) == 1
    assert Speaker(world.ines).get("/api/counties").json() == []
