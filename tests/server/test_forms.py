"""Finding forms, an office's own papers, releases, member numbers, and the ways a package leaves."""

from __future__ import annotations

import io
import uuid
import zipfile
from dataclasses import replace
from datetime import date, time, timedelta
from decimal import Decimal
from pathlib import Path
from typing import Any

import pikepdf
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.core.management import CommandError, call_command
from django.db import connection
from django.test.utils import CaptureQueriesContext
from goodquill.deals.models import Deal
from goodquill.forms.models import Release, ReleaseForm
from goodquill.forms.queries import retirements
from goodquill.offices.models import Membership
from goodquill.packs.actions import take_in
from quillcore.assembly import read_xfdf
from quillcore.packs.manifest import Pack
from quillcore.packs.reading import read_zip, write_zip

from tests.core.foreign import lined_form
from tests.core.small import SECOND, demo_pack, second_pack
from tests.server.world import Speaker, World


def upload(speaker: Speaker, path: str, content: bytes, name: str = "paper.pdf", **more: Any) -> Any:
    return speaker.client.post(path, {"file": SimpleUploadedFile(name, content), **more})


def numbers(answer: Any) -> list[str]:
    return [f["number"] for f in answer.json()]


@pytest.fixture
def ines(world: World) -> Speaker:
    return Speaker(world.ines, world.deal)


# Finding


@pytest.mark.parametrize(
    ("asked", "first"),
    [
        ({"find": "41"}, ["410", "411", "412", "414"]),
        ({"find": "lead-based"}, ["503"]),
        ({"find": "wire fraud"}, ["510"]),
        ({"find": "picocuries"}, ["410", "512"]),
        ({"find": "cash a buyer needs"}, ["701"]),
        ({"find": "zzz"}, []),
        ({"side": "renting"}, ["101", "510", "601", "603", "605"]),
        ({"find": "purchase agreement", "kind": "land"}, ["305"]),
        ({"topic": "financing"}, ["401", "403", "405"]),
    ],
)
def test_forms_are_found_by_number_title_purpose_and_text(
    ines: Speaker, asked: dict[str, str], first: list[str]
) -> None:
    assert numbers(ines.get("/api/forms", **asked))[: max(len(first), 1)] == first


def test_what_only_the_text_has_is_shown_with_the_words_around_it(ines: Speaker) -> None:
    found = ines.get("/api/forms", find="picocuries").json()[0]
    assert "picocuries" in found["found"]


def test_favourites_come_first_among_their_like_and_follow_the_form(ines: Speaker, world: World) -> None:
    association = demo_pack().sheet.association
    ines.post("/api/favourites", association=association, number="605", favourite=True)
    assert numbers(ines.get("/api/forms", side="renting"))[0] == "605"
    assert Speaker(world.bertil).get("/api/forms").json()[0]["number"] == "101"
    take_in(second_pack())
    assert numbers(ines.get("/api/forms", side="renting"))[0] == "605"
    ines.post("/api/favourites", association=association, number="605", favourite=False)
    assert numbers(ines.get("/api/forms", side="renting"))[0] == "101"


def test_finding_takes_a_fixed_number_of_queries(ines: Speaker) -> None:
    with CaptureQueriesContext(connection) as few:
        ines.get("/api/forms", find="buyer")
    take_in(second_pack())
    with CaptureQueriesContext(connection) as many:
        ines.get("/api/forms", find="buyer")
    assert len(many) == len(few) <= 8


def test_a_form_shows_its_blanks_before_it_is_used(ines: Speaker) -> None:
    edition = next(f["edition"] for f in ines.get("/api/forms").json() if f["number"] == "501")
    sheet = ines.get(f"/api/forms/{edition}").json()
    assert {b["who"] for b in sheet["fields_on_pages"] if b["id"] == "roof-1-yes"} == {"seller.1"}
    assert sheet["filled_by"] == ["listing"] and len(sheet["sizes"]) == sheet["pages"]
    assert ines.get("/api/forms/nothing").status_code == 404


# Member numbers


def test_without_an_active_membership_the_associations_forms_are_closed(world: World, ines: Speaker) -> None:
    Membership.objects.filter(user=world.ines).update(expires=date.today() - timedelta(days=1))
    assert ines.get("/api/forms").json() == [] and ines.get("/api/templates").json() == []
    refused = ines.post("/api/deals", side="buying")
    assert refused.status_code == 400 and "forms" in refused.json()["detail"]
    edition = world.deal.documents.exclude(edition=None)[0].edition_id
    assert ines.get(f"/api/editions/{edition}/pages/1/48.png").status_code == 200, "the deal keeps its pages"
    assert ines.get(f"{ines.path}/package.pdf").status_code == 200


@pytest.mark.parametrize(
    ("number", "name", "licence", "status", "says"),
    [
        ("cl-35504", "INÊS Calloway-Bright", "CW-35504", 200, ""),
        ("35504", "Ines", "CW-35504", 400, "isn't a member number"),
        ("CL-99999", "Ines", "CW-35504", 404, "knows no member"),
        ("CL-36120", "Bertil Osei", "CW-35504", 400, "a different license"),
        ("CL-36120", "Ines", "CW-36120", 400, "a different name"),
        ("CL-40077", "Odalys Brandt", "CW-40077", 200, ""),
    ],
)
def test_a_member_number_is_checked_with_the_registry(
    world: World, ines: Speaker, stand_ins: None, number: str, name: str, licence: str, status: int, says: str
) -> None:
    world.ines.name = world.ines.confirmed_name = name
    world.ines.licence = world.ines.confirmed_licence = licence
    world.ines.save()
    Membership.objects.filter(user=world.ines).delete()
    association = demo_pack().sheet.association
    answer = ines.post("/api/memberships", association=association, number=number)
    assert answer.status_code == status, answer.content
    if status == 200:
        assert answer.json()["open"] is (number == "cl-35504")
        assert bool(ines.get("/api/forms").json()) is (number == "cl-35504")
    else:
        assert says in answer.json()["detail"]


def test_a_licence_that_the_broker_has_not_confirmed_opens_nothing(
    world: World, ines: Speaker, stand_ins: None
) -> None:
    association = demo_pack().sheet.association
    assert ines.get("/api/forms").json()
    said = {"name": "Bertil Osei", "licence": "CW-36120", "licences": {}, "phone": "", "listing_code": ""}
    assert ines.post("/api/profile", **said).status_code == 200
    assert ines.get("/api/forms").json() == [], "what was open for another licence is closed"
    refused = ines.post("/api/memberships", association=association, number="CL-36120")
    assert (refused.status_code, refused.json()["rule"]) == (409, "unconfirmed")
    rosa = Speaker(world.rosa)
    stale = rosa.post(f"/api/members/{world.ines.pk}", op="confirm", name="Ines", licence="CW-1")
    assert stale.status_code == 409, "the broker confirms what the broker has seen"
    assert (
        rosa.post(
            f"/api/members/{world.ines.pk}", op="confirm", name="Bertil Osei", licence="CW-36120"
        ).status_code
        == 200
    )
    assert (
        ines.post("/api/memberships", association="Another Association", number="CL-36120").status_code == 400
    )
    assert ines.post("/api/memberships", association=association, number="CL-36120").json()["open"] is True
    assert ines.get("/api/forms").json()


def test_a_pack_that_the_brokerage_took_in_opens_to_active_members_alone(world: World, ines: Speaker) -> None:
    Release.objects.update(brokerage=world.ines.brokerage)
    assert ines.get("/api/forms").json() and Speaker(world.nadia).get("/api/forms").json() == []
    Membership.objects.filter(user=world.ines).update(expires=date.today() - timedelta(days=1))
    assert ines.get("/api/forms").json() == [] and Speaker(world.bertil).get("/api/forms").json()


def test_an_office_paper_by_somebody_whom_the_broker_does_not_let_is_proposed(
    world: World, ines: Speaker
) -> None:
    reading, rosa = read_paper(ines), Speaker(world.rosa)
    assert reading["may_save"] is False
    answer = ines.post(f"/api/papers/{reading['id']}/form", number="951", title="House terms")
    assert (answer.status_code, answer.json()) == (201, {"form": None, "proposed": True})
    assert numbers(ines.get("/api/forms", find="951")) == []
    assert [(p["proposed_by"], p["title"]) for p in rosa.get("/api/papers").json()] == [
        ("Ines", "House terms")
    ]
    assert (
        rosa.post(f"/api/papers/{reading['id']}/form", number="951", title="House terms").json()["form"][
            "number"
        ]
        == "951"
    )
    rosa.post(f"/api/members/{world.bertil.pk}", op="let_save_papers")
    other = read_paper(Speaker(world.bertil))
    assert (
        Speaker(world.bertil)
        .post(f"/api/papers/{other['id']}/form", number="952", title="More")
        .json()["form"]["number"]
        == "952"
    )


def test_a_colleagues_paper_in_work_is_not_ones_to_throw_away(world: World, ines: Speaker) -> None:
    reading = read_paper(ines)
    path = f"/api/papers/{reading['id']}"
    assert Speaker(world.bertil).client.delete(path).status_code == 404, "it isn't shared"
    ines.post(f"{path}/share", shared=True)
    assert Speaker(world.bertil).client.delete(path).status_code == 403
    assert ines.client.delete(path).status_code == 204 and ines.get("/api/papers").json() == []
    assert ines.client.delete(path).status_code == 409, "nothing is thrown away twice without a word"
    assert ines.post(path).status_code == 204 and len(ines.get("/api/papers").json()) == 1


def test_a_forgotten_number_is_found_by_name_and_licence(
    world: World, ines: Speaker, stand_ins: None
) -> None:
    world.ines.name, world.ines.licence = "Bertil Osei", "CW-36120"
    world.ines.save()
    assert ines.get("/api/memberships/forgotten").json() == {"numbers": ["CL-36120"]}


def test_a_registry_that_is_down_closes_nothing(ines: Speaker, mood: Any, settings: Any) -> None:
    mood(settings.MEMBER_REGISTRY["url"], "down")
    refused = ines.post("/api/memberships", association=demo_pack().sheet.association, number="CL-35504")
    assert refused.status_code == 503 and refused.json()["mend"] == "Your forms stay the same."
    assert ines.get("/api/forms").json()


# Papers of the office's own


ROWS: list[Any] = [("Purchaser(s):", "Text1"), ("Sale price: $", "Text2"), ("Buyer's signature", "Text3")]


def let_save_papers(world: World) -> None:
    world.ines.saves_papers = True
    world.ines.save()


def read_paper(speaker: Speaker, rows: list[Any] = ROWS, **more: Any) -> dict[str, Any]:
    answer = upload(speaker, "/api/papers", lined_form(rows), **more)
    assert answer.status_code == 201, answer.content
    return dict(answer.json())


def keep(speaker: Speaker, reading: dict[str, Any], **more: Any) -> Any:
    body = {"placed": reading["placed"], "paper": reading["paper"], "based_on": reading["version"], **more}
    return speaker.client.put(f"/api/papers/{reading['id']}", body, content_type="application/json")


def test_a_paper_read_in_becomes_a_form_that_every_deal_of_the_brokerage_can_use(
    world: World, ines: Speaker
) -> None:
    let_save_papers(world)
    reading = read_paper(ines)
    assert [(p["fact"], p["role"], p["confirmed"]) for p in reading["placed"]] == [
        ("buyers.names", "", False),
        ("terms.purchase_price", "", False),
        ("", "buyer.1", False),
    ]
    assert ines.get(f"/api/papers/{reading['id']}/pages/1/110.png").status_code == 200
    saved = ines.post(f"/api/papers/{reading['id']}/form", number="951", title="House terms")
    assert saved.status_code == 201, saved.content
    assert numbers(Speaker(world.bertil).get("/api/forms", find="951")) == ["951"]
    assert numbers(Speaker(world.nadia).get("/api/forms", find="951")) == []
    added = ines.post(
        f"{ines.path}/package", change=str(uuid.uuid4()), op="add", edition=saved.json()["form"]["edition"]
    )
    assert added.status_code == 200, added.content
    shown = {b["field"]: b["text"] for b in ines.open()["blanks"]}
    assert shown["text1"] == "Amara Okafor"
    assert ines.get(f"/api/editions/{saved.json()['form']['edition']}/pages/1/48.png").status_code == 200
    assert ines.get("/api/papers").json() == []


def test_what_is_placed_is_kept_and_what_is_wrong_with_it_said(ines: Speaker) -> None:
    reading = read_paper(ines)
    first, second_, *_ = reading["placed"]
    reading["placed"][1] = {**second_, "rect": first["rect"]}
    answer = keep(ines, reading)
    assert answer.status_code == 200
    assert "lie on each other" in answer.json()["faults"][0]["message"] and answer.json()["version"] == 2
    refused = ines.post(f"/api/papers/{reading['id']}/form", number="951", title="x")
    assert refused.status_code == 400 and "still here" in refused.json()["mend"]
    assert keep(ines, reading).status_code == 409, "based on an older state"
    assert (
        ines.post(f"/api/papers/{reading['id']}/form", number="", title="").json()["detail"]
        == "The paper needs a number and a title."
    )


def test_the_next_edition_of_a_paper_takes_its_meanings_along(world: World, ines: Speaker) -> None:
    let_save_papers(world)
    reading = read_paper(ines)
    reading["placed"][1] |= {"fact": "listing.price"}
    assert keep(ines, reading).status_code == 200
    first = ines.post(f"/api/papers/{reading['id']}/form", number="951", title="House terms").json()["form"]
    ines.post(f"{ines.path}/package", change=str(uuid.uuid4()), op="add", edition=first["edition"])
    again = read_paper(ines, [*ROWS[:2], ("Office use", "Text9")], replaces=first["edition"])
    assert again["placed"][1]["fact"] == "listing.price" and again["paper"]["number"] == "951"
    assert again["told"] == {"new": ["text9"], "gone": [], "moved": []} or again["told"]["gone"] == ["text3"]
    ines.post(f"/api/papers/{again['id']}/form", number="951", title="House terms")
    assert [f["edition"] for f in ines.get("/api/forms", find="951").json()] != [first["edition"]]
    assert first["edition"] in {d["edition"] for d in ines.open()["documents"]}, (
        "the open deal keeps its edition"
    )


@pytest.mark.parametrize("content", [b"no pdf", lined_form(ROWS)[:300], b""])
def test_a_file_that_is_no_paper_is_refused_in_a_sentence(ines: Speaker, content: bytes) -> None:
    answer = upload(ines, "/api/papers", content)
    assert answer.status_code == 400
    assert ines.get("/api/papers").json() == []


# Releases


def test_a_second_release_retires_the_old_editions_and_open_deals_keep_theirs(
    world: World, ines: Speaker
) -> None:
    ines.post(f"{ines.path}/package", change=str(uuid.uuid4()), op="add", number="412")
    assert ines.open()["findings"] == []
    take_in(second_pack())
    opened = ines.open()
    was = next(d for d in opened["documents"] if d["number"] == "412")
    assert [(f["rule"], f["weight"], f["place"]) for f in opened["findings"]] == [
        ("retired edition", "look", f"doc.{was['id']}")
    ]
    assert "on November 2, 2026" in opened["findings"][0]["message"]
    assert numbers(ines.get("/api/forms", find="41")) == ["410", "411", "412", "416"]
    assert retirements(world.ines, {was["edition"]}) == {was["edition"]: date(2026, 11, 2)}
    assert Speaker(world.ines).post("/api/deals", side="buying").status_code == 201
    assert world.deal.release.released == date(2026, 9, 15)


def test_a_release_from_tomorrow_is_not_used_today(world: World, ines: Speaker) -> None:
    pack = second_pack()
    tomorrow = pack.sheet.model_copy(update={"released": date.today() + timedelta(days=2)})
    take_in(replace(pack, sheet=tomorrow))
    assert ines.open()["findings"] == []
    deal = Speaker(world.ines).post("/api/deals", side="buying").json()["id"]
    assert Deal.objects.get(pk=deal).release.released == date(2026, 9, 15)


def test_a_broker_reads_a_release_sees_what_it_changes_and_takes_it_along(world: World) -> None:
    rosa, content = Speaker(world.rosa), write_zip(second_pack())
    seen = upload(rosa, "/api/releases", content, "pack.zip").json()
    assert [(c["number"], c["what"]) for c in seen["changes"]] == [
        ("322", "changed"),
        ("412", "changed"),
        ("414", "retired"),
        ("416", "new"),
    ]
    assert not seen["taken"] and Release.objects.count() == 1
    assert upload(rosa, "/api/releases", content, "pack.zip", take="true").json()["taken"]
    assert "416" in numbers(Speaker(world.ines).get("/api/forms"))
    assert "416" not in numbers(Speaker(world.nadia).get("/api/forms")), "another brokerage goes on as before"
    newest = next(r for r in rosa.get("/api/releases").json() if r["newest"])
    assert {c["number"] for c in rosa.get(f"/api/releases/{newest['id']}/changes").json()["changes"]} == {
        "322",
        "412",
        "414",
        "416",
    }


def test_a_release_says_its_rates_holidays_and_what_its_templates_answer(world: World) -> None:
    pack = second_pack()
    rates = pack.sheet.rates.model_copy(update={"title_minimum": Decimal("300.00")})
    sheet = pack.sheet.model_copy(
        update={
            "released": date(2026, 11, 3),
            "rates": rates,
            "deadline_time": time(18),
            "holidays": {**pack.sheet.holidays, date(2027, 3, 1): "Founders' Day"},
        }
    )
    slug = "buying-home"
    other = {
        **pack.templates[slug],
        "answers": {**pack.templates[slug]["answers"], "terms.possession": "after closing"},
    }
    changed = replace(pack, sheet=sheet, templates={**pack.templates, slug: other})
    seen = upload(Speaker(world.rosa), "/api/releases", write_zip(changed), "pack.zip").json()
    said = {d["what"]: (d["was"], d["now"]) for d in seen["sheet"]}
    assert said["Title premium, least"] == ("$250.00", "$300.00")
    assert said["Deadlines end at"] == ("17:00", "18:00")
    assert said["Holiday of March 1, 2027"] == ("", "Founders' Day")
    [template] = [t for t in seen["templates"] if t["parts"]]
    assert ("Possession", "after closing") in {(p["what"], p["now"]) for p in template["parts"]}


def test_a_broker_goes_back_to_the_release_before_and_takes_the_later_one_again(
    world: World, ines: Speaker
) -> None:
    rosa = Speaker(world.rosa)
    first = next(r["id"] for r in rosa.get("/api/releases").json() if r["newest"] and not r["own"])
    assert rosa.post(f"/api/releases/{first}/use", use=False).status_code == 409, "there is none before it"
    later = take_in(second_pack())
    path = f"/api/releases/{later.pk}/use"
    assert ines.post(path, use=False).status_code == 403
    assert rosa.post(path, use=False).status_code == 204 and rosa.post(path, use=False).status_code in (
        204,
        409,
    )
    row = {r["id"]: r for r in rosa.get("/api/releases").json()}
    assert (row[str(later.pk)]["left"], row[first]["newest"]) == (True, True)
    assert "416" not in numbers(Speaker(world.ines).get("/api/forms"))
    assert "416" in numbers(Speaker(world.nadia).get("/api/forms")), "another brokerage decides for itself"
    assert rosa.post(path, use=True).status_code == 204
    own = take_in(
        replace(second_pack(), sheet=second_pack().sheet.model_copy(update={"short": "Ours"})),
        world.rosa.brokerage,
    )
    assert Speaker(world.nadia).post(f"/api/releases/{own.pk}/use", use=False).status_code == 404
    assert "416" in numbers(Speaker(world.ines).get("/api/forms"))


def test_a_faulty_release_changes_nothing_and_says_all_its_faults(world: World) -> None:
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(write_zip(demo_pack()))) as whole, zipfile.ZipFile(out, "w") as broken:
        for name in whole.namelist():
            content = whole.read(name)
            broken.writestr(
                name,
                (
                    content.replace(b"terms.purchase_price", b"terms.prise")
                    if name == "forms/320/mapping.yaml"
                    else content[:-9]
                    if name.endswith("310/edition.pdf")
                    else content
                ),
            )
    answer = upload(Speaker(world.rosa), "/api/releases", out.getvalue(), "pack.zip", take="true").json()
    assert not answer["taken"] and answer["faults"]
    assert Release.objects.count() == 1


def test_a_release_exported_reads_back_to_the_same_editions(world: World) -> None:
    release = Release.objects.get()
    content = Speaker(world.rosa).get(f"/api/releases/{release.pk}.zip").content
    again = take_in(_read(content))
    pairs = [
        set(ReleaseForm.objects.filter(release=r).values_list("number", "edition", "mapping"))
        for r in (release, again)
    ]
    assert pairs[0] == pairs[1]


def _read(content: bytes) -> Pack:
    found = read_zip(content)
    assert isinstance(found, Pack), found
    return found


# Ways out


def test_a_package_leaves_flat_fillable_as_answers_and_one_by_one(ines: Speaker) -> None:
    ines.type("terms.purchase_price", "412500")
    path = f"{ines.path}/package.pdf"
    for how, fields in (("flat", False), ("fillable", True)):
        answer = ines.get(path, **{"as": how})
        with pikepdf.open(io.BytesIO(answer.content)) as pdf:
            assert ("/AcroForm" in pdf.Root) is fields
    answer = ines.get(path, **{"as": "xfdf"})
    assert read_xfdf(answer.content)["301.price"] == "412,500.00" and ".xfdf" in answer["Content-Disposition"]
    with zipfile.ZipFile(io.BytesIO(ines.get(path, **{"as": "separate"}).content)) as archive:
        assert archive.namelist()[0].startswith("01 101 ")
    assert ines.get(path, **{"as": "fax"}).status_code == 400


def test_a_choice_shows_what_it_allows_and_calls_the_rest_into_question(world: World) -> None:
    speaker = Speaker(world.ines)
    deal = speaker.post("/api/deals", side="listing").json()
    path = f"/api/deals/{deal['id']}"
    speaker.post(f"{path}/package", change=str(uuid.uuid4()), op="add", number="210")
    edits = [
        {"op": "type", "key": key, "text": text}
        for key, text in (("property.county", "Juniper"), ("property.city", "Ashgrove"))
    ]
    moved = speaker.expanded(speaker.post(f"{path}/changes", change=str(uuid.uuid4()), edits=edits))
    city = next(b for b in moved["blanks"] if b["field"] == "city")
    assert city["options"] == ["Port Linden", "Tern Harbor", "Unincorporated"]
    assert city["explained"]["Port Linden"] == "Capital and harbor"
    assert [(f["rule"], f["weight"], f["place"]) for f in city["findings"]] == [
        ("choice", "wrong", "property.city")
    ]
    assert "is not one of the choices where county is Juniper" in city["findings"][0]["message"]


def test_what_only_the_seller_may_answer_is_closed_to_agents(world: World, ines: Speaker) -> None:
    ines.post(f"{ines.path}/package", change=str(uuid.uuid4()), op="add", number="501")
    blank = next(b for b in ines.open()["blanks"] if b["field"] == "roof-1-yes")
    assert blank["state"] == "theirs" and not blank["editable"]
    for op in ("type", "clear", "empty"):
        refused = ines.edit({"op": op, "key": blank["key"], "text": "yes"})
        assert refused.status_code == 403 and "Only seller 1 may answer" in refused.json()["detail"]
    assert next(b for b in ines.open()["blanks"] if b["field"] == "roof-1-yes")["state"] == "theirs"


def test_the_operator_takes_a_release_in_for_every_member_and_a_faulty_one_not_at_all(
    world: World, tmp_path: Path
) -> None:
    call_command("take_in_pack", str(SECOND))
    assert "416" in numbers(Speaker(world.nadia).get("/api/forms"))
    broken = tmp_path / "broken.zip"
    broken.write_bytes(write_zip(demo_pack())[:2000])
    with pytest.raises(CommandError, match="ZIP"):
        call_command("take_in_pack", str(broken))
    assert Release.objects.count() == 2


def test_continuation_pages_are_on_screen_as_they_will_print(ines: Speaker) -> None:
    path = f"{ines.path}/continuation-pages"
    assert not any(d["continued"] for d in ines.open()["documents"]) and ines.get(path).json() == []
    moved = ines.type("terms.additional_terms", "Seller leaves the workbench. " * 120)
    continued = [d["id"] for d in moved["documents"] if d["continued"]]
    [page] = ines.get(path).json()
    assert continued == [page["document"]] and page["number"] == 1
    said = " ".join(text for _, _, _, text in page["lines"])
    assert "Continuation 1 of 1" in said and said.count("workbench") == 120
    ines.edit(*({"op": "party_add", "key": "buyers", "party": f"abcd123{n}"} for n in range(4)))
    spots = [s["role"] for page in ines.get(path).json() for s in page["spots"] if s["sign"] == "signature"]
    assert {"buyer.3", "buyer.4"} <= set(spots)
    ines.type("terms.additional_terms", "None.")
    assert "workbench" not in str(ines.get(path).json())
