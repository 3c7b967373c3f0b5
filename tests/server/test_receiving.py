"""Papers that come from elsewhere into a package, and what follows a paper to its place."""

from __future__ import annotations

import uuid
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from tests.core.foreign import lined_form
from tests.server.world import Speaker, World


def send(speaker: Speaker, content: bytes, name: str = "proof_of_funds.pdf", **more: Any) -> Any:
    body = {"change": str(uuid.uuid4()), "file": SimpleUploadedFile(name, content, "application/pdf"), **more}
    return speaker.client.post(f"{speaker.path}/papers", body)


def expected(speaker: Speaker, what: str) -> str:
    """The code of a place that waits for a paper."""
    speaker.post(
        f"{speaker.path}/package", change=str(uuid.uuid4()), op="expect", expected=what, expected_from="buyer"
    )
    return str(next(d["id"] for d in speaker.open()["documents"] if d["title"] == what))


@pytest.fixture
def paper() -> bytes:
    return lined_form([("Account", "account"), ("Balance", "balance")])


def test_a_paper_finds_the_place_that_waits_for_it_by_itself(ines: Speaker, paper: bytes) -> None:
    place = expected(ines, "Proof of funds")
    done = send(ines, paper, by_itself=True).json()
    came = next(d for d in ines.open()["documents"] if d["id"] == place)
    assert (came["title"], bool(came["edition"])) == ("Proof of funds", True)
    assert done["said"] == "Proof of funds took the place of Proof of funds"
    ines.undo(done["change"])
    assert next(d for d in ines.open()["documents"] if d["id"] == place)["edition"] == ""


def test_a_paper_goes_where_somebody_says_or_to_the_end(ines: Speaker, paper: bytes) -> None:
    place = expected(ines, "Loan approval letter")
    send(ines, paper, name="scan 0031.pdf", title="Approval of the loan", place=place)
    assert next(d for d in ines.open()["documents"] if d["id"] == place)["title"] == "Approval of the loan"
    other = lined_form([("Other", "other")])
    said = send(ines, other, name="scan 0032.pdf").json()["said"]
    assert said == "Scan 0032 was added"
    last = ines.open()["documents"][-1]
    assert (last["title"], last["section"]) == ("Scan 0032", "From others")


def test_a_place_that_is_taken_or_a_file_that_is_none_is_said_and_nothing_changes(
    ines: Speaker, paper: bytes
) -> None:
    before = ines.open()["documents"]
    taken = next(d["id"] for d in before if d["number"] == "301")
    refused = send(ines, paper, place=taken)
    assert refused.status_code == 409 and "no longer waits" in refused.json()["detail"]
    for content in (b"", b"%PDF-1.7 nothing", b"PK\x03\x04" * 40):
        answer = send(ines, content)
        assert answer.status_code in (400, 422), answer.content
        assert answer.json()["detail"]
    assert ines.open()["documents"] == before


def test_sending_the_same_change_twice_takes_the_paper_once(ines: Speaker, paper: bytes) -> None:
    change, before = str(uuid.uuid4()), len(ines.open()["documents"])
    first, second = (send(ines, paper, change=change) for _ in range(2))
    assert (first.status_code, second.status_code) == (200, 200)
    assert len(ines.open()["documents"]) == before + 1


def test_nobody_else_puts_a_paper_into_a_deal(world: World, paper: bytes) -> None:
    for user in (world.bertil, world.nadia):
        assert send(Speaker(user, world.deal), paper).status_code == 404


def test_a_paper_that_is_moved_comes_under_the_heading_of_its_place(ines: Speaker) -> None:
    ines.post(f"{ines.path}/package", change=str(uuid.uuid4()), op="add", numbers=["401", "503"])
    documents = ines.open()["documents"]
    sections = [d["section"] for d in documents]
    assert sections[-1] == "Added" != sections[0]
    ids, moved = [d["id"] for d in documents], documents[-1]["id"]
    order = [ids[0], moved, *[i for i in ids[1:] if i != moved]]
    done = ines.post(
        f"{ines.path}/package", change=str(uuid.uuid4()), op="order", order=order, document=moved
    ).json()
    now = {d["id"]: d["section"] for d in done["documents"]}
    assert now[moved] == sections[0]
    assert all(now[d["id"]] == d["section"] for d in documents if d["id"] != moved), "nobody else's moves"
    ines.undo(done["change"])
    assert [d["section"] for d in ines.open()["documents"]] == sections
