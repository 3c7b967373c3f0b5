"""Processes that a start command or a test run owns, on free loopback ports, ended by their own ids."""

from __future__ import annotations

import contextlib
import os
import shutil
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from collections.abc import Callable
from pathlib import Path
from types import TracebackType

ROOT = Path(__file__).resolve().parents[1]


def free_port() -> int:
    """A loopback port that nobody listens on now."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


class Process:
    """One child in a process group of its own, with its output in a log file."""

    def __init__(self, name: str, command: list[str], log: Path, env: dict[str, str] | None = None, cwd: Path = ROOT) -> None:
        self.name = name
        log.parent.mkdir(parents=True, exist_ok=True)
        self.log = log
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

    def wait_for(self, ready: Callable[[], bool], seconds: float = 40) -> None:
        """Wait until ``ready`` says so; a child that ended or took too long is a RuntimeError with the end of its log."""
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

    def __exit__(self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None) -> None:
        self.stop()


def answers(url: str) -> bool:
    """Whether something answers there with success."""
    opener = urllib.request.build_opener(urllib.request.ProxyHandler({}))
    try:
        with opener.open(url, timeout=2) as answer:
            return bool(answer.status == 200)
    except OSError:
        return False


def start_database(folder: Path, port: int) -> Process:
    """A private MariaDB with its data in ``folder`` (made when it isn't there), on loopback."""
    data, socket_path = folder / "data", Path("/tmp") / f"quill-{os.getpid()}-{port}.sock"
    if not (data / "mysql").is_dir():
        shutil.rmtree(data, ignore_errors=True)
        data.mkdir(parents=True)
        command = [
            "mariadb-install-db",
            "--no-defaults",
            "--user=root",
            f"--datadir={data}",
            "--auth-root-authentication-method=normal",
            "--skip-test-db",
        ]
        subprocess.run(command, check=True, stdout=subprocess.DEVNULL, stderr=subprocess.PIPE, text=True)
    (folder / "tmp").mkdir(exist_ok=True)
    server = Process(
        "MariaDB",
        [
            "mariadbd", "--no-defaults", "--user=root", f"--datadir={data}", f"--tmpdir={folder / 'tmp'}", f"--socket={socket_path}", f"--pid-file={folder / 'pid'}",
            "--bind-address=127.0.0.1", f"--port={port}", "--character-set-server=utf8mb4", "--collation-server=utf8mb4_uca1400_ai_ci",
            "--innodb-flush-log-at-trx-commit=1", "--max-connections=200",
        ],
        folder / "mariadb.log",
    )  # fmt: skip
    ping = ["mariadb-admin", "--no-defaults", "--user=root", "--host=127.0.0.1", f"--port={port}", "--connect-timeout=1", "ping"]
    server.wait_for(lambda: subprocess.run(ping, capture_output=True).returncode == 0)
    return server


def start_stand_in(name: str, port: int, logs: Path) -> Process:
    """One stand-in, by name."""
    server = Process(f"stand-in {name}", [sys.executable, "-m", "standins", name, "--port", str(port)], logs / f"{name}.log")
    server.wait_for(lambda: answers(f"http://127.0.0.1:{port}/_alive"))
    return server


def start_web(port: int, logs: Path, env: dict[str, str], workers: int = 2) -> Process:
    """The web server.  ``env`` holds the settings."""
    command = [
        str(Path(sys.executable).parent / "granian"), "--interface", "wsgi", "--host", "127.0.0.1", "--port", str(port), "--workers", str(workers),
        "--blocking-threads", "8", "--no-ws", "goodquill.wsgi:application",
    ]  # fmt: skip
    server = Process("web server", command, logs / "web.log", {**env, "PYTHONPATH": str(ROOT / "server")}, ROOT / "server")
    server.wait_for(lambda: answers(f"http://127.0.0.1:{port}/api/alive"))
    return server
