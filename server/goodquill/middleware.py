"""What stands around every request: whose address it comes from, how large it may be, and what every answer
carries."""

from __future__ import annotations

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
from quillcore.signing.verifying import SEALED
from quillcore.values import clock
from quillcore.values.structured import digits
from whitenoise.middleware import WhiteNoiseMiddleware

from goodquill.limits import (
    AT_ONCE,
    BURST,
    LATELY,
    MOST_BEFORE_SIGN_IN,
    MOST_BY_LINK,
    MOST_JSON,
    MOST_UPLOAD,
    PICTURES_AT_ONCE,
    SHARE,
    TURN,
    WAITING_AT_ONCE,
)
from goodquill.problems import told

Answering = Callable[[HttpRequest], HttpResponse]

HEADERS = {
    "Permissions-Policy": "camera=(), microphone=(), geolocation=(), payment=(), usb=(), interest-cohort=()",
    "Cross-Origin-Resource-Policy": "same-origin",
    "Cross-Origin-Opener-Policy": "same-origin",
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "same-origin",
}


class Headers:
    """What every answer carries, a file's and an error's too.  What the API says is private: nobody keeps it,
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


class Address:
    """The address that a request comes from, behind our own proxy: the proxy says it and overwrites whatever
    a stranger wrote there.  Without a proxy nothing is believed."""

    def __init__(self, get_response: Answering) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer."""
        if settings.BEHIND_PROXY:
            request.META["REMOTE_ADDR"] = request.META.get("HTTP_X_REAL_IP") or "0.0.0.0"
        return self.get_response(request)


class Days:
    """A request's days are those of whoever sent it: screens say in which time zone they are, so that "today"
    and "fri" are meant there.  What is no time zone is as if nothing had been said."""

    def __init__(self, get_response: Answering) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer."""
        with clock.in_zone(clock.zone_named(request.META.get("HTTP_TIME_ZONE", ""))):
            return self.get_response(request)


class Sizes:
    """A request's size is looked at before a byte of it is read: nobody's may have a few thousand bytes."""

    def __init__(self, get_response: Answering) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer, or refuse."""
        said = digits(request.META.get("CONTENT_LENGTH") or "0", most=11)
        size = said if said is not None else MOST_UPLOAD + 1
        is_file = request.META.get("CONTENT_TYPE", "").startswith("multipart/")
        most = MOST_UPLOAD if is_file else MOST_JSON
        if settings.SESSION_COOKIE_NAME not in request.COOKIES:
            most = most_of_strangers(request.path)
        return told(request, 413) if size > most else self.get_response(request)


def most_of_strangers(path: str) -> int:
    """The bytes of a request that nobody signed in may send: to signers' pages a drawn signature, to the page
    that checks files a file."""
    if path == "/api/verify":
        return SEALED.most_bytes + 1_000_000
    return MOST_BY_LINK if path.startswith("/api/sign/") else MOST_BEFORE_SIGN_IN


@dataclass
class Used:
    """What one session uses of a worker: requests at work, and seconds of computing that are not worn off
    yet."""

    at_work: int = 0
    waiting: int = 0
    seconds: float = 0.0
    at: float = 0.0

    def worn_off(self, now: float) -> float:
        """The seconds that still count."""
        return max(0.0, self.seconds - SHARE * (now - self.at))


@dataclass
class Lately:
    """Which session asked last, which other one before it, and when: (session, monotonic seconds)."""

    last: tuple[str, float] = ("", -math.inf)
    before: tuple[str, float] = ("", -math.inf)

    def asks(self, who: str, now: float) -> None:
        """A session asks for something."""
        if who != self.last[0]:
            self.before = self.last
        self.last = (who, now)

    def has_another(self, who: str, now: float) -> bool:
        """Whether another session asked for something within the last moments."""
        _, at = self.before if who == self.last[0] else self.last
        return now - at < LATELY


class Fair:
    """One session has its share of a worker and no more: a few requests at work at the same time, and of its
    computing what ``limits`` says.  A further request is asked to come again, before it costs anything.  So
    whoever opens sixty-four connections, or asks for the dearest thing again and again, takes nothing away
    from everybody else.  Computing that nobody else asks for is nobody's loss: whoever is alone isn't made to
    wait, however slow the machine is."""

    def __init__(self, get_response: Answering) -> None:
        self.get_response = get_response
        self.used: dict[str, Used] = {}
        self.lately = Lately()
        self.free = threading.Condition()

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer, or ask to wait."""
        who = request.COOKIES.get(settings.SESSION_COOKIE_NAME, "")
        if not who or not request.path.startswith("/api/"):
            # A page is one file, the same for everybody.  Nobody's requests are counted by the proxy, and by
            # the tries at signing in.
            return self.get_response(request)
        wait = self.enter(who, PICTURES_AT_ONCE if _is_fixed(request.path) else AT_ONCE)
        if wait:
            answer = told(request, 429)
            answer["Retry-After"] = str(wait)
            return answer
        begun = time.thread_time()
        try:
            return self.get_response(request)
        finally:
            self.leave(who, time.thread_time() - begun)

    def enter(self, who: str, most: int) -> int:
        """0 where it may be answered now, else the seconds to wait.  A few wait here for their turn, a moment
        and no longer: what one screen asks for at once is answered one after the other, and is rarely asked
        to come again."""
        now = time.monotonic()
        with self.free:
            used = self.used.setdefault(who, Used(at=now))
            self.lately.asks(who, now)
            over = used.worn_off(now) - BURST
            if over > 0 and self.lately.has_another(who, now):
                return math.ceil(over / SHARE)
            if used.at_work >= most:
                if used.waiting >= WAITING_AT_ONCE:
                    return 1
                used.waiting += 1
                came_free = self.free.wait_for(lambda: used.at_work < most, timeout=TURN)
                used.waiting -= 1
                if not came_free:
                    return 1
            used.at_work += 1
            return 0

    def leave(self, who: str, seconds: float) -> None:
        """A request of theirs is done."""
        if seconds > LONG:
            _give_memory_back()
        now = time.monotonic()
        with self.free:
            used = self.used[who]
            used.at_work -= 1
            self.free.notify_all()
            used.seconds, used.at = used.worn_off(now) + seconds, now
            if len(self.used) > MOST_SESSIONS:
                idle = [
                    name
                    for name, u in self.used.items()
                    if not u.at_work and not u.waiting and not u.worn_off(now)
                ]
                for name in idle:
                    del self.used[name]


def _is_fixed(path: str) -> bool:
    """Whether what is asked for never changes and costs little: pages' pictures and words, what forms and the
    catalog fix. Opening a deal asks for several at once, the first time."""
    return path.endswith((".png", "/words")) or path.startswith(("/api/layouts/", "/api/catalog/"))


LONG = 0.4
"""Seconds of computing after which a request is taken to have used much memory."""


def _give_memory_back() -> None:
    """What a long request has freed goes back to the system: the C library keeps it otherwise, in pieces, for
    each thread."""
    trim = getattr(ctypes.CDLL(None), "malloc_trim", None)  # glibc's own
    if trim is not None:
        trim(0)


MOST_SESSIONS = 2_000
"""Sessions that are remembered before those that use nothing are forgotten."""


class Files(WhiteNoiseMiddleware):
    """The application's own files.  Its page isn't one of them: it goes through all that a page goes through,
    and takes the policy's nonce."""

    def add_file_to_dictionary(self, url: str, path: str, stat_cache: object = None) -> None:
        """Every file but pages."""
        if not url.endswith((".html", ".html.gz", ".html.br")):
            super().add_file_to_dictionary(url, path, stat_cache)

    def serve(self, static_file: Any, request: HttpRequest) -> Any:
        """One that a new build has taken away under the running server isn't there, as any other."""
        try:
            return super().serve(static_file, request)
        except FileNotFoundError:
            return told(request, 404)

    def add_mime_headers(self, headers: Any, path: str, url: str) -> None:
        """A file shown by itself may do nothing."""
        super().add_mime_headers(headers, path, url)
        headers["Content-Security-Policy"] = (
            "default-src 'none'; style-src 'unsafe-inline'; sandbox; frame-ancestors 'none'"
        )
