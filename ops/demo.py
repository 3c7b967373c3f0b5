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
    """The demo's own secret key, made once and kept outside the repository."""
    path = LOCAL / "secret"
    if not path.exists():
        LOCAL.mkdir(exist_ok=True)
        path.write_text(secrets.token_urlsafe(48))
        path.chmod(0o600)
    return path.read_text()


def kept_port(name: str) -> int:
    """A port chosen once, so that bookmarks live on; another one when it is taken."""
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
    """What could not be done, in a sentence."""


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
    running: list[Process | Served] = []
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
        running.append(start_database(LOCAL / "db", db))
        running += [
            start_stand_in(name, port, LOCAL / "logs")
            for name, port in (("listing", listing), ("roll", roll), ("registry", registry))
        ]
        make_seal(LOCAL / "seal")
        running.append(start_stamps(stamps, LOCAL / "seal", LOCAL / "logs"))
        running.append(start_mail(mail, smtp, LOCAL / "mail", LOCAL / "logs"))
        manage(env, "migrate", "--verbosity=0")
        if not (LOCAL / "loaded").exists():
            print("Loading the pack and the demo world …", flush=True)
            manage(env, "load_demo")
            (LOCAL / "loaded").write_text("yes")
        again = {
            "worker": partial(start_worker, LOCAL / "logs", env),
            "timekeeper": partial(start_timekeeper, LOCAL / "logs", env),
            "web server": partial(start_web, web, LOCAL / "logs", env),
        }
        running += [start() for start in again.values()]
        print(f"\nGood Quill is at  http://127.0.0.1:{web}", flush=True)
        print(f"Its mail is at    http://127.0.0.1:{mail}  (kept there, goes nowhere)\n", flush=True)
        manage(env, "load_demo", "--tell")
        print("\nCtrl-C stops everything; the data stays.", flush=True)
        while not stop.wait(1):
            for n, process in enumerate(running):
                if not process.has_ended():
                    continue
                if process.name in again:  # as a supervisor does: the database may have been away
                    process.stop()
                    running[n] = again[process.name]()
                    continue
                print(f"{process.name} has ended; see {process.log}.", flush=True)
                return
    except (Failed, RuntimeError, OSError) as trouble:
        print(
            f"\nGood Quill did not start: {trouble}\nNothing of your data was changed. `make demo-reset`"
            " begins anew.",
            file=sys.stderr,
            flush=True,
        )
        raise SystemExit(1) from trouble
    finally:
        for process in reversed(running):
            process.stop()
        held.close()


if __name__ == "__main__":
    main()
