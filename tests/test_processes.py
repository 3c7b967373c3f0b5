"""Starting and ending what the product runs on."""

from __future__ import annotations

import re
import socket
import sys
from pathlib import Path

import pytest

from ops.demo import Failed, alone
from ops.processes import ROOT, Process, answers, free_port

SERVE = (
    "import http.server, sys; http.server.HTTPServer(('127.0.0.1', int(sys.argv[1])),"
    " http.server.SimpleHTTPRequestHandler).serve_forever()"
)


def test_a_process_is_waited_for_and_ended_with_its_children(tmp_path: Path) -> None:
    port = free_port()
    address = f"http://127.0.0.1:{port}/"
    assert not answers(address)
    with Process(
        "a server", [sys.executable, "-c", SERVE, str(port)], tmp_path / "log", cwd=tmp_path
    ) as process:
        process.wait_for(lambda: answers(address))
        assert process.child.poll() is None
    assert process.child.poll() is not None
    assert not answers(address)


def test_a_process_that_does_not_start_shows_the_end_of_its_log(tmp_path: Path) -> None:
    process = Process(
        "a broken server",
        [sys.executable, "-c", "raise SystemExit('no such setting')"],
        tmp_path / "log",
        cwd=tmp_path,
    )
    with pytest.raises(RuntimeError, match="no such setting"):
        process.wait_for(lambda: False, seconds=20)


def test_free_ports_can_be_listened_on() -> None:
    with socket.socket() as listener:
        listener.bind(("127.0.0.1", free_port()))


def test_a_second_demo_in_one_folder_is_told_that_one_runs(tmp_path: Path) -> None:
    first = alone(tmp_path)
    with pytest.raises(Failed, match="runs already"):
        alone(tmp_path)
    first.close()
    alone(tmp_path).close()


def test_no_test_that_waits_for_the_product_has_a_limit_of_its_own() -> None:
    """How fast a machine is would decide what it says."""
    own = re.compile(r"timeout=[\d_]+|wait_for_selector|monotonic\(\) \+ \d")
    files = [*(ROOT / "tests" / "journeys").glob("*.py"), *(ROOT / "tests" / "faults").glob("*.py")]
    assert files
    found = {path.name: own.findall(path.read_text()) for path in files}
    assert not {name: limits for name, limits in found.items() if limits}
