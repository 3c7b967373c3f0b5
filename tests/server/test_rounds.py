"""Rounds of signing on the server: made, looked at, sent, signed, finished, followed; who may do what."""

from __future__ import annotations

import io
import re
import subprocess
import uuid
from collections.abc import Callable
from datetime import timedelta
from pathlib import Path
from typing import Any
from zoneinfo import ZoneInfo

import pytest
from django.core.cache import cache
from django.db import DatabaseError, connection, transaction
from django.test.utils import CaptureQueriesContext
from django.utils import timezone
from goodquill.changelog.models import FactEntry
from goodquill.clients.starting import start_deal
from goodquill.deals.models import Document
from goodquill.mail.models import Letter, LetterState
from goodquill.offices.attempts import Attempts
from goodquill.signing.chain import links_of
from goodquill.signing.links import address_of
from goodquill.signing.models import Happening, Paper, Round, Signer
from goodquill.signing.rounds import following, sending
from goodquill.signing.sealing import finishing
from goodquill.signing.sealing.filing import file_round
from goodquill.signing.sealing.finishing import finish_due, finish_round
from goodquill.signing.signer import acting
from goodquill.storage import files
from quillcore.pdf.renderer import plain_text
from quillcore.signing.rounds import Happened
from quillcore.signing.trail import first_break
from quillcore.values.dates import print_date

from tests.server.answers import CheckedClient
from tests.server.senders import LINK, Reader, Sender
from tests.server.world import Speaker, World

# Making


def test_a_round_begins_with_what_is_usual_and_says_what_stands_against_it(sender: Sender) -> None:
    row = sender.begun()
    chosen = [p["number"] for p in row["choice"]["papers"] if p["chosen"]]
    assert "301" in chosen and row["state"] == "making"
    turns = {p["key"]: p["turn"] for p in row["choice"]["people"]}
    assert turns["buyers.1"] == turns["buyers.2"] == 1 and turns["buyer_agent"] == 2
    assert all(turn == 0 for key, turn in turns.items() if key.startswith("seller"))
    sender.type("buyers.2.email", "amara@post.example")
    against = sender.of(row)["choice"]["against"]
    assert [a["place"] for a in against if a["who"] == "buyers.2"] == ["buyers.2.email"]


def test_nobody_chosen_and_a_paper_that_nobody_signs_are_said(sender: Sender) -> None:
    row = sender.only_the_offer()
    assert row["choice"]["against"] == []
    none = sender.changed(row, turns={})
    said = [a["message"] for a in none["choice"]["against"]]
    assert "There are no signers." in said and any(
        "No signer of this round signs 301" in text for text in said
    )
    without = sender.changed(row, papers=[])
    assert without["choice"]["against"][0]["message"] == "No papers are selected."


def test_what_is_sent_is_what_was_looked_at(sender: Sender) -> None:
    row = sender.only_the_offer()
    refused = sender.post(f"/api/rounds/{row['id']}/send", reason="x")
    assert refused.status_code == 409 and "Preview them again" in refused.json()["mend"]
    looked = sender.looked(row)
    assert looked["current"] and len(looked["papers"]) == 1
    signs = {(place["who"], place["sign"]) for place in looked["papers"][0]["places"]}
    assert {("buyers.1", "signature"), ("buyers.2", "signature")} <= signs
    assert not [who for who, _ in signs if who.startswith("seller")], "only those of this round"
    sender.type("terms.purchase_price", "411,000")
    assert not sender.of(row)["current"]
    assert sender.post(f"/api/rounds/{row['id']}/send", reason="x").status_code == 409
    sender.looked(row)
    assert sender.post(f"/api/rounds/{row['id']}/send", reason="x").status_code == 200
    frozen = Paper.objects.get(round=row["id"]).frozen
    assert "411,000" in plain_text(files.fetch(frozen))
    sender.type("terms.purchase_price", "455,000")
    assert "411,000" in plain_text(files.fetch(frozen))


def test_what_must_be_mended_stops_it_unless_a_reason_is_given_and_kept(sender: Sender) -> None:
    row = sender.looked(sender.only_the_offer())
    assert row["must"], "an offer half filled in"
    refused = sender.post(f"/api/rounds/{row['id']}/send", reason="  ")
    assert refused.status_code == 409 and row["must"][0] in refused.json()["detail"]
    assert not Letter.objects.filter(about="signing").exists()
    sent = sender.post(f"/api/rounds/{row['id']}/send", reason="Blanks by hand").json()
    assert (sent["reason"], sent["state"]) == ("Blanks by hand", "out")


def test_sending_twice_sends_once(sender: Sender) -> None:
    row = sender.sent()
    again = sender.post(f"/api/rounds/{row['id']}/send", reason="x")
    assert again.status_code == 200 and again.json()["state"] == "out"
    assert Letter.objects.filter(to="amara@post.example").count() == 1
    assert not Letter.objects.filter(to="ben@post.example").exists(), "it isn't Ben's turn"


@pytest.mark.parametrize(
    "said",
    [
        {"ends": "2001-01-01T00:00:00Z"},
        {"copied": [{"name": "x", "email": "nowhere"}]},
        {"turns": {"buyers.1": 99}},
        {"papers": "all"},
        {"subject": ""},
        {"remind_every": -1},
    ],
)
def test_what_can_not_be_planned_is_refused_in_words(sender: Sender, said: dict[str, Any]) -> None:
    row = sender.begun()
    answer = sender.post(f"/api/rounds/{row['id']}", **said)
    assert answer.status_code == 400 and answer.json()["detail"]
    assert sender.of(row)["state"] == "making"


def test_a_round_that_was_never_sent_can_be_thrown_away_and_a_sent_one_not(sender: Sender) -> None:
    row = sender.begun()
    assert sender.client.delete(f"/api/rounds/{row['id']}").status_code == 204
    assert sender.get(f"{sender.path}/rounds").json() == []
    sent = sender.sent()
    assert sender.client.delete(f"/api/rounds/{sent['id']}").status_code == 409
    assert sender.post(f"/api/rounds/{sent['id']}", subject="Else").status_code == 409


# The signer's page


def test_a_round_is_signed_by_two_one_after_the_other_and_sealed(
    sender: Sender, without_waiting: None, tmp_path: Path
) -> None:
    row = sender.sent()
    amara = Reader("amara@post.example")
    assert amara.sign_all().status_code == 200
    told = sender.of(row)
    assert {s["key"]: s["at"] for s in told["signers"]} == {"buyers.1": "done", "buyers.2": "asked"}
    assert [s["key"] for s in told["signers"] if s["waited_on"]] == ["buyers.2"]
    assert Reader("ben@post.example").sign_all().status_code == 200
    assert sender.of(row)["state"] == "finished"
    assert finish_round(uuid.UUID(row["id"])) and finish_round(uuid.UUID(row["id"]))
    copies = Letter.objects.filter(subject__startswith="Signed by everyone")
    assert sorted(copies.values_list("to", flat=True)) == [
        "amara@post.example",
        "ben@post.example",
        "ines@office.example",
    ]
    paper = Paper.objects.get(round=row["id"])
    content = files.fetch(paper.finished)
    assert content.startswith(files.fetch(paper.frozen)), "what was sent is the beginning of what is finished"
    said = plain_text(content)
    assert "Record of signatures" in said and "amara@post.example" in said
    mine = amara.client.get(f"{amara.path}/papers/{paper.pk}")
    assert mine.content == content
    verdict = CheckedClient().post("/api/verify", {"file": io.BytesIO(content)}, format="multipart")
    assert verdict.status_code == 200, verdict.content
    assert verdict.json()["holds"] and "Amara Okafor" in verdict.json()["signers"]
    broken = bytearray(content)
    broken[len(broken) // 3] ^= 1
    assert not (
        CheckedClient().post("/api/verify", {"file": io.BytesIO(bytes(broken))}, format="multipart").json()
    ).get("holds", False)
    path = tmp_path / "finished.pdf"
    path.write_bytes(content)
    seen = subprocess.run(["pdfsig", path], capture_output=True, text=True, check=False).stdout
    assert "Signature is Valid" in seen and "Total document signed" in seen


def test_sealed_papers_take_the_places_of_those_that_were_sent(sender: Sender, without_waiting: None) -> None:
    row = sender.sent()
    document = row["papers"][0]["document"]
    Reader("amara@post.example").sign_all()
    Reader("ben@post.example").sign_all()
    finish_round(uuid.UUID(row["id"]))
    for _ in range(2):
        file_round(uuid.UUID(row["id"]))
    documents = sender.open()["documents"]
    before = next(d for d in documents if d["id"] == document)
    signed = [d for d in documents if "signed" in d["title"]]
    assert before["set_aside"] and len(signed) == 1 and not signed[0]["set_aside"]
    assert Document.objects.get(code=signed[0]["id"]).came["signed"] == row["papers"][0]["id"]
    target = sender.get(f"{sender.path}/history").json()[0]["id"]
    undone = sender.post(f"{sender.path}/undo", change=str(uuid.uuid4()), target=target)
    assert undone.status_code == 200, undone.content
    after = sender.open()["documents"]
    assert not next(d for d in after if d["id"] == document)["set_aside"]


def test_a_signed_paper_of_the_package_is_the_sealed_file_itself(
    sender: Sender, without_waiting: None
) -> None:
    row = sender.sent()
    Reader("amara@post.example").sign_all()
    Reader("ben@post.example").sign_all()
    finish_round(uuid.UUID(row["id"]))
    file_round(uuid.UUID(row["id"]))
    signed = next(d for d in sender.open()["documents"] if "signed" in d["title"])
    alone = sender.get(f"{sender.path}/documents/{signed['id']}.pdf")
    assert alone.status_code == 200
    assert alone.content == files.fetch(Paper.objects.get(round=row["id"]).finished)
    assert sender.get(f"{sender.path}/package.pdf").status_code == 200, "and it goes with the others"


def test_the_last_partys_signature_makes_the_day_of_acceptance(sender: Sender, without_waiting: None) -> None:
    sender.edit({"op": "party_add", "key": "sellers", "party": "efgh5678"})
    for key, text in (
        ("sellers.1.given", "Lena"),
        ("sellers.1.family", "Voss"),
        ("sellers.1.email", "lena@post.example"),
    ):
        sender.type(key, text)
    row = sender.only_the_offer()
    row = sender.looked(sender.changed(row, turns={"buyers.1": 1, "buyers.2": 1, "sellers.1": 2}, code=False))
    sender.post(f"/api/rounds/{row['id']}/send", reason="x")
    for email in ("amara@post.example", "ben@post.example", "lena@post.example"):
        assert Reader(email).sign_all().status_code == 200
    finish_round(uuid.UUID(row["id"]))
    file_round(uuid.UUID(row["id"]))
    ended = Round.objects.get(pk=row["id"]).ended
    zone = ZoneInfo(row["zone"])
    accepted = next(f for f in sender.open()["facts"] if f["key"] == "terms.acceptance_date")
    assert accepted["shown"] == print_date(ended.astimezone(zone).date())


def test_what_the_signed_counter_says_is_in_force(sender: Sender, without_waiting: None) -> None:
    """Sent, it is frozen; recalled, it is corrected on its paper, and what is signed then is in force."""
    sender.edit({"op": "party_add", "key": "sellers", "party": "efgh5678"})
    for key, text in (
        ("terms.purchase_price", "412,500"),
        ("sellers.1.given", "Lena"),
        ("sellers.1.family", "Voss"),
        ("sellers.1.email", "lena@post.example"),
    ):
        sender.type(key, text)
    offer = sender.open()["head"]["offer"]
    turns = f"{sender.path}/offers/{offer}/turns"
    made = sender.post(
        turns,
        change=str(uuid.uuid4()),
        maker="buyers",
        day="2026-11-20",
        expires="2099-11-20",
        terms=[{"key": "terms.purchase_price", "text": "420k"}],
    ).json()
    price = f"doc.{made['paper']}.price"

    def status() -> dict[str, Any]:
        return dict(sender.get(turns).json()["turns"][-1])

    def sent(papers: list[str]) -> dict[str, Any]:
        row = sender.post(f"{sender.path}/rounds", papers=papers).json()
        assert [p["number"] for p in row["choice"]["papers"] if p["chosen"]] == ["320"], "it goes alone"
        assert row["ends"].startswith("2099-11-2"), "and ends when the counter expires"
        whole = {"buyers.1": 1, "buyers.2": 1, "sellers.1": 2}
        row = sender.looked(sender.changed(row, turns=whole, code=False))
        assert sender.post(f"/api/rounds/{row['id']}/send", reason="x").status_code == 200
        return row

    row = sent([made["paper"]])
    assert status()["status"] == "Out for signature" and not status()["may_change"]
    refused = sender.edit({"op": "type", "key": price, "text": "424k"})
    assert refused.status_code == 409 and "Out for signature" in refused.json()["detail"]
    changed = sender.client.put(
        f"{turns}/{status()['id']}",
        {
            "change": str(uuid.uuid4()),
            "day": "2026-11-20",
            "terms": [{"key": "terms.purchase_price", "text": "1"}],
        },
        content_type="application/json",
    )
    assert changed.status_code == 409
    Reader("amara@post.example").sign_all()
    assert status()["status"] == (
        "Out for signature. Signed by Amara Okafor; Lena Voss and Ben Okafor still to sign"
    )
    sender.post(f"/api/rounds/{row['id']}/recall", said="Another price")
    assert status()["status"].startswith("Recalled") and status()["may_change"] and status()["may_send"]
    assert sender.edit({"op": "type", "key": price, "text": "424k"}).status_code == 200
    row = sent([made["paper"]])
    assert sender.fact("terms.purchase_price")["shown"] == "$412,500.00", "proposed, and no more"
    for email in ("amara@post.example", "ben@post.example", "lena@post.example"):
        assert Reader(email).sign_all().status_code == 200
    finish_round(uuid.UUID(row["id"]))
    file_round(uuid.UUID(row["id"]))
    assert sender.fact("terms.purchase_price")["shown"] == "$424,000.00"
    assert sender.fact("terms.acceptance_date")["shown"] != ""
    assert sender.get(turns).json()["binding"] and status()["agreed"]
    assert status()["status"].startswith("Signed by both sides")
    assert sender.open()["head"]["offers"][0]["outcome"] == "accepted"
    assert sender.of(row)["done"] == "Fully signed"
    assert any(d["why"].startswith("Fully signed, ") for d in sender.open()["documents"])


def test_a_signed_offer_is_not_put_in_force_beside_an_accepted_one(
    sender: Sender, without_waiting: None
) -> None:
    row = sender.looked(sender.only_the_offer())
    sender.edit({"op": "party_add", "key": "sellers", "party": "efgh5678"})
    for name, text in (("given", "Lena"), ("family", "Voss"), ("email", "lena@post.example")):
        sender.type(f"sellers.1.{name}", text)
    row = sender.looked(sender.changed(row, turns={"buyers.1": 1, "buyers.2": 1, "sellers.1": 1}))
    assert sender.post(f"/api/rounds/{row['id']}/send", reason="x").status_code == 200
    other = sender.post(f"{sender.path}/offers", change=str(uuid.uuid4())).json()["head"]["offer"]
    accepted = sender.post(
        f"{sender.path}/offers/{other}/acceptance", change=str(uuid.uuid4()), day="2026-11-20", how="told"
    )
    assert accepted.status_code == 200, accepted.content
    for email in ("amara@post.example", "ben@post.example", "lena@post.example"):
        assert Reader(email).sign_all().status_code == 200
    finish_round(uuid.UUID(row["id"]))
    file_round(uuid.UUID(row["id"]))
    outcomes = {o["id"]: (o["outcome"], o["in_force"]) for o in sender.open()["head"]["offers"]}
    assert outcomes[other] == ("accepted", True) and len(outcomes) == 2
    said = sender.get(f"{sender.path}/history").json()[0]["said"]
    assert "not put in force: Offer 2 is accepted already" in said


def test_an_offer_that_one_side_alone_has_signed_is_not_accepted(
    sender: Sender, without_waiting: None
) -> None:
    row = sender.sent()
    Reader("amara@post.example").sign_all()
    Reader("ben@post.example").sign_all()
    finish_round(uuid.UUID(row["id"]))
    file_round(uuid.UUID(row["id"]))
    accepted = next(f for f in sender.open()["facts"] if f["key"] == "terms.acceptance_date")
    assert accepted["shown"] == ""


def test_a_round_says_what_the_deal_says_otherwise_since(sender: Sender) -> None:
    sender.type("terms.purchase_price", "411,000")
    row = sender.sent()
    assert sender.of(row)["changed"] == []
    sender.type("terms.purchase_price", "455,000")
    changed = sender.of(row)["changed"]
    price = [c for c in changed if c["was"] == "411,000.00"]
    assert price and all(c["now"] == "455,000.00" for c in price)


def test_a_round_that_replaces_one_keeps_what_is_signed_and_unchanged(sender: Sender) -> None:
    row = sender.begun()
    numbers = {p["number"]: p["document"] for p in row["choice"]["papers"]}
    both = [numbers["301"], next(d for n, d in numbers.items() if n == "101")]
    plan = {"papers": both, "turns": {"buyers.1": 1, "buyers.2": 1}}
    sender.looked(sender.changed(row, **plan))
    sender.post(f"/api/rounds/{row['id']}/send", reason="x")
    amara = Reader("amara@post.example")
    amara.opened()
    amara.post("agree")
    for sign in ("signature", "initials"):
        amara.post("mark", sign=sign, mark={"name": "Amara Okafor", "face": "lively"})
    assert amara.post("put", places=amara.own_places()).status_code == 200
    assert sender.post(f"/api/rounds/{row['id']}/recall", said="Another price").status_code == 200
    sender.type("terms.purchase_price", "455,000")
    new = sender.post(f"{sender.path}/rounds", like=row["id"]).json()
    assert [p["document"] for p in new["choice"]["papers"] if p["chosen"]] == both
    sender.looked(new)
    assert sender.post(f"/api/rounds/{new['id']}/send", reason="x").status_code == 200
    anew = Reader("amara@post.example")
    seen = anew.opened()
    put = {
        paper["title"][:3]: [bool(p["put"]) for p in paper["places"] if p["sign"] != "date"]
        for paper in seen["papers"]
    }
    assert all(put["101"]) and not any(put["301"]), "the agency form is the same, the offer is another"
    assert seen["signature"] is not None
    assert not Signer.objects.get(round=new["id"], key="buyers.2").put
    links = links_of(Round.objects.get(pk=new["id"]))
    assert first_break(links) is None
    assert {link.said["round"] for link in links if link.kind == "carried"} == {row["id"]}


def test_a_deal_is_not_thrown_away_while_its_papers_are_out(sender: Sender) -> None:
    row = sender.sent()
    refused = sender.client.delete(sender.path)
    assert refused.status_code == 409 and "out for signature" in refused.json()["detail"]
    assert sender.open()["head"]["id"], "it is there"
    sender.post(f"/api/rounds/{row['id']}/recall", said="They chose another home")
    assert sender.client.delete(sender.path).status_code < 300


def test_what_happens_is_news_to_whoever_sent_it_once(sender: Sender, world: World) -> None:
    sender.sent()
    first = sender.get("/api/rounds/news").json()
    assert first["news"] == [] and first["upto"] > 0, "who has just come reads Today"
    Reader("amara@post.example").sign_all()
    second = sender.get("/api/rounds/news", after=first["upto"]).json()
    assert [one["said"].split(": ")[1] for one in second["news"]] == ["Amara Okafor has signed “Your offer”."]
    assert sender.get("/api/rounds/news", after=second["upto"]).json() == {"upto": second["upto"], "news": []}
    Reader("ben@post.example").sign_all()
    third = sender.get("/api/rounds/news", after=second["upto"]).json()
    assert [one["said"].split(": ")[1] for one in third["news"]] == [
        "Everyone who was asked has signed “Your offer”."
    ]
    assert Speaker(world.bertil).get("/api/rounds/news", after=0).json()["news"] == []
    again = sender.sent()
    amara = Reader("amara@post.example")
    amara.opened()
    upto = sender.get("/api/rounds/news").json()["upto"]
    assert amara.post("decline", said="We changed our mind").status_code == 200
    (told,) = sender.get("/api/rounds/news", after=upto).json()["news"]
    assert told["wrong"] and told["round"] == again["id"] and "We changed our mind" in told["said"]


def test_letters_can_be_turned_off_by_kind(sender: Sender, world: World) -> None:
    told = sender.get("/api/rounds/told").json()
    assert all(kind["told"] for kind in told)
    sender.post("/api/rounds/told", not_told=["done", "nonsense"])
    assert [k["kind"] for k in sender.get("/api/rounds/told").json() if not k["told"]] == ["done"]
    sender.sent()
    Reader("amara@post.example").sign_all()
    assert not Letter.objects.filter(to="ines@office.example").exists()


def test_a_finished_round_is_found_by_the_clock_when_its_worker_died(
    sender: Sender, without_waiting: None, monkeypatch: pytest.MonkeyPatch
) -> None:
    row = sender.sent()
    Reader("amara@post.example").sign_all()
    Reader("ben@post.example").sign_all()

    def away(_: bytes) -> bytes:
        raise OSError("no time stamps just now")

    with monkeypatch.context() as patch:
        patch.setattr(finishing, "stamp", away)
        with pytest.raises(OSError, match="no time stamps"), transaction.atomic():
            finish_round(uuid.UUID(row["id"]))
    assert Round.objects.get(pk=row["id"]).sealed is None
    assert not Letter.objects.filter(subject__startswith="Signed by everyone").exists()
    finish_due.call()
    assert Round.objects.get(pk=row["id"]).sealed is not None
    finish_due.call()
    assert Letter.objects.filter(subject__startswith="Signed by everyone").count() == 3


def test_signing_goes_in_order_and_each_step_is_kept(sender: Sender) -> None:
    sender.sent()
    amara = Reader("amara@post.example")
    seen = amara.opened()
    assert (seen["at"], seen["state"], seen["left"]) == ("opened", "out", len(amara.own_places()))
    early = amara.post("put", places=amara.own_places())
    assert early.status_code == 409 and "to sign with yet" in early.json()["detail"]
    amara.post("mark", sign="signature", mark={"name": "Amara Okafor", "face": "lively"})
    amara.post("mark", sign="initials", mark={"name": "AO", "face": "lively"})
    refused = amara.post("put", places=amara.own_places()[:1])
    assert refused.status_code == 409 and "Agree before" in refused.json()["detail"]
    amara.post("agree")
    assert amara.post("finish").json()["detail"].endswith("still to be signed.")
    first, *others = amara.own_places()
    for _ in range(2):
        assert amara.post("put", places=[first]).json()["left"] == len(others)
    elsewhere = Reader("amara@post.example")
    assert elsewhere.opened()["left"] == len(others), "a second device goes on where the first one was"
    late = amara.post("mark", sign="signature", mark={"name": "A. O.", "face": "flowing"})
    assert late.status_code == 409
    strange = amara.post("put", places=["nowhere/1"])
    assert strange.status_code == 409 and "don't sign here" in strange.json()["detail"]


def test_declining_needs_a_reason_and_tells_agent_and_signers(sender: Sender) -> None:
    row = sender.sent()
    amara = Reader("amara@post.example")
    amara.opened()
    assert amara.post("decline", said=" ").status_code == 409
    seen = amara.post("decline", said="The price is wrong").json()
    assert seen["state"] == "declined" and seen["papers"] == []
    agent = Letter.objects.filter(to="ines@office.example").order_by("-made")
    assert any("The price is wrong" in letter.text for letter in agent)
    assert sender.of(row)["said"] == "The price is wrong"


def test_asking_for_paper_tells_the_agent_and_leaves_agreeing_open(sender: Sender) -> None:
    sender.sent()
    amara = Reader("amara@post.example")
    amara.opened()
    assert amara.post("paper").json()["at"] == "on paper"
    assert Letter.objects.filter(
        to="ines@office.example", subject__contains="asked to sign on paper"
    ).exists()
    assert amara.post("agree").json()["at"] == "agreed"


def test_a_recalled_round_says_so_and_shows_nothing(sender: Sender) -> None:
    row = sender.sent()
    amara = Reader("amara@post.example")
    paper = amara.opened()["papers"][0]["id"]
    assert sender.post(f"/api/rounds/{row['id']}/recall", said="").status_code == 400
    recalled = sender.post(f"/api/rounds/{row['id']}/recall", said="Another price")
    assert recalled.status_code == 200 and recalled.json()["state"] == "recalled"
    seen = amara.see()
    assert seen["papers"] == [] and "recalled" in seen["over"]["message"]
    assert "Another price" in seen["over"]["message"]
    assert amara.client.get(f"{amara.path}/papers/{paper}").status_code == 409
    assert amara.client.get(f"{amara.path}/papers/{paper}/1/110.png").status_code == 409
    assert amara.post("agree").status_code == 409
    assert Letter.objects.filter(to="amara@post.example", subject__startswith="No longer").count() == 1


def test_a_round_runs_out_by_the_clock_and_reminds_before(sender: Sender) -> None:
    row = sender.sent()
    Signer.objects.filter(round=row["id"], key="buyers.1").update(reminded=timezone.now() - timedelta(days=3))
    for _ in range(2):
        following.by_the_clock.call()
    assert Letter.objects.filter(to="amara@post.example", subject__startswith="Reminder to sign").count() == 1
    Round.objects.filter(pk=row["id"]).update(ends=timezone.now() - timedelta(minutes=1))
    assert following.by_the_clock.call() == 1
    assert sender.of(row)["state"] == "run out"
    assert "expired" in Reader("amara@post.example").opened()["over"]["message"]


def test_an_address_changed_late_makes_the_old_link_worthless(sender: Sender) -> None:
    row = sender.sent()
    old = Reader("amara@post.example")
    person = next(s for s in row["signers"] if s["key"] == "buyers.1")
    where = f"/api/rounds/{row['id']}/signers/{person['id']}"
    assert sender.post(f"{where}/address", email="nonsense").status_code == 400
    assert sender.post(f"{where}/address", email="ben@post.example").status_code == 409
    assert sender.post(f"{where}/address", email="new@post.example").status_code == 200
    gone = old.post("open", secret=old.secret)
    assert gone.status_code == 410 and "newer" in gone.json()["detail"]
    new = Reader("new@post.example")
    assert new.opened()["name"] == "Amara Okafor"
    opened = sender.post(f"{where}/address", email="third@post.example")
    assert opened.status_code == 409 and "has opened" in opened.json()["detail"]


def test_reminding_twice_in_a_minute_sends_once(sender: Sender) -> None:
    row = sender.sent()
    person = next(s for s in row["signers"] if s["key"] == "buyers.1")
    where = f"/api/rounds/{row['id']}/signers/{person['id']}/remind"
    assert sender.post(where).status_code == 409
    Signer.objects.filter(pk=person["id"]).update(reminded=timezone.now() - timedelta(minutes=5))
    assert sender.post(where).status_code == 200
    assert sender.post(where).status_code == 409
    other = next(s for s in row["signers"] if s["key"] == "buyers.2")
    waits = sender.post(f"/api/rounds/{row['id']}/signers/{other['id']}/remind")
    assert waits.status_code == 409 and "is not being waited for" in waits.json()["detail"]


def test_a_letter_that_was_refused_shows_in_the_round(sender: Sender) -> None:
    row = sender.sent()
    Letter.objects.filter(to="amara@post.example").update(state=LetterState.REFUSED, said="no such box")
    signer = next(s for s in sender.of(row)["signers"] if s["key"] == "buyers.1")
    assert signer["refused"] == "no such box"
    listed = sender.get("/api/rounds").json()
    assert listed[0]["signers"][0]["refused"] == "no such box" and listed[0]["deal_name"]


# Signing on the agent's device


def test_signing_in_person_is_recorded_and_ends_the_agents_session(sender: Sender) -> None:
    row = sender.sent()
    person = next(s for s in row["signers"] if s["key"] == "buyers.1")
    answer = sender.post(f"/api/rounds/{row['id']}/signers/{person['id']}/in-person")
    assert answer.status_code == 200, answer.content
    assert LINK.search(answer.json()["address"])
    assert sender.get("/api/deals").status_code in (401, 403), "the device shows nothing of the agent's"
    assert sender.client.get(f"/api/sign/{person['id']}").json()["name"] == "Amara Okafor"
    kinds = list(Happening.objects.filter(round=row["id"]).values_list("kind", flat=True))
    assert kinds == ["sent", "in person"]


def test_an_agents_own_link_is_the_agents_alone(sender: Sender, world: World) -> None:
    row = sender.looked(sender.changed(sender.only_the_offer(), turns={"buyers.1": 1, "buyer_agent": 1}))
    sender.post(f"/api/rounds/{row['id']}/send", reason="x")
    signers = {s["key"]: s["id"] for s in sender.of(row)["signers"]}
    if "buyer_agent" in signers:
        own = sender.post(f"/api/rounds/{row['id']}/signers/{signers['buyer_agent']}/link")
        assert own.status_code == 200
    theirs = sender.post(f"/api/rounds/{row['id']}/signers/{signers['buyers.1']}/link")
    assert theirs.status_code == 403


# Who may see what, and what stays


def test_a_link_opens_its_own_signers_round_and_nothing_else(sender: Sender) -> None:
    row = sender.sent()
    amara = Reader("amara@post.example")
    assert amara.client.get(amara.path).status_code == 404, "an id alone opens nothing"
    for secret in ("0" * 64, "x", "", None):
        assert amara.post("open", secret=secret).status_code in (400, 404)
    amara.opened()
    ben = Signer.objects.get(round=row["id"], key="buyers.2")
    amara.client.cookies["signer"]["path"] = f"/api/sign/{ben.pk}"
    for what in ("", "/papers/" + row["papers"][0]["id"]):
        assert amara.client.get(f"/api/sign/{ben.pk}{what}").status_code == 404
    assert amara.client.get("/api/deals").status_code in (401, 403)
    assert amara.client.get(f"/api/rounds/{row['id']}").status_code in (401, 403)


def test_whoever_waits_for_a_turn_sees_no_papers(sender: Sender) -> None:
    row = sender.sent()
    ben = Signer.objects.get(round=row["id"], key="buyers.2")
    secret = address_of(ben).rsplit(".", 1)[1]
    client = CheckedClient()
    seen = client.post(f"/api/sign/{ben.pk}/open", {"secret": secret}, content_type="application/json").json()
    assert (seen["at"], seen["papers"]) == ("waits", [])
    paper = row["papers"][0]["id"]
    assert client.get(f"/api/sign/{ben.pk}/papers/{paper}").status_code == 409


def test_failed_openings_of_a_link_are_counted(sender: Sender, monkeypatch: pytest.MonkeyPatch) -> None:
    sender.sent()
    amara = Reader("amara@post.example")
    monkeypatch.setattr(Attempts, "rate", "5/hour")
    cache.clear()
    codes = [amara.post("open", secret="0" * 64).status_code for _ in range(7)]
    assert codes == [404] * 5 + [429] * 2


def test_another_brokerage_and_whoever_is_not_in_the_deal_are_told_of_no_round(
    sender: Sender, world: World
) -> None:
    row = sender.sent()
    for other in (world.nadia, world.bertil, None):
        stranger = Speaker(other)
        assert stranger.get(f"/api/rounds/{row['id']}").status_code in (401, 403, 404)
        assert stranger.post(f"/api/rounds/{row['id']}/recall", said="Mine now").status_code in (
            401,
            403,
            404,
        )
    assert Speaker(world.nadia).get("/api/rounds").json() == []
    assert sender.of(row)["state"] == "out"


def test_the_chain_follows_and_is_not_rewritten(sender: Sender) -> None:
    row = sender.sent()
    Reader("amara@post.example").sign_all()
    links = links_of(Round.objects.get(pk=row["id"]))
    assert first_break(links) is None
    assert [link.kind for link in links][:3] == ["sent", "opened", "agreed"]
    assert all("from" in link.said for link in links)
    with pytest.raises(DatabaseError), transaction.atomic():
        Happening.objects.filter(round=row["id"]).update(kind="declined")


def test_drawn_marks_of_noise_are_refused_in_words(sender: Sender) -> None:
    sender.sent()
    amara = Reader("amara@post.example")
    amara.opened()
    marks: list[Any] = [
        {"strokes": [[[0, 0]]]},
        {"strokes": [[["a", None]]]},
        {"strokes": [[[n, n % 7] for n in range(5_000)]]},
        {"name": "Ōɂ漢字", "face": "flowing"},
        {"name": "Amara", "face": "comic"},
        {},
        "x",
        None,
    ]
    for mark in marks:
        answer = amara.post("mark", sign="signature", mark=mark)
        assert answer.status_code == 400 and answer.json()["detail"], mark
    assert amara.see()["signature"] is None
    faces = amara.post("faces", name="漢字", initials="A").json()
    assert len(faces) == 2 and all("Draw your signature" in face["trouble"] for face in faces)


def test_listing_rounds_takes_as_many_queries_however_many_there_are(sender: Sender) -> None:
    sender.sent()
    with CaptureQueriesContext(
        connection,
    ) as one:
        sender.get(f"{sender.path}/rounds")
    for _ in range(3):
        sender.begun()
    with CaptureQueriesContext(connection) as four:
        sender.get(f"{sender.path}/rounds")
    assert len(four) == len(one)


def test_signing_places_reads_and_locks_the_round_once(sender: Sender) -> None:
    sender.sent()
    amara = Reader("amara@post.example")
    amara.opened()
    amara.post("agree")
    for sign in ("signature", "initials"):
        amara.post("mark", sign=sign, mark={"name": "Amara Okafor", "face": "lively"})
    places = amara.own_places()
    counts = []
    for some in (places[:1], places[1:]):
        with CaptureQueriesContext(connection) as asked:
            assert amara.post("put", places=some).status_code == 200
        every = [query["sql"] for query in asked]
        counts.append(len(every))
        for table in ("signing_paper", "signing_signer"):
            reading = [
                sql for sql in every if f"FROM `{table}`" in sql and "`round_id`" in sql.partition("WHERE")[2]
            ]
            assert len(reading) == 1, reading
        assert sum("FOR UPDATE" in sql for sql in every) == 1
    assert len(places) > 2 and counts[0] == counts[1], "as many statements for one place as for all others"


def test_files_that_are_nothing_of_ours_are_told_apart() -> None:
    for content in (b"", b"no pdf at all", b"%PDF-1.7\n" + b"\x00" * 2_000):
        answer = CheckedClient().post("/api/verify", {"file": io.BytesIO(content)}, format="multipart")
        assert answer.status_code in (200, 400, 422), answer.content
        assert not answer.json().get("holds", False)


class Killed(BaseException):
    """What a killed process looks like from within: nothing more is done, whatever anybody catches."""


def killed_at(n: int, act: Callable[[], object]) -> bool:
    """Do something that dies before its n-th statement, as a process that is killed there; gives whether it
    lived.  What was committed stays, the rest is rolled back."""
    counted = 0

    def dying(execute: Any, sql: str, params: Any, many: bool, context: Any) -> Any:
        nonlocal counted
        counted += 1
        if counted == n:
            raise Killed
        return execute(sql, params, many, context)

    try:
        with transaction.atomic(), connection.execute_wrapper(dying):
            act()
    except Killed:
        return False
    return True


def killed_everywhere(act: Callable[[], object], between: Callable[[], None]) -> int:
    """Do it again and again, killed one statement later each time, until it is through."""
    for n in range(1, 400):
        if killed_at(n, act):
            return n
        between()
    raise AssertionError("it never gets through")


def test_killed_at_every_statement_of_sending_and_signing_it_happens_once(sender: Sender) -> None:
    row = sender.looked(sender.only_the_offer())
    stands = Round.objects.get(pk=row["id"])

    def nothing_happened() -> None:
        assert Round.objects.get(pk=row["id"]).state == "making"
        assert not Happening.objects.filter(round=row["id"]).exists()
        assert not Letter.objects.filter(about="signing").exists()

    steps = killed_everywhere(
        lambda: sending.send(stands.by, stands.pk, "Agreed", "127.0.0.1"), nothing_happened
    )
    assert steps > 10
    assert Letter.objects.filter(about="signing").count() == 1
    amara = Reader("amara@post.example")
    amara.opened()
    amara.post("agree")
    for sign in ("signature", "initials"):
        amara.post("mark", sign=sign, mark={"name": "Amara Okafor", "face": "lively"})
    places = amara.own_places()
    signer = Signer.objects.get(pk=amara.signer)

    def nothing_is_signed() -> None:
        assert Signer.objects.get(pk=amara.signer).put == {}
        assert first_break(links_of(stands)) is None

    killed_everywhere(lambda: acting.put(signer, places, "127.0.0.1"), nothing_is_signed)
    assert set(Signer.objects.get(pk=amara.signer).put) == set(places)
    before = Letter.objects.filter(about="signing").count()

    def nobody_is_told() -> None:
        assert Signer.objects.get(pk=amara.signer).at == "agreed"
        assert Letter.objects.filter(about="signing").count() == before

    killed_everywhere(lambda: acting.act(signer, Happened.DONE, "127.0.0.1"), nobody_is_told)
    assert Letter.objects.filter(about="signing").count() == before + 2, "the agent, and Ben whose turn it is"
    puts = Happening.objects.filter(round=row["id"], kind="put").values_list("said", flat=True)
    assert sorted(said["place"] for said in puts) == sorted(places), "none twice"
    assert first_break(links_of(stands)) is None


def test_killed_at_every_statement_of_finishing_each_paper_is_sealed_and_everybody_told_once(
    sender: Sender, without_waiting: None
) -> None:
    row = sender.sent()
    Reader("amara@post.example").sign_all()
    Reader("ben@post.example").sign_all()
    round_id = uuid.UUID(row["id"])
    told = Letter.objects.filter(subject__startswith="Signed by everyone")

    def nothing_is_half_done() -> None:
        if Round.objects.get(pk=round_id).sealed is None:
            assert not told.exists()

    killed_everywhere(lambda: finish_round(round_id), nothing_is_half_done)
    assert finish_round(round_id)
    assert told.count() == 3
    killed_everywhere(lambda: file_round(round_id), lambda: None)
    signed = [d for d in sender.open()["documents"] if "signed" in d["title"]]
    assert len(signed) == 1


# What a paper asks of its signers


@pytest.fixture
def lister(world: World, seal: Path) -> Sender:
    """Inês, with a house to sell, and a seller with an e-mail."""
    deal = start_deal(world.ines, {"side": "listing", "clients": [{"given": "Lena", "family": "Voss"}]})
    made = Sender(world.ines, deal)
    made.type("sellers.1.email", "lena@post.example")
    made.post(f"{made.path}/package", change=str(uuid.uuid4()), op="add", numbers=["501"])
    return made


def to_lena(lister: Sender) -> Reader:
    row = lister.begun()
    disclosure = next(p["document"] for p in row["choice"]["papers"] if p["number"] == "501")
    row = lister.looked(lister.changed(row, papers=[disclosure], turns={"sellers.1": 1}))
    assert lister.post(f"/api/rounds/{row['id']}/send", reason="Tried").status_code == 200
    lena = Reader("lena@post.example")
    lena.opened()
    return lena


def questions(seen: dict[str, Any]) -> dict[str, dict[str, Any]]:
    return {q["key"]: q for q in seen["papers"][0]["questions"]}


class Lena:
    """Answers on the one paper."""

    def __init__(self, reader: Reader) -> None:
        self.reader, self.paper = reader, reader.see()["papers"][0]["id"]

    def says(self, key: str, text: str) -> Any:
        return self.reader.post("answer", paper=self.paper, key=key, text=text)


def test_a_disclosure_is_answered_by_its_seller_over_two_sittings(
    lister: Sender, without_waiting: None
) -> None:
    reader = to_lena(lister)
    lena = Lena(reader)
    assert lena.says("title-1", "no").status_code == 409, "nothing is answered before agreeing"
    reader.post("agree")
    seen = lena.says("title-1", "yes").json()
    asked = questions(seen)
    assert asked["title-1"]["text"] == "yes" and asked["title-explained"]["open"]
    wrong = questions(lena.says("owned-since", "some day").json())["owned-since"]
    assert wrong["text"] == "some day" and wrong["wrong"] and wrong["open"], "kept, and still wanted"
    # Another day, another device.
    reader = Reader("lena@post.example")
    again = questions(reader.opened())
    assert again["owned-since"]["text"] == "some day"
    lena = Lena(reader)
    for sign in ("signature", "initials"):
        reader.post("mark", sign=sign, mark={"name": "Lena Voss", "face": "lively"})
    early = reader.post("put", places=reader.own_places())
    assert early.status_code == 409 and "questions are still to be answered" in early.json()["detail"]
    assert reader.post("finish").status_code == 409
    lena.says("owned-since", "3/1/2010")
    for _ in range(4):  # answers bring further questions
        for key, q in questions(reader.see()).items():
            if q["open"]:
                lena.says(key, q["options"][-1] if q["options"] else "A cousin holds a tenth of it.")
    assert not [q for q in questions(reader.see()).values() if q["open"]]
    assert reader.post("put", places=reader.own_places()).status_code == 200
    late = lena.says("title-1", "no")
    assert late.status_code == 409 and "answers can't change" in late.json()["detail"]
    assert reader.post("finish").status_code == 200
    row = Round.objects.get(deal=lister.deal)
    given = [link for link in links_of(row) if "answers" in link.said]
    assert len(given) == 1 and first_break(links_of(row)) is None
    finish_round(row.pk)
    paper = Paper.objects.get(round=row)
    said = plain_text(files.fetch(paper.finished))
    assert "A cousin holds a tenth of it." in said and "March 1, 2010" in said
    file_round(row.pk)
    record = FactEntry.objects.filter(record=lister.deal.pk, source="signer")
    assert record.filter(key__endswith=".title-1", value="yes").exists()


def test_nobody_but_the_seller_answers_the_sellers_questions(lister: Sender) -> None:
    reader = to_lena(lister)
    reader.post("agree")
    lena = Lena(reader)
    assert lena.says("nothing-like-it", "yes").status_code == 404
    assert reader.post("answer", paper=str(uuid.uuid4()), key="title-1", text="yes").status_code == 404
    theirs = [b["key"] for b in lister.open()["blanks"] if b["key"].endswith(".title-1")]
    refused = lister.edit({"op": "type", "key": theirs[0], "text": "no"})
    assert refused.status_code in (400, 403, 409), "not by the agent"
    assert questions(reader.see())["title-1"]["text"] == ""


def test_any_answer_is_kept_or_refused_in_words(lister: Sender) -> None:
    reader = to_lena(lister)
    reader.post("agree")
    lena = Lena(reader)
    for text in ("", " ", "yes" * 1_000, "\x00", "漢字", "yes\nno", "🙂"):
        answer = lena.says("title-explained", text)
        assert answer.status_code in (200, 400), answer.content
    lena.says("title-1", "yes")
    assert questions(lena.says("title-1", "").json())["title-1"]["text"] == ""


# The second step


@pytest.fixture
def coded(sender: Sender) -> dict[str, Any]:
    """A round whose links ask for a code."""
    row = sender.looked(sender.changed(sender.only_the_offer(), code=True))
    answer = sender.post(f"/api/rounds/{row['id']}/send", reason="Tried")
    assert answer.status_code == 200 and answer.json()["code"]
    return dict(answer.json())


def newest_code() -> str:
    letter = Letter.objects.filter(about="code").order_by("-made")[0]
    found = re.search(r"^    (\d{3}) (\d{3})$", letter.text, re.MULTILINE)
    assert found is not None
    return found.group(1) + found.group(2)


def test_a_link_with_a_second_step_shows_nothing_before_the_code(
    sender: Sender, coded: dict[str, Any]
) -> None:
    amara = Reader("amara@post.example")
    seen = amara.opened()
    assert seen["wants_code"] and seen["papers"] == [] and seen["message"] == "" and seen["others"] == []
    assert seen["code_to"] == "a…@post.example" and seen["at"] == "asked"
    paper = coded["papers"][0]["id"]
    for what in (f"/papers/{paper}", f"/papers/{paper}/1/110.png", f"/papers/{paper}/words"):
        assert amara.client.get(f"{amara.path}{what}").status_code == 403
    for what in ("agree", "finish", "paper"):
        assert amara.post(what).status_code == 403
    code = newest_code()
    wrong = amara.post("code", code=f"{(int(code) + 1) % 1_000_000:06}")
    assert wrong.status_code == 400 and "4 attempts left" in wrong.json()["detail"]
    known = amara.post("code", code=f" {code[:3]} {code[3:]} ").json()
    assert not known["wants_code"] and known["at"] == "opened" and known["papers"]
    assert amara.see()["papers"], "this browser is known from then on"
    elsewhere = Reader("amara@post.example")
    assert elsewhere.opened()["wants_code"], "another one isn't"
    assert amara.post("code", code=code).status_code == 400, "a code is used once"


def test_tries_at_a_code_are_bounded_and_codes_too(coded: dict[str, Any]) -> None:
    amara = Reader("amara@post.example")
    amara.opened()
    code = newest_code()
    for _ in range(5):
        assert amara.post("code", code="nonsense").status_code == 400
    late = amara.post("code", code=code)
    assert late.status_code == 400 and "Too many attempts" in late.json()["detail"]
    amara.post("code", code="")
    assert Letter.objects.filter(about="code").count() == 1, "none within the same minute"
    for n in range(1, 8):
        Signer.objects.filter(pk=amara.signer).update(code_made=timezone.now() - timedelta(minutes=2))
        answer = amara.post("code", code="")
        assert answer.status_code == (200 if n < 6 else 429)


def test_a_code_ends_and_a_new_one_takes_its_place(coded: dict[str, Any]) -> None:
    amara = Reader("amara@post.example")
    amara.opened()
    old = newest_code()
    Signer.objects.filter(pk=amara.signer).update(code_made=timezone.now() - timedelta(minutes=20))
    assert "has expired" in amara.post("code", code=old).json()["detail"]
    amara.post("code", code="")
    assert amara.post("code", code=newest_code()).status_code == 200


def test_how_a_signer_was_known_is_on_record(
    sender: Sender, coded: dict[str, Any], without_waiting: None
) -> None:
    for email in ("amara@post.example", "ben@post.example"):
        reader = Reader(email)
        reader.opened()
        assert reader.post("code", code=newest_code()).status_code == 200
        assert reader.sign_all().status_code == 200
    finish_round(uuid.UUID(coded["id"]))
    said = plain_text(files.fetch(Paper.objects.get(round=coded["id"]).finished))
    assert "by a link and a code sent there" in said


def test_a_device_that_is_handed_over_needs_no_code(sender: Sender, coded: dict[str, Any]) -> None:
    person = next(s for s in coded["signers"] if s["key"] == "buyers.1")
    sender.post(f"/api/rounds/{coded['id']}/signers/{person['id']}/in-person")
    assert sender.client.get(f"/api/sign/{person['id']}").json()["papers"]


def test_who_signs_a_paper_that_somebody_else_answers_signs_it_afterwards(lister: Sender) -> None:
    lister.edit({"op": "party_add", "key": "sellers", "party": "abcd1234"})
    for key, text in (
        ("sellers.2.given", "Ole"),
        ("sellers.2.family", "Voss"),
        ("sellers.2.email", "ole@post.example"),
    ):
        lister.type(key, text)
    row = lister.begun()
    disclosure = next(p["document"] for p in row["choice"]["papers"] if p["number"] == "501")
    late = lister.changed(row, papers=[disclosure], turns={"sellers.1": 2, "sellers.2": 1})
    assert [a["who"] for a in late["choice"]["against"]] == ["sellers.1"], "Ole would sign before"
    row = lister.looked(lister.changed(row, turns={"sellers.1": 1, "sellers.2": 1}))
    lister.post(f"/api/rounds/{row['id']}/send", reason="Tried")
    ole, lena = Reader("ole@post.example"), Reader("lena@post.example")
    for reader in (ole, lena):
        reader.opened()
        reader.post("agree")
        for sign in ("signature", "initials"):
            reader.post("mark", sign=sign, mark={"name": "A Voss", "face": "lively"})
    early = ole.post("put", places=ole.own_places())
    assert early.status_code == 409 and "Lena Voss answers first" in early.json()["detail"]
    says = Lena(lena)
    for _ in range(4):
        for key, q in questions(lena.see()).items():
            if q["open"]:
                says.says(key, q["options"][-1] if q["options"] else "March 1, 2010")
    told = Letter.objects.filter(to="ole@post.example", subject__startswith="Reminder to sign")
    assert not told.exists()
    assert lena.post("put", places=lena.own_places()).status_code == 200
    assert told.count() == 1, "Ole is told that it is for him to sign"
    assert ole.post("put", places=ole.own_places()).status_code == 200


def asked_question(sender: Sender) -> dict[str, Any]:
    row = sender.only_the_offer()
    row = sender.changed(row, question="What did we call the dog?")
    assert "The question has no answer yet" in str(row["choice"]["against"])
    row = sender.changed(row, answer=" Sir  Barksalot! ")
    assert row["has_answer"] and "Barksalot" not in str(row)
    row = sender.looked(row)
    answer = sender.post(f"/api/rounds/{row['id']}/send", reason="x")
    assert answer.status_code == 200, answer.content
    return dict(answer.json())


def test_a_link_with_a_question_shows_nothing_before_its_answer(sender: Sender) -> None:
    asked_question(sender)
    amara = Reader("amara@post.example")
    seen = amara.opened()
    assert seen["wants_code"] and seen["question"] == "What did we call the dog?" and seen["papers"] == []
    assert amara.post("agree").status_code == 403
    wrong = amara.post("code", code="Rex")
    assert wrong.status_code == 400 and "4 attempts left" in wrong.json()["detail"]
    right = amara.post("code", code="sir barksalot")
    assert right.status_code == 200 and right.json()["papers"] and right.json()["question"] == ""
    assert amara.post("agree").status_code == 200


def test_tries_at_a_question_are_bounded_by_the_hour(sender: Sender) -> None:
    asked_question(sender)
    amara = Reader("amara@post.example")
    amara.opened()
    codes = [amara.post("code", code=f"Rex {n}").status_code for n in range(6)]
    assert codes == [400] * 5 + [429]
    assert amara.post("code", code="Sir Barksalot").status_code == 429, "also the right one"
    Signer.objects.update(code_made=timezone.now() - timedelta(hours=2))
    assert amara.post("code", code="Sir Barksalot").status_code == 200


def test_another_question_wants_another_answer_and_a_code_instead_of_it(sender: Sender) -> None:
    row = sender.changed(sender.begun(), question="Whose street?", answer="Alder")
    assert row["has_answer"] and not row["code"]
    row = sender.changed(row, question="Which street?")
    assert not row["has_answer"]
    row = sender.changed(row, answer="!!")
    assert not row["has_answer"], "nothing that could be typed"
    row = sender.changed(row, code=True)
    assert (row["code"], row["question"]) == (True, "")
    row = sender.changed(row, question="Whose street?")
    assert (row["code"], row["question"]) == (False, "Whose street?")
