"""What stands around every request: whose address it comes from, how large it may be, and what every answer carries."""

from __future__ import annotations

import threading
from collections import Counter
from collections.abc import Callable
from typing import Any

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.utils.cache import patch_vary_headers
from whitenoise.middleware import WhiteNoiseMiddleware

from goodquill.limits import AT_ONCE, MOST_BEFORE_SIGN_IN, MOST_JSON, MOST_UPLOAD
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
    """What every answer carries, a file's and an error's too.  What the API says is private: nobody keeps it, unless the
    endpoint says otherwise."""

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
    """The address that a request comes from, behind our own proxy: the proxy says it and overwrites whatever a stranger wrote
    there.  Without a proxy nothing is believed."""

    def __init__(self, get_response: Answering) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer."""
        if settings.BEHIND_PROXY:
            request.META["REMOTE_ADDR"] = request.META.get("HTTP_X_REAL_IP") or "0.0.0.0"
        return self.get_response(request)


class Sizes:
    """A request's size is looked at before a byte of it is read: nobody's may have a few thousand bytes."""

    def __init__(self, get_response: Answering) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer, or refuse."""
        said = request.META.get("CONTENT_LENGTH") or "0"
        size = int(said) if said.isascii() and said.isdigit() and len(said) < 12 else MOST_UPLOAD + 1
        is_file = request.META.get("CONTENT_TYPE", "").startswith("multipart/")
        most = MOST_UPLOAD if is_file else MOST_JSON
        if settings.SESSION_COOKIE_NAME not in request.COOKIES:
            most = MOST_BEFORE_SIGN_IN
        return told(request, 413) if size > most else self.get_response(request)


class Fair:
    """One session has no more than a few requests at work in a worker; a further one is asked to come again at once.  So whoever
    opens sixty-four connections has the same share as everybody else."""

    def __init__(self, get_response: Answering) -> None:
        self.get_response = get_response
        self.at_work: Counter[str] = Counter()
        self.lock = threading.Lock()

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer, or ask to wait."""
        who = request.COOKIES.get(settings.SESSION_COOKIE_NAME, "") or request.META.get("REMOTE_ADDR", "")
        with self.lock:
            full = self.at_work[who] >= AT_ONCE
            self.at_work[who] += not full
        if full:
            answer = told(request, 429)
            answer["Retry-After"] = "1"
            return answer
        try:
            return self.get_response(request)
        finally:
            with self.lock:
                self.at_work[who] -= 1
                if not self.at_work[who]:
                    del self.at_work[who]


class Files(WhiteNoiseMiddleware):
    """The application's own files.  Its page isn't one of them: it goes through all that a page goes through, and takes
    the policy's nonce."""

    def add_file_to_dictionary(self, url: str, path: str, stat_cache: object = None) -> None:
        """Every file but pages."""
        if not url.endswith((".html", ".html.gz", ".html.br")):
            super().add_file_to_dictionary(url, path, stat_cache)

    def add_mime_headers(self, headers: Any, path: str, url: str) -> None:
        """A file shown by itself may do nothing."""
        super().add_mime_headers(headers, path, url)
        headers["Content-Security-Policy"] = "default-src 'none'; style-src 'unsafe-inline'; sandbox; frame-ancestors 'none'"
