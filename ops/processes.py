"""Processes that a start command or a test run owns, on free loopback ports, ended by their own ids."""

from __future__ import annotations

import contextlib
import hashlib
import json
import os
import secrets
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Callable
from pathlib import Path
from types import TracebackType

from quillcore.signing.authority import keep_authority, make_authority
from quillcore.signing.identity import AUTHORITY

ROOT = Path(__file__).resolve().parents[1]


def free_port() -> int:
    """Return a loopback port that nobody listens on now."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


class Process:
    """One child in a process group of its own, with its output in a log file."""

    def __init__(
        self, name: str, command: list[str], log: Path, env: dict[str, str] | None = None, cwd: Path = ROOT
    ) -> None:
        self.name = name
        log.parent.mkdir(parents=True, exist_ok=True)
        self.log = log
        log.touch(mode=0o640)
        log.chmod(0o640)
        self._out = log.open("ab")
        self.child = subprocess.Popen(
            command,
            stdout=self._out,
            stderr=subprocess.STDOUT,
            stdin=subprocess.DEVNULL,
            env={**os.environ, **(env or {})},
            cwd=cwd,
            start_new_session=True,
        )

    def wait_for(self, ready: Callable[[], bool], seconds: float = 120) -> None:
        """Wait until ``ready`` says so; a child that ended or took too long is a RuntimeError with the end of
        its log."""
        until = time.monotonic() + seconds
        while time.monotonic() < until:
            if self.child.poll() is not None:
                break
            if ready():
                return
            time.sleep(0.05)
        tail = self.log.read_text(errors="replace")[-2000:]
        self.stop()
        raise RuntimeError(f"{self.name} did not start. The end of {self.log}:\n{tail}")

    def has_ended(self) -> bool:
        """Return whether it is gone."""
        return self.child.poll() is not None

    def stop(self, kill: bool = False) -> None:
        """End it and what it started: politely, then not."""
        if self.child.poll() is None:
            with contextlib.suppress(ProcessLookupError):
                os.killpg(self.child.pid, signal.SIGKILL if kill else signal.SIGTERM)
            try:
                self.child.wait(10)
            except subprocess.TimeoutExpired:
                with contextlib.suppress(ProcessLookupError):
                    os.killpg(self.child.pid, signal.SIGKILL)
                self.child.wait(5)
        self._out.close()

    def __enter__(self) -> Process:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        self.stop()


def answers(url: str) -> bool:
    """Return whether something answers there with success."""
    opener = urllib.request.build_opener(urllib.request.ProxyHandler({}))
    try:
        with opener.open(url, timeout=2) as answer:
            return bool(answer.status == 200)
    except OSError:
        return False


def account(folder: Path) -> dict[str, str]:
    """Return the account that the product runs with at the private database, as settings: it reads and
    writes rows, and changes no table and no trigger."""
    return _account(folder, "goodquill", "password")


def owner(folder: Path) -> dict[str, str]:
    """Return the account that owns the tables: for migrations alone."""
    return _account(folder, "goodquill_owner", "owner-password")


def _account(folder: Path, user: str, name: str) -> dict[str, str]:
    """Return an account with its password, which is made once and kept beside the data."""
    path = folder / name
    if not path.exists():
        folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        path.touch(mode=0o600)
        path.write_text(secrets.token_urlsafe(24))
    return {"QUILL_DB_USER": user, "QUILL_DB_PASSWORD": path.read_text()}


def start_database(folder: Path, port: int) -> Process:
    """Return a private MariaDB with its data in ``folder`` (made when it isn't there), on loopback.  The
    product's accounts, each with a password of its own, are the only ones that can be reached so; root
    comes by the socket alone."""
    data, socket_path = folder / "data", Path("/tmp") / f"quill-{os.getpid()}-{port}.sock"
    known, owns = account(folder), owner(folder)
    if not (data / "mysql").is_dir():
        shutil.rmtree(data, ignore_errors=True)
        data.mkdir(parents=True)
        (folder / "tmp").mkdir(exist_ok=True)
        command = [
            "mariadb-install-db",
            "--no-defaults",
            "--user=root",
            f"--datadir={data}",
            "--auth-root-authentication-method=socket",
            "--skip-test-db",
        ]
        # Two that are made at once must not clean up each other's temporary tables.
        own_tmp = {**os.environ, "TMPDIR": str(folder / "tmp")}
        made = subprocess.run(command, check=False, capture_output=True, text=True, env=own_tmp)
        if made.returncode != 0:
            shutil.rmtree(data, ignore_errors=True)  # a half-made folder would be taken for a whole one
            raise RuntimeError(
                f"The database's folder could not be made:\n{(made.stdout + made.stderr)[-2000:]}"
            )
    (folder / "tmp").mkdir(exist_ok=True)
    accounts = folder / "accounts.sql"
    accounts.touch(mode=0o600)
    accounts.write_text(
        f"CREATE OR REPLACE USER goodquill@'127.0.0.1' IDENTIFIED BY '{known['QUILL_DB_PASSWORD']}';\n"
        f"CREATE OR REPLACE USER goodquill_owner@'127.0.0.1' IDENTIFIED BY '{owns['QUILL_DB_PASSWORD']}';\n"
        "GRANT SELECT, INSERT, UPDATE, DELETE ON `goodquill`.* TO goodquill@'127.0.0.1';\n"
        "GRANT ALL ON `goodquill`.* TO goodquill_owner@'127.0.0.1';\n"
        "GRANT ALL ON `test\\_goodquill%`.* TO goodquill_owner@'127.0.0.1';\n"
        "CREATE DATABASE IF NOT EXISTS goodquill CHARACTER SET utf8mb4 COLLATE utf8mb4_uca1400_ai_ci;\n"
    )
    server = Process(
        "MariaDB",
        [
            "mariadbd",
            "--no-defaults",
            "--user=root",
            f"--datadir={data}",
            f"--tmpdir={folder / 'tmp'}",
            f"--socket={socket_path}",
            f"--pid-file={folder / 'pid'}",
            "--bind-address=127.0.0.1",
            f"--port={port}",
            "--character-set-server=utf8mb4",
            "--collation-server=utf8mb4_uca1400_ai_ci",
            "--innodb-flush-log-at-trx-commit=1",
            "--max-connections=200",
            f"--init-file={accounts}",
        ],
        folder / "mariadb.log",
    )
    server.wait_for(
        lambda: (
            subprocess.run(
                [*database_client(folder, port, "mariadb-admin"), "--connect-timeout=1", "ping"],
                capture_output=True,
            ).returncode
            == 0
        )
    )
    return server


def database_client(
    folder: Path,
    port: int,
    program: str = "mariadb",
    whose: Callable[[Path], dict[str, str]] = account,
) -> list[str]:
    """Return a command that speaks to the private database as the product does, or with another account."""
    known = whose(folder)
    options = folder / f"{known['QUILL_DB_USER']}.cnf"
    options.touch(mode=0o600)
    options.write_text(
        f"[client]\nuser={known['QUILL_DB_USER']}\npassword={known['QUILL_DB_PASSWORD']}\nhost=127.0.0.1\nport={port}\n"
    )
    return [program, f"--defaults-file={options}"]


def start_stand_in(name: str, port: int, logs: Path, env: dict[str, str] | None = None) -> Process:
    """Start one stand-in, by name; ``env`` is what it has to know besides."""
    server = Process(
        f"stand-in {name}",
        [sys.executable, "-m", "standins", name, "--port", str(port)],
        logs / f"{name}.log",
        env,
    )
    server.wait_for(lambda: answers(f"http://127.0.0.1:{port}/_alive"))
    return server


def start_mail(port: int, smtp: int, folder: Path, logs: Path) -> Process:
    """Start the mail stand-in: its page on ``port``, taking letters on ``smtp`` into ``folder``."""
    env = {"MAIL_SMTP_PORT": str(smtp), "MAIL_FOLDER": str(folder)}
    return start_stand_in("mail", port, logs, env)


def start_stamps(port: int, folder: Path, logs: Path) -> Process:
    """Start the time stamp stand-in, whose key is in ``folder`` beside the seal's."""
    return start_stand_in("stamps", port, logs, {"STAMPS_FOLDER": str(folder)})


def make_seal(folder: Path) -> None:
    """Make an authority of one's own with a key to seal with, once; into ``folder``."""
    if not (folder / AUTHORITY).exists():
        keep_authority(make_authority("Good Quill demo"), folder)


SKIP_CHECKS = "--skip-checks"
"""Django's look at the whole house, addresses included, is half of a worker's start, and finds what the tests
have found."""


def start_worker(logs: Path, env: dict[str, str], interval: float = 0.5) -> Process:
    """Return a worker: it carries out what was queued, letters among it."""
    command = [
        "db_worker",
        "--interval",
        str(interval),
        "--no-startup-delay",
        "--no-reload",
        "--verbosity",
        "0",
        SKIP_CHECKS,
    ]
    return Process("worker", [sys.executable, "server/manage.py", *command], logs / "worker.log", env)


def start_timekeeper(logs: Path, env: dict[str, str], every: float = 30) -> Process:
    """Return what queues the work that the clock asks for, and puts right what a killed worker left."""
    command = [sys.executable, "server/manage.py", "keep_time", "--every", str(every)]
    return Process("timekeeper", command, logs / "timekeeper.log", env)


class Served:
    """The web server as it serves people: the application's workers, and the proxy in front of them."""

    name = "web server"

    def __init__(self, workers: Process, proxy: Process) -> None:
        self.workers, self.proxy, self.log = workers, proxy, workers.log

    def has_ended(self) -> bool:
        """Return whether one of both is gone."""
        return self.workers.has_ended() or self.proxy.has_ended()

    def stop(self, kill: bool = False) -> None:
        """End both."""
        self.proxy.stop(kill)
        self.workers.stop(kill)


def start_web(port: int, logs: Path, env: dict[str, str], workers: int = 2) -> Served:
    """Return the web server.  ``env`` holds the settings.  The workers are reached by sockets that only the
    proxy knows; one that dies is replaced.  ``workers`` serve members, a further one strangers."""
    folder = Path(tempfile.mkdtemp(prefix="quill-web-"))
    if os.getuid() == 0:
        shutil.chown(folder, group=PROXY_USER)
    folder.chmod(0o2750)  # the socket in it gets the proxy's group, and nobody else enters
    command = [
        sys.executable,
        "-m",
        "goodquill.runtime.serving",
        "--members",
        str(folder / "members.sock"),
        "--strangers",
        str(folder / "strangers.sock"),
        "--workers",
        str(workers),
    ]
    # Each of many threads with an arena of its own keeps memory that another could use.
    key = env.get("QUILL_SECRET_KEY") or os.environ["QUILL_SECRET_KEY"]
    secret = hashlib.sha256(f"session keys {key}".encode()).hexdigest()
    settings = {
        **env,
        "MALLOC_ARENA_MAX": "2",
        "QUILL_BEHIND_PROXY": "1",
        "QUILL_SESSION_SECRET": secret,
        "PYTHONPATH": str(ROOT / "server"),
    }
    served = Process("web workers", command, logs / "web.log", settings, ROOT / "server")
    proxy = Process(
        "proxy",
        [
            "nginx",
            "-e",
            str(logs / "proxy.log"),
            "-c",
            str(proxy_settings(folder, port, logs / "proxy.log", secret)),
        ],
        logs / "proxy.log",
    )
    try:
        proxy.wait_for(lambda: answers(f"http://127.0.0.1:{port}/api/alive"))
    except RuntimeError:
        served.stop()
        raise
    return Served(served, proxy)


def proxy_settings(folder: Path, port: int, log: Path, secret: str) -> Path:
    """Write the proxy's settings, from ops/nginx.conf, with the answers that it gives itself."""
    written = (ROOT / "ops" / "nginx.conf").read_text()
    user = f"user {PROXY_USER};" if os.getuid() == 0 else ""
    for name, value in (
        ("user", user),
        ("folder", folder),
        ("log", log),
        ("listen", f"127.0.0.1:{port}"),
        ("secret", secret),
    ):
        written = written.replace(f"@{name}@", str(value))
    (folder / "headers.conf").write_text(
        "".join(f'add_header {name} "{value}" always;\n' for name, value in PROXY_HEADERS.items())
    )
    answers_of_ours = folder / "answers_of_ours"
    answers_of_ours.mkdir(exist_ok=True)
    for status, (detail, mend, again) in PROXY_ANSWERS.items():
        body = {
            "title": "Problem",
            "status": status,
            "detail": detail,
            "mend": mend,
            "rule": "proxy",
            "again": again,
        }
        (answers_of_ours / str(status)).write_text(json.dumps(body))
    shutil.copyfile(ROOT / "ops" / "least_speed.lua", folder / "least_speed.lua")
    path = folder / "nginx.conf"
    path.touch(mode=0o600)
    path.write_text(written)
    return path


PROXY_USER = "www-data"
PROXY_HEADERS = {
    "X-Content-Type-Options": "nosniff",
    "X-Frame-Options": "DENY",
    "Content-Security-Policy": "default-src 'none'; frame-ancestors 'none'",
    "Permissions-Policy": "camera=(), microphone=(), geolocation=(), payment=(), usb=(), interest-cohort=()",
    "Cross-Origin-Resource-Policy": "same-origin",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Referrer-Policy": "same-origin",
    "Cache-Control": "no-store",
}
"""Headers of the proxy's own answers: the application's headers (goodquill.http.middleware.HEADERS)."""
PROXY_ANSWERS = {
    400: ("The request can't be read.", "Nothing was changed. Reload the page.", False),
    401: ("You are not signed in.", "Nothing was sent. Sign in and try again.", False),
    404: ("This address does not exist.", "Check the link.", False),
    405: ("This address does not accept this request.", "Nothing was changed. Reload the page.", False),
    408: ("The request did not arrive completely.", "Check your connection and try again.", True),
    413: ("The request is too large.", "Nothing was changed. Send a smaller file.", False),
    414: ("The address is too long.", "Nothing was changed. Reload the page.", False),
    429: ("Too many requests at once.", "Your work is safe. Wait a moment and try again.", True),
    503: ("The server is restarting.", "Your work is safe. Try again in a moment.", True),
}
"""By status: what happened, what is safe and what to do, and whether sending the same again can help."""
