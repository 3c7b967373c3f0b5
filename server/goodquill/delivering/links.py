"""Links to papers that were delivered, each for one recipient (see ``goodquill.http.linked``)."""

from __future__ import annotations

from uuid import UUID

from django.conf import settings
from django.http import HttpResponse
from django.utils import timezone
from rest_framework.request import Request

from goodquill.delivering.models import Recipient
from goodquill.http import linked
from goodquill.http.endpoints import Refusal

PURPOSE, COOKIE = "delivering", "papers"
KEPT = 24 * 3600
"""Seconds that a browser is known; the link opens the papers anew."""


def secret_of(person: Recipient) -> str:
    """Return what opens a delivery for one of its recipients."""
    return linked.secret_of(PURPOSE, person.pk, 1)


def address_of(person: Recipient) -> str:
    """Return the link itself."""
    return f"{settings.SITE_URL}/papers#{person.pk}.{secret_of(person)}"


def open_by(recipient: UUID, secret: str) -> Recipient:
    """Return the recipient whose link that is; noted when it was opened first.  Refused once it has ended."""
    rows = Recipient.objects.select_related("delivery__by__brokerage", "delivery__deal")
    person = rows.filter(pk=recipient, delivery__how="link").first()
    if person is None:
        raise linked.no_link()
    linked.check(PURPOSE, person.pk, 1, secret)
    ends = person.delivery.ends
    if ends is not None and ends <= timezone.now():
        raise Refusal(
            "This link has expired.", f"Ask {person.delivery.by.name} to send the papers again.", "ended", 410
        )
    if person.opened is None:
        person.opened = timezone.now()
        person.save(update_fields=["opened"])
    return person


def keep(answer: HttpResponse, person: Recipient) -> None:
    """Let this browser see the papers for a while."""
    linked.keep(answer, COOKIE, secret_of(person), f"/api/papers-for/{person.pk}", KEPT)


def recipient_of(request: Request, recipient: UUID) -> Recipient:
    """Return who asks, known by the cookie of an opened link."""
    return open_by(recipient, request.COOKIES.get(COOKIE, ""))
