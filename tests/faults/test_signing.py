"""Web server and worker really killed while papers are sent, signed and sealed: no signature is lost, none is
there twice, everybody is told once, and each finished round has its finished files."""

from __future__ import annotations

import contextlib
import json
import random
import re
import threading
import time
from collections.abc import Callable
from typing import Any
from uuid import uuid4

import httpx
import pytest
from django.conf import settings
from quillcore.signing.identity import AUTHORITY
from quillcore.signing.trail import ChainLink, first_break
from quillcore.signing.verifying import Verdict, verify

from ops.processes import Process, start_timekeeper
from tests.running import LOOPBACK, PATIENCE, Running, answered, from_base64, until

pytestmark = pytest.mark.usefixtures("stamps")
DEALS = {"bertil@marrowfinch.example": ("Haddad", "Kowalczyk"), "ines@marrowfinch.example": ("Nguyễn",)}
KILLS = 3
LINK = re.compile(r"/sign#([0-9a-f-]{36})\.([0-9a-f]{64})")


def patiently(ask: Callable[[], httpx.Response]) -> Any:
    """Ask until there is an answer: a screen does so, too.  What makes something is asked under one key, as a
    screen's is; an answer that was cut off would otherwise leave two of it."""

    def answer() -> httpx.Response | None:
        with contextlib.suppress(httpx.HTTPError):
            return ask()
        return None

    found = answered(answer, lambda a: a is not None and a.status_code not in (429, 502, 503))
    assert found is not None, "nothing answers"
    assert found.status_code in (200, 201), found.text
    return found.json()


def sent_by(client: httpx.Client, name: str) -> str:
    """A round of the agency form alone, to the buyer; gives its id."""
    deals = patiently(lambda: client.get("/api/deals"))
    deal = next(d["id"] for d in deals if name in d["name"])
    once = {"Idempotency-Key": str(uuid4())}
    row = patiently(lambda: client.post(f"/api/deals/{deal}/rounds", json={}, headers=once))
    agency = next(p["document"] for p in row["choice"]["papers"] if p["number"] == "101")
    where = f"/api/rounds/{row['id']}"
    patiently(lambda: client.post(where, json={"papers": [agency], "turns": {"buyers.1": 1}, "code": False}))
    patiently(lambda: client.post(f"{where}/look"))
    patiently(lambda: client.post(f"{where}/send", json={"reason": "Tried"}))
    return str(row["id"])


def sign(running: Running, email: str) -> None:
    """All that a signer does, each step until it is answered."""
    found = LINK.search(running.letter_to(email))
    assert found is not None
    signer, secret = found.groups()
    with httpx.Client(base_url=running.address, trust_env=False, verify=LOOPBACK, timeout=PATIENCE) as client:
        path = f"/api/sign/{signer}"
        seen = patiently(lambda: client.post(f"{path}/open", json={"secret": secret}))
        patiently(lambda: client.post(f"{path}/agree", json={}))
        mark = {"sign": "signature", "mark": {"name": "A Name", "face": "flowing"}}
        patiently(lambda: client.post(f"{path}/mark", json=mark))
        for paper in seen["papers"]:
            for place in paper["places"]:
                if place["sign"] != "date":
                    one = {"places": [place["id"]]}
                    patiently(lambda one=one: client.post(f"{path}/put", json=one))
        patiently(lambda: client.post(f"{path}/finish", json={}))


def chain_of(running: Running, round_id: str) -> list[ChainLink]:
    rows = running.rows(
        "SELECT number, at, kind, who, TO_BASE64(said), `before`, hash FROM signing_happening"
        f" WHERE round_id = '{round_id}' ORDER BY number"
    )
    return [
        ChainLink(int(n), at, kind, who, json.loads(from_base64(said)), before, digest)
        for n, at, kind, who, said, before, digest in rows
    ]


def test_killed_while_papers_are_sent_signed_and_sealed(running: Running) -> None:
    r = random.Random(11)
    senders = {email: running.signed_in(email) for email in DEALS}
    timekeeper = start_timekeeper(running.folder, running.env, every=1)
    worker: Process = running.start_worker()
    rounds: list[str] = []
    failed: list[BaseException] = []

    def work() -> None:
        try:
            for email, names in DEALS.items():
                for name in names:
                    rounds.append(sent_by(senders[email], name))
                    whose = f"SELECT email FROM signing_signer WHERE round_id = '{rounds[-1]}'"
                    [[buyer]] = running.rows(whose)
                    sign(running, buyer)
        except BaseException as trouble:
            failed.append(trouble)

    thread = threading.Thread(target=work)
    thread.start()
    try:
        for n in range(2 * KILLS):
            time.sleep(r.uniform(0.4, 1.5))
            if n % 2:
                worker.stop(kill=True)
                worker = running.start_worker()
            else:
                running.web.stop(kill=True)
                running.web = running.start_web()
        thread.join(PATIENCE)
        assert not failed, failed
        assert not thread.is_alive() and len(rounds) == 3
        waiting = "SELECT count(*) FROM signing_round WHERE sealed IS NULL OR filed IS NULL"
        assert until(lambda: running.rows(waiting) == [["0"]]), running.rows(waiting)
    finally:
        worker.stop()
        timekeeper.stop()
    authority = [(settings.SEAL_FOLDER / AUTHORITY).read_bytes()]
    client = running.signed_in("rosalind@marrowfinch.example")
    for round_id in rounds:
        chain = chain_of(running, round_id)
        assert first_break(chain) is None
        places = [event.said["place"] for event in chain if event.kind == "put"]
        assert places and len(places) == len(set(places)), "none is there twice"
        told = patiently(lambda round_id=round_id: client.get(f"/api/rounds/{round_id}"))
        [signer] = told["signers"]
        assert (told["state"], signer["put"]) == ("finished", signer["places"]), "none is lost"
        for paper in told["papers"]:
            content = client.get(f"/api/rounds/{round_id}/papers/{paper['id']}").content
            verdict = verify(content, authority)
            assert isinstance(verdict, Verdict) and verdict.holds, verdict
    told_twice = (
        "SELECT `to`, subject FROM mail_letter WHERE about = 'signing' GROUP BY `to`, subject, text"
        " HAVING count(*) > 1"
    )
    assert running.rows(told_twice) == []


def test_neither_links_nor_signatures_are_in_any_log(running: Running) -> None:
    link = LINK.search(running.letter_to("omar.1@post.example"))
    assert link is not None
    logs = "".join(path.read_text(errors="replace") for path in running.folder.glob("*.log"))
    assert logs
    assert link.group(2) not in logs and "A Name" not in logs
