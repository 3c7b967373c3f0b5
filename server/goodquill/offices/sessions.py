"""The store of sessions: the database alone, so that one that has ended is ended in every worker at once.

This module is Django's SESSION_ENGINE.  A session ends by itself after a time without its user
(SESSION_COOKIE_AGE); the questions that an open window asks by itself don't count as its user.
"""

from __future__ import annotations

from collections.abc import Callable
from datetime import timedelta
from typing import Any

from django.conf import settings
from django.contrib.auth import SESSION_KEY
from django.contrib.sessions.backends.db import SessionStore as DatabaseStore
from django.contrib.sessions.middleware import SessionMiddleware
from django.http import HttpRequest, HttpResponse
from django.utils import timezone

from goodquill.http.callers import is_ours, new_key
from goodquill.offices.models import Session

RENEWED_AFTER = timedelta(minutes=5)
"""A session's row is written at most so often, however much its user does."""


class SessionStore(DatabaseStore):
    """Sessions with their user, device and times."""

    kept: Session | None = None

    @classmethod
    def get_model_class(cls) -> type[Session]:
        """Return the table."""
        return Session

    def _get_new_session_key(self) -> str:
        return new_key()

    def _validate_session_key(self, key: str | None) -> bool:
        """Keep a made-up key from reaching the database."""
        return bool(key) and is_ours(str(key))

    def _get_session_from_db(self) -> Session | None:
        self.kept = super()._get_session_from_db()  # type: ignore[misc]  # Django's own, which its stubs leave out
        return self.kept

    def create_model_instance(self, data: dict[str, Any]) -> Session:
        """Return the row to be saved."""
        row = super().create_model_instance(data)
        assert isinstance(row, Session)
        row.user_id = data.get(SESSION_KEY)
        row.device, row.address = data.get("device", ""), data.get("address", "")
        row.began = self.kept.began if self.kept is not None and self.kept.user_id else timezone.now()
        return row

    @property
    def is_worn(self) -> bool:
        """Whether its row says an older hour than it should."""
        if self.kept is None:
            return False
        return (
            self.kept.expire_date
            < timezone.now() + timedelta(seconds=settings.SESSION_COOKIE_AGE) - RENEWED_AFTER
        )


class Sessions(SessionMiddleware):
    """Django's, and renewing the session of somebody who does something."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        super().__init__(get_response)

    def process_response(self, request: HttpRequest, response: HttpResponse) -> HttpResponse:
        """Save what has changed."""
        session = request.session
        assert isinstance(session, SessionStore)
        asks_by_itself = request.method == "GET" and request.path.endswith("/changes")
        was_read = (
            session.kept is not None
        )  # while the database is away there is nothing to renew, nor to read again
        if was_read and not asks_by_itself and SESSION_KEY in session and session.is_worn:
            session.modified = True
        return super().process_response(request, response)
