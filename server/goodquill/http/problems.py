"""Errors as they leave: every one as ``application/problem+json``, wherever in the server it arises.

``again`` says whether the same request may well be answered if it is sent again; screens keep trying only
then.
"""

from __future__ import annotations

import logging
import re
import sys
from collections.abc import Callable, Iterator
from typing import TYPE_CHECKING, Any

from django.core.exceptions import PermissionDenied, RequestDataTooBig, SuspiciousOperation
from django.db import DatabaseError, InterfaceError, OperationalError
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from quillcore.values import Fault
from rest_framework import exceptions, status
from rest_framework.response import Response
from rest_framework.settings import api_settings

if TYPE_CHECKING:
    from goodquill.http import wire

log = logging.getLogger(__name__)
KIND = "application/problem+json"
_AGAIN = {429, 502, 503, 504}


class WithoutAddresses(logging.Filter):
    """Keeps what names a deal, a client or a link out of the log: Django writes the address of what it
    refuses."""

    def filter(self, record: logging.LogRecord) -> bool:
        """Shorten the texts in the record; every record is written."""
        if isinstance(record.args, tuple):
            record.args = tuple(_NAMED.sub("…", a) if isinstance(a, str) else a for a in record.args)
        return True


_NAMED = re.compile(r"[0-9a-f]{8}-[0-9a-f-]{27}|[0-9a-f]{32,}|\?.*")
"""Ids, secrets and queries."""


class Refusal(exceptions.APIException):
    """A request that can't be carried out, in words for the user: what happened, what is safe, what to do.

    ``again`` is whether sending the same once more can help, ``wait`` the seconds after which.
    """

    status_code: int = status.HTTP_400_BAD_REQUEST

    def __init__(
        self,
        message: str,
        mend: str = "",
        rule: str = "refused",
        code: int = 400,
        again: bool | None = None,
        wait: int | None = None,
    ) -> None:
        super().__init__(message)
        self.status_code = code
        self.extra = {"mend": mend, "rule": rule, "again": code in _AGAIN if again is None else again}
        self.seconds = wait

    @classmethod
    def of(cls, fault: Fault, code: int = 400, safe: str = "") -> Refusal:
        """Return a fault of the core's; ``safe`` says what wasn't changed by it."""
        busy = fault.rule == "busy"
        mend = " ".join(part for part in (fault.mend, safe) if part)
        return cls(fault.message, mend, fault.rule, 503 if busy else code, wait=2 if busy else None)


def problem(error: Exception, context: dict[str, Any]) -> Response | None:
    """Handle errors for DRF: title, status, detail, mend, rule, again, and errors by field."""
    if isinstance(error, (OperationalError, InterfaceError)):
        log.warning("database: error %s", error.args[0] if error.args else "")
        error = Refusal(
            "The database can't be reached.",
            "Your work is kept here. Try again in a moment.",
            "database",
            503,
        )
    elif isinstance(error, DatabaseError):
        # Only what a check before should have caught; the request was rolled back, and whoever sent it can
        # mend it.
        log.error("database refused a value: error %s", error.args[0] if error.args else "")
        error = Refusal("Something in the request can't be saved.", "Nothing was changed.", "value")
    elif isinstance(error, RequestDataTooBig):
        error = Refusal("The request is too large.", "Nothing was changed.", "size", 413)
    if isinstance(error, (Http404, PermissionDenied)):
        error = exceptions.NotFound("This doesn't exist, or you can't see it.")
    if not isinstance(error, exceptions.APIException):
        return None
    body: dict[str, Any] = {**shape(type(error).__name__, error.status_code)}
    if isinstance(error, exceptions.ValidationError):
        detail, mend = _in_words(error.detail)
        body |= {"detail": detail, "mend": mend, "errors": _by_field(error.detail)}
    else:
        body |= {"detail": str(error.detail), **getattr(error, "extra", {})}
    headers = {"WWW-Authenticate": said} if (said := getattr(error, "auth_header", None)) else {}
    wait = getattr(error, "seconds", None) or getattr(error, "wait", None)
    if wait:
        headers["Retry-After"] = str(round(wait))
    return Response(body, error.status_code, content_type=KIND, headers=headers)


def shape(title: str, code: int, detail: str = "", mend: str = "", rule: str = "") -> wire.Problem:
    """Return the members that every problem has."""
    return {
        "title": title,
        "status": code,
        "detail": detail,
        "mend": mend,
        "rule": rule,
        "again": code in _AGAIN,
    }


def _by_field(detail: Any) -> dict[str, Any]:
    return detail if isinstance(detail, dict) else {"": detail}


def _in_words(detail: Any) -> tuple[str, str]:
    """Return what doesn't fit, by the name of its field, and what to do."""
    found = list(_leaves(detail))
    name, wrong = found[0] if found else ("", "")
    others = f" The same applies to {len(found) - 1} more." if len(found) > 1 else ""
    called = f"“{name.replace('_', ' ').capitalize()}”" if name else "A value"
    code, most = getattr(wrong, "code", ""), re.search(r"\d+", str(wrong))
    if code == "max_length" and most:
        said, mend = f"{called} is too long: at most {int(most[0]):,} characters.", "Make it shorter."
    elif code in ("required", "null", "blank", "empty"):
        said, mend = f"{called} is missing.", "Fill it in."
    else:
        said, mend = f"{called} doesn't fit. {wrong}".strip(), "Check it and try again."
    return said + others, f"{mend} Nothing was changed, and what you typed is still here."


def _leaves(detail: Any, name: str = "") -> Iterator[tuple[str, Any]]:
    """Yield each error with the name of the field that it is about; an item of a list is named as its list
    is."""
    if isinstance(detail, dict):
        for key, below in detail.items():
            is_named = isinstance(key, str) and key != api_settings.NON_FIELD_ERRORS_KEY
            yield from _leaves(below, key if is_named else name)
    elif isinstance(detail, list):
        for below in detail:
            yield from _leaves(below, name)
    else:
        yield name, detail


_SAID = {
    400: ("The request can't be read.", "Nothing was changed. Reload the page."),
    403: (
        "Your session has changed.",
        "Your work is kept. Reload the page.",
    ),
    404: ("This address doesn't exist.", ""),
    405: ("This address doesn't accept this request.", ""),
    413: ("The request is too large.", "Nothing was changed."),
    429: ("Too many requests at once.", "Your work is kept. Wait a moment and try again."),
    503: ("The database can't be reached.", "Your work is kept here. Try again in a moment."),
    500: (
        "Something went wrong.",
        "Nothing was changed. We were notified. Try again.",
    ),
}


class ProblemsMiddleware:
    """Middleware, outermost of those that answer: what isn't a problem document yet becomes one, for the API
    as JSON, for a page as a few plain lines."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer."""
        answer = self.get_response(request)
        if answer.status_code < 400 or answer.get("Content-Type", "").startswith(KIND):
            return answer
        return told(request, answer.status_code, answer)


def told(request: HttpRequest, code: int, before: HttpResponse | None = None) -> HttpResponse:
    """Return the problem of that status: JSON under /api/, a plain page elsewhere.  ``before`` lends its
    headers."""
    detail, mend = _SAID.get(code, ("The request wasn't answered.", "Try again in a moment."))
    if request.path.startswith("/api/"):
        answer: HttpResponse = JsonResponse(
            shape("Problem", code, detail, mend), status=code, content_type=KIND
        )
    else:
        answer = HttpResponse(f"{detail} {mend}\n", status=code, content_type="text/plain; charset=utf-8")
    for name in ("Retry-After", "WWW-Authenticate", "Allow"):
        if before is not None and name in before:
            answer[name] = before[name]
    return answer


def bad_request(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    """Answer what Django's middleware refuses: hosts, sizes, numbers of fields."""
    too_big = isinstance(exception, RequestDataTooBig)
    if isinstance(exception, SuspiciousOperation):
        log.warning("refused: %s", type(exception).__name__)
    return told(request, 413 if too_big else 400)


def forbidden(request: HttpRequest, exception: Exception | None = None, reason: str = "") -> HttpResponse:
    """Answer refused permissions, and requests without the CSRF token."""
    return told(request, 403)


def not_found(request: HttpRequest, exception: Exception | None = None) -> HttpResponse:
    """Return an address that there isn't."""
    return told(request, 404)


def failed(request: HttpRequest) -> HttpResponse:
    """Return a fault of ours; or the database went away while a middleware asked it."""
    return told(request, 503 if isinstance(sys.exc_info()[1], (OperationalError, InterfaceError)) else 500)
