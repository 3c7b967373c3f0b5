"""Editions are immutable and known by their hash; mappings likewise; a release lists which go together."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models
from django.utils import timezone

from goodquill.offices.models import Brokerage


class Edition(models.Model):
    """One edition: geometry as JSON, pages as a stored file.  ``sheet`` is the geometry's head without the
    fields; ``words`` is the printed text, for finding, and ``sentences`` the same for telling editions apart,
    both read once; ``foreign`` pages came from elsewhere and are drawn in a limited child."""

    hash = models.CharField(primary_key=True, max_length=64)
    number = models.CharField(max_length=20)
    title = models.CharField(max_length=200)
    pages = models.PositiveSmallIntegerField()
    page_content = models.CharField(max_length=64)
    data = models.JSONField()
    sheet = models.JSONField(default=dict)
    words = models.TextField(blank=True)
    sentences = models.JSONField(default=list)
    foreign = models.BooleanField(default=False)


class MappingVersion(models.Model):
    """The meanings of an edition's fields, at one version."""

    hash = models.CharField(primary_key=True, max_length=64)
    data = models.JSONField()


class Release(models.Model):
    """One dated publication of a pack.  Without a brokerage it was taken in for everybody; with one by that
    brokerage.  Either way it is an association's, open to its members alone; but for a brokerage's
    ``own_papers``, which grow.  Brokerages that went back to the one before have ``left`` it."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    brokerage = models.ForeignKey(Brokerage, models.CASCADE, null=True, related_name="releases")
    association = models.CharField(max_length=200)
    released = models.DateField()
    sheet = models.JSONField()
    digest = models.CharField(max_length=64, unique=True)
    own_papers = models.BooleanField(default=False)
    taken_in = models.DateTimeField(default=timezone.now)
    left = models.ManyToManyField(Brokerage, related_name="left_releases", blank=True)


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


class Favourite(models.Model):
    """A form that a member wants at hand.  It stays one when the form has a new edition."""

    user = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="favourite_forms")
    association = models.CharField(max_length=200)
    number = models.CharField(max_length=20)

    class Meta:
        unique_together = [("user", "association", "number")]
