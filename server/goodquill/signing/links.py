"""Links to a round, each for one of its signers (see ``goodquill.linked``)."""

from __future__ import annotations

from uuid import UUID

from django.conf import settings
from django.http import HttpResponse
from rest_framework.request import Request

from goodquill import linked
from goodquill.signing.models import Signer

PURPOSE, COOKIE = "signing", "signer"
KEPT = 30 * 24 * 3600
"""Seconds that a device is known: a disclosure is filled in over some weeks.  The link opens it anew."""


def secret_of(signer: Signer) -> str:
    """What opens a signer's round."""
    return linked.secret_of(PURPOSE, signer.pk, signer.link)


def address_of(signer: Signer) -> str:
    """The link itself."""
    return f"{settings.SITE_URL}/sign#{signer.pk}.{secret_of(signer)}"


def open_by(signer_id: UUID, secret: str) -> Signer:
    """The signer whose newest link that is.  Refused otherwise."""
    signer = Signer.objects.select_related("round").filter(pk=signer_id).first()
    if signer is None:
        raise linked.no_link()
    linked.check(PURPOSE, signer.pk, signer.link, secret)
    return signer


def keep(answer: HttpResponse, signer: Signer, stays: bool = True) -> None:
    """Let this browser go on as that signer; on somebody else's device only until it is closed."""
    linked.keep(answer, COOKIE, secret_of(signer), f"/api/sign/{signer.pk}", KEPT if stays else None)


def signer_of(request: Request, signer_id: UUID) -> Signer:
    """Who asks, known by the cookie of an opened link; nobody else is told that there is such a round."""
    return open_by(signer_id, request.COOKIES.get(COOKIE, ""))
