"""Templates: written like deals, published, offered to new deals, applied, and as files."""

from __future__ import annotations

import uuid
from typing import Any

import pytest
import yaml
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test.utils import CaptureQueriesContext
from goodquill.deals.models import Deal
from goodquill.packs.actions import take_in
from goodquill.templates.models import Template

from tests.core.small import second_pack
from tests.server.world import Speaker, World


class Writer:
    """A member who writes a template."""

    def __init__(self, user: Any, **given: Any) -> None:
        self.speaker = Speaker(user)
        begun = self.speaker.post("/api/templates", **{"name": "Mine", **given})
        assert begun.status_code == 201, begun.json()
        self.begun = begun.json()
        self.id = self.begun["id"]
        self.path = f"/api/templates/{self.id}"
        self.copy = self.whole()["working_copy"]
        self.deal = f"/api/deals/{self.copy}"

    def whole(self) -> dict[str, Any]:
        answer = self.speaker.get(self.path)
        assert answer.status_code == 200, answer.json()
        found: dict[str, Any] = answer.json()
        return found

    def edit(self, *edits: dict[str, Any]) -> Any:
        return self.speaker.post(f"{self.deal}/changes", change=str(uuid.uuid4()), edits=list(edits))

    def type(self, key: str, text: str) -> Any:
        return self.edit({"op": "type", "key": key, "text": text})

    def pack(self, **op: Any) -> Any:
        return self.speaker.post(f"{self.deal}/package", change=str(uuid.uuid4()), **op)

    def about(self, **said: Any) -> Any:
        return self.speaker.post(self.path, change=str(uuid.uuid4()), **said)

    def publish(self, reach: str, **more: Any) -> Any:
        return self.speaker.post(f"{self.path}/publish", reach=reach, **more)

    def written(self) -> Template:
        return Template.objects.get(pk=self.id)


@pytest.fixture
def mine(world: World) -> Writer:
    return Writer(world.ines, side="buying", kinds=["single-family"])


def names(speaker: Speaker, **asked: str) -> list[str]:
    return [t["name"] for t in speaker.get("/api/templates", **asked).json()]


def test_a_template_is_written_with_the_means_of_a_deal(world: World, mine: Writer) -> None:
    assert mine.pack(op="add", numbers=["101", "301", "503"]).status_code == 200
    assert mine.type("terms.inspection_days", "10").status_code == 200
    assert mine.type("terms.closing_date", "= days_after(terms.acceptance_date, 40)").status_code == 200
    assert mine.pack(op="expect", expected="Proof of funds", expected_from="buyer").status_code == 200
    kept = mine.written()
    assert [d.get("form") or d["expected"] for d in kept.data["documents"]] == [
        "101",
        "301",
        "503",
        "Proof of funds",
    ]
    assert kept.data["answers"] == {
        "terms.closing_date": "= days_after(terms.acceptance_date, 40)",
        "terms.inspection_days": "10",
    }
    opened = mine.speaker.get(mine.deal).json()
    facts = {f["key"]: f for f in opened["facts"]}
    assert facts["terms.inspection_days"]["source"] == "template"
    assert facts["terms.closing_date"]["edit"] == "= days_after(terms.acceptance_date, 40)"
    row = next(t for t in mine.speaker.get("/api/templates").json() if t["id"] == mine.id)
    assert (row["documents"], row["answers"], row["whose"]) == (4, 2, world.ines.name)
    assert row["coverage"]["you"] >= 1 and row["mine"] and row["may_write"]


def test_its_steps_are_undone_like_a_deals(mine: Writer) -> None:
    mine.type("terms.inspection_days", "10")
    changed = mine.about(name="Better", rule='property.county = "Linden"', weight="suggested").json()
    assert mine.written().name == "Better" and mine.written().data["rule"] == 'property.county = "Linden"'
    undone = mine.speaker.post(f"{mine.deal}/undo", change=str(uuid.uuid4()), target=changed["change"])
    assert undone.status_code == 200
    kept = mine.written()
    assert (kept.name, kept.rule, kept.weight) == ("Mine", "", "")
    assert "rule" not in kept.data and kept.data["answers"] == {"terms.inspection_days": "10"}
    said = [s["said"] for s in mine.speaker.get(f"{mine.deal}/history").json()]
    assert any("Better" in text for text in said)


def test_it_is_no_deal(world: World, mine: Writer) -> None:
    listed = mine.speaker.get("/api/deals").json()
    assert mine.copy not in {d["id"] for d in listed}
    assert mine.speaker.get("/api/deals", find="Mine").json() == []
    for path, body in (
        (f"{mine.deal}/offers", {"name": "", "like": None}),
        (
            f"{mine.deal}/comparison",
            {"listing": "1", "parcel": "", "county": "", "file": None, "row": 0, "again": False},
        ),
    ):
        refused = mine.speaker.post(path, change=str(uuid.uuid4()), **body)
        assert refused.status_code == 409 and "not a deal" in refused.json()["detail"], refused.json()
    assert mine.speaker.post(f"{mine.deal}/hand-on", fell_through=False).status_code == 409
    assert mine.speaker.post(f"{mine.deal}/stage", stage="fell through").status_code == 409
    assert mine.speaker.client.delete(mine.deal).status_code == 409
    named = mine.edit({"op": "party_add", "key": "buyers", "party": "abcd1234"})
    assert named.status_code == 400 and "has no parties" in named.json()["detail"]


def test_a_blank_that_only_a_party_answers_takes_no_standing_answer(mine: Writer) -> None:
    mine.pack(op="add", numbers=["501"])
    opened = mine.speaker.expanded(mine.speaker.get(mine.deal))
    theirs = next(b for b in opened["blanks"] if b["state"] == "theirs")
    refused = mine.type(theirs["own_key"], "no")
    assert refused.status_code == 403 and "Only" in refused.json()["detail"]


def test_applied_it_brings_forms_answers_and_what_is_held_in_reserve(world: World, mine: Writer) -> None:
    mine.pack(op="add", numbers=["301", "503"])
    documents = mine.speaker.get(mine.deal).json()["documents"]
    mine.pack(op="aside", document=documents[1]["id"])
    mine.type("terms.inspection_days", "17")
    mine.type("terms.closing_date", "= days_after(terms.acceptance_date, 40)")
    started = mine.speaker.post(
        "/api/deals", side="buying", templates=[mine.id], clients=[{"given": "Ann", "family": "Lee"}]
    )
    assert started.status_code == 201, started.json()
    opened = mine.speaker.get(f"/api/deals/{started.json()['id']}").json()
    assert [(d["number"], d["set_aside"]) for d in opened["documents"]] == [("301", False), ("503", True)]
    facts = {f["key"]: f for f in opened["facts"]}
    assert (facts["terms.inspection_days"]["shown"], facts["terms.inspection_days"]["source"]) == (
        "17",
        "template",
    )
    assert facts["terms.closing_date"]["missing"] == ["terms.acceptance_date"]
    row = next(t for t in mine.speaker.get("/api/templates").json() if t["id"] == mine.id)
    assert row["used"] == 1
    assert Deal.objects.get(pk=started.json()["id"]).began_with.count() == 1


def test_several_templates_come_to_one_deal(world: World, mine: Writer) -> None:
    mine.pack(op="add", numbers=["510"])
    mine.type("terms.inspection_days", "17")
    other = Writer(world.ines, name="Other", side="buying")
    other.pack(op="add", numbers=["510", "503"])
    other.type("terms.inspection_days", "9")
    other.type("terms.possession", "at closing")
    started = mine.speaker.post("/api/deals", side="buying", templates=[mine.id, other.id, mine.id]).json()
    opened = mine.speaker.get(f"/api/deals/{started['id']}").json()
    assert [d["number"] for d in opened["documents"]] == ["510", "503"]
    facts = {f["key"]: f["shown"] for f in opened["facts"] if "shown" in f}
    assert (facts["terms.inspection_days"], facts["terms.possession"]) == ("17", "at closing")


def test_mine_is_mine_until_it_is_published(world: World, mine: Writer) -> None:
    mine.type("terms.inspection_days", "10")
    bertil = Speaker(world.bertil)
    for other in (world.bertil, world.rosa, world.tom):
        speaker = Speaker(other)
        assert "Mine" not in names(speaker) and speaker.get(mine.path).status_code == 404
        assert speaker.get(mine.deal).status_code == 404
    assert bertil.post("/api/deals", side="buying", templates=[mine.id]).status_code == 404
    refused = mine.publish("brokerage", said="First")
    assert refused.status_code == 403, "an agent publishes to the brokerage only where the broker lets"
    done = mine.publish("members", members=[str(world.bertil.pk)], said="First")
    assert done.status_code == 200 and done.json()["version"] == 1
    assert [v["said"] for v in done.json()["versions"]] == ["First"]
    assert "Mine" in names(bertil) and bertil.get(mine.path).json()["working_copy"] is None
    assert bertil.get(mine.path).json()["may_write"] is False
    assert bertil.post(mine.path, change=str(uuid.uuid4()), name="Bertil’s").status_code == 404
    for other in (world.rosa, world.tom):
        assert "Mine" in names(Speaker(other)), "broker and coordinator see what is shared in their house"


def test_what_others_get_is_what_was_published(world: World, mine: Writer) -> None:
    mine.type("terms.inspection_days", "10")
    mine.publish("members", members=[str(world.bertil.pk)], said="First")
    mine.type("terms.inspection_days", "12")
    row = next(t for t in mine.speaker.get("/api/templates").json() if t["id"] == mine.id)
    assert row["unpublished"] is True
    assert mine.written().data["answers"] == {"terms.inspection_days": "10"}
    bertil = Speaker(world.bertil)
    started = bertil.post("/api/deals", side="buying", templates=[mine.id]).json()
    facts = {f["key"]: f.get("shown") for f in bertil.get(f"/api/deals/{started['id']}").json()["facts"]}
    assert facts["terms.inspection_days"] == "10"
    files = [yaml.safe_load(s.get(f"{mine.path}.yaml").content)["answers"] for s in (bertil, mine.speaker)]
    assert [a["terms.inspection_days"] for a in files] == ["10", "12"], "the draft is its writers' alone"
    assert mine.publish("members", members=[str(world.bertil.pk)], said="Twelve").json()["version"] == 2
    assert mine.written().data["answers"] == {"terms.inspection_days": "12"}
    mine.publish("mine")
    assert "Mine" not in names(bertil)


def test_another_brokerage_sees_nothing(world: World, mine: Writer) -> None:
    mine.type("terms.inspection_days", "10")
    world.ines.saves_papers = True
    world.ines.save()
    assert mine.publish("brokerage", said="All").status_code == 200
    nadia = Speaker(world.nadia)
    assert "Mine" not in names(nadia)
    for answer in (
        nadia.get(mine.path),
        nadia.get(f"{mine.path}.yaml"),
        nadia.get(mine.deal),
        nadia.post("/api/templates", name="Copy", copy_of=mine.id),
        nadia.post(mine.path, change=str(uuid.uuid4()), name="Ours"),
    ):
        assert answer.status_code == 404, answer


def test_an_empty_one_is_not_published(mine: Writer) -> None:
    refused = mine.publish("members", members=[])
    assert refused.status_code == 400 and "is empty" in refused.json()["detail"]


def test_the_broker_locks_and_deals_keep_to_it(world: World) -> None:
    broker = next(u for u in (world.rosa, world.bertil, world.tom) if u.role == "broker")
    house = Writer(broker, name="House", side="buying")
    house.type("terms.possession", "at closing")
    assert house.edit({"op": "lock", "key": "terms.possession"}).status_code == 200
    assert house.publish("brokerage", said="For all").status_code == 200
    assert house.written().data["locked"] == ["terms.possession"]
    ines = Speaker(world.ines)
    started = ines.post("/api/deals", side="buying", templates=[house.id]).json()
    deal = f"/api/deals/{started['id']}"
    edit = {"op": "type", "key": "terms.possession", "text": "after closing"}
    refused = ines.post(f"{deal}/changes", change=str(uuid.uuid4()), edits=[edit])
    assert refused.status_code == 403 and "locked by the brokerage" in refused.json()["detail"]
    unlock = {"op": "unlock", "key": "terms.possession"}
    assert ines.post(f"{deal}/changes", change=str(uuid.uuid4()), edits=[unlock]).status_code == 403


def test_rules_bring_the_required_one_first_and_say_why(world: World) -> None:
    broker = next(u for u in (world.rosa, world.bertil, world.tom) if u.role == "broker")
    house = Writer(broker, name="Zebra house rule", side="buying")
    house.pack(op="add", numbers=["101"])
    assert house.about(rule='property.county = "Linden"', weight="required").status_code == 200
    house.publish("brokerage", said="For Linden")
    ines = Speaker(world.ines)
    always = Writer(broker, name="House first papers", side="buying")
    always.pack(op="add", numbers=["510"])
    always.about(rule='deal.side = "buying"', weight="required")
    always.publish("brokerage", said="For all")
    for taken, told in (([always.id], False), ([], True)):
        started = ines.post("/api/deals", side="buying", templates=taken).json()
        said = ines.get(f"/api/deals/{started['id']}/history").json()[-1]["said"]
        assert ("without “House first papers”, which is required" in said) is told, said
    found = ines.get("/api/templates", side="buying", category="single-family", county="Linden").json()
    assert [t["name"] for t in found if t["rank"] == "required"] == ["House first papers", "Zebra house rule"]
    assert "required by" in found[0]["why"]
    assert [t["rank"] for t in found if t["fits"]] == ["fits"]
    elsewhere = ines.get("/api/templates", side="buying", category="single-family", county="Juniper").json()
    assert next(t for t in elsewhere if t["name"] == "Zebra house rule")["rank"] == "other"
    wrong = house.about(rule="terms.purchase_price > 5")
    assert wrong.status_code == 400 and "isn't known yet" in wrong.json()["detail"]
    tried = ines.post(
        f"/api/templates/{Writer(world.ines, side='buying').id}/rule", rule='deal.side = "buying"'
    ).json()
    assert tried["of"] >= 1 and tried["held"] == tried["of"]


def test_a_copy_is_mine_and_remembers_where_it_came_from(world: World) -> None:
    ines = Speaker(world.ines)
    like = next(t for t in ines.get("/api/templates").json() if t["whose"] == "the association")
    copy = Writer(world.ines, name="My own", copy_of=like["id"])
    whole = copy.whole()
    assert whole["copied_from"]["name"] == like["name"] and whole["answers"] == like["answers"]
    assert whole["forms"] == like["forms"] and whole["side"] == like["side"]
    assert ines.post(f"/api/templates/{like['id']}", change=str(uuid.uuid4()), name="X").status_code == 404


def test_from_a_deal_what_is_this_deals_own_stays_out(world: World, ines: Speaker) -> None:
    ines.type("terms.inspection_days", "13")
    ines.type("terms.purchase_price", "412500")
    ines.type("property.street_name", "Alder")
    made = Writer(world.ines, name="As before", from_deal=str(world.deal.pk))
    kept = made.written().data
    assert kept["answers"]["terms.inspection_days"] == "13"
    assert not {k for k in kept["answers"] if k.startswith(("property.", "party.", "buyers"))}
    assert "terms.purchase_price" not in kept["answers"]
    assert "Purchase price" in made.begun["stayed_out"]
    assert "Amara" not in str(kept)
    assert [d.get("form") for d in kept["documents"]] == [
        d["number"] or None for d in ines.open()["documents"]
    ]


def test_as_a_file_out_and_in_it_is_the_same(mine: Writer) -> None:
    mine.pack(op="add", numbers=["101", "301"])
    mine.type("terms.inspection_days", "10")
    mine.about(about="What I send.", rule='deal.side = "buying"', weight="suggested")
    answer = mine.speaker.get(f"{mine.path}.yaml")
    out = answer.getvalue() if hasattr(answer, "getvalue") else answer.content
    assert yaml.safe_load(out)["answers"] == {"terms.inspection_days": "10"}
    back = mine.speaker.client.post(
        "/api/templates/file", {"file": SimpleUploadedFile("mine.yaml", out)}, format="multipart"
    )
    assert back.status_code == 201, back.json()
    again = Template.objects.get(pk=back.json()["id"])
    assert {k: v for k, v in again.data.items() if v} == {k: v for k, v in mine.written().data.items() if v}


@pytest.mark.parametrize(
    ("content", "told"),
    [
        (b"\x00\xff", "template"),
        (b"a: &a [*a]", "template"),
        (b"name: X\nside: sideways\ndocuments: []", "side"),
        (b"name: X\nside: buying\ndocuments: [{section: A, form: '999'}]", "no form 999"),
        (b"name: X\nside: buying\ndocuments: []\nanswers: {terms.nothing: '1'}", "no fact"),
        (b"name: X\nside: buying\ndocuments: []\nrule: '((('", "rule"),
        (b"[" * 5000, "template"),
    ],
)
def test_a_file_that_is_no_template_is_told_and_nothing_is_kept(
    mine: Writer, content: bytes, told: str
) -> None:
    before = Template.objects.count()
    back = mine.speaker.client.post(
        "/api/templates/file", {"file": SimpleUploadedFile("x.yaml", content)}, format="multipart"
    )
    assert back.status_code == 400 and told in back.json()["detail"], back.json()
    assert Template.objects.count() == before


def test_taken_off_the_list_it_comes_back(mine: Writer) -> None:
    assert mine.speaker.client.delete(mine.path).status_code == 204
    assert "Mine" not in names(mine.speaker)
    assert mine.speaker.post(f"{mine.path}/restore").status_code == 204
    assert "Mine" in names(mine.speaker)


def test_what_is_left_open_is_named_by_form(mine: Writer) -> None:
    mine.pack(op="add", numbers=["301"])
    left = mine.whole()["left"]
    assert {"301"} == {row["number"] for row in left}
    assert {"asked", "parties", "listing and roll"} <= {row["by"] for row in left}
    before = len(left)
    mine.type("terms.possession", "at closing")
    assert len(mine.whole()["left"]) < before


def test_it_moves_on_to_newer_editions_and_back(world: World, mine: Writer) -> None:
    mine.pack(op="add", numbers=["301", "412", "414"])
    mine.type("terms.inspection_days", "10")
    held = mine.speaker.post(f"{mine.path}/newest", change=str(uuid.uuid4()))
    assert held.status_code == 409, "it is on the newest"
    take_in(second_pack())
    row = next(t for t in mine.speaker.get("/api/templates").json() if t["id"] == mine.id)
    assert {"412", "414"} <= set(row["retired"])
    before = mine.speaker.get(mine.deal).json()
    moved = mine.speaker.post(f"{mine.path}/newest", change=str(uuid.uuid4())).json()
    assert "removed, no longer in use: 414" in moved["said"], moved["said"]
    after = mine.speaker.get(mine.deal).json()
    assert [d["number"] for d in after["documents"]] == ["301", "412"]
    assert after["head"]["released"] == "2026-11-02" and after["findings"] == []
    assert mine.written().data["answers"] == {"terms.inspection_days": "10"}
    row = next(t for t in mine.speaker.get("/api/templates").json() if t["id"] == mine.id)
    assert row["retired"] == []
    again = mine.speaker.post(f"{mine.path}/newest", change=str(uuid.uuid4()))
    assert again.status_code == 409, "twice is once"
    undone = mine.speaker.post(f"{mine.deal}/undo", change=str(uuid.uuid4()), target=moved["change"]).json()
    assert undone["left"] == []
    back = mine.speaker.get(mine.deal).json()
    assert [(d["number"], d["edition"]) for d in back["documents"]] == [
        (d["number"], d["edition"]) for d in before["documents"]
    ]
    assert back["head"]["released"] == before["head"]["released"]


def test_forms_are_added_together_or_not_at_all(mine: Writer) -> None:
    refused = mine.pack(op="add", numbers=["101", "998", "999"])
    assert refused.status_code == 404 and "998, 999" in refused.json()["detail"]
    assert mine.speaker.get(mine.deal).json()["documents"] == []


def test_lists_take_a_fixed_number_of_queries(world: World) -> None:
    ines = Speaker(world.ines)

    def counted() -> int:
        with CaptureQueriesContext(connection) as made:
            ines.get("/api/templates", side="buying")
        return len(made)

    Writer(world.ines, name="First", side="buying")
    few = counted()
    for n in range(6):
        Writer(world.ines, name=f"T{n}", side="buying")
    assert counted() == few <= 16
