"""A comparison that waits for its answer; files as sources, and how a county's columns were mapped."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models

from goodquill.deals.models import Deal
from goodquill.offices.models import Brokerage


class Comparison(models.Model):
    """The sources as somebody saw them, so that accepting writes exactly what was shown.

    ``papers`` are those attached to the listing: [{"key", "title", "url"}].  ``file`` names the file that one
    of the two records came from; ``accepted`` is when it was brought in.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    deal = models.ForeignKey(Deal, models.CASCADE, related_name="comparisons")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    listing = models.JSONField(null=True)
    roll = models.JSONField(null=True)
    papers = models.JSONField(default=list)
    file = models.CharField(max_length=200, blank=True)
    accepted = models.DateTimeField(null=True)

    class Meta:
        indexes = [models.Index(fields=["deal", "accepted"])]


class SourceFile(models.Model):
    """A RESO JSON export or a county's CSV, read once: ``kind`` says as what (listing or roll), ``columns``
    names its columns. ``mapping`` holds, for our roll columns, the file's."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    brokerage = models.ForeignKey(Brokerage, models.CASCADE, related_name="source_files")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    name = models.CharField(max_length=200)
    content = models.CharField(max_length=64)
    kind = models.CharField(max_length=10, default="roll")
    columns = models.JSONField(default=list)
    count = models.PositiveIntegerField(default=0)
    mapping = models.JSONField(default=dict)


class SourceRow(models.Model):
    """One row of such a file as it was read, with the words that finding looks at."""

    file = models.ForeignKey(SourceFile, models.CASCADE, related_name="rows")
    number = models.PositiveIntegerField()
    words = models.TextField()
    data = models.JSONField()

    class Meta:
        unique_together = [("file", "number")]


class ColumnMapping(models.Model):
    """A brokerage's mapping of the columns of a county's files: remembered by those columns' names."""

    brokerage = models.ForeignKey(Brokerage, models.CASCADE, related_name="column_mappings")
    columns = models.CharField(max_length=64)
    mapping = models.JSONField()

    class Meta:
        unique_together = [("brokerage", "columns")]
