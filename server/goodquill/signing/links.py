"""Links to a round: long, for one signer of one round, and kept nowhere.

The secret follows from the installation's key, the signer and how many links the signer had: so a reminder
can bear the same link, a new one makes the old one worthless, and no table holds what opens it.  It stands
behind a #, which browsers send to nobody; it comes in the body of one request, and from then on in a cookie
that goes to this signer's own addresses alone.
"""

from __future__ import annotations

from uuid import UUID

from django.conf import settings
from django.http import HttpResponse
from django.utils.crypto import constant_time_compare, salted_hmac
from rest_framework.request import Request

from goodquill.api import Refusal
from goodquill.signing.models import Signer

COOKIE = "signer"
KEPT = 30 * 24 * 3600
"""Seconds that a device is known: a disclosure is filled in over some weeks.  The link opens it anew."""


def secret_of(signer: Signer, link: int | None = None) -> str:
    """What opens a signer's round; ``link`` tells which of the signer's links, without it the newest."""
    named = f"{signer.pk}:{signer.link if link is None else link}"
    return salted_hmac("goodquill.signing.link", named, algorithm="sha256").hexdigest()


def address_of(signer: Signer) -> str:
    """The link itself."""
    return f"{settings.SITE_URL}/sign#{signer.pk}.{secret_of(signer)}"


def open_by(signer_id: UUID, secret: str) -> Signer:
    """The signer whose newest link that is.  Refused otherwise, an earlier one in words of its own."""
    signer = Signer.objects.select_related("round").filter(pk=signer_id).first()
    if signer is None:
        raise _no_link()
    if constant_time_compare(secret, secret_of(signer)):
        return signer
    if any(constant_time_compare(secret, secret_of(signer, n)) for n in range(1, signer.link)):
        raise Refusal(
            "This link was replaced by a newer one.",
            "Open the newest letter about these papers, or ask the agent.",
            "old link",
            410,
        )
    raise _no_link()


def keep(answer: HttpResponse, signer: Signer, stays: bool = True) -> None:
    """Let this browser go on as that signer; on somebody else's device only until it is closed."""
    answer.set_cookie(
        COOKIE,
        secret_of(signer),
        max_age=KEPT if stays else None,
        path=f"/api/sign/{signer.pk}",
        httponly=True,
        secure=settings.SESSION_COOKIE_SECURE,
        samesite="Strict",
    )


def signer_of(request: Request, signer_id: UUID) -> Signer:
    """Who asks, known by the cookie of an opened link; nobody else is told that there is such a round."""
    return open_by(signer_id, request.COOKIES.get(COOKIE, ""))


def _no_link() -> Refusal:
    return Refusal(
        "This link doesn't lead to any papers.",
        "Open it once more from the letter, whole; or ask the agent for a new one.",
        "link",
        404,
    )
