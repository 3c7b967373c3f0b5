"""The record of a signing: what was changed past the product, with its own database account, is never
sealed."""

from __future__ import annotations

import io
import json
import uuid
from collections.abc import Callable
from datetime import timedelta
from typing import Any

import pytest
from django.core.management import CommandError, call_command
from django.utils import timezone
from goodquill.mail.models import Letter
from goodquill.signing.chain import links_of
from goodquill.signing.checking import check, check_due
from goodquill.signing.models import Happening, Paper, Round, Signer
from goodquill.signing.rounds.following import by_the_clock
from goodquill.signing.sealing.finishing import finish_due, finish_round
from goodquill.storage import files
from quillcore.pdf.renderer import words_inside
from quillcore.signing.record_check import IN_DOUBT
from quillcore.signing.trail import ChainLink, follow

from tests.server.senders import Reader, Sender

BUYERS = ("amara@post.example", "ben@post.example")


@pytest.fixture
def signed(sender: Sender, without_waiting: None) -> dict[str, Any]:
    """A round that everybody has signed and that waits for its seal."""
    row = sender.sent()
    for email in BUYERS:
        assert Reader(email).sign_all().status_code == 200
    return row


def written_anew(row: Round, number: int, change: Callable[[dict[str, Any]], None]) -> None:
    """A link of the chain deleted and written anew, and all behind it, as somebody can who knows the code:
    each follows from the one before it, and only the key is missing."""
    kept = list(row.happenings.order_by("number").values())
    row.happenings.all()._raw_delete("default")  # type: ignore[attr-defined]
    last: ChainLink | None = None
    for one in kept:
        if one["number"] == number:
            change(one)
        at = timezone.datetime.fromisoformat(one["at"])  # type: ignore[attr-defined]
        last = follow(last, at, one["kind"], one["who"], **one["said"])
        Happening.objects.create(**{**one, "before": last.before, "hash": last.hash})


def a_row_written_anew(row: Round) -> None:
    written_anew(row, 2, lambda link: link["said"].update({"from": "203.0.113.7"}))


def a_frozen_file_exchanged(row: Round) -> None:
    other = files.keep(files.fetch(row.papers.get().frozen) + b"\n% another price")
    row.papers.update(frozen=other)


def a_signer_renamed(row: Round) -> None:
    row.signers.filter(key="buyers.2").update(name="Bela Ruiz")


def a_signature_exchanged(row: Round) -> None:
    ben = row.signers.get(key="buyers.2")
    row.signers.filter(key="buyers.1").update(signature=ben.signature)


def a_place_moved(row: Round) -> None:
    paper = row.papers.get()
    paper.places[0]["rect"][0] += 40
    paper.save(update_fields=["places"])


def a_place_signed_for_somebody(row: Round) -> None:
    amara = row.signers.get(key="buyers.1")
    amara.put[next(iter(amara.put))] = "2026-01-01T12:00:00.000+00:00"
    amara.save(update_fields=["put"])


def an_address_changed(row: Round) -> None:
    row.signers.filter(key="buyers.1").update(email="mallory@post.example")


def a_chain_cut_short(row: Round) -> None:
    row.happenings.filter(number=row.happenings.count()).delete()


def a_file_damaged(row: Round) -> None:
    paper = row.papers.get()
    path = files.default_storage.path(files.path_of(paper.frozen))
    with open(path, "ab") as stored:
        stored.write(b"%")


CHANGES = [
    a_row_written_anew,
    a_frozen_file_exchanged,
    a_signer_renamed,
    a_signature_exchanged,
    a_place_moved,
    a_place_signed_for_somebody,
    an_address_changed,
    a_chain_cut_short,
    a_file_damaged,
]


@pytest.mark.parametrize("change", CHANGES, ids=lambda change: change.__name__)
def test_what_was_changed_before_sealing_is_refused_and_told(
    signed: dict[str, Any], change: Callable[[Round], None], sender: Sender
) -> None:
    row = Round.objects.get(pk=signed["id"])
    change(row)
    assert not finish_round(row.pk)
    assert finish_due.call() == 0, "it is not tried again and again"
    row.refresh_from_db()
    assert row.sealed is None and row.doubt
    assert sender.of(signed)["doubt"] == row.doubt
    assert not row.papers.exclude(finished="").exists()
    told = Letter.objects.filter(subject__startswith="Signing record does not match")
    assert {letter.to for letter in told} == {"ines@office.example", "rosa@office.example"}
    assert all(row.doubt in letter.text for letter in told)
    assert not Letter.objects.filter(subject__startswith="Signed by everyone").exists()


def test_what_nobody_changed_is_sealed_and_holds_every_day(signed: dict[str, Any], sender: Sender) -> None:
    assert finish_round(uuid.UUID(signed["id"]))
    events = sender.of(signed)["events"]
    assert [e["said"] for e in events][-2:] == [
        "Ben Okafor has signed",
        f"{signed['papers'][0]['title']} was sealed",
    ]
    row = Round.objects.get(pk=signed["id"])
    assert links_of(row)[-1].said == {"paper": str(row.papers.get().pk), "sha256": row.papers.get().finished}
    out = io.StringIO()
    call_command("check_records", stdout=out)
    assert out.getvalue() == "1 rounds are as their records say.\n"
    assert not Letter.objects.filter(subject__startswith="Signing record").exists()


@pytest.mark.parametrize(
    "change", [*CHANGES[:-1], lambda row: row.papers.update(finished="0" * 64)], ids=lambda c: c.__name__
)
def test_the_daily_check_finds_what_was_changed_after_sealing(
    signed: dict[str, Any], change: Callable[[Round], None]
) -> None:
    row = Round.objects.get(pk=signed["id"])
    finish_round(row.pk)
    assert check(row.pk)
    change(row)
    assert check_due.call() == 0, "it was compared today"
    Round.objects.update(checked=timezone.now() - timedelta(days=2))
    assert check_due.call() == 1
    with pytest.raises(CommandError, match="1 of 1"):
        call_command("check_records", stdout=io.StringIO())
    told = Letter.objects.filter(subject__startswith="Signing record does not match")
    assert told.count() == 2, "told once"


def test_nothing_goes_on_in_a_round_that_was_changed(sender: Sender, without_waiting: None) -> None:
    """Neither signing nor answering nor reminding, nor as a round that takes its signatures over."""
    first = sender.sent()
    assert Reader("amara@post.example").sign_all().status_code == 200
    ben = Reader("ben@post.example")
    ben.opened()
    ben.post("agree")
    row = Round.objects.get(pk=first["id"])
    a_signature_exchanged_for_another(row)
    assert not check(row.pk)
    seen = ben.see()
    assert seen["over"]["message"] == IN_DOUBT.message and seen["papers"] == []
    paper = row.papers.get()
    assert ben.client.get(f"{ben.path}/papers/{paper.pk}").status_code == 409
    places = [p["id"] for p in paper.places if p["who"] == "buyers.2" and p["sign"] != "date"]
    assert ben.post("put", places=places).status_code == 409
    assert ben.post("finish").status_code == 409
    person = row.signers.get(key="buyers.2")
    Signer.objects.update(reminded=timezone.now() - timedelta(days=9))
    assert sender.post(f"/api/rounds/{row.pk}/signers/{person.pk}/remind").json()["rule"] == "doubt"
    told = Letter.objects.count()
    by_the_clock.call()
    assert Letter.objects.count() == told
    recalled = sender.post(f"/api/rounds/{row.pk}/recall", said="It was changed")
    assert recalled.status_code == 200, "ending it is all that can be done"


def a_signature_exchanged_for_another(row: Round) -> None:
    row.signers.filter(key="buyers.1").update(signature={"name": "Mallory", "face": "flowing"})


@pytest.mark.parametrize("is_changed", [False, True])
def test_signatures_of_a_changed_round_are_not_taken_over(
    sender: Sender, without_waiting: None, is_changed: bool
) -> None:
    first = sender.sent()
    assert Reader("amara@post.example").sign_all().status_code == 200
    sender.post(f"/api/rounds/{first['id']}/recall", said="One more paper")
    begun = sender.post(f"{sender.path}/rounds", like=first["id"]).json()
    if is_changed:  # nobody has compared it since
        a_signature_exchanged_for_another(Round.objects.get(pk=first["id"]))
    again = sender.looked(begun)
    assert sender.post(f"/api/rounds/{again['id']}/send", reason="As before").status_code == 200
    amara = Signer.objects.get(round=again["id"], key="buyers.1")
    assert bool(amara.put) is not is_changed
    assert (amara.signature is None) is is_changed
    assert bool(Round.objects.get(pk=first["id"]).doubt) is is_changed


def test_rounds_of_every_kind_are_as_their_records_say(sender: Sender, without_waiting: None) -> None:
    """Recalled and sent anew, readdressed, declined, handed over: nothing of it looks changed."""
    first = sender.sent()
    Reader("amara@post.example").sign_all()
    sender.post(f"/api/rounds/{first['id']}/recall", said="The closing date was wrong")
    begun = sender.post(f"{sender.path}/rounds", like=first["id"]).json()
    again = sender.looked(begun)
    assert sender.post(f"/api/rounds/{again['id']}/send", reason="As before").status_code == 200
    ben = Signer.objects.get(round=again["id"], key="buyers.2")
    where = f"/api/rounds/{again['id']}/signers/{ben.pk}/address"
    assert sender.post(where, email="ben@home.example").status_code == 200
    Reader("amara@post.example").post("open", secret=Reader("amara@post.example").secret)
    assert all(check(pk) for pk in Round.objects.values_list("pk", flat=True)), [
        row.doubt for row in Round.objects.all()
    ]


def test_a_sent_round_says_what_was_sent_and_each_place_what_was_signed(signed: dict[str, Any]) -> None:
    row = Round.objects.get(pk=signed["id"])
    paper = Paper.objects.get(round=row)
    sent, *others = links_of(row)
    assert paper.frozen in sent.said["papers"] and "amara@post.example" in sent.said["signers"]
    put = [link for link in others if link.kind == "put"]
    assert put and all(len(link.said["mark"]) == 64 and link.said["paper"] == paper.frozen for link in put)


# Who opens a link


def words_of(content: bytes) -> str:
    return " ".join(word[4] for page in json.loads(words_inside(content))["pages"] for word in page)


@pytest.mark.parametrize(
    ("check", "printed"),
    [
        ({"code": False}, "none: the sender turned the code off, so anyone with the link can sign"),
        (
            {"question": "Our first street?", "answer": "Elm"},
            "a question; the sender told the signers the answer",
        ),
    ],
)
def test_how_signers_were_known_is_on_record_and_printed(
    sender: Sender, without_waiting: None, check: dict[str, Any], printed: str
) -> None:
    begun = sender.post(f"{sender.path}/rounds").json()
    assert begun["code"], "a forwarded link signs nothing: the code is on unless somebody turns it off"
    offer = next(p["document"] for p in begun["choice"]["papers"] if p["number"] == "301")
    row = sender.looked(sender.changed(begun, papers=[offer], turns={"buyers.1": 1}, **check))
    assert sender.post(f"/api/rounds/{row['id']}/send", reason="Agreed").status_code == 200
    amara = Reader("amara@post.example")
    amara.post("open", secret=amara.secret)
    if "question" in check:
        assert amara.post("code", code="elm").status_code == 200
    amara.sign_all()
    assert finish_round(uuid.UUID(row["id"]))
    sealed = files.fetch(Paper.objects.get(round=row["id"]).finished)
    assert printed in words_of(sealed)
    shown = {p["text"] for paper in amara.see()["papers"] for p in paper["places"] if p["sign"] == "date"}
    assert len(shown) == 1 and shown.pop() in words_of(sealed), (
        "the screen shows the date as the paper has it"
    )


def test_a_question_that_is_taken_away_leaves_the_code(sender: Sender) -> None:
    row = sender.post(f"{sender.path}/rounds").json()
    assert not sender.changed(row, question="Our first street?", answer="Elm")["code"]
    assert sender.changed(row, question="")["code"]
    assert not sender.changed(row, question="", code=False)["code"]


def test_a_link_ends_thirty_days_after_its_round_and_a_new_one_goes_to_its_address(
    signed: dict[str, Any],
) -> None:
    finish_round(uuid.UUID(signed["id"]))
    amara = Reader("amara@post.example")
    paper = amara.opened()["papers"][0]["id"]
    assert amara.client.get(f"{amara.path}/papers/{paper}").status_code == 200
    asked = amara.post("new-link")
    assert asked.status_code == 204 and Reader("amara@post.example").secret == amara.secret, "it still works"
    Round.objects.update(ended=timezone.now() - timedelta(days=31))
    seen = amara.opened()
    assert seen["ended"] and seen["papers"] == [] and seen["over"]["message"] == "This link has expired."
    assert amara.client.get(f"{amara.path}/papers/{paper}").status_code == 410
    assert amara.post("new-link").status_code == 204
    again = Reader("amara@post.example")
    assert again.secret != amara.secret
    assert again.opened()["papers"] and not again.see()["ended"]
    assert amara.client.get(amara.path).status_code == 410, "the old one leads nowhere"
    assert Letter.objects.filter(subject__startswith="Your new link").count() == 1
