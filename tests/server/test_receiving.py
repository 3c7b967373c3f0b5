"""Papers that come from elsewhere into a package, and what follows a paper to its place."""

from __future__ import annotations

import uuid

import pytest

from tests.core.foreign import lined_form
from tests.server.world import Speaker


def expected(speaker: Speaker, what: str) -> str:
    """The code of a place that waits for a paper."""
    speaker.post(
        f"{speaker.path}/package", change=str(uuid.uuid4()), op="expect", expected=what, expected_from="buyer"
    )
    return str(next(d["id"] for d in speaker.open()["documents"] if d["title"] == what))


@pytest.fixture
def paper() -> bytes:
    return lined_form([("Account", "account"), ("Balance", "balance")], title="Proof of funds")


def test_a_paper_finds_the_place_that_waits_for_it_by_itself(ines: Speaker, paper: bytes) -> None:
    place = expected(ines, "Proof of funds")
    row = ines.take_in(paper, "proof_of_funds.pdf")
    assert row["found"][0]["place"] == place
    done = ines.put_in_place(row).json()
    came = next(d for d in ines.open()["documents"] if d["id"] == place)
    assert (came["title"], bool(came["edition"])) == ("Proof of funds", True)
    assert done["said"] == "Proof of funds took the place of Proof of funds"
    ines.undo(done["change"])
    assert next(d for d in ines.open()["documents"] if d["id"] == place)["edition"] == ""


def test_a_paper_goes_where_somebody_says_or_to_the_end(ines: Speaker, paper: bytes) -> None:
    place = expected(ines, "Loan approval letter")
    ines.put_in_place(ines.take_in(paper, "scan 0031.pdf"), title="Approval of the loan", place=place)
    assert next(d for d in ines.open()["documents"] if d["id"] == place)["title"] == "Approval of the loan"
    other = ines.take_in(lined_form([("Other", "other")], title="Scan 0032"), "scan 0032.pdf")
    assert ines.put_in_place(other).json()["said"] == "Scan 0032 was added"
    last = ines.open()["documents"][-1]
    assert (last["title"], last["section"]) == ("Scan 0032", "From others")


def test_a_place_that_is_taken_is_said_and_nothing_changes(ines: Speaker, paper: bytes) -> None:
    row, before = ines.take_in(paper), ines.open()["documents"]
    taken = next(d["id"] for d in before if d["number"] == "301")
    refused = ines.put_in_place(row, place=taken)
    assert refused.status_code == 409 and "no longer expects" in refused.json()["detail"]
    assert ines.open()["documents"] == before


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
