"""The proxy alone, before a stand-in for the application: what it refuses, whom it counts, in which words."""

from __future__ import annotations

import contextlib
import http.server
import json
import os
import shutil
import socket
import socketserver
import tempfile
import threading
import time
from collections import Counter
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import httpx
import pytest
from goodquill.http.callers import is_ours, new_key
from goodquill.http.middleware import HEADERS

from ops.processes import PROXY_HEADERS, PROXY_USER, Process, free_port, proxy_settings
from tests.running import PATIENCE

SECRET = "only-for-tests"
MEMBERS_FILE = "/api/papers"


class Application(http.server.BaseHTTPRequestHandler):
    """What stands behind the proxy: says what came, or does what the address asks for."""

    protocol_version = "HTTP/1.1"

    def address_string(self) -> str:
        return ""

    def log_message(self, *args: object) -> None:
        pass

    def do_GET(self) -> None:
        self.server.asked[self.server.door, self.path] += 1  # type: ignore[attr-defined]
        if self.path == "/api/gone":
            self.close_connection = True
            return
        if self.path == "/api/silent":
            time.sleep(3)
        if self.path == "/api/session/signed-in":
            session = self.headers.get("Cookie", "").removeprefix("sessionid=")
            fails = 500 if self.headers.get("X-Fail") else 204
            self.send_response(fails if is_ours(session) else 401)
            self.send_header("Content-Length", "0")
            self.end_headers()
            return
        length = int(self.headers.get("Content-Length", 0))
        body = json.dumps({"taken": len(self.rfile.read(length))}).encode()
        self.send_response(200)
        self.send_header("Content-Type", "application/json")
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        with contextlib.suppress(OSError):
            self.wfile.write(body)

    do_POST = do_GET


class Listening(socketserver.ThreadingMixIn, socketserver.UnixStreamServer):
    daemon_threads = True
    request_queue_size = 1024
    door: str
    asked: Counter[tuple[str, str]]


@contextlib.contextmanager
def proxy() -> Iterator[tuple[str, Counter[tuple[str, str]]]]:
    """A proxy of its own: nothing that another test sent counts."""
    folder = Path(tempfile.mkdtemp(prefix="quill-proxy-"))
    if os.getuid() == 0:
        shutil.chown(folder, group=PROXY_USER)
    folder.chmod(0o2750)
    asked = Counter[tuple[str, str]]()
    for door in ("members", "strangers"):
        behind = Listening(str(folder / f"{door}.sock"), Application)
        behind.door, behind.asked = door, asked
        (folder / f"{door}.sock").chmod(0o660)
        threading.Thread(target=behind.serve_forever, daemon=True).start()
    port = free_port()
    settings = proxy_settings(folder, port, folder / "proxy.log", SECRET)
    written = settings.read_text()
    # The bound counts seconds: at its own rate, a slow machine would send no more than it lets pass.
    for usual, here in (("proxy_read_timeout 150s", "proxy_read_timeout 1s"), ("rate=60r/s", "rate=1r/s")):
        assert usual in written
        written = written.replace(usual, here)
    settings.write_text(written)
    log = folder / "proxy.log"
    with Process("proxy", ["nginx", "-e", str(log), "-c", str(settings)], log) as process:
        process.wait_for(lambda: is_listened_on(port))
        yield f"http://127.0.0.1:{port}", asked
        assert "/api/" not in log.read_text(), "no address of a request is in a log"
        assert log.stat().st_mode & 0o777 == 0o640
    shutil.rmtree(folder)


def is_listened_on(port: int) -> bool:
    try:
        socket.create_connection(("127.0.0.1", port), timeout=1).close()
    except OSError:
        return False
    return True


def asking(address: str, key: str = "", source: str = "127.0.0.1") -> httpx.Client:
    transport = httpx.HTTPTransport(local_address=source)
    cookies = {"sessionid": key} if key else {}
    known: dict[str, Any] = {"base_url": address, "cookies": cookies, "trust_env": False, "timeout": PATIENCE}
    return httpx.Client(transport=transport, **known)


def is_in_our_format(answer: httpx.Response, again: bool) -> bool:
    told = answer.json()
    assert answer.headers["content-type"] == "application/problem+json", answer.text
    assert {name: answer.headers.get(name) for name in PROXY_HEADERS} == PROXY_HEADERS
    assert set(told) == {"title", "status", "detail", "mend", "rule", "again"} and told["mend"].endswith(".")
    return bool(told["again"] is again)


def sent(address: str, raw: bytes) -> httpx.Response:
    """An answer to bytes that no client would send."""
    host, port = address.removeprefix("http://").split(":")
    with socket.create_connection((host, int(port)), timeout=PATIENCE) as line:
        line.sendall(raw)
        with line.makefile("rb") as stream:
            head, _, body = stream.read().partition(b"\r\n\r\n")
    first, *rest = head.decode("latin-1").split("\r\n")
    headers = [tuple(row.split(": ", 1)) for row in rest]
    return httpx.Response(int(first.split(" ")[1]), headers=headers, content=body)  # type: ignore[arg-type]


def test_the_proxys_answers_carry_the_applications_headers() -> None:
    assert HEADERS.items() <= PROXY_HEADERS.items()


def test_every_status_that_the_proxy_gives_is_in_our_format() -> None:
    with proxy() as (address, _):
        ask = asking(address)
        close = b"Host: a\r\nConnection: close\r\n\r\n"
        for raw, status in (
            (b"GET /api/deals/%00 HTTP/1.1\r\n" + close, 400),
            (b"GET /%2e%2e/%2e%2e HTTP/1.1\r\n" + close, 400),
            (b"GET /%zz HTTP/1.1\r\n" + close, 400),
            (b"GET / HTTP/1.1\r\nConnection: close\r\n\r\n", 400),  # no host
            (b"GET / HTTP/1.1\r\nX: " + b"x" * 20_000 + b"\r\n" + close, 400),
            (b"GET / HTTP/9.9\r\n" + close, 400),
            (b"GET /" + b"x" * 20_000 + b" HTTP/1.1\r\n" + close, 414),
            (b"TRACE / HTTP/1.1\r\n" + close, 405),
        ):
            answer = sent(address, raw)
            assert answer.status_code == status, raw[:60]
            assert is_in_our_format(answer, again=False)
        for path, status in (("/_signed_in", 404), ("/_answers/503", 404)):
            answer = ask.get(path)
            assert answer.status_code == status and is_in_our_format(answer, again=False)
        for path in ("/api/gone", "/api/silent"):
            answer = ask.get(path)
            assert answer.status_code == 503 and is_in_our_format(answer, again=True)
            assert answer.headers["retry-after"] == "2"
        of_a_member = asking(address, new_key())
        answer = of_a_member.post(MEMBERS_FILE, content=b"x", headers={"X-Fail": "1"})
        assert answer.status_code == 503 and is_in_our_format(answer, again=True), (
            "the look at who it is failed"
        )
        unknown = sent(address, b"POST /api/x HTTP/1.1\r\nTransfer-Encoding: gzip\r\n" + close)
        assert unknown.status_code == 503 and unknown.headers["content-type"] == "application/problem+json"


@pytest.mark.parametrize("key", ["", "a" * 32, "a" * 18 + "b" * 22], ids=["no cookie", "old", "made up"])
def test_a_stranger_sends_few_bytes_whatever_the_cookie_says(key: str) -> None:
    with proxy() as (address, asked):
        ask = asking(address, key)
        for path, least, most in (
            ("/api/deals", 15_999, 16_000),
            ("/api/session", 15_999, 17_000),
            ("/api/sign/x/mark", 300_000, 320_000),
            ("/api/verify", 5_000_000, 64_000_000),
        ):
            assert ask.post(path, content=b"x" * least).json() == {"taken": least}, path
            refused = ask.post(path, content=b"x" * most)
            assert refused.status_code == 413 and is_in_our_format(refused, again=False)
        chunked = ask.post("/api/deals", content=iter([b"x"]))
        assert chunked.status_code == 413, "how long it is has to be said"
        refused = ask.post(MEMBERS_FILE, content=b"x" * 3_000_000)
        assert refused.status_code == 401 and is_in_our_format(refused, again=False)
        assert {door for door, _ in asked} == {"strangers"}, "members' workers had nothing to do with it"
        assert not asked["strangers", MEMBERS_FILE], "no byte of it was handed on"


def test_a_member_sends_what_a_member_may() -> None:
    with proxy() as (address, asked):
        ask = asking(address, new_key())
        assert ask.post("/api/deals", content=b"x" * 4_900_000).json() == {"taken": 4_900_000}
        assert ask.post(MEMBERS_FILE, content=b"x" * 20_000_000).json() == {"taken": 20_000_000}
        assert {door for door, _ in asked} == {"members"}
        for path, size in (("/api/deals", 6_000_000), (MEMBERS_FILE, 66_000_000)):
            refused = ask.post(path, content=b"x" * size)
            assert refused.status_code == 413 and is_in_our_format(refused, again=False)


def statuses(address: str, source: str, keys: Iterator[str], times: int) -> Counter[int]:
    with asking(address, source=source) as ask:
        sent_with = ({"Cookie": f"sessionid={next(keys)}"} for _ in range(times))
        return Counter(ask.get("/api/alive", headers=headers).status_code for headers in sent_with)


def test_made_up_cookies_count_for_their_address_and_for_no_other() -> None:
    with proxy() as (address, _):
        made_up = (f"{n:018}{'b' * 22}" for n in range(10_000))
        flooding = statuses(address, "127.0.0.1", made_up, 900)
        assert flooding[429] > 100, "the bound for strangers holds"
        assert statuses(address, "127.0.0.2", made_up, 50) == {200: 50}, "another address has its own"
        honest = (key for key in [new_key()] * 100)
        assert statuses(address, "127.0.0.1", honest, 50) == {200: 50}, "and so has a session at the first"


def test_few_files_of_one_address_are_taken_in_at_a_time() -> None:
    with proxy() as (address, _), contextlib.ExitStack() as held:
        port = int(address.rsplit(":", 1)[1])
        head = b"POST /api/verify HTTP/1.1\r\nHost: a\r\nContent-Length: 900000\r\n\r\nx"
        for source in ("127.0.0.1", "127.0.0.1", "127.0.0.3"):
            line = socket.create_connection(("127.0.0.1", port), PATIENCE, (source, 0))
            held.enter_context(line).sendall(head)
        third = asking(address).post("/api/verify", content=b"x")
        assert third.status_code == 429 and is_in_our_format(third, again=True)
        assert asking(address, source="127.0.0.2").post("/api/verify", content=b"x").status_code == 200


def test_a_body_that_trickles_in_is_given_up() -> None:
    with proxy() as (address, asked):
        port = int(address.rsplit(":", 1)[1])
        head = f"POST {MEMBERS_FILE} HTTP/1.1\r\nHost: a\r\nCookie: sessionid={new_key()}\r\n"
        with socket.create_connection(("127.0.0.1", port), PATIENCE) as line:
            line.sendall(f"{head}Content-Length: 5000000\r\n\r\n".encode())
            line.settimeout(0.5)
            begun, ended = time.monotonic(), False
            while not ended and time.monotonic() - begun < PATIENCE:
                try:
                    line.sendall(b"x" * 100)
                    ended = line.recv(1_000)[:12] in (b"", b"HTTP/1.1 408")
                except TimeoutError:
                    continue
                except OSError:
                    ended = True
        assert ended and not asked["members", MEMBERS_FILE]


def test_a_large_refusal_is_read_as_one_by_every_client() -> None:
    with proxy() as (address, _):
        got: list[Any] = []

        def send() -> None:
            got.append(asking(address).post("/api/deals", content=b"x" * 4_500_000).status_code)

        threads = [threading.Thread(target=send) for _ in range(16)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        assert got == [413] * 16
