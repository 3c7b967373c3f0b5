"""``make bench-attack``: a signed-in stranger with 64 connections, against another member who goes on
saving; then strangers without an account (``bench.strangers``).

One run, side by side: the other member's saves while all is quiet, then while the stranger does, for a
bounded time and on loopback alone, whatever costs most: opening deals, whole packages, hostile files, walls
of text, half-sent requests, sign-ins.  Prints the median of the saves as a ratio, what the workers' memory
grew by, and whether one of them ended.
"""

from __future__ import annotations

import contextlib
import itertools
import multiprocessing
import os
import random
import socket
import statistics
import sys
import tempfile
import threading
import time
import uuid
from collections import Counter
from contextlib import ExitStack
from functools import partial
from pathlib import Path

import httpx

from bench import strangers
from ops.processes import make_seal, start_stand_in
from tests.core.foreign import lined_form
from tests.core.test_strangers import letters, nested, soft_wrapped
from tests.faults.test_signing import sent_by
from tests.running import Running
from tests.settings import COUNTY_ROLL, LISTING_SERVICE, MEMBER_REGISTRY, SEAL_FOLDER

CONNECTIONS = 64
SECONDS = float(sys.argv[1]) if len(sys.argv) > 1 else 45.0
MOST_TIMES, MOST_MEGABYTES = 5.0, 100.0
VICTIM, STRANGER = "ines@marrowfinch.example", "nadia@cobblersgate.example"


def save(client: httpx.Client, deal: str, text: str) -> float:
    """Return seconds until one save is answered."""
    begun = time.perf_counter()
    edit = {"op": "type", "key": "title.officer", "text": text}
    while True:
        answer = client.post(
            f"/api/deals/{deal}/changes", json={"change": str(uuid.uuid4()), "edits": [edit]}
        )
        if answer.status_code == 200:
            return time.perf_counter() - begun
        assert answer.status_code in (429, 503), answer.text


def saves(client: httpx.Client, deal: str, until: float, name: str) -> list[float]:
    """Return a save every third of a second."""
    taken = []
    for n in itertools.count():
        if time.monotonic() > until:
            return taken
        taken.append(save(client, deal, f"{name} {n}"))
        time.sleep(0.3)


def attack(
    address: str,
    port: int,
    cookies: dict[str, str],
    headers: dict[str, str],
    until: float,
    told: multiprocessing.Queue[dict[str, int]],
) -> None:
    """Run the stranger's process."""
    os.nice(15)  # it stands for other machines: its own work must not be taken for what it does to ours
    one = Attack(address, port, cookies, headers, until)
    for thread in one.run():
        thread.join(60)
    told.put(dict(one.codes))


class Attack:
    """Sixty-four connections of one member's."""

    def __init__(
        self, address: str, port: int, cookies: dict[str, str], headers: dict[str, str], until: float
    ) -> None:
        self.port, self.until, self.codes = port, until, Counter[str]()
        self.line = {
            "base_url": address,
            "trust_env": False,
            "timeout": 30,
            "cookies": cookies,
            "headers": headers,
        }
        with httpx.Client(**self.line) as client:  # type: ignore[arg-type]
            self.deals = [d["id"] for d in client.get("/api/deals").json()]
        self.files = {
            "/api/papers": [nested(10, 20), letters(2_000_000), lined_form([("Buyer", "a")] * 40)],
            "/api/contacts/cards": [soft_wrapped(2_000), b",".join([b"name"] * 40_000)],
            "/api/property-files": [b"[" * 500_000],
        }

    def run(self) -> list[threading.Thread]:
        """Begin."""
        ways = [
            self.open,
            self.packages,
            self.uploads,
            self.walls,
            self.half_sent,
            self.sign_ins,
            self.open,
            self.packages,
        ]
        threads = [
            threading.Thread(target=self.again_and_again, args=(ways[n % len(ways)],), daemon=True)
            for n in range(CONNECTIONS)
        ]
        for thread in threads:
            thread.start()
        return threads

    def again_and_again(self, way: object) -> None:
        """Send over one connection until the time is up."""
        with httpx.Client(**self.line) as line:  # type: ignore[arg-type]
            while time.monotonic() < self.until:
                with contextlib.suppress(httpx.HTTPError, OSError):
                    self.codes[str(way(line))] += 1  # type: ignore[operator]

    def open(self, line: httpx.Client) -> int:
        """Return a whole deal."""
        return line.get(f"/api/deals/{random.choice(self.deals)}").status_code

    def packages(self, line: httpx.Client) -> int:
        """Return a whole package."""
        return line.get(
            f"/api/deals/{random.choice(self.deals)}/package.pdf",
            params={"as": random.choice(["flat", "fillable", "separate"])},
        ).status_code

    def uploads(self, line: httpx.Client) -> int:
        """Return a hostile file."""
        path = random.choice(list(self.files))
        return line.post(path, files={"file": ("a", random.choice(self.files[path]))}).status_code

    def walls(self, line: httpx.Client) -> int:
        """Return a wall of text into a blank."""
        edits = [
            {"op": "paste", "key": "property.street_name", "text": "(" * 20_000},
            {"op": "type", "key": "terms.additional_terms", "text": uuid.uuid4().hex * 300},
        ]
        return line.post(
            f"/api/deals/{random.choice(self.deals)}/changes",
            json={"change": str(uuid.uuid4()), "edits": edits * 20},
        ).status_code

    def half_sent(self, _line: httpx.Client) -> str:
        """Return a request that never ends."""
        with socket.create_connection(("127.0.0.1", self.port), timeout=5) as half:
            half.sendall(b"POST /api/deals HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 4000\r\n\r\n{")
            time.sleep(2)
        return "half"

    def sign_ins(self, line: httpx.Client) -> int:
        """Return a guess at somebody's password."""
        return line.post("/api/session", json={"email": VICTIM, "password": uuid.uuid4().hex}).status_code


def memory(running: Running) -> float:
    """Return megabytes that the web processes hold."""
    pids = [running.web.workers.child.pid, *running.web_workers()]
    return (
        sum(
            int(line.split()[1])
            for pid in pids
            for line in Path(f"/proc/{pid}/status").read_text().splitlines()
            if line.startswith("VmRSS")
        )
        / 1024
    )


def main() -> int:
    """Measure and say; 1 where a figure isn't reached."""
    with ExitStack() as stack, tempfile.TemporaryDirectory(prefix="quill-bench-") as made:
        folder = Path(made)
        for name, service in (
            ("listing", LISTING_SERVICE),
            ("roll", COUNTY_ROLL),
            ("registry", MEMBER_REGISTRY),
        ):
            stack.enter_context(start_stand_in(name, int(service["url"].rsplit(":", 1)[1]), folder))
        make_seal(SEAL_FOLDER)
        running = Running(folder / "product")
        stack.callback(running.stop)
        victim = running.signed_in(
            VICTIM, httpx.HTTPTransport(local_address="127.0.0.2")
        )  # the stranger sits in another office
        deal = next(d["id"] for d in victim.get("/api/deals").json() if d["side"] == "buying")
        saves(victim, deal, time.monotonic() + 4, "warm")
        warm = running.signed_in(STRANGER)
        for _ in range(3):  # what a worker keeps at hand after a morning's work
            for one in warm.get("/api/deals").json():
                for path in ("", "/package.pdf", "/package.pdf?as=fillable"):
                    warm.get(f"/api/deals/{one['id']}{path}")
                    time.sleep(0.5)
        before, workers = memory(running), running.web_workers()
        quiet = saves(victim, deal, time.monotonic() + 8, "quiet")
        until = time.monotonic() + SECONDS
        told: multiprocessing.Queue[dict[str, int]] = multiprocessing.Queue()
        # A process of its own: the other member's clock must not wait for the stranger's threads.
        stranger = multiprocessing.Process(
            target=attack,
            args=(running.address, running.web_port, dict(warm.cookies), dict(warm.headers), until, told),
        )
        stranger.start()
        loud = saves(victim, deal, until, "loud")
        codes = told.get(timeout=60)
        stranger.join(30)
        ended = set(workers) - set(running.web_workers())
        grown = memory(running) - before
        times = statistics.median(loud) / statistics.median(quiet)
        worst = max(loud) / statistics.median(quiet)
        print(
            f"another member's save, median: {times:.1f} times its quiet time (at most {MOST_TIMES:g}); the"
            f" slowest of {len(loud)}: {worst:.1f}"
        )
        print(
            f"memory of the web processes: {grown:+.0f} MB (at most {MOST_MEGABYTES:g}); workers ended:"
            f" {len(ended)}"
        )
        print(f"what the stranger was answered: {codes}")
        keeps = [times <= MOST_TIMES, grown <= MOST_MEGABYTES, not ended]
        time.sleep(8)  # what the stranger has used wears off
        sent_by(running.signed_in("bertil@marrowfinch.example"), "Haddad")
        signer = running.rows("SELECT `to` FROM mail_letter WHERE text LIKE '%/sign#%'")[0][0]
        found = strangers.LINK.search(running.letter_to(signer))
        assert found is not None
        keeps += strangers.measure(running, (found[1], found[2]), partial(saves, victim, deal), SECONDS / 4)
        return int(not all(keeps))


if __name__ == "__main__":
    raise SystemExit(main())
