"""Templates that came with a pack.  (Members' own follow with template building.)"""

from __future__ import annotations

import uuid

from django.db import models

from goodquill.forms.models import Release


class Template(models.Model):
    """A reusable package, as its file says."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    release = models.ForeignKey(Release, models.CASCADE, related_name="templates")
    slug = models.CharField(max_length=80)
    name = models.CharField(max_length=200)
    side = models.CharField(max_length=20)
    data = models.JSONField()

    class Meta:
        unique_together = [("release", "slug")]
        ordering = ["name"]
