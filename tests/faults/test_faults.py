"""Faults that are really caused: the server killed at work, the database restarted, many people at once."""

from __future__ import annotations

import threading
import time
import uuid
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import httpx
import pytest

from tests.running import Running

INES = "ines@marrowfinch.example"
NUMBERS = ["26-1104", "26-1111", "26-1118", "26-1125"]


@pytest.fixture(scope="module")
def running(folder: Path, stand_ins: None) -> Iterator[Running]:
    made = Running(folder / "faults")
    yield made
    made.stop()


def deals(client: httpx.Client) -> list[dict[str, Any]]:
    return [d for d in client.get("/api/deals").json() if d["side"] == "buying"]


def edit(client: httpx.Client, deal: str, key: str, text: str, change: str | None = None) -> httpx.Response:
    return client.post(
        f"/api/deals/{deal}/changes", json={"change": change or str(uuid.uuid4()), "edits": [{"op": "type", "key": key, "text": text}]}
    )


def test_a_server_killed_in_the_middle_of_bring_ins_has_done_each_whole_or_not_at_all(running: Running) -> None:
    client = running.signed_in(INES)
    deal = deals(client)[0]["id"]
    comparisons = {n: client.post(f"/api/deals/{deal}/comparison", json={"listing": n}).json() for n in NUMBERS}
    acknowledged: list[str] = []
    started = threading.Event()

    def bring_in_again_and_again(mine: httpx.Client) -> None:
        for n in range(200):
            change = str(uuid.uuid4())
            started.set()
            try:
                comparison = comparisons[NUMBERS[n % len(NUMBERS)]]["id"]
                answer = mine.post(f"/api/deals/{deal}/bring-in", json={"change": change, "comparison": comparison})
            except httpx.HTTPError:
                return
            if answer.status_code == 200:
                acknowledged.append(change)

    workers = [threading.Thread(target=bring_in_again_and_again, args=(running.signed_in(INES),)) for _ in range(3)]
    for worker in workers:
        worker.start()
    started.wait(10)
    time.sleep(1.2)
    running.web.stop(kill=True)
    for worker in workers:
        worker.join(20)
    running.web = running.start_web()

    assert len(acknowledged) > 2
    steps = running.rows(
        "SELECT c.id, c.seq, COUNT(e.id) FROM facts_change c LEFT JOIN facts_factentry e ON e.change_id = c.id "
        f"WHERE c.deal_id = '{deal}' AND c.kind = 'bring in' GROUP BY c.id, c.seq"
    )
    kept = {uuid.UUID(row[0]) for row in steps}
    assert {uuid.UUID(c) for c in acknowledged} <= kept, "what was acknowledged is there"
    seq = int(running.rows(f"SELECT seq FROM deals_deal WHERE id = '{deal}'")[0][0])
    counted = int(running.rows(f"SELECT COUNT(*) FROM facts_change WHERE deal_id = '{deal}'")[0][0])
    assert seq == counted, "no step is half there: the deal's own number moves with its changes"
    assert all(int(row[2]) == 0 or int(row[2]) > 10 for row in steps), "each wrote all its values, or found them all there"
    facts = {f["key"]: f for f in running.signed_in(INES).get(f"/api/deals/{deal}").json()["facts"]}
    last = comparisons[next(n for n in NUMBERS if n == facts["listing.number"]["shown"])]
    for row in last["rows"]:
        if row["key"] in ("property.city", "property.street_name", "tax.owners"):
            assert facts[row["key"]]["shown"] == row["becomes"], "all facts are of one and the same bring-in"


def test_a_restarted_database_costs_a_sentence_and_nothing_more(running: Running) -> None:
    client = running.signed_in(INES)
    deal = deals(client)[1]["id"]
    assert edit(client, deal, "terms.purchase_price", "401,000").status_code == 200
    running.database.stop()
    change = str(uuid.uuid4())
    down = edit(client, deal, "terms.purchase_price", "402,000", change)
    assert down.status_code == 503
    assert down.json()["mend"] == "What you typed is kept here and sent again by itself."
    running.database = running.start_database()
    assert edit(client, deal, "terms.purchase_price", "402,000", change).status_code == 200
    facts = {f["key"]: f["shown"] for f in client.get(f"/api/deals/{deal}").json()["facts"]}
    assert facts["terms.purchase_price"] == "$402,000.00"


def test_many_people_saving_at_once_lose_nothing(running: Running) -> None:
    """Twelve people, eight of them in one deal, each typing into a blank of their own."""
    client = running.signed_in("rosalind@marrowfinch.example")
    found = deals(client)
    shared = found[2]["id"]
    keys = [
        "title.company",
        "title.officer",
        "title.file_number",
        "lender.company",
        "lender.officer",
        "warranty.company",
        "property.heating",
        "deal.source_of_business",
    ]
    answers: list[int] = []

    def work(n: int) -> None:
        mine = running.signed_in("rosalind@marrowfinch.example")
        deal, key = (shared, keys[n]) if n < 8 else (found[(n - 8) % 2 + 3]["id"], keys[n - 8])
        for turn in range(6):
            answers.append(edit(mine, deal, key, f"person {n} turn {turn}").status_code)

    people = [threading.Thread(target=work, args=(n,)) for n in range(12)]
    for person in people:
        person.start()
    for person in people:
        person.join(60)
    assert answers == [200] * 72
    facts = {f["key"]: f["shown"] for f in client.get(f"/api/deals/{shared}").json()["facts"]}
    assert {key: facts[key] for key in keys} == {key: f"person {n} turn 5" for n, key in enumerate(keys)}
