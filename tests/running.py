"""The product as it runs for users: its own database and web server as processes, which tests may stop, kill
and restart."""

from __future__ import annotations

import base64
import contextlib
import os
import re
import shutil
import signal
import ssl
import subprocess
import sys
import time
from collections.abc import Callable, Mapping
from pathlib import Path
from typing import Any, TypeVar

import httpx
from django.conf import settings
from goodquill.demo.world import PASSWORD

from ops.processes import (
    ROOT,
    Process,
    Served,
    account,
    answers,
    database_client,
    free_port,
    owner,
    start_database,
    start_web,
    start_worker,
)

Answer = TypeVar("Answer")

BROWSER: dict[str, Any] = {
    "executable_path": "/usr/bin/chromium-headless-shell",
    "args": [
        "--headless",
        "--no-sandbox",
        "--disable-gpu",
        "--disable-quic",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
    ],
}
"""Debian's Chromium without a screen, as Playwright starts it: a quarter faster than the whole browser."""


LOOPBACK: dict[str, Any] = {"trust_env": False, "verify": ssl.SSLContext(ssl.PROTOCOL_TLS_CLIENT)}
"""For clients: no proxy and no certificates, of which reading the system's takes longer than most answers."""

PATIENCE = 180
"""Seconds for what has to come: how fast the machine is decides nothing.  A test that passes waits as long as
it takes, and no longer."""


def answered(ask: Callable[[], Answer], fits: Callable[[Answer], object] = bool) -> Answer:
    """Ask until an answer fits; gives the last one, which doesn't where none has come."""
    end = time.monotonic() + PATIENCE
    while not fits(answer := ask()) and time.monotonic() < end:
        time.sleep(0.1)
    return answer


def until(done: Callable[[], bool]) -> bool:
    """Wait for something that has to come; gives whether it did."""
    return answered(done)


def letters() -> list[dict[str, str]]:
    """What has come by mail, the last at the end."""
    listed = httpx.get(f"{settings.MAIL_PAGE}/letters.json", **LOOPBACK, timeout=PATIENCE)
    return list(listed.json()["letters"])


def from_base64(text: str) -> str:
    """A text that the database gave in base64, which its client writes in lines."""
    return base64.b64decode(text.replace("\\n", "")).decode()


def settings_of(folder: Path, db_port: int) -> dict[str, str]:
    """What the product is told of its database and its files, which are both in the folder."""
    return {
        **os.environ,
        "QUILL_DB_PORT": str(db_port),
        "QUILL_FILES": str(folder / "files"),
        "DJANGO_SETTINGS_MODULE": "goodquill.runtime.settings",
        **account(folder / "db"),
    }


def migrate(folder: Path) -> None:
    """The product's tables as a database at rest, in a folder that can be copied."""
    with_database(folder, ["migrate", "--verbosity=0"], env=owner(folder / "db"))


def fill_world(folder: Path) -> None:
    """The demo world into such a folder, with its files and the pictures of its pages, as a worker has drawn
    them.  The stand-ins have to run."""
    with_database(folder, ["load_demo"], ["db_worker", "--batch", "--no-startup-delay", "--verbosity=0"])


def with_database(folder: Path, *commands: list[str], env: Mapping[str, str] = {}) -> None:
    """Commands of the product, with the folder's database."""
    port = free_port()
    env = {**settings_of(folder, port), **env}
    with start_database(folder / "db", port):
        for command in commands:
            subprocess.run([sys.executable, "server/manage.py", *command], cwd=ROOT, env=env, check=True)


def children_of(process: int) -> list[int]:
    """The processes that one has started, by their numbers."""
    found = []
    for stat in Path("/proc").glob("[0-9]*/stat"):
        with contextlib.suppress(OSError):
            fields = stat.read_text().rsplit(")", 1)[1].split()
            if int(fields[1]) == process:
                found.append(int(stat.parent.name))
    return sorted(found)


class Running:
    """A running product with the demo world, or a copy of one that was made before.  The stand-ins
    have to run."""

    def __init__(self, folder: Path, world: Path | None = None, workers: int = 2) -> None:
        self.folder, self.workers = folder, workers
        if world is None:
            migrate(folder)
            fill_world(folder)
        else:
            shutil.copytree(world, folder)
        self.db_port, self.web_port = free_port(), free_port()
        self.env = {
            **settings_of(folder, self.db_port),
            "QUILL_URL": f"http://127.0.0.1:{self.web_port}",
        }
        self.database = self.start_database()
        self.web = self.start_web()

    def begin_anew(self, world: Path) -> None:
        """Another world, at the same address: a database and files of its own, and web workers that have
        served nobody.  What they are copies of has only imported what it needs, and stays."""
        for part in ("db", "files"):
            shutil.rmtree(self.folder / part, ignore_errors=True)
            shutil.copytree(world / part, self.folder / part)
        for log in self.folder.glob("*.log"):
            os.truncate(log, 0)
        self.database = self.start_database()
        if self.web.has_ended():
            self.web = self.start_web()
        else:
            self.renew_workers()

    def renew_workers(self) -> None:
        """Let all web workers be replaced, and wait until the last of the old ones has gone."""
        old = set(self.web_workers())
        os.kill(self.web.workers.child.pid, signal.SIGHUP)
        assert until(lambda: not old & set(self.web_workers()) and answers(f"{self.address}/api/alive"))

    def web_workers(self) -> list[int]:
        """The processes that serve, at both doors."""
        doors = children_of(self.web.workers.child.pid)
        return [worker for door in doors for worker in children_of(door)]

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.web_port}"

    def start_database(self) -> Process:
        return start_database(self.folder / "db", self.db_port)

    def start_web(self) -> Served:
        return start_web(self.web_port, self.folder, self.env, self.workers)

    def start_worker(self) -> Process:
        """A worker, which carries out what is queued; whoever starts it ends it."""
        return start_worker(self.folder, self.env, interval=0.1)

    def letter_to(self, email: str, about: str = "/sign#") -> str:
        """The text of the newest letter to somebody that has something in it, as it waits to be sent."""
        found = self.rows(
            f"SELECT TO_BASE64(text) FROM mail_letter WHERE `to` = '{email}' AND text LIKE '%{about}%'"
            " ORDER BY made DESC LIMIT 1"
        )
        return from_base64(found[0][0])

    def stop(self) -> None:
        self.web.stop()
        self.database.stop()

    def rows(self, query: str) -> list[list[str]]:
        """What the database itself says, past the product."""
        command = [
            *database_client(self.folder / "db", self.db_port),
            "goodquill",
            "--skip-column-names",
            "-e",
            query,
        ]
        answer = subprocess.run(command, capture_output=True, text=True, check=True)
        return [line.split("\t") for line in answer.stdout.splitlines()]

    def signed_in(self, email: str, transport: httpx.BaseTransport | None = None) -> httpx.Client:
        """A client with a session and its CSRF token."""
        client = httpx.Client(base_url=self.address, **LOOPBACK, timeout=PATIENCE, transport=transport)
        answered(lambda: client.get("/api/session"), lambda a: a.status_code in (200, 204))
        client.headers["X-CSRFToken"] = client.cookies["csrftoken"]
        said = {"email": email, "password": PASSWORD}
        # A few passwords are looked at at a time; further ones are asked to come again.
        answer = answered(
            lambda: client.post("/api/session", json=said), lambda a: a.status_code not in (429, 503)
        )
        assert answer.status_code == 200, answer.text
        client.headers["X-CSRFToken"] = re.sub(r"\W", "", client.cookies["csrftoken"])
        return client
