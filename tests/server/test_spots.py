"""Places put by hand on papers of a deal: kept, undone, remembered for the paper, signed and filled in."""

from __future__ import annotations

import uuid
from typing import Any

import pytest
from goodquill.clients.starting import start_deal
from goodquill.deals.models import RememberedSpots
from goodquill.signing.models import Paper
from goodquill.signing.sealing.filing import file_round
from goodquill.signing.sealing.finishing import finish_round
from goodquill.storage import files
from quillcore.pdf.renderer import plain_text

from tests.core.foreign import lined_form
from tests.server.senders import Reader, Sender
from tests.server.world import Speaker, World

SIGN: dict[str, Any] = {
    "page": 1,
    "rect": [72.0, 100.0, 232.0, 122.0],
    "what": "signature",
    "who": "buyers.1",
}
WELL = lined_form([("Well water", "a")])


def spot(**said: Any) -> dict[str, Any]:
    return {"id": uuid.uuid4().hex[:12], **SIGN, **said}


def put(speaker: Speaker, document: str, *spots: dict[str, Any], **said: Any) -> Any:
    body = {"change": str(uuid.uuid4()), "op": "put", "spots": list(spots), **said}
    return speaker.post(f"{speaker.path}/documents/{document}/spots", **body)


def take_off(speaker: Speaker, document: str, *ids: str) -> Any:
    body = {"change": str(uuid.uuid4()), "op": "remove", "ids": list(ids)}
    return speaker.post(f"{speaker.path}/documents/{document}/spots", **body)


def told(speaker: Speaker, document: str) -> dict[str, Any]:
    answer = speaker.get(f"{speaker.path}/documents/{document}/spots")
    assert answer.status_code == 200, answer.content
    return dict(answer.json())


def there(speaker: Speaker, document: str) -> list[dict[str, Any]]:
    return list(next(d["spots"] for d in speaker.open()["documents"] if d["id"] == document))


@pytest.fixture
def paper(ines: Speaker) -> str:
    return ines.received(WELL, "Well agreement")


def test_a_place_is_put_moved_taken_off_and_all_of_it_undone(ines: Speaker, paper: str) -> None:
    one = spot()
    answer = put(ines, paper, one)
    assert answer.status_code == 200 and answer.json()["said"] == "Put a place to sign on Well agreement"
    [kept] = there(ines, paper)
    assert kept["rect"] == one["rect"] and kept["name"] == "Amara Okafor" and kept["is_there"]
    moved = put(ines, paper, {**one, "rect": [72.0, 300.0, 232.0, 322.0]})
    assert moved.json()["said"] == "Changed a place to sign on Well agreement"
    assert [s["rect"][1] for s in there(ines, paper)] == [300.0]
    assert take_off(ines, paper, one["id"]).status_code == 200
    assert there(ines, paper) == []


def test_undo_takes_back_the_last_thing_done(ines: Speaker, paper: str) -> None:
    one = spot()
    put(ines, paper, one)
    off = take_off(ines, paper, one["id"])
    ines.undo(off.json()["change"])
    assert [s["id"] for s in there(ines, paper)] == [one["id"]]


def test_places_never_lie_on_each_other_and_nothing_is_half_put(ines: Speaker, paper: str) -> None:
    first = spot()
    assert put(ines, paper, first).status_code == 200
    free, on_it = spot(rect=[300.0, 100.0, 400.0, 122.0]), spot(rect=[80.0, 110.0, 200.0, 130.0])
    answer = put(ines, paper, free, on_it)
    assert answer.status_code == 409 and "in the way" in answer.json()["detail"]
    assert [s["id"] for s in there(ines, paper)] == [first["id"]]
    both = spot(rect=[300.0, 300.0, 400.0, 322.0]), spot(rect=[310.0, 305.0, 400.0, 322.0])
    assert put(ines, paper, *both).status_code == 409, "of two that come together neither"


def test_sent_again_it_is_put_once(ines: Speaker, paper: str) -> None:
    one, change = spot(), str(uuid.uuid4())
    for _ in range(2):
        assert put(ines, paper, one, change=change).status_code == 200
    assert put(ines, paper, one).status_code == 200, "under another change it is put again, in its own place"
    assert len(there(ines, paper)) == 1


def test_nonsense_is_refused_with_a_sentence_and_writes_nothing(ines: Speaker, paper: str) -> None:
    for bad in (
        spot(page=0),
        spot(page=99),
        spot(rect=[1, 2, 3]),
        spot(rect=[1, 2, 3, "x"]),
        spot(rect=[1, 2, 99_999, 30]),
        spot(what="seal"),
        spot(who="nobody"),
        spot(who="buyers.99"),
        spot(label="x" * 400),
        spot(id="x" * 99),
        {},
    ):
        answer = put(ines, paper, bad)
        assert answer.status_code == 400, bad
        assert answer.json()["detail"], bad
    assert put(ines, paper).status_code == 400, "nothing at all"
    twin = spot()
    assert put(ines, paper, twin, {**twin, "page": 1}).status_code == 400, "two of one name"
    many = [spot() for _ in range(301)]
    assert put(ines, paper, *many).status_code == 400
    assert put(ines, "0" * 12, spot()).status_code == 404
    assert take_off(ines, paper, "nothing").status_code == 404
    assert there(ines, paper) == []


def test_what_was_put_is_offered_when_the_paper_comes_again(world: World, ines: Speaker, paper: str) -> None:
    assert told(ines, paper)["remembered"] is None
    put(ines, paper, spot(), spot(what="text", label="Well number", rect=[72.0, 200.0, 232.0, 216.0]))
    assert told(ines, paper)["remembered"] is None, "it stands there already"
    other = lined_form([("Well water", "a"), ("Depth", "b")])
    another = Speaker(world.ines, world.deal).received(other, "Another well agreement")
    assert told(ines, another)["remembered"] is None, "another paper"
    take_off(ines, paper, *(s["id"] for s in there(ines, paper)))
    offered = told(ines, paper)["remembered"]
    assert offered is not None and offered["by"] == world.ines.name
    assert [s["label"] for s in offered["spots"]] == ["", "Well number"]
    assert put(ines, paper, *offered["spots"]).status_code == 200
    assert len(there(ines, paper)) == 2
    again = Speaker(world.bertil, start_deal(world.bertil, {"side": "buying"}))
    other = told(again, again.received(WELL, "Well agreement"))["remembered"]
    assert other is not None and other["by"] == world.ines.name, "whoever of the brokerage has it next"


def test_another_brokerage_is_offered_nothing(world: World, ines: Speaker, paper: str) -> None:
    put(ines, paper, spot())
    RememberedSpots.objects.update(brokerage=world.nadia.brokerage)
    take_off(ines, paper, there(ines, paper)[0]["id"])
    assert told(ines, paper)["remembered"] is None


def test_nobody_else_may(world: World, ines: Speaker, paper: str) -> None:
    for who in (world.nadia, world.bertil):
        other = Speaker(who, world.deal)
        assert put(other, paper, spot()).status_code == 404
        assert other.get(f"{other.path}/documents/{paper}/spots").status_code == 404
    assert there(ines, paper) == []


def test_who_signs_knows_the_places(ines: Speaker, paper: str) -> None:
    before = ines.get(f"{ines.path}/signers").json()
    assert "Well agreement" in [p["title"] for p in before["unsigned"]]
    put(ines, paper, spot(), spot(what="date", rect=[300.0, 100.0, 374.0, 116.0]))
    after = ines.get(f"{ines.path}/signers").json()
    assert "Well agreement" not in [p["title"] for p in after["unsigned"]]
    amara = next(p for p in after["people"] if p["key"] == "buyers.1")
    mine = next(p for p in amara["papers"] if p["title"] == "Well agreement")
    assert (mine["signatures"], mine["dates"]) == (1, 1)


def test_whoever_is_to_fill_something_in_has_to_be_asked(sender: Sender) -> None:
    paper = sender.received(WELL, "Well agreement")
    put(sender, paper, spot(), spot(who="buyers.2", what="text", rect=[72.0, 300.0, 232.0, 316.0]))
    row = sender.changed(sender.begun(), papers=[paper], turns={"buyers.1": 1})
    said = [a["message"] for a in row["choice"]["against"]]
    assert any("Ben Okafor must fill in" in m for m in said), said


def test_a_paper_without_places_is_sent_signed_filled_in_and_sealed(
    sender: Sender, without_waiting: None
) -> None:
    paper = sender.received(WELL, "Well agreement")
    put(
        sender,
        paper,
        spot(),
        spot(what="date", rect=[300.0, 100.0, 374.0, 116.0]),
        spot(what="name", rect=[72.0, 60.0, 232.0, 76.0]),
        spot(what="text", label="Well number", rect=[72.0, 200.0, 232.0, 216.0]),
    )
    row = sender.changed(sender.begun(), papers=[paper], turns={"buyers.1": 1})
    assert row["choice"]["against"] == []
    row = sender.looked(row)
    assert sender.post(f"/api/rounds/{row['id']}/send", reason="Agreed").status_code == 200
    amara = Reader("amara@post.example")
    amara.opened()
    amara.post("agree")
    [asked] = amara.see()["papers"][0]["questions"]
    assert asked["asked"] == "Well number"
    amara.post("mark", sign="signature", mark={"name": "Amara Okafor", "face": "flowing"})
    early = amara.post("put", places=amara.own_places())
    assert early.status_code == 409 and "still to be answered" in early.json()["detail"]
    frozen = Paper.objects.get(round=row["id"])
    answer = amara.post("answer", paper=str(frozen.pk), key=asked["key"], text="W-4471")
    assert answer.status_code == 200, answer.content
    assert amara.sign_all().status_code == 200
    assert finish_round(uuid.UUID(row["id"]))
    said = plain_text(files.fetch(Paper.objects.get(pk=frozen.pk).finished))
    assert "W-4471" in said and "Amara Okafor" in said
    file_round(uuid.UUID(row["id"]))
    signed = next(d for d in sender.open()["documents"] if "Fully signed" in d["why"])
    assert signed["spots"] == [], "the signed paper has no place left"
