"""Calendar feeds."""

from __future__ import annotations

from django.conf import settings
from django.db import models


class Feed(models.Model):
    """A member's calendar feed: their dates can be read at a secret address, while it ``is_open``. The secret
    is worked out from ``number`` and the product's own key, and stands nowhere; another number makes another
    address."""

    user = models.OneToOneField(settings.AUTH_USER_MODEL, models.CASCADE, related_name="feed")
    number = models.PositiveIntegerField(default=1)
    is_open = models.BooleanField(default=True)
