"""Requests that are carried out once: under a key of their sender's, and long requests a few at a time.

A screen gives every action that makes something a key (the header Idempotency-Key, a UUID) and keeps it over
retries. The key is taken in the transaction of the action itself: either both are there or neither, and a
repetition that arrives while the first is still at work waits for it.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from datetime import timedelta
from functools import wraps
from typing import Any, TypeVar, cast
from uuid import UUID

from django.core.files.uploadedfile import UploadedFile
from django.db import DatabaseError, IntegrityError, connection, transaction
from django.http import HttpResponse
from django.utils import timezone
from rest_framework.response import Response
from rest_framework.throttling import UserRateThrottle
from rest_framework.utils.encoders import JSONEncoder

from goodquill.http.limits import DEAR_A_MINUTE, DEAR_AT_ONCE
from goodquill.http.problems import Refusal
from goodquill.offices.models import Done, User
from goodquill.offices.requests import MemberRequest

KEPT = timedelta(days=7)
"""The time for which a repetition is recognised: a laptop may be closed over a long weekend."""
View = TypeVar("View", bound=Callable[..., HttpResponse])
"""A view's method."""


def once(view: View) -> View:
    """Return a view's method, done once for each key.  Without a key it is done as often as it is asked."""

    @wraps(view)
    def run(self: Any, request: MemberRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        key = _key(request)
        if key is None:
            return view(self, request, *args, **kwargs)
        digest = _digest(request)
        with transaction.atomic():
            mine, before = _take(request.user, key, digest)
            if before is not None:
                return Response(json.loads(before.answer or "null"), before.status)
            answer = view(self, request, *args, **kwargs)
            assert isinstance(answer, Response), "a file is made each time it is requested"
            mine.status, mine.answer = answer.status_code, json.dumps(answer.data, cls=JSONEncoder)
            mine.save(update_fields=["status", "answer"])
        return answer

    return cast(View, run)


def _key(request: MemberRequest) -> UUID | None:
    said = request.headers.get("Idempotency-Key")
    if said is None:
        return None
    try:
        return UUID(said)
    except ValueError as trouble:
        raise Refusal(
            "This request can't be read.", "Nothing was changed. Reload the page.", "key"
        ) from trouble


def _digest(request: MemberRequest) -> str:
    said = hashlib.sha256(f"{request.method} {request.get_full_path()}\n".encode("utf-8", "replace"))
    for name in sorted(request.data) if hasattr(request.data, "keys") else []:
        value = request.data[name]
        said.update(f"{name}:".encode("utf-8", "replace"))
        if isinstance(value, UploadedFile):
            for part in value.chunks():
                said.update(part)
            value.seek(0)
        else:
            said.update(json.dumps(value, sort_keys=True, default=str).encode())
    return said.hexdigest()


def _take(user: User, key: UUID, digest: str) -> tuple[Done, Done | None]:
    """Return a key newly taken, or what was done under it before."""
    try:
        with transaction.atomic():
            return Done.objects.create(user=user, key=key, digest=digest), None
    except IntegrityError:
        before = Done.objects.select_for_update().get(user=user, key=key)
    if before.digest != digest:
        raise Refusal(
            "This request was already sent with different content.",
            "Reload the page; nothing was changed by this one.",
            "repeated",
            422,
        )
    return before, before


def forget_old() -> int:
    """Drop what is too old to be repeated; gives how many."""
    return int(Done.objects.filter(at__lt=timezone.now() - KEPT).delete()[0])


class ExpensiveRate(UserRateThrottle):
    """The most long requests of one member in a minute."""

    scope = "dear"
    rate = f"{DEAR_A_MINUTE}/min"


def expensive(view: View) -> View:
    """Return a view's method that works long: at most a few at once for one member, over all workers; a
    further one is asked to come back.  The database's named locks hold the places: one whose worker dies is
    free again.
    """

    @wraps(view)
    def run(self: Any, request: MemberRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        rate = ExpensiveRate()
        if not rate.allow_request(request, self):
            raise Refusal(
                "Too many requests in one minute.",
                "Nothing was lost. Wait a moment and try again.",
                "rate",
                429,
                wait=int(rate.wait() or 10),
            )
        with _place(request.user) as free:
            if not free:
                raise Refusal(
                    "Two of your requests are still running.",
                    "Wait until one is done and try again.",
                    "busy",
                    429,
                    wait=2,
                )
            return view(self, request, *args, **kwargs)

    return cast(View, run)


@contextmanager
def _place(user: User) -> Iterator[bool]:
    for number in range(DEAR_AT_ONCE):
        name = f"dear {user.pk} {number}"
        with connection.cursor() as cursor:
            cursor.execute("SELECT GET_LOCK(%s, 0)", [name])
            taken = cursor.fetchone()[0] == 1
        if taken:
            try:
                yield True
            finally:
                with (
                    suppress(DatabaseError),
                    connection.cursor() as cursor,
                ):  # a lost connection has given its places back
                    cursor.execute("SELECT RELEASE_LOCK(%s)", [name])
            return
    yield False
