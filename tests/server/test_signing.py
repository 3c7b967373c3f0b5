"""Who signs a deal's package, what stands against it, and the file for the pen."""

from __future__ import annotations

import uuid
from typing import Any

import pytest
from django.db import connection
from django.test.utils import CaptureQueriesContext
from quillcore.pdf.renderer import plain_text

from tests.server.world import Speaker, World


class Sender(Speaker):
    """Somebody who looks who signs."""

    def signers(self) -> dict[str, Any]:
        answer = self.get(f"{self.path}/signers")
        assert answer.status_code == 200, answer.content
        return dict(answer.json())

    def person(self, key: str) -> dict[str, Any]:
        return next(p for p in self.signers()["people"] if p["key"] == key)


@pytest.fixture
def sender(world: World) -> Sender:
    return Sender(world.ines, world.deal)


def test_everybody_is_told_with_their_papers_and_places(sender: Sender) -> None:
    sender.edit({"op": "party_add", "key": "buyers", "party": "abcd1234"})
    sender.type("buyers.2.given", "Ben")
    sender.type("buyers.2.family", "Okafor")
    found = sender.signers()
    assert [p["key"] for p in found["people"]][:2] == ["buyers.1", "buyers.2"]
    first = sender.person("buyers.1")
    assert (first["name"], first["role"]) == ("Amara Okafor", "Buyer 1")
    offer = next(p for p in first["papers"] if p["number"] == "301")
    assert offer["signatures"] == 1 and offer["initials"] >= 1 and offer["pages"]
    codes = {d["id"] for d in sender.open()["documents"]}
    assert {p["document"] for person in found["people"] for p in person["papers"]} <= codes


def test_what_stands_against_sending_leads_to_what_mends_it(sender: Sender) -> None:
    told = sender.signers()["against"]
    nobody = next(a for a in told if a["place"] == "sellers")
    assert nobody["message"].startswith("No seller is named yet, and 301")
    missing = next(a for a in told if a["who"] == "buyers.1")
    assert missing["place"] == "buyers.1.email" and "has no e-mail" in missing["message"]
    sender.type("buyers.1.email", "amara@post.example")
    sender.edit({"op": "party_add", "key": "sellers", "party": "abcd1234"})
    sender.type("sellers.1.entity_name", "Voss Family Trust")
    against = sender.signers()["against"]
    assert not [a for a in against if a["who"] == "buyers.1"]
    trust = [a for a in against if a["who"] == "sellers.1"]
    assert {a["place"] for a in trust} == {"sellers.1.signer", "sellers.1.email"}
    sender.type("sellers.1.signer", "Lena Voss")
    sender.type("sellers.1.email", "amara@post.example")
    same = next(a for a in sender.signers()["against"] if a["who"] == "sellers.1")
    assert "have the same e-mail" in same["message"] and same["place"] == "sellers.1.email"
    seller = sender.person("sellers.1")
    assert seller["name"] == "Lena Voss" and "Voss Family Trust" in seller["signs_as"]


def test_a_paper_set_aside_is_signed_by_nobody(sender: Sender) -> None:
    paper = next(d for d in sender.open()["documents"] if d["number"] == "301")
    change = str(uuid.uuid4())
    aside = sender.post(f"{sender.path}/package", change=change, op="aside", document=paper["id"])
    assert aside.status_code == 200, aside.content
    found = sender.signers()
    assert paper["id"] not in {p["document"] for person in found["people"] for p in person["papers"]}


def test_it_takes_the_queries_of_opening(sender: Sender) -> None:
    sender.open()
    with CaptureQueriesContext(connection) as opening:
        sender.get(sender.path)
    with CaptureQueriesContext(connection) as asking:
        sender.signers()
    assert len(asking) <= len(opening)


def test_the_file_for_the_pen_names_who_signs_where(sender: Sender) -> None:
    plain = sender.get(f"{sender.path}/package.pdf").content
    marked = sender.get(f"{sender.path}/package.pdf", **{"as": "pen"})
    assert marked.status_code == 200 and marked["Content-Type"] == "application/pdf"
    count = plain_text(marked.content).count("Amara Okafor") - plain_text(plain).count("Amara Okafor")
    first = sender.person("buyers.1")
    assert count == sum(p["signatures"] for p in first["papers"])


def test_a_template_has_nobody_who_signs(world: World) -> None:
    bare = Speaker(world.ines)
    template = bare.post("/api/templates", name="Mine", side="buying").json()["id"]
    made = bare.get(f"/api/templates/{template}").json()
    answer = bare.get(f"/api/deals/{made['working_copy']}/signers")
    assert answer.status_code == 409, answer.content
