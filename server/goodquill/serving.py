"""``python -m goodquill.serving``: the web server's processes, which are copies of one that was made ready.

What a process needs is imported and read once, by the one that starts them and sees that they live.  Those
that serve share its memory, and one that dies is replaced at once, as ready as it was.
"""

from __future__ import annotations

import argparse
import signal
import time
from importlib import import_module
from pathlib import Path

from django.db import connections
from granian import Granian
from granian.constants import Interfaces

from goodquill.limits import THREADS

APPLICATION = "goodquill.wsgi:application"
PAUSE = 0.5
"""Seconds before workers that died one after the other are started anew: what ended them may do so again."""


def serve(socket: Path, workers: int) -> None:
    """Serve at a socket until a signal ends it."""
    for name in (APPLICATION.partition(":")[0], "goodquill.urls"):
        import_module(name)
    connections.close_all()  # each process has its own
    while not ended_well(socket, workers):
        time.sleep(PAUSE)


def ended_well(socket: Path, workers: int) -> bool:
    """Serve, and give whether a signal has ended it.  Granian gives up where a worker dies twice within five
    seconds; this process is as ready as it was, and begins once more."""
    server = Granian(
        APPLICATION,
        interface=Interfaces.WSGI,
        uds=socket,
        uds_permissions=0o660,
        workers=workers,
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
    """What it is told on the command line."""
    said = argparse.ArgumentParser(description="The web server, at a socket that the proxy knows")
    said.add_argument("--socket", type=Path, required=True)
    said.add_argument("--workers", type=int, default=2)
    told = said.parse_args()
    serve(told.socket, told.workers)


if __name__ == "__main__":
    main()
