"""Workers that are really killed while they send: nothing is lost, nothing stays stuck, nothing goes twice
but under one Message-ID."""

from __future__ import annotations

import random
import time
from collections import Counter

import httpx
import pytest
from django.conf import settings

from ops.processes import Process, start_timekeeper, start_worker
from tests.running import LOOPBACK, Running, letters, until

ROSALIND = "rosalind@marrowfinch.example"
LETTERS = 24
KILLS = 6


pytestmark = pytest.mark.usefixtures("post_office")


def put(mood: str, seconds: float = 0) -> None:
    body = {"mood": mood, "seconds": seconds}
    httpx.post(f"{settings.MAIL_PAGE}/_mood", json=body, **LOOPBACK).raise_for_status()


def arrived() -> Counter[str]:
    """How often each letter to an invited member came, by its Message-ID."""
    return Counter(one["message_id"] for one in letters() if one["to"].endswith("@invited.example"))


def invite(client: httpx.Client, running: Running) -> None:
    [[office]] = running.rows("select id from offices_office where name = 'Port Linden'")
    for n in range(LETTERS):
        answer = client.post(
            "/api/members/invitations",
            json={"email": f"m{n}@invited.example", "name": f"M {n}", "role": "agent", "office": office},
        )
        assert answer.status_code == 200, answer.text


def test_workers_killed_while_they_send_lose_nothing_and_send_nothing_as_something_else(
    running: Running,
) -> None:
    r = random.Random(7)
    put("slow", 0.15)
    timekeeper = start_timekeeper(running.folder, running.env, every=1)
    worker: Process = start_worker(running.folder, running.env, interval=0.1)
    try:
        invite(running.signed_in(ROSALIND), running)
        for _ in range(KILLS):
            time.sleep(r.uniform(0.6, 1.8))
            worker.stop(kill=True)
            worker = start_worker(running.folder, running.env, interval=0.1)
        waiting = "select count(*) from mail_letter where state <> 'sent'"
        assert until(lambda: running.rows(waiting) == [["0"]]), running.rows(waiting)
    finally:
        put("well")
        worker.stop()
        timekeeper.stop()
    came = arrived()
    assert len(came) == LETTERS, "each letter came"
    twice = {message: n for message, n in came.items() if n > 1}
    assert all(n <= 1 + KILLS for n in twice.values()) and len(twice) <= KILLS, "only what a kill cut off"


def test_a_letter_that_was_written_while_nobody_worked_goes_when_somebody_does(running: Running) -> None:
    before = len(arrived())
    client = running.signed_in(ROSALIND)
    [[office]] = running.rows("select id from offices_office where name = 'Port Linden'")
    body = {"email": "late@invited.example", "name": "Late", "role": "agent", "office": office}
    assert client.post("/api/members/invitations", json=body).status_code == 200
    time.sleep(0.5)
    assert len(arrived()) == before
    with start_worker(running.folder, running.env, interval=0.1):
        assert until(lambda: len(arrived()) == before + 1)
