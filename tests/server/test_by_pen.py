"""Somebody of a round who signs on paper while the others sign by their links."""

from __future__ import annotations

import io
import uuid
from datetime import date, timedelta
from typing import Any

import pikepdf
import pytest
from goodquill.signing.models import Paper, Signer
from goodquill.signing.sealing.filing import file_round
from goodquill.signing.sealing.finishing import finish_round
from goodquill.storage import files
from quillcore.pdf.renderer import plain_text

from tests.core.foreign import inked
from tests.server.answers import CheckedClient
from tests.server.senders import Reader, Sender
from tests.server.world import Speaker, World

DAY = "2026-11-20"


class Round:
    """A round of the purchase agreement, out to both buyers; the second one signs on paper."""

    def __init__(self, sender: Sender) -> None:
        self.sender, self.row = sender, sender.sent()
        self.paper = Paper.objects.get(round=self.row["id"])
        self.ben = Signer.objects.get(round=self.row["id"], key="buyers.2")
        own = [p for p in self.paper.places if p["who"] == "buyers.2" and p["sign"] != "date"]
        self.places = own
        self.scan = sender.received(inked(files.fetch(self.paper.frozen), own), "Scan")

    @property
    def path(self) -> str:
        return f"/api/rounds/{self.row['id']}/signers/{self.ben.pk}/by-pen"

    def says(self, day: str = DAY, document: str = "", paper: str = "") -> Any:
        scans = [{"paper": paper or str(self.paper.pk), "document": document or self.scan}]
        return self.sender.post(self.path, day=day, scans=scans)


@pytest.fixture
def out(sender: Sender) -> Round:
    return Round(sender)


def test_the_scan_is_told_by_the_ink_in_their_places(out: Round) -> None:
    empty = out.sender.received(files.fetch(out.paper.frozen), "As it was sent")
    told = out.sender.get(f"{out.path}?documents={out.scan}%20{empty}").json()
    assert {d["title"] for d in told["came"]} == {"301 Scan", "301 As it was sent"}
    [paper] = told["papers"]
    assert paper["document"] == out.scan
    assert paper["inked"] == paper["places"] == len(out.places) > 3
    bare = out.sender.get(f"{out.path}?documents={empty}").json()["papers"][0]
    assert bare["inked"] == 0
    assert out.sender.get(f"{out.path}?documents=nothing").status_code == 409
    assert out.sender.get(out.path).json()["papers"][0]["document"] == ""


def test_one_signs_by_link_and_one_by_pen_and_the_paper_has_both(out: Round, without_waiting: None) -> None:
    assert out.says().status_code == 409, "before the turn"
    amara = Reader("amara@post.example")
    assert amara.sign_all().status_code == 200
    answer = out.says()
    assert answer.status_code == 200, answer.content
    row = answer.json()
    ben = next(s for s in row["signers"] if s["key"] == "buyers.2")
    assert (ben["at"], ben["by_pen"]) == ("done", DAY) and row["state"] == "finished"
    assert any(f"signed on paper on {DAY}" in e["said"] for e in row["events"])
    assert out.says().status_code == 409, "said again"
    scan = next(d for d in out.sender.open()["documents"] if d["id"] == out.scan)
    assert scan["set_aside"], "it is in the signed paper now"

    assert finish_round(uuid.UUID(row["id"]))
    content = files.fetch(Paper.objects.get(pk=out.paper.pk).finished)
    said = plain_text(content)
    assert "on paper: Ben Okafor" in said and "November 20, 2026" in said
    assert "on paper, by pen; the scan is in this file" in said
    with pikepdf.open(io.BytesIO(content)) as pdf:
        kept = pdf.attachments["scan-buyers.2.pdf"].get_file().read_bytes()
    assert plain_text(kept).split()[:20] == plain_text(files.fetch(out.paper.frozen)).split()[:20]
    verdict = CheckedClient().post("/api/verify", {"file": io.BytesIO(content)}, format="multipart").json()
    assert verdict["holds"] and any("signed by pen" in s["sentence"] for s in verdict["said"])
    file_round(uuid.UUID(row["id"]))
    why = {d["why"].partition(", ")[0] for d in out.sender.open()["documents"]}
    assert "Signed by Amara Okafor and Ben Okafor; the seller still to sign" in why, (
        "nobody is named there yet"
    )


def test_a_day_to_come_and_papers_without_a_scan_are_refused(out: Round) -> None:
    Reader("amara@post.example").sign_all()
    tomorrow = (date.today() + timedelta(days=2)).isoformat()
    assert "in the future" in out.says(tomorrow).json()["detail"]
    assert "no scan of" in out.says(paper=str(uuid.uuid4())).json()["detail"]
    agreement = next(d["id"] for d in out.sender.open()["documents"] if d["number"] == "301")
    assert out.says(document=agreement).status_code == 409, "ours is no scan"
    for bad in ("yesterday", "", "0000-01-01"):
        assert out.says(bad).status_code == 400
    row = out.sender.of(out.row)
    assert next(s for s in row["signers"] if s["key"] == "buyers.2")["at"] == "asked"
    assert (
        out.sender.open()
        and not next(d for d in out.sender.open()["documents"] if d["id"] == out.scan)["set_aside"]
    )


def test_whoever_asked_for_paper_is_recorded_the_same_way(out: Round) -> None:
    Reader("amara@post.example").sign_all()
    ben = Reader("ben@post.example")
    ben.opened()
    assert ben.post("paper").status_code == 200
    assert out.says().status_code == 200


def test_whoever_began_by_the_link_goes_on_there(out: Round) -> None:
    Reader("amara@post.example").sign_all()
    ben = Reader("ben@post.example")
    ben.opened()
    ben.post("agree")
    ben.post("mark", sign="initials", mark={"strokes": [[[0, 0], [40, 30], [80, 5], [60, 60]]]})
    initials = next(p["id"] for p in out.places if p["sign"] == "initials")
    assert ben.post("put", places=[initials]).status_code == 200
    answer = out.says()
    assert answer.status_code == 409 and "by the link already" in answer.json()["detail"]


def test_nobody_else_may(world: World, out: Round) -> None:
    for who in (world.nadia, world.bertil):
        other = Speaker(who, world.deal)
        assert other.get(out.path).status_code == 404
        assert other.post(out.path, day=DAY, scans=[]).status_code == 404
