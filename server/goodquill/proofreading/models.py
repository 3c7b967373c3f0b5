"""Remarks that somebody left as they are, and why."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from goodquill.deals.models import Deal


class Reason(models.Model):
    """Why a remark is left as it is.  ``mark`` is of what it said: said otherwise, it is another remark and
    asks again.  Written, never changed; a later one replaces it in what is shown."""

    deal = models.ForeignKey(Deal, models.CASCADE, related_name="reasons")
    mark = models.CharField(max_length=64)
    message = models.CharField(max_length=400)
    reason = models.CharField(max_length=300, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        indexes = [models.Index(fields=["deal", "mark"])]
