"""``python -m goodquill.runtime.serving``: the web server's processes, copies of one that was made ready.

There are two doors, each a socket with workers of its own: one for members, one for whoever has no session.
The proxy knows which is which (ops/nginx.conf).  So whatever strangers ask for takes threads and computing
of their own workers alone, which come behind the members' where the machine has too little for both.

What a process needs is imported and read once, by the one that starts them and sees that they live.  Those
that serve share its memory, and one that dies is replaced at once, as ready as it was.
"""

from __future__ import annotations

import argparse
import contextlib
import os
import signal
import sys
import time
from dataclasses import dataclass
from importlib import import_module
from pathlib import Path

from django.db import connections
from granian import Granian
from granian.constants import Interfaces
from quillcore.sandbox import TURNS

from goodquill.http.limits import THREADS

APPLICATION = "goodquill.runtime.wsgi:application"
PAUSE = 0.5
"""Seconds before what died is started anew: what ended it may do so again."""
STRANGERS_NICE = 5
"""The nice value of strangers' workers: a member's have three quarters of a processor that both want."""


@dataclass(frozen=True)
class Door:
    """A socket, and the workers that serve it."""

    socket: Path
    workers: int
    nice: int = 0


def serve(doors: list[Door]) -> None:
    """Serve at all doors until a signal ends it."""
    TURNS.wait = 0.0  # whoever sends a file that can't be read yet is asked to come back: no thread waits
    for name in (APPLICATION.partition(":")[0], "goodquill.runtime.urls"):
        import_module(name)
    connections.close_all()  # each process has its own
    serving = {_begin(door): door for door in doors}
    is_ending = False

    def pass_on(number: int, _frame: object) -> None:
        nonlocal is_ending
        is_ending = is_ending or number != signal.SIGHUP
        for process in list(serving):
            with contextlib.suppress(ProcessLookupError):  # it has just ended
                os.kill(process, number)

    for number in (signal.SIGTERM, signal.SIGINT, signal.SIGHUP):
        signal.signal(number, pass_on)
    while serving:
        process, _status = os.wait()
        door = serving.pop(process)
        if not is_ending:
            time.sleep(PAUSE)
            serving[_begin(door)] = door


def _begin(door: Door) -> int:
    """Start the process that keeps a door's workers; return its number."""
    process = os.fork()
    if process:
        return process
    for number in (signal.SIGTERM, signal.SIGINT, signal.SIGHUP):
        signal.signal(number, signal.SIG_DFL)
    os.nice(door.nice)
    door.socket.unlink(missing_ok=True)  # one whose process was killed leaves its own behind
    while not _ended_well(door):
        time.sleep(PAUSE)
    sys.stdout.flush()
    os._exit(0)


def _ended_well(door: Door) -> bool:
    """Serve, and return whether a signal has ended it.  Granian gives up where a worker dies twice within
    five seconds; this process is as ready as it was, and begins once more."""
    server = Granian(
        APPLICATION,
        interface=Interfaces.WSGI,
        uds=door.socket,
        uds_permissions=0o660,
        workers=door.workers,
        blocking_threads=THREADS,
        websockets=False,
        respawn_failed_workers=True,
        respawn_interval=0.5,
    )
    try:
        server.serve()
    except SystemExit as ended:
        for number in (signal.SIGTERM, signal.SIGINT):
            signal.signal(number, signal.SIG_DFL)  # granian's would only tell the server that has ended
        return not ended.code
    return True


def main() -> None:
    """Read the command line, and serve."""
    parser = argparse.ArgumentParser(description="The web server, at two sockets that the proxy knows")
    parser.add_argument("--members", type=Path, required=True, help="the socket for members")
    parser.add_argument("--strangers", type=Path, required=True, help="the one for whoever has no session")
    parser.add_argument("--workers", type=int, default=2, help="that serve members")
    given = parser.parse_args()
    serve([Door(given.members, given.workers), Door(given.strangers, 1, STRANGERS_NICE)])


if __name__ == "__main__":
    main()
