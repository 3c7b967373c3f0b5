"""Letters to be sent, and what became of them."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models
from django.utils import timezone


class LetterState(models.TextChoices):
    """The state of a letter. ``REFUSED``: the other side doesn't take it; ``GIVEN_UP``: tried for days."""

    WAITING = "waiting", "waiting"
    SENT = "sent", "sent"
    REFUSED = "refused", "refused"
    GIVEN_UP = "given up", "given up"


class Letter(models.Model):
    """One mail to one person.  It is written in the transaction of what it is about, and waits until it is
    sent: its row is its place in the queue.  ``said`` is what the mail server last said against it."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    to = models.EmailField()
    subject = models.CharField(max_length=200)
    text = models.TextField()
    about = models.CharField(max_length=20)
    attached = models.JSONField(default=list)
    """Files that go with it: [SHA-256, name]."""
    brokerage = models.UUIDField(null=True)
    """Its brokerage, for the list of those that could not be sent."""
    state = models.CharField(max_length=10, choices=LetterState.choices, default=LetterState.WAITING)
    tries = models.PositiveSmallIntegerField(default=0)
    next_try = models.DateTimeField(default=timezone.now)
    said = models.CharField(max_length=300, blank=True)
    made = models.DateTimeField(auto_now_add=True)
    sent = models.DateTimeField(null=True)

    class Meta:
        indexes = [
            models.Index(fields=["state", "next_try"]),
            models.Index(fields=["brokerage", "-made"]),
        ]

    @property
    def message_id(self) -> str:
        """The id that it carries however often it is sent, by which a repeated one is known."""
        return f"<{self.id}@{settings.MAIL_DOMAIN}>"
