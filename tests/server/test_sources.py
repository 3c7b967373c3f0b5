"""Bringing in, over real HTTP to the stand-ins: compared first, undone in one step, and no harm when a
service fails."""

from __future__ import annotations

import csv
import json
import uuid
from pathlib import Path
from typing import Any

import httpx
import pytest
from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from goodquill.changelog.models import FactEntry
from goodquill.deals.models import Deal
from goodquill.sources.models import Comparison, SourceFile
from goodquill.templates.models import Template
from quillcore.pdf import plain_text

from tests.core.small import ROOT
from tests.server.world import Speaker, World

pytestmark = pytest.mark.usefixtures("stand_ins")
LISTINGS = json.loads((ROOT / "standins" / "data" / "listings.json").read_text())["value"]
NUMBER, PARCEL = (
    LISTINGS[2]["ListingId"],
    LISTINGS[2]["ParcelNumber"],
)  # planted: the listing's living area is nine percent larger


def look(speaker: Speaker, **which: str) -> Any:
    return speaker.post(f"{speaker.path}/comparison", **which)


def accept(speaker: Speaker, comparison: str, **more: Any) -> dict[str, Any]:
    answer = speaker.post(f"{speaker.path}/bring-in", change=str(uuid.uuid4()), comparison=comparison, **more)
    assert answer.status_code == 200, answer.content
    return dict(answer.json())


def test_the_world_has_the_size_it_says() -> None:
    rows = sum(
        len(list(csv.reader(p.open()))) - 1 for p in Path(ROOT / "standins" / "data" / "roll").glob("*.csv")
    )
    assert (len(LISTINGS), rows) == (60, 2000)


def test_another_firms_listing_brings_an_owners_deal_only_what_is_the_homes(
    world: World, ines: Speaker
) -> None:
    answer = ines.post("/api/deals", side="listing", clients=[])
    deal = Speaker(world.ines, Deal.objects.get(pk=answer.json()["id"]))
    active = next(row for row in LISTINGS if row["StandardStatus"] == "Active")
    found = look(deal, listing=active["ListingId"]).json()
    keys = {row["key"] for row in found["rows"]}
    assert "property.parcel_number" in keys and not {k for k in keys if k.startswith("listing")}
    assert active["ListOfficeName"] in found["remark"] and "ask the owner" in found["remark"]
    accept(deal, found["id"])
    held = {f["key"]: f.get("shown", "") for f in deal.open()["facts"]}
    assert not held.get("listing.price") and held["property.city"] == active["City"]
    assert look(ines, listing=active["ListingId"]).json()["remark"] == "", "a buyer's deal takes all of it"


@pytest.mark.parametrize(
    "which",
    [
        {"listing": NUMBER},
        {"parcel": PARCEL},
        {"parcel": PARCEL.replace("-", ""), "county": LISTINGS[2]["CountyOrParish"]},
    ],
)
def test_a_listing_or_a_parcel_number_leads_to_both_sources(ines: Speaker, which: dict[str, str]) -> None:
    found = look(ines, **which).json()
    assert (found["listing"], found["parcel"]) == (NUMBER, PARCEL)
    assert found["rows"][0]["key"] == "property.living_area"
    assert found["rows"][0]["heavy"]
    assert FactEntry.objects.filter(source__in=["listing", "roll"]).count() == 0, (
        "nothing is written before it is accepted"
    )


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
    assert (ines.fact("property.street_name")["shown"], ines.fact("property.street_name")["source"]) == (
        LISTINGS[2]["StreetName"],
        "listing",
    )


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
    ("how", "said"),
    [
        ("down", "refused the request (503)"),
        ("slow", "did not answer in 1.5 seconds"),
        ("nonsense", "its answer can't be read"),
    ],
)
def test_a_service_that_fails_costs_a_sentence_and_the_deal_goes_on(
    ines: Speaker, mood: Any, how: str, said: str
) -> None:
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
    by_address = speaker.get("/api/properties", text=f"{home['StreetNumber']} {home['StreetName']}").json()[
        "found"
    ]
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


def test_a_roll_that_is_down_is_said_once_and_the_listings_are_there(
    world: World, mood: Any, settings: Any
) -> None:
    mood(settings.COUNTY_ROLL["url"], "down")
    found = Speaker(world.ines).get("/api/properties", text="alder").json()
    assert len(found["troubles"]) == 1
    assert Speaker(world.ines).get("/api/counties").json() == []


# Papers attached to a listing

WITH_PAPERS = "26-1104"


def documents(speaker: Speaker) -> list[tuple[str, str, bool]]:
    return [(d["title"], d["why"], d["set_aside"]) for d in speaker.open()["documents"]]


def test_attached_papers_are_offered_and_take_the_place_that_waits_for_them(ines: Speaker) -> None:
    before = documents(ines)
    found = look(ines, listing=WITH_PAPERS).json()
    assert [(p["title"], p["place"]) for p in found["papers"]] == [("Seller's Property Disclosure", "")], (
        "this template doesn't wait for it; photos are left"
    )
    done = accept(ines, found["id"], papers=[found["papers"][0]["key"]])
    assert ("Seller's Property Disclosure", f"attached to listing {WITH_PAPERS}", False) in documents(ines)
    pages = next(d for d in ines.open()["documents"] if d["title"] == "Seller's Property Disclosure")
    assert pages["pages"] == 4 and pages["blanks"] == 0
    picture = ines.get(f"/api/editions/{pages['edition']}/pages/1/48.png")
    assert picture.status_code == 200 and picture["Content-Type"] == "image/png"
    assert ines.get(f"{ines.path}/package.pdf").status_code == 200
    assert look(ines, listing=WITH_PAPERS).json()["papers"] == [], "what came before isn't offered again"
    assert (
        "is already in the package" in accept(ines, found["id"], papers=[found["papers"][0]["key"]])["said"]
    )
    ines.undo(done["change"])
    assert documents(ines) == before


def test_an_attached_paper_comes_in_the_place_of_what_was_expected(ines: Speaker, world: World) -> None:
    template = Template.objects.get(slug="buying-home-file", release=world.template.release)
    assert (
        ines.post(f"{ines.path}/templates", change=str(uuid.uuid4()), template=str(template.pk)).status_code
        == 200
    )
    waiting = next(d for d in ines.open()["documents"] if "property disclosure" in d["title"])
    found = look(ines, listing=WITH_PAPERS).json()
    assert found["papers"][0]["place"] == waiting["title"]
    done = accept(ines, found["id"], papers=[found["papers"][0]["key"]])
    came = next(d for d in ines.open()["documents"] if d["id"] == waiting["id"])
    assert (came["title"], came["pages"]) == ("Seller's Property Disclosure", 4)
    answer = ines.post(f"{ines.path}/templates", change=str(uuid.uuid4()), template=str(template.pk)).json()
    assert len(answer["documents"]) == len(ines.open()["documents"]), "applying again doesn't expect it anew"
    undone = ines.undo(done["change"])
    assert next(d for d in ines.open()["documents"] if d["id"] == waiting["id"])["edition"] == ""
    ines.undo(undone["change"])
    assert next(d for d in ines.open()["documents"] if d["id"] == waiting["id"])["pages"] == 4, (
        "undoing the undo brings it back"
    )


def test_a_blank_copy_that_the_other_side_fills_is_set_aside_for_the_filled_one(ines: Speaker) -> None:
    assert (
        ines.post(f"{ines.path}/package", change=str(uuid.uuid4()), op="add", number="501").status_code == 200
    )
    found = look(ines, listing=WITH_PAPERS).json()
    accept(ines, found["id"], papers=[found["papers"][0]["key"]])
    rows = {(d["number"], d["title"]): d["set_aside"] for d in ines.open()["documents"]}
    assert rows[("501", "Seller’s Property Disclosure")] is True
    assert rows[("", "Seller's Property Disclosure")] is False


def test_a_file_somewhere_else_is_not_fetched(ines: Speaker) -> None:
    found = look(ines, listing=WITH_PAPERS).json()
    comparison = Comparison.objects.get(pk=found["id"])
    comparison.papers = [{"key": "k", "title": "Elsewhere", "url": "http://127.0.0.1:1/secret.pdf"}]
    comparison.save()
    done = accept(ines, found["id"], papers=["k"])
    assert "isn't fetched" in done["said"] and done["said"].startswith("Brought in listing"), (
        "the facts came in all the same"
    )


# Looking again


def test_looking_again_shows_what_has_changed_at_the_source(ines: Speaker) -> None:
    refused = look(ines, again=True)
    assert refused.status_code == 409
    accept(ines, look(ines, listing=NUMBER).json()["id"])
    key = next(r["ListingKey"] for r in LISTINGS if r["ListingId"] == NUMBER)
    url = f"{settings.LISTING_SERVICE['url']}/odata/Property('{key}')"
    headers = {"Authorization": f"Bearer {settings.LISTING_SERVICE['token']}"}
    price = LISTINGS[2]["ListPrice"]
    try:
        httpx.patch(
            url,
            json={"ListPrice": price - 10_000, "StandardStatus": "Pending"},
            headers=headers,
            trust_env=False,
        ).raise_for_status()
        found = look(ines, again=True).json()
    finally:
        httpx.patch(
            url, json={"ListPrice": price, "StandardStatus": "Active"}, headers=headers, trust_env=False
        ).raise_for_status()
    assert (found["listing"], found["parcel"], bool(found["before"])) == (NUMBER, PARCEL, True)
    assert {r["key"]: r["was"] for r in found["rows"] if r["was"]} == {
        "listing.price": {"listing": f"${price:,}.00"},
        "listing.status": {"listing": "Active"},
    }


# Files as sources


def read_file(speaker: Speaker, name: str, content: bytes) -> Any:
    return speaker.client.post("/api/property-files", {"file": SimpleUploadedFile(name, content)})


def test_a_reso_export_goes_through_the_same_comparison(ines: Speaker) -> None:
    content = json.dumps({"value": LISTINGS[:5]}).encode()
    file = read_file(ines, "export.json", content).json()
    assert (file["kind"], file["rows"]) == ("listing", 5)
    found = ines.get(f"/api/property-files/{file['id']}", find=NUMBER).json()["found"]
    assert [f["listing"] for f in found] == [NUMBER]
    comparison = look(ines, file=file["id"], row=found[0]["row"]).json()
    assert (comparison["listing"], comparison["parcel"], comparison["file"]) == (
        NUMBER,
        PARCEL,
        "export.json",
    ), "the roll is asked about the same parcel"
    assert comparison["rows"][0]["key"] == "property.living_area"
    accept(ines, comparison["id"])
    assert ines.fact("property.year_built")["source"] == "roll"


def test_a_countys_columns_are_mapped_once_and_remembered(ines: Speaker, world: World) -> None:
    lines = (
        b"KEY NO;WHO;WHERE;PLACE\n9-1;OKAFOR AMARA J & CHIDI;214 N ALDER ST #3;PORT LINDEN\n9-2;VOSS LENA"
        b" TR;9 MILL LN;ASHGROVE\n"
    )
    file = read_file(ines, "linden.csv", lines).json()
    assert (file["kind"], file["remembered"]) == ("roll", False)
    wrong = ines.post(f"/api/property-files/{file['id']}", mapping={"parcel": "NO SUCH"})
    assert wrong.status_code == 400
    mapping = {"parcel": "KEY NO", "owner": "WHO", "situs": "WHERE", "situs_city": "PLACE"}
    mapped = ines.post(f"/api/property-files/{file['id']}", mapping=mapping).json()
    assert [f["address"] for f in mapped["found"]] == [
        "214 N Alder St Unit 3, Port Linden",
        "9 Mill Ln, Ashgrove",
    ]
    later = read_file(
        Speaker(world.bertil), "linden-may.csv", lines + b"9-3;DOE JUNE;1 ELM ST;ASHGROVE\n"
    ).json()
    assert (later["remembered"], later["mapping"]) == (True, mapping), "by a colleague, too"
    found = ines.get(f"/api/property-files/{file['id']}", find="voss").json()["found"]
    comparison = look(ines, file=file["id"], row=found[0]["row"]).json()
    accept(ines, comparison["id"])
    assert (ines.fact("tax.owners")["shown"], ines.fact("property.city")["shown"]) == (
        "VOSS LENA TR",
        "Ashgrove",
    )
    assert [s["name"] for s in ines.open()["suggested"]] == ["Lena Voss"]


@pytest.mark.parametrize("content", [b"", b"PK\x03\x04\x00\x00", b"one line\n", b'{"value": []}'])
def test_a_file_that_is_neither_is_refused_and_nothing_is_kept(ines: Speaker, content: bytes) -> None:
    answer = read_file(ines, "roll.xlsx", content)
    assert answer.status_code == 400
    assert SourceFile.objects.count() == 0


# The property report


def test_a_property_report_is_read_and_printed(ines: Speaker, mood: Any) -> None:
    report = ines.get(
        "/api/properties/report", parcel=PARCEL.replace("-", ""), county=LISTINGS[2]["CountyOrParish"]
    ).json()
    assert report["parcel"] == PARCEL and len(report["years"]) == 6 and report["sales"]
    assert (
        report["years"][0]["tax"].startswith("$") and report["years"][0]["year"] > report["years"][1]["year"]
    )
    assert {s["title"] for s in report["sections"]} == {"On the plat", "Building and land", "Ownership"}
    answer = ines.get("/api/properties/report.pdf", parcel=PARCEL)
    printed = plain_text(answer.content)
    assert (
        report["address"].split(",")[0] in printed
        and "Assessment and taxes by year" in printed
        and "Ines, Ours" in printed
    )
    assert ines.get("/api/properties/report", parcel="0-0000-0000").status_code == 404
    assert ines.get("/api/properties/report", parcel=PARCEL, county="Nowhere").status_code == 404
    assert ines.get("/api/properties/report").status_code == 400
    mood(settings.COUNTY_ROLL["url"], "down")
    down = ines.get("/api/properties/report", parcel=PARCEL)
    assert down.status_code == 503 and "tax roll" in down.json()["detail"]


@pytest.mark.parametrize(
    "typed",
    [
        "574 N Ropewalk Rd",
        "574 North Ropewalk Road",
        "574 n. ropewalk rd., Quarry Bend",
        "574 N ROPEWALK RD QUARRY BEND CW 09937",
        "574 Ropew",
        "504040084",
        "5-0404-0084",
        "26-1118",
    ],
)
def test_a_home_is_found_in_any_usual_writing(world: World, stand_ins: None, typed: str) -> None:
    found = Speaker(world.ines).get("/api/properties", text=typed).json()["found"]
    home = found[0]
    assert (home["listing"], home["parcel"]) == ("26-1118", "5-0404-0084")


def test_owners_are_found_as_one_says_them_and_in_every_county(world: World, stand_ins: None) -> None:
    speaker = Speaker(world.ines)
    estate = speaker.get("/api/properties", text="estate of Tanaka").json()["found"]
    assert estate and all({"EST", "TANAKA"} <= set(h["owner"].split()) for h in estate)
    common = speaker.get("/api/properties", text="okafor").json()
    assert {h["county"] for h in common["found"]} == {"Juniper", "Linden", "Stonewater"}
    assert common["more"] > 0 and len(common["found"]) == 12


def test_a_comparison_says_which_home_it_is(ines: Speaker) -> None:
    assert look(ines, listing=NUMBER).json()["address"].startswith(LISTINGS[2]["StreetNumber"])
