"""Work on files by strangers, in a child process that may take only so much time and memory.

A file from elsewhere can loop, swell or crash its reader.  So it is never opened in the process that
serves people: ``run_limited`` has a child started with hard limits (``quillcore.fork_server``), hands it the
bytes and takes bytes back.  Whatever happens to the child, the parent gets an answer or a Fault.

The bound is the child's own computing time, not the clock on the wall: on a busy machine a sound file
takes longer and is not refused for it.  At most as many children as the machine has cores run at once,
over all processes of one user, and one of them for files that anybody may send.  A further file waits for
a turn, except in a server's thread, where nothing waits (``TURNS.wait``).
"""

from __future__ import annotations

import fcntl
import importlib
import json
import os
import resource
import signal
import socket
import sys
import tempfile
import threading
import time
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path
from typing import Any, BinaryIO

from quillcore.fork_server import Order, Starter, serve
from quillcore.values import Fault

MEGABYTE = 1024 * 1024
_REFUSED, _TOO_BIG = 3, 4


@dataclass(frozen=True)
class Limits:
    """The limits for reading one file of a kind: seconds of computing, and bytes of memory beyond what the
    program itself takes. ``mend`` is what its sender can do about a file that takes more."""

    seconds: int
    memory: int
    most_bytes: int
    mend: str
    rule: str = "foreign file"
    by_anybody: bool = False
    """Whether people without an account send such files: they have one turn among them."""


PDF = Limits(8, 440 * MEGABYTE, 60_000_000, "Print it to a new PDF and try that one.")
"""The slowest of 240 sound files took 3 seconds; a page's drawing is bounded apart from this."""
PACK = Limits(40, 900 * MEGABYTE, 60_000_000, "Export the pack again, with fewer forms.", "pack")
"""The demo's 39 forms with 99 pages take 5 seconds and 200 MB."""
TABLE = Limits(20, 1_200 * MEGABYTE, 30_000_000, "Take one town or street at a time.", "export")
"""A table or JSON export: 50,000 rows of 40 columns take 4 seconds."""
CARDS = Limits(15, 440 * MEGABYTE, 10_000_000, "Export a part of the contacts at a time.", "contacts")
"""5,000 vCards take 3 seconds."""
TEMPLATE = Limits(10, 440 * MEGABYTE, 1_000_000, "Export the template again.", "template")
"""The largest of the demo's has 60 lines; a thousand answers take a second."""

_BUSY = Fault(
    "busy", "Too many files are being read right now.", "Your file was not read. Try again in a moment."
)
_PATIENCE = 30.0
"""Seconds on the clock, beside ten for each of computing: they only end a child that neither computes nor
ends, which none has done yet."""
_TRIES = 3
"""With one starter that was killed while it worked, the one that is found dead afterwards, and a new one."""


@dataclass
class Turns:
    """The number of files that are read at once, and the seconds that a further one waits for its turn."""

    most: int = max(2, os.cpu_count() or 1)
    wait: float = 60.0


TURNS = Turns()
"""This process's own.  A server sets ``wait`` to 0: its senders are asked to come back."""


class Refused(Exception):
    """Raised inside the child: the file can't be used; the fault says why."""

    def __init__(self, fault: Fault) -> None:
        super().__init__(fault.message)
        self.fault = fault


def run_limited(function: str, content: bytes, *arguments: str, limits: Limits = PDF) -> bytes | Fault:
    """Call ``module:function(content, *arguments)`` in a limited child; its bytes, or what was wrong with the
    file."""
    if len(content) > limits.most_bytes:
        return Fault(
            limits.rule,
            "The file is too large.",
            f"{limits.most_bytes // 1_000_000} MB is the most. {limits.mend}",
        )
    with _turn(limits.by_anybody) as mine:
        done = _run(function, content, arguments, limits) if mine else None
    if done is None:
        return _BUSY
    code, answer = done
    if code == 0:
        return answer
    if code == _REFUSED:
        return Fault(**json.loads(answer))
    if code in (-signal.SIGXCPU, -signal.SIGKILL):
        return _too_slow(limits)
    if code == _TOO_BIG:
        return Fault(limits.rule, "This file needs too much memory to read.", limits.mend)
    return Fault(limits.rule, "The file is damaged and can't be read.", limits.mend)


def _run(
    function: str, content: bytes, arguments: tuple[str, ...], limits: Limits
) -> tuple[int, bytes] | None:
    """Return a child's exit code and what it said; None where none could be started."""
    module = function.partition(":")[0]
    order = Order(limits.seconds, limits.memory, _PATIENCE + 10 * limits.seconds, module)
    given = (json.dumps([function, *arguments]).encode() + b"\n", content)
    for _ in range(_TRIES):
        done = _child_of(_starter(), order, given)
        if done is not None:
            return done
    return None


def _child_of(starter: Starter, order: Order, given: Iterable[bytes]) -> tuple[int, bytes] | None:
    """Return the same of one starter, which may have been killed."""
    with (
        open(os.memfd_create("given"), "w+b") as file,
        _pipe() as (said, answer),
        _pipe() as (told, ended),
    ):
        file.writelines(given)
        file.seek(0)
        try:
            starter.start(order, file.fileno(), answer.fileno(), ended.fileno())
        except OSError:
            _forget(starter)
            return None
        answer.close()
        ended.close()
        found, code = said.read(), told.read()
    return (int(code), found) if code else None


@contextmanager
def _pipe() -> Iterator[tuple[BinaryIO, BinaryIO]]:
    """Return a pipe's end to read from and its end to write to."""
    out, into = os.pipe()
    with open(out, "rb") as reading, open(into, "wb") as writing:
        yield reading, writing


_kept: list[Starter] = []
_keeping = threading.Lock()


def _starter() -> Starter:
    """Return this process's own, begun when the first file comes; a process that was forked begins its
    own."""
    with _keeping:
        if not _kept or _kept[0].owner != os.getpid():
            _kept[:] = [Starter()]
        return _kept[0]


def _forget(starter: Starter) -> None:
    """Forget a child that was killed; the next file gets a new one."""
    with _keeping:
        if starter in _kept:
            _kept.remove(starter)
            starter.stop()


def _too_slow(limits: Limits) -> Fault:
    return Fault(
        limits.rule, f"Reading this file takes more than {limits.seconds} seconds of computing.", limits.mend
    )


@contextmanager
def _turn(by_anybody: bool) -> Iterator[bool]:
    """Take one of the turns, which all processes of this user share; False when none came free in time.

    A turn is a file lock, which the system takes back from a process that dies.
    """
    folder = Path(tempfile.gettempdir()) / f"quill-turns-{os.getuid()}"
    folder.mkdir(mode=0o700, exist_ok=True)
    numbers = (0,) if by_anybody else range(TURNS.most - 1, -1, -1)
    until = time.monotonic() + TURNS.wait
    while True:
        for number in numbers:
            with (folder / str(number)).open("w") as turn:
                try:
                    fcntl.flock(turn, fcntl.LOCK_EX | fcntl.LOCK_NB)
                except BlockingIOError:
                    continue
                yield True
                return
        if time.monotonic() >= until:
            yield False
            return
        time.sleep(0.02)


def _child(order: Order, content: int, answer: int) -> int:
    """Return what a child does, for good or bad: gives its exit code."""
    os.nice(10)  # whoever waits for an answer goes before whoever waits for a file
    memory = order.memory + _taken_already()
    resource.setrlimit(resource.RLIMIT_AS, (memory, memory))
    resource.setrlimit(resource.RLIMIT_CPU, (order.seconds, order.seconds + 1))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    resource.setrlimit(resource.RLIMIT_FSIZE, (0, 0))
    code = 0
    try:
        with open(content, "rb") as given:
            function, *arguments = json.loads(given.readline())
            file = given.read()
        module, _, name = function.partition(":")
        work: Any = getattr(importlib.import_module(module), name)
        said: bytes = work(file, *arguments)
    except Refused as refused:
        f = refused.fault
        code = _REFUSED
        said = json.dumps({"rule": f.rule, "message": f.message, "mend": f.mend, "place": f.place}).encode()
    except MemoryError:
        return _TOO_BIG
    with open(answer, "wb") as out:
        out.write(said)
    return code


def _taken_already() -> int:
    """Return bytes of memory that this process has."""
    pages = Path("/proc/self/statm").read_text().split()[0]
    return int(pages) * resource.getpagesize()


if __name__ == "__main__":
    # The module under its own name, so that Refused is one class and not two.
    serve(socket.socket(fileno=int(sys.argv[1])), importlib.import_module("quillcore.sandbox")._child)
