"""The process that starts limited children: it has imported what they read files with, and forks.

Starting Python and importing a reader of PDFs takes longer than reading most files.  This process does both
once, and never sees a file: it is told how much a child may take, and hands on the descriptors that came with
the order.  It knows no secrets either: its environment is what Python itself needs.

It lives as long as the process that started it, and ends with it, its children too.
"""

from __future__ import annotations

import contextlib
import gc
import importlib
import json
import os
import select
import signal
import socket
import subprocess
import sys
import time
from collections.abc import Callable
from dataclasses import astuple, dataclass
from typing import NoReturn

_MOST_OF_ORDER = 1_000
_APART = ("quillcore.papers.overlaid",)
"""Modules that begin threads when they are imported: a child imports them itself, since they can't be forked
afterwards."""
_KNOWN = ("PATH", "PYTHONPATH", "PYTHONDONTWRITEBYTECODE", "LANG", "LC_ALL", "LC_CTYPE", "TZ", "TMPDIR")
"""Of the environment: where Python finds itself, and how texts and times are read."""


class Starter:
    """Such a process, and the way to it.  One serves all threads of a process."""

    def __init__(self) -> None:
        ours, theirs = socket.socketpair(socket.AF_UNIX, socket.SOCK_SEQPACKET)
        with theirs:
            number = theirs.fileno()
            self.process = subprocess.Popen(
                [sys.executable, "-m", "quillcore.sandbox", str(number)],
                pass_fds=[number],
                stdin=subprocess.DEVNULL,
                stdout=subprocess.DEVNULL,
                env={name: os.environ[name] for name in _KNOWN if name in os.environ},
            )
        self.owner = os.getpid()
        self._way = ours

    def start(self, order: Order, given: int, answer: int, ended: int) -> None:
        """Start a child: it reads from ``given`` and writes to ``answer``; its exit code comes by ``ended``,
        or nothing where no child came of it.  Raises OSError where the process is gone."""
        socket.send_fds(self._way, [json.dumps(astuple(order)).encode()], [given, answer, ended])

    def stop(self) -> None:
        """End it, with its children."""
        self._way.close()
        self.process.wait()


@dataclass(frozen=True)
class Order:
    """The limits of a child: seconds of computing, bytes of memory beyond the program itself, seconds on the
    clock; and the module whose work it will do, which need not be imported yet."""

    seconds: int
    memory: int
    patience: float
    module: str


@dataclass(frozen=True)
class _Child:
    pid: int
    ended: int
    until: float


Work = Callable[[Order, int, int], int]
"""A child's work: with its order, the descriptor that it reads from and the one that it writes to; gives its
exit code."""


def serve(way: socket.socket, work: Work) -> None:
    """Start children as they are ordered, and say how each ended, until nobody is left to order any."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)  # Ctrl-C is for who started this
    running: dict[int, _Child] = {}
    orders = way.fileno()
    while True:
        soonest = min((child.until for child in running.values()), default=None)
        wait = None if soonest is None else max(0.0, soonest - time.monotonic())
        ready, _, _ = select.select([orders, *running], [], [], wait)
        for handle in [one for one in ready if one in running]:
            _tell(running.pop(handle), handle)
        for child in running.values():
            if child.until <= time.monotonic():
                os.kill(child.pid, signal.SIGKILL)
        if orders in ready:
            said, given, _, _ = socket.recv_fds(way, _MOST_OF_ORDER, 3)
            if not said:
                break
            running |= _started(Order(*json.loads(said)), given, work)
    for child in running.values():
        os.kill(child.pid, signal.SIGKILL)


def _tell(child: _Child, handle: int) -> None:
    """Tell how a child ended: its exit code, negative for a signal."""
    _, status = os.waitpid(child.pid, 0)
    with contextlib.suppress(BrokenPipeError):  # who asked is gone
        os.write(child.ended, str(os.waitstatus_to_exitcode(status)).encode())
    os.close(child.ended)
    os.close(handle)


def _started(order: Order, given: list[int], work: Work) -> dict[int, _Child]:
    """Return a child by its handle; none where the machine has no place for one."""
    if order.module.startswith("quillcore.") and order.module not in _APART:
        importlib.import_module(order.module)
        gc.freeze()  # what is here is the same in every child: nobody looks through it for what may go
    content, answer, ended = given
    try:
        pid = os.fork()
    except OSError:
        for number in given:
            os.close(number)
        return {}
    if pid == 0:
        _be_a_child(order, content, answer, work)
    os.close(content)
    os.close(answer)
    return {os.pidfd_open(pid): _Child(pid, ended, time.monotonic() + order.patience)}


def _be_a_child(order: Order, content: int, answer: int, work: Work) -> NoReturn:
    """Work with nothing open but one's own, and end."""
    code = 1
    try:
        signal.signal(signal.SIGINT, signal.SIG_DFL)
        nothing = os.open(os.devnull, os.O_WRONLY)
        os.dup2(nothing, 2)
        for number in map(int, os.listdir("/proc/self/fd")):
            if number > 2 and number not in (content, answer):
                with contextlib.suppress(OSError):  # the one that lists them
                    os.close(number)
        code = work(order, content, answer)
    finally:
        os._exit(code)
