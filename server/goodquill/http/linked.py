"""Links for people without an account: long, for one thing, and kept nowhere.

The secret follows from the installation's key, what the link is for and how many links that had: so a
letter sent again can bear the same link, a new one makes the old one worthless, and no table holds what opens
anything.  It stands behind a #, which browsers send to nobody; it comes in the body of one request, and from
then on in a cookie that goes to that thing's own addresses alone.
"""

from __future__ import annotations

from uuid import UUID

from django.conf import settings
from django.http import HttpResponse
from django.utils.crypto import constant_time_compare, salted_hmac

from goodquill.http.problems import Refusal


def secret_of(purpose: str, thing: UUID, number: int) -> str:
    """Return what opens the thing by its link of that number."""
    return salted_hmac(f"goodquill.{purpose}.link", f"{thing}:{number}", algorithm="sha256").hexdigest()


def check(purpose: str, thing: UUID, newest: int, secret: str) -> None:
    """Refuse what isn't the newest link's secret, an earlier one's in words of its own."""
    if constant_time_compare(secret, secret_of(purpose, thing, newest)):
        return
    if any(constant_time_compare(secret, secret_of(purpose, thing, n)) for n in range(1, newest)):
        raise Refusal(
            "This link was replaced by a newer one.",
            "Open the newest e-mail about these papers, or ask the agent.",
            "old link",
            410,
        )
    raise no_link()


def no_link() -> Refusal:
    """Return the refusal that nothing is behind a link; it doesn't tell whether there ever was."""
    return Refusal(
        "This link doesn't work.",
        "Open the whole link from the e-mail, or ask the agent for a new one.",
        "link",
        404,
    )


def keep(answer: HttpResponse, cookie: str, secret: str, path: str, seconds: int | None) -> None:
    """Let a browser go on by that link, at those addresses; without ``seconds`` until it is closed."""
    answer.set_cookie(
        cookie,
        secret,
        max_age=seconds,
        path=path,
        httponly=True,
        secure=settings.SESSION_COOKIE_SECURE,
        samesite="Strict",
    )
