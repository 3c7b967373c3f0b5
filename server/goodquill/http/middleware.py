"""Middleware around every request: the caller's address, the size of the body, and the headers of every
answer."""

from __future__ import annotations

import contextlib
import ctypes
import math
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.utils.cache import patch_vary_headers
from quillcore.signing.verifying import TO_VERIFY
from quillcore.values import clock
from quillcore.values.structured import digits
from whitenoise.middleware import WhiteNoiseMiddleware

from goodquill.http.callers import key_of, network_of
from goodquill.http.limits import (
    AT_ONCE,
    AT_ONCE_OF_MANY,
    BURST,
    LATELY,
    LITTLE,
    MOST_BEFORE_SIGN_IN,
    MOST_BY_LINK,
    MOST_JSON,
    MOST_UPLOAD,
    SHARE,
)
from goodquill.http.problems import told

Answering = Callable[[HttpRequest], HttpResponse]

HEADERS = {
    "Permissions-Policy": "camera=(), microphone=(), geolocation=(), payment=(), usb=(), interest-cohort=()",
    "Cross-Origin-Resource-Policy": "same-origin",
    "Cross-Origin-Opener-Policy": "same-origin",
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "same-origin",
}


class HeadersMiddleware:
    """Headers of every answer, a file's and an error's too. What the API says is private: nobody keeps it,
    unless the endpoint says otherwise."""

    def __init__(self, get_response: Answering) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer."""
        answer = self.get_response(request)
        for name, value in HEADERS.items():
            answer.headers.setdefault(name, value)
        if request.path.startswith("/api/"):
            answer.headers.setdefault("Cache-Control", "no-store")
            patch_vary_headers(answer, ["Cookie"])
        return answer


class ClientAddressMiddleware:
    """The address that a request comes from, behind our own proxy: the proxy says it and overwrites whatever
    a stranger wrote there.  Without a proxy nothing is believed."""

    def __init__(self, get_response: Answering) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer."""
        if settings.BEHIND_PROXY:
            request.META["REMOTE_ADDR"] = request.META.get("HTTP_X_REAL_IP") or "0.0.0.0"
        return self.get_response(request)


class TimeZoneMiddleware:
    """A request's days are those of whoever sent it: screens say in which time zone they are, so that "today"
    and "fri" are meant there.  What is no time zone is as if nothing had been said."""

    def __init__(self, get_response: Answering) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer."""
        with clock.in_zone(clock.zone_named(request.META.get("HTTP_TIME_ZONE", ""))):
            return self.get_response(request)


class DrainMiddleware:
    """Reads what is left of a request's body once its answer is known.

    A server that answers and closes with bytes unread resets the connection: the proxy then takes a refusal
    for a server that has gone away, and tells the browser to send the same again."""

    def __init__(self, get_response: Answering) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer, then drop the rest of the body.  The proxy bounds how much that can be."""
        answer = self.get_response(request)
        stream = getattr(request, "_stream", None)
        with contextlib.suppress(OSError):  # the caller is gone
            while stream is not None and stream.read(_DRAINED):
                pass
        return answer


_DRAINED = 1_000_000


class BodyLimitMiddleware:
    """Refuses a request by its size before a byte of it is read.  The proxy refuses first; see
    ops/nginx.conf."""

    def __init__(self, get_response: Answering) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer, or refuse."""
        said = digits(request.META.get("CONTENT_LENGTH") or "0", most=11)
        size = said if said is not None else MOST_UPLOAD + 1
        is_file = request.META.get("CONTENT_TYPE", "").startswith("multipart/")
        most = MOST_UPLOAD if is_file else MOST_JSON
        if not key_of(request):
            most = most_of_strangers(request.path)
        return told(request, 413) if size > most else self.get_response(request)


def most_of_strangers(path: str) -> int:
    """Return the bytes that a request may have without a session: signers send a drawn signature, the page
    that checks files sends a file."""
    if path == "/api/verify":
        return TO_VERIFY.most_bytes + 1_000_000
    return MOST_BY_LINK if path.startswith("/api/sign/") else MOST_BEFORE_SIGN_IN


@dataclass
class Used:
    """A caller's use of a worker: requests at work, and seconds of computing, which wear off at ``SHARE``
    seconds a second."""

    at_work: int = 0
    seconds: float = 0.0
    at: float = 0.0

    def worn_off(self, now: float) -> float:
        """Return the seconds that still count."""
        return max(0.0, self.seconds - SHARE * (now - self.at))

    def over(self, now: float) -> int:
        """Return the seconds to wait until the share is kept again; 0 where it is."""
        return math.ceil(max(0.0, self.worn_off(now) - BURST) / SHARE)

    def add(self, seconds: float, now: float) -> None:
        """Count the computing of a request that is done."""
        self.at_work -= 1
        self.seconds, self.at = self.worn_off(now) + seconds, now


@dataclass
class Lately:
    """The caller who asked last, another before, and when: (caller, monotonic seconds)."""

    last: tuple[str, float] = ("", -math.inf)
    before: tuple[str, float] = ("", -math.inf)

    def asks(self, who: str, now: float) -> None:
        """Note that somebody asks for something."""
        if who != self.last[0]:
            self.before = self.last
        self.last = (who, now)

    def has_another(self, who: str, now: float) -> bool:
        """Return whether somebody else asked for something within the last moments."""
        _, at = self.before if who == self.last[0] else self.last
        return now - at < LATELY


class FairShareMiddleware:
    """Gives each caller a share of a worker and no more: a few requests at work, and of the computing what
    ``limits`` says.  A caller is a session, or an address without one.

    A request beyond the share is refused at once and asked to come again.  Nothing waits here: a waiting
    request holds a thread that others need.  Computing that nobody else asks for is not rationed."""

    def __init__(self, get_response: Answering) -> None:
        self.get_response = get_response
        self.used: dict[str, Used] = {}
        self.lately = Lately()
        self.changing = threading.Lock()

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer, or ask to come again."""
        if not request.path.startswith("/api/"):
            return self.get_response(request)  # a page is one file, the same for everybody
        who = key_of(request) or network_of(request)
        wait = self.enter(who)
        if wait is not None:
            answer = told(request, 429)
            if wait:
                answer["Retry-After"] = str(wait)
            return answer
        begun = time.thread_time()
        try:
            return self.get_response(request)
        finally:
            self.leave(who, time.thread_time() - begun)

    def enter(self, who: str) -> int | None:
        """Return None where the request may be answered now, else the seconds to wait; 0 for a moment."""
        now = time.monotonic()
        with self.changing:
            used = self.used.setdefault(who, Used(at=now))
            self.lately.asks(who, now)
            most = AT_ONCE if used.worn_off(now) < LITTLE else AT_ONCE_OF_MANY
            if used.at_work >= most:
                return 0
            if (over := used.over(now)) and self.lately.has_another(who, now):
                return over
            used.at_work += 1
            return None

    def leave(self, who: str, seconds: float) -> None:
        """Count a request that is done."""
        if seconds > LONG:
            _give_memory_back()
        now = time.monotonic()
        with self.changing:
            self.used[who].add(seconds, now)
            if len(self.used) > MOST_CALLERS:
                idle = [name for name, u in self.used.items() if not u.at_work and not u.worn_off(now)]
                for name in idle:
                    del self.used[name]


LONG = 0.4
"""Seconds of computing after which a request is taken to have used much memory."""


def _give_memory_back() -> None:
    """Give memory that a long request has freed back to the system: the C library keeps it otherwise, in
    pieces, for each thread."""
    trim = getattr(ctypes.CDLL(None), "malloc_trim", None)  # glibc's own
    if trim is not None:
        trim(0)


MOST_CALLERS = 2_000
"""Callers that are remembered before those that use nothing are forgotten."""


class StaticFilesMiddleware(WhiteNoiseMiddleware):
    """The application's own files.  Its page isn't one of them: it goes through all that a page goes through,
    and takes the policy's nonce."""

    def add_file_to_dictionary(self, url: str, path: str, stat_cache: object = None) -> None:
        """Add every file but pages."""
        if not url.endswith((".html", ".html.gz", ".html.br")):
            super().add_file_to_dictionary(url, path, stat_cache)

    def serve(self, static_file: Any, request: HttpRequest) -> Any:
        """Return one that a new build has taken away under the running server isn't there, as any other."""
        try:
            return super().serve(static_file, request)
        except FileNotFoundError:
            return told(request, 404)

    def add_mime_headers(self, headers: Any, path: str, url: str) -> None:
        """Add headers so that a file shown by itself may do nothing."""
        super().add_mime_headers(headers, path, url)
        headers["Content-Security-Policy"] = (
            "default-src 'none'; style-src 'unsafe-inline'; sandbox; frame-ancestors 'none'"
        )
