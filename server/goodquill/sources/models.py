"""A comparison that waits for its answer."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models

from goodquill.deals.models import Deal


class Comparison(models.Model):
    """What the sources said when somebody looked, so that accepting writes exactly what was shown."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    deal = models.ForeignKey(Deal, models.CASCADE, related_name="comparisons")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    listing = models.JSONField(null=True)
    roll = models.JSONField(null=True)
