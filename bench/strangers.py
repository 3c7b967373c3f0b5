"""Strangers without an account, 64 connections at each thing that anybody may ask for, against a member's
saves.

For each endpoint, one after the other in one run: how long the member's saves take then, as ratios to the
quiet median, and whether honest people still get in: seventeen who sign in from seventeen addresses while
eight others guess passwords.
"""

from __future__ import annotations

import contextlib
import itertools
import multiprocessing
import os
import re
import statistics
import threading
import time
import uuid
from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

import httpx
from goodquill.demo.world import PASSWORD

from tests.running import Running

CONNECTIONS, GUESSERS, HONEST = 64, 8, 17
MOST_TIMES, MOST_TIMES_SLOWEST, MOST_SECONDS = 5.0, 10.0, 10.0
LINK = re.compile(r"/sign#([0-9a-f-]{36})\.([0-9a-f]{64})")
Saves = Callable[[float, str], list[float]]
"""A member's saves until a moment: the seconds that each took."""


@dataclass(frozen=True)
class Case:
    """One thing that strangers ask for, from so many addresses; ``ask`` gives the status."""

    name: str
    ask: Callable[[httpx.Client, int], int]
    addresses: int = 1


def cases(link: tuple[str, str], pages: list[str]) -> list[Case]:
    """Return all of them.  ``link`` is a real signer's, ``pages`` pictures of the papers behind it."""
    signer, secret = link
    file = b"%PDF-1.7\n" + os.urandom(400_000)

    def verify(line: httpx.Client, n: int) -> int:
        return line.post("/api/verify", files={"file": ("a.pdf", file)}).status_code

    def sign_in(line: httpx.Client, n: int) -> int:
        who = f"guess{n % 50}@marrowfinch.example"
        return line.post("/api/session", json={"email": who, "password": uuid.uuid4().hex}).status_code

    def forgotten(line: httpx.Client, n: int) -> int:
        return line.post("/api/password/forgotten", json={"email": f"a{n}@marrowfinch.example"}).status_code

    def password_link(line: httpx.Client, n: int) -> int:
        return line.post("/api/password/link", json={"user": str(uuid.uuid4()), "token": "x"}).status_code

    def made_up_cookie(line: httpx.Client, n: int) -> int:
        cookie = f"sessionid={uuid.uuid4().hex}{'a' * 8}"
        return line.post("/api/deals", content=b"x" * 4_500_000, headers={"Cookie": cookie}).status_code

    def guessed_link(line: httpx.Client, n: int) -> int:
        return line.post(f"/api/sign/{uuid.uuid4()}/open", json={"secret": "0" * 64}).status_code

    def signers_pages(line: httpx.Client, n: int) -> int:
        if "signer" not in line.cookies:
            return line.post(f"/api/sign/{signer}/open", json={"secret": secret}).status_code
        return line.get(pages[n % len(pages)] if n % 2 else f"/api/sign/{signer}").status_code

    def delivered(line: httpx.Client, n: int) -> int:
        return line.post(f"/api/papers-for/{uuid.uuid4()}/open", json={"secret": "0" * 64}).status_code

    return [
        Case("verify", verify),
        Case("verify, 8 addresses", verify, 8),
        Case("verify, 48 addresses", verify, 48),
        Case("sign-in", sign_in),
        Case("sign-in, 8 addresses", sign_in, GUESSERS),
        Case("forgotten", forgotten, 8),
        Case("password links", password_link, 8),
        Case("made-up sessions", made_up_cookie, 8),
        Case("guessed signing links", guessed_link, 8),
        Case("a signer's pages", signers_pages, 8),
        Case("delivered papers", delivered, 8),
    ]


def attack(address: str, case: Case, until: float, told: multiprocessing.Queue[dict[int, int]]) -> None:
    """Run the strangers' process."""
    os.nice(15)  # it stands for other machines: its own work must not be taken for what it does to ours
    codes: Counter[int] = Counter()

    def again_and_again(n: int) -> None:
        with stranger(address, f"127.0.1.{1 + n % case.addresses}") as line:
            for turn in itertools.count(n):
                if time.monotonic() > until:
                    return
                with contextlib.suppress(httpx.HTTPError):
                    codes[case.ask(line, turn)] += 1

    threads = [threading.Thread(target=again_and_again, args=(n,), daemon=True) for n in range(CONNECTIONS)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(60)
    told.put(dict(codes))


def stranger(address: str, source: str) -> httpx.Client:
    """Return a client at an address of its own."""
    transport = httpx.HTTPTransport(local_address=source)
    return httpx.Client(base_url=address, transport=transport, trust_env=False, timeout=30)


def signs_in(address: str, source: str, taken: list[float]) -> None:
    """Sign in as somebody honest on a new device, who tries as the screen does."""
    begun = time.monotonic()
    who = {"email": "tomas@marrowfinch.example", "password": PASSWORD}
    with stranger(address, source) as line:
        while time.monotonic() - begun < MOST_SECONDS:
            with contextlib.suppress(httpx.HTTPError):
                answer = line.post("/api/session", json=who)
                if answer.status_code == 200:
                    taken.append(time.monotonic() - begun)
                    return
                if not answer.json().get("again"):
                    return
            time.sleep(0.7)


def honest_sign_ins(address: str) -> list[float]:
    """Return the seconds that each took of those who got in."""
    taken: list[float] = []
    threads = [
        threading.Thread(target=signs_in, args=(address, f"127.0.2.{n + 1}", taken)) for n in range(HONEST)
    ]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return taken


def measure(running: Running, link: tuple[str, str], saves: Saves, seconds: float) -> Iterator[bool]:
    """Print a line for each case, and give whether it keeps to its figures."""
    with stranger(running.address, "127.0.1.1") as line:
        seen = line.post(f"/api/sign/{link[0]}/open", json={"secret": link[1]}).json()
    pages = [
        f"/api/sign/{link[0]}/papers/{paper['id']}/{n + 1}/110.png"
        for paper in seen["papers"]
        for n in range(len(paper["pages"]))
    ]
    saves(time.monotonic() + 4, "warm")
    print(f"{'64 connections of strangers at':34}{'median':>8}{'slowest tenth':>15}   (at most 5 and 10)")
    for case in cases(link, pages):
        quiet = statistics.median(saves(time.monotonic() + 5, "quiet"))
        told: multiprocessing.Queue[dict[int, int]] = multiprocessing.Queue()
        until = time.monotonic() + seconds
        strangers = multiprocessing.Process(target=attack, args=(running.address, case, until, told))
        strangers.start()
        getting_in: list[float] = []
        honest = threading.Thread(target=lambda got=getting_in: got.extend(honest_sign_ins(running.address)))
        if case.addresses == GUESSERS and case.ask.__name__ == "sign_in":
            honest.start()
        loud = sorted(saves(until, "loud"))
        codes: dict[int, Any] = told.get(timeout=90)
        strangers.join(30)
        median, slowest = statistics.median(loud) / quiet, loud[int(0.9 * len(loud))] / quiet
        print(f"{case.name:34}{median:8.1f}{slowest:15.1f}   {codes}", flush=True)
        yield median <= MOST_TIMES and slowest <= MOST_TIMES_SLOWEST
        if honest.ident is not None:
            honest.join()
            slow = f"{max(getting_in):.1f} s" if getting_in else "none"
            print(
                f"  honest sign-ins meanwhile: {len(getting_in)} of {HONEST}, the slowest after {slow} (10)"
            )
            yield len(getting_in) == HONEST
        time.sleep(3)
