"""Work on files by strangers, in a child process that may take only so much time and memory.

A PDF from elsewhere can loop, swell or crash the reader.  So it is never opened in the process that
serves people: ``run_limited`` starts a fresh Python with hard limits, hands it the bytes and takes
bytes back.  Whatever happens to the child, the parent gets an answer or a Fault within the time.
"""

from __future__ import annotations

import importlib
import json
import resource
import signal
import subprocess
import sys
from typing import Any

from quillcore.values import Fault

SECONDS = 8
"""Of the child's time; with its start and the caller's the whole stays within ten."""
MEMORY = 440 * 1024 * 1024
MOST_BYTES = 60_000_000
_REFUSED, _TOO_BIG = 3, 4


class Refused(Exception):
    """Raised inside the child: the file can't be used; the fault says why."""

    def __init__(self, fault: Fault) -> None:
        super().__init__(fault.message)
        self.fault = fault


def run_limited(function: str, content: bytes, *arguments: str) -> bytes | Fault:
    """Call ``module:function(content, *arguments)`` in a limited child; its bytes, or what was wrong with the file."""
    if len(content) > MOST_BYTES:
        return Fault("foreign file", "The file is too large.", f"{MOST_BYTES // 1_000_000} MB is the most; split it, or scan it with less detail.")
    command = [sys.executable, "-m", "quillcore.pdf.limited", function, *arguments]
    try:
        done = subprocess.run(command, input=content, capture_output=True, timeout=SECONDS, check=False)
    except subprocess.TimeoutExpired:
        return Fault("foreign file", f"Reading this file takes longer than {SECONDS} seconds.", "Print it to a new PDF and try that one.")
    if done.returncode == 0:
        return done.stdout
    if done.returncode == _REFUSED:
        return Fault(**json.loads(done.stderr.decode().splitlines()[-1]))
    if done.returncode == -signal.SIGXCPU:
        return Fault("foreign file", f"Reading this file takes longer than {SECONDS} seconds.", "Print it to a new PDF and try that one.")
    if done.returncode == _TOO_BIG:
        return Fault("foreign file", "Reading this file takes more memory than one file may have.", "Print it to a new PDF and try that one.")
    return Fault("foreign file", "The file is damaged so badly that reading it had to be stopped.", "Print it to a new PDF and try that one.")


def _child(function: str, *arguments: str) -> int:
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    resource.setrlimit(resource.RLIMIT_CPU, (SECONDS, SECONDS + 1))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    resource.setrlimit(resource.RLIMIT_FSIZE, (0, 0))
    module, _, name = function.partition(":")
    work: Any = getattr(importlib.import_module(module), name)
    try:
        answer: bytes = work(sys.stdin.buffer.read(), *arguments)
    except Refused as refused:
        f = refused.fault
        print(json.dumps({"rule": f.rule, "message": f.message, "mend": f.mend, "place": f.place}), file=sys.stderr)
        return _REFUSED
    except MemoryError:
        return _TOO_BIG
    sys.stdout.buffer.write(answer)
    sys.stdout.buffer.flush()
    return 0


if __name__ == "__main__":
    # The module under its own name, so that Refused is one class and not two.
    sys.exit(importlib.import_module("quillcore.pdf.limited")._child(*sys.argv[1:]))
