"""Links to a round, each for one of its signers (see ``goodquill.http.linked``)."""

from __future__ import annotations

from datetime import timedelta
from uuid import UUID

from django.conf import settings
from django.http import HttpResponse
from django.utils import timezone
from django.utils.crypto import constant_time_compare
from rest_framework.request import Request

from goodquill.http import linked
from goodquill.http.endpoints import Refusal
from goodquill.signing.models import Signer

PURPOSE, COOKIE, KNOWN = "signing", "signer", "known"
GOOD_FOR = timedelta(days=30)
"""The time for which a link shows the papers once its round has ended: everybody has their copy by then, and
a mailbox that somebody else opens in two years leads to no contract."""
KEPT = 30 * 24 * 3600
"""Seconds that a device is known: a disclosure is filled in over some weeks.  The link opens it anew."""


def secret_of(signer: Signer) -> str:
    """Return what opens a signer's round."""
    return linked.secret_of(PURPOSE, signer.pk, signer.link)


def address_of(signer: Signer) -> str:
    """Return the link itself."""
    return f"{settings.SITE_URL}/sign#{signer.pk}.{secret_of(signer)}"


def open_by(signer_id: UUID, secret: str) -> Signer:
    """Return the signer whose newest link that is.  Refused otherwise."""
    signer = Signer.objects.select_related("round").filter(pk=signer_id).first()
    if signer is None:
        raise linked.no_link()
    linked.check(PURPOSE, signer.pk, signer.link, secret)
    return signer


def keep(answer: HttpResponse, signer: Signer, stays: bool = True) -> None:
    """Let this browser go on as that signer; on somebody else's device only until it is closed."""
    linked.keep(answer, COOKIE, secret_of(signer), f"/api/sign/{signer.pk}", KEPT if stays else None)


def keep_known(answer: HttpResponse, signer: Signer, stays: bool = True) -> None:
    """Note in this browser that the signer has passed the second step."""
    linked.keep(answer, KNOWN, _known(signer), f"/api/sign/{signer.pk}", KEPT if stays else None)


def has_ended(signer: Signer) -> bool:
    """Return whether the signer's link shows nothing any more: a while after the round has ended, until
    they ask for a new one."""
    ended = signer.round.ended
    return ended is not None and timezone.now() - max(ended, signer.renewed or ended) > GOOD_FOR


def _known(signer: Signer) -> str:
    return linked.secret_of("signing.known", signer.pk, signer.link)


def is_known(request: Request, signer: Signer) -> bool:
    """Return whether no second step is wanted of this browser any more."""
    return signer.round.second_step == "none" or constant_time_compare(
        request.COOKIES.get(KNOWN, ""), _known(signer)
    )


def link_of(request: Request, signer_id: UUID) -> Signer:
    """Return whose link was opened in this browser, second step or not; nobody else is told that there is
    such a round."""
    return open_by(signer_id, request.COOKIES.get(COOKIE, ""))


def signer_of(request: Request, signer_id: UUID) -> Signer:
    """Return who asks: known by the cookie of an opened link, and by the second step where one is wanted."""
    signer = link_of(request, signer_id)
    if has_ended(signer):
        raise Refusal("This link has expired.", "Open it again and ask for a new one.", "ended", 410)
    if not is_known(request, signer):
        raise Refusal(
            "Enter the code from your e-mail first.", "Open the link in the e-mail again.", "code", 403
        )
    return signer
