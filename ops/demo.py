"""``make demo``: everything on one machine, with the demo world, until Ctrl-C."""

from __future__ import annotations

import argparse
import fcntl
import os
import secrets
import shutil
import signal
import socket
import subprocess
import sys
import threading
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TextIO

from ops.processes import (
    ROOT,
    Process,
    Served,
    account,
    free_port,
    make_seal,
    owner,
    start_database,
    start_mail,
    start_stamps,
    start_stand_in,
    start_timekeeper,
    start_web,
    start_worker,
)

LOCAL = ROOT / ".local"


def secret() -> str:
    """Return the demo's own secret key, made once and kept outside the repository."""
    path = LOCAL / "secret"
    if not path.exists():
        LOCAL.mkdir(exist_ok=True)
        path.write_text(secrets.token_urlsafe(48))
        path.chmod(0o600)
    return path.read_text()


def kept_port(name: str) -> int:
    """Return a port chosen once, so that bookmarks live on; another one when it is taken."""
    path = LOCAL / f"port-{name}"
    if path.exists():
        with socket.socket() as probe:
            probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
            try:
                probe.bind(("127.0.0.1", int(path.read_text())))
                return int(path.read_text())
            except OSError:
                pass
    port = free_port()
    path.write_text(str(port))
    return port


class Failed(Exception):
    """A failed step, in a sentence."""


def alone(folder: Path) -> TextIO:
    """Hold the demo's folder for as long as the file stays open: two of them would write over each other's
    ports, and a reset would throw away a database that runs."""
    folder.mkdir(exist_ok=True)
    held = (folder / "running").open("w")
    try:
        fcntl.flock(held, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError as taken:
        held.close()
        raise Failed("The demo runs already; end it with Ctrl-C where it was started.") from taken
    return held


def manage(env: dict[str, str], *arguments: str) -> None:
    """Run a Django command, its output shown."""
    done = subprocess.run(
        [sys.executable, "server/manage.py", *arguments], cwd=ROOT, env={**os.environ, **env}, check=False
    )
    if done.returncode != 0:
        raise Failed(f"`manage.py {arguments[0]}` failed; what it said stands above.")


Start = Callable[[], Process | Served]


class Kept:
    """A process that is started again whenever it ends, as a supervisor does."""

    def __init__(self, start: Start) -> None:
        self.start = start
        self.process = start()

    def start_again_if_ended(self) -> None:
        """Look whether it runs, and start it where it doesn't; one that can't start is tried at the next
        look."""
        if not self.process.has_ended():
            return
        print(f"{self.process.name} has ended and is started again; see {self.process.log}.", flush=True)
        self.process.stop()
        try:
            self.process = self.start()
        except (RuntimeError, OSError) as trouble:
            print(f"{self.process.name} did not start: {trouble}", file=sys.stderr, flush=True)


def main() -> None:
    """Start everything, print where it is, wait, stop everything."""
    parser = argparse.ArgumentParser(prog="ops.demo")
    parser.add_argument("--reset", action="store_true", help="begin anew: throw the demo's data away")
    options = parser.parse_args()
    try:
        held = alone(LOCAL)
    except Failed as trouble:
        sys.exit(str(trouble))
    if options.reset:
        for name in ("db", "files", "mail", "seal", "loaded"):
            path = LOCAL / name
            shutil.rmtree(path, ignore_errors=True) if path.is_dir() else path.unlink(missing_ok=True)
    stop = threading.Event()
    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, lambda *_: stop.set())
    kept: list[Kept] = []

    def keep(start: Start) -> None:
        kept.append(Kept(start))

    try:
        db, listing, roll, registry, stamps, web, mail, smtp = (
            kept_port(name) for name in ("db", "listing", "roll", "registry", "stamps", "web", "mail", "smtp")
        )
        env = {
            "QUILL_SECRET_KEY": secret(),
            "QUILL_SECURE": "0",
            "QUILL_DB_PORT": str(db),
            "QUILL_FILES": str(LOCAL / "files"),
            "LISTING_URL": f"http://127.0.0.1:{listing}",
            "ROLL_URL": f"http://127.0.0.1:{roll}",
            "REGISTRY_URL": f"http://127.0.0.1:{registry}",
            "STAMPS_URL": f"http://127.0.0.1:{stamps}",
            "QUILL_SEAL": str(LOCAL / "seal"),
            "QUILL_URL": f"http://127.0.0.1:{web}",
            "QUILL_SMTP_PORT": str(smtp),
            "QUILL_DEMO": "1",
            **account(LOCAL / "db"),
        }
        print("Starting the database and the stand-ins …", flush=True)
        logs = LOCAL / "logs"
        make_seal(LOCAL / "seal")
        keep(partial(start_database, LOCAL / "db", db))
        for name, port in (("listing", listing), ("roll", roll), ("registry", registry)):
            keep(partial(start_stand_in, name, port, logs))
        keep(partial(start_stamps, stamps, LOCAL / "seal", logs))
        keep(partial(start_mail, mail, smtp, LOCAL / "mail", logs))
        manage(env | owner(LOCAL / "db"), "migrate", "--verbosity=0")
        if not (LOCAL / "loaded").exists():
            print("Loading the pack and the demo world …", flush=True)
            manage(env, "load_demo")
            (LOCAL / "loaded").write_text("yes")
        keep(partial(start_worker, logs, env))
        keep(partial(start_timekeeper, logs, env))
        keep(partial(start_web, web, logs, env))
        print(f"\nGood Quill is at  http://127.0.0.1:{web}", flush=True)
        print(f"Its mail is at    http://127.0.0.1:{mail}  (kept there, goes nowhere)\n", flush=True)
        manage(env, "load_demo", "--tell")
        print("\nCtrl-C stops everything; the data stays.", flush=True)
        while not stop.wait(1):
            for one in kept:
                one.start_again_if_ended()
    except (Failed, RuntimeError, OSError) as trouble:
        print(
            f"\nGood Quill did not start: {trouble}\nNothing of your data was changed. `make demo-reset`"
            " begins anew.",
            file=sys.stderr,
            flush=True,
        )
        raise SystemExit(1) from trouble
    finally:
        for one in reversed(kept):
            one.process.stop()
        held.close()


if __name__ == "__main__":
    main()
