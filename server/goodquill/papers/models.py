"""A PDF in work: what was found in it, and what has been placed on it."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models

from goodquill.offices.models import Brokerage


class Reading(models.Model):
    """A PDF that was read in and is being made a form: what was found, and what has been placed and confirmed
    so far.

    ``found`` holds pages, sizes, title and what was left out; ``placed`` the blanks; ``paper`` number, title
    and the like.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    brokerage = models.ForeignKey(Brokerage, models.CASCADE, related_name="readings")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE)
    name = models.CharField(max_length=200)
    content = models.CharField(max_length=64)
    found = models.JSONField()
    placed = models.JSONField()
    paper = models.JSONField(default=dict)
    told = models.JSONField(default=dict)
    version = models.PositiveIntegerField(default=1)
    printed = models.JSONField(default=dict)
    """The words printed on its pages: {"words", "sentences"}."""
    proposed_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")
    """The member who asked for it to be put to use, where that is another's to decide."""
    shared = models.BooleanField(default=False)
    """Whether the whole brokerage sees it.  Nobody but its uploader does otherwise: it may be a client's
    contract."""
    removed = models.BooleanField(default=False)
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-made"]
