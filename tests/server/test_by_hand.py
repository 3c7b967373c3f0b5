"""Changes made by hand, kept with a deal's documents: undone, refused, and never to a paper as it came."""

from __future__ import annotations

import uuid
from typing import Any

from quillcore.pdf.renderer import plain_text

from tests.core.foreign import lined_form
from tests.server.world import Speaker, World

STRUCK = {"page": 1, "struck": [[72.0, 700.0, 200.0, 710.0]], "words": "Seller will pay"}
WRITTEN = {"page": 1, "text": "Buyer pays", "at": [72.0, 640.0]}


def by_hand(speaker: Speaker, document: str, **said: Any) -> Any:
    path = f"{speaker.path}/documents/{document}/by-hand"
    return speaker.post(path, **{"change": str(uuid.uuid4()), "op": "add", "id": uuid.uuid4().hex, **said})


def form(speaker: Speaker, number: str = "301") -> dict[str, Any]:
    return next(d for d in speaker.open()["documents"] if d["number"] == number and not d["set_aside"])


def received(speaker: Speaker) -> dict[str, Any]:
    code = speaker.received(lined_form([("Closing on", "a")]), "Their counter")
    return next(d for d in speaker.open()["documents"] if d["id"] == code)


def test_it_is_shown_printed_remarked_on_and_taken_back(ines: Speaker) -> None:
    document = form(ines)
    answer = by_hand(ines, document["id"], **STRUCK, text="Buyer pays", at=[72.0, 640.0])
    assert answer.status_code == 200 and "by hand" in answer.json()["said"]
    [made] = form(ines)["by_hand"]
    assert made["rules"] == [[72.0, 705.0, 200.0]] and made["lines"][0][2] == "Buyer pays"
    assert {spot["name"] for spot in made["initials"]} >= {"AO"}
    pdf = ines.get(f"{ines.path}/documents/{document['id']}.pdf").content
    assert "Buyer pays" in plain_text(pdf)
    said = [r for r in ines.get(f"{ines.path}/proof").json()["remarks"] if r["rule"] == "changed by hand"]
    assert len(said) == 1 and "“Seller will pay” struck out and “Buyer pays” written in" in said[0]["message"]
    ines.undo(answer.json()["change"])
    assert form(ines)["by_hand"] == []


def test_one_is_taken_out_and_the_others_stay(ines: Speaker) -> None:
    document = form(ines)["id"]
    by_hand(ines, document, **STRUCK)
    by_hand(ines, document, **WRITTEN)
    first, second = form(ines)["by_hand"]
    assert by_hand(ines, document, op="remove", id=first["id"]).status_code == 200
    assert [c["id"] for c in form(ines)["by_hand"]] == [second["id"]]
    assert by_hand(ines, document, op="remove", id=first["id"]).status_code == 404


def test_sent_again_it_is_made_once(ines: Speaker) -> None:
    document, change, name = form(ines)["id"], str(uuid.uuid4()), uuid.uuid4().hex
    for _ in range(2):
        assert by_hand(ines, document, change=change, id=name, **STRUCK).status_code == 200
    assert len(form(ines)["by_hand"]) == 1
    assert by_hand(ines, document, id=name, **STRUCK).status_code == 409, "under another change it is refused"


def test_a_paper_stays_as_it_came_and_a_copy_is_changed(ines: Speaker) -> None:
    paper = received(ines)
    answer = by_hand(ines, paper["id"], **WRITTEN)
    assert answer.status_code == 200
    there = {d["id"]: d for d in ines.open()["documents"] if d["title"] == "Their counter"}
    copy = next(d for d in there.values() if d["id"] != paper["id"])
    assert there[paper["id"]]["set_aside"] and there[paper["id"]]["by_hand"] == []
    assert not copy["set_aside"] and len(copy["by_hand"]) == 1 and "copy" in copy["why"]
    by_hand(ines, copy["id"], **STRUCK)
    assert len([d for d in ines.open()["documents"] if d["title"] == "Their counter"]) == 2, "one copy"
    ines.undo(answer.json()["change"])
    [left] = [d for d in ines.open()["documents"] if d["title"] == "Their counter"]
    assert left["id"] == paper["id"] and not left["set_aside"]


def test_nonsense_is_refused_with_a_sentence_and_writes_nothing(ines: Speaker) -> None:
    document = form(ines)["id"]
    nonsense: list[dict[str, Any]] = [
        {},
        {"page": 1},
        {"page": 999, "text": "x", "at": [1, 1]},
        {"page": 1, "text": "x"},
        {"page": 1, "text": "x", "at": [9_999, 1]},
        {"page": 1, "struck": [[1, 2, 3]]},
        {"page": 1, "struck": [[1, 2, 3, "x"]]},
        {"page": 1, "text": "x" * 5_000, "at": [1, 1]},
        {"page": 1, "text": "w " * 300, "at": [72, 30]},
        {"op": "nothing"},
    ]
    for said in nonsense:
        answer = by_hand(ines, document, **said)
        assert answer.status_code == 400, said
        assert answer.json()["detail"], said
    assert by_hand(ines, "0" * 12, **WRITTEN).status_code == 404
    assert form(ines)["by_hand"] == []


def test_nobody_else_may(world: World, ines: Speaker) -> None:
    document = form(ines)["id"]
    for who in (world.nadia, world.bertil):
        assert by_hand(Speaker(who, world.deal), document, **WRITTEN).status_code == 404
