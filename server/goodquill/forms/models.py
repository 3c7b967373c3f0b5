"""Editions are immutable and known by their hash; mappings likewise; a release lists which go together."""

from __future__ import annotations

import uuid

from django.db import models

from goodquill.offices.models import Brokerage


class Edition(models.Model):
    """One edition: geometry as JSON, pages as a stored file."""

    hash = models.CharField(primary_key=True, max_length=64)
    number = models.CharField(max_length=20)
    title = models.CharField(max_length=200)
    pages = models.PositiveSmallIntegerField()
    page_content = models.CharField(max_length=64)
    data = models.JSONField()


class MappingVersion(models.Model):
    """What the fields of an edition mean, at one version."""

    hash = models.CharField(primary_key=True, max_length=64)
    data = models.JSONField()


class Release(models.Model):
    """One dated publication of a pack.  Without a brokerage it is an association's, open to its members."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    brokerage = models.ForeignKey(Brokerage, models.CASCADE, null=True, related_name="releases")
    association = models.CharField(max_length=200)
    released = models.DateField()
    sheet = models.JSONField()
    digest = models.CharField(max_length=64, unique=True)


class ReleaseForm(models.Model):
    """A form of a release: its edition and the mapping in use."""

    release = models.ForeignKey(Release, models.CASCADE, related_name="forms")
    number = models.CharField(max_length=20)
    position = models.PositiveSmallIntegerField()
    edition = models.ForeignKey(Edition, models.PROTECT)
    mapping = models.ForeignKey(MappingVersion, models.PROTECT)

    class Meta:
        unique_together = [("release", "number")]
        ordering = ["position"]
