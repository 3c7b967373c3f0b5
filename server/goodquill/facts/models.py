"""Changes and their entries; drafts that don't parse; clashes that wait for a choice."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models


class Kind(models.TextChoices):
    """Kinds of step, with the words that History begins them with.  ``NOTHING`` left no trace but its id: what was typed was there
    already, or can't be read and waits."""

    START = "start", "Started"
    EDIT = "edit", "Typed"
    TEMPLATE = "template", "Applied"
    DOCUMENTS = "documents", "Package"
    CONTACT = "contact", "Contact"
    OFFER = "offer", "Offer"
    BRING_IN = "bring in", "Brought in"
    NAME = "name", "Named"
    STAGE = "stage", "Stage"
    UNDO = "undo", "Undid"
    REDO = "redo", "Redid"
    NOTHING = "nothing", ""


class Change(models.Model):
    """One undoable step.  ``id`` is given by the client, so that a retry is recognised; ``seq`` counts within the deal."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    deal = models.ForeignKey("deals.Deal", models.CASCADE, related_name="changes")
    seq = models.PositiveIntegerField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    kind = models.CharField(max_length=20, choices=Kind.choices)
    digest = models.CharField(max_length=64, blank=True)
    """Of what was sent: something else under the same id is refused."""
    said = models.CharField(max_length=300, blank=True)
    documents = models.JSONField(default=dict)
    """What the step did to documents: {"added": [ids], "removed": [ids], "aside": {id: before}, "order": [ids before],
    "came": {id of what was expected: [edition and mapping before]}}."""
    offers = models.JSONField(default=dict)
    """What the step did to offers: by id, {field: before}."""
    head = models.JSONField(default=dict)
    """What the step did to the deal itself (its name, its stage): {field: before}."""
    undoes = models.ForeignKey("self", models.SET_NULL, null=True, related_name="undone_by")

    class Meta:
        indexes = [models.Index(fields=["deal", "seq"])]


class FactEntry(models.Model):
    """One line of the record.  In force is what the newest lines of each key and source say.

    ``key`` is the stored key (parties by their stable id); ``offer`` is empty for what belongs to the deal.
    ``act``: state, empty (the answer "none"), formula, clear, choose.
    """

    deal = models.ForeignKey("deals.Deal", models.CASCADE, related_name="entries")
    offer = models.ForeignKey("deals.Offer", models.CASCADE, null=True, related_name="entries")
    key = models.CharField(max_length=160, db_collation="utf8mb4_bin")
    source = models.CharField(max_length=12, blank=True)
    act = models.CharField(max_length=8)
    value = models.TextField(blank=True)
    origin = models.CharField(max_length=200, blank=True)
    locked = models.BooleanField(default=False)
    change = models.ForeignKey(Change, models.CASCADE, related_name="entries")

    class Meta:
        indexes = [models.Index(fields=["deal", "key"])]


class Draft(models.Model):
    """What somebody typed that can't be read, kept beside the value in force until it is mended or dropped."""

    deal = models.ForeignKey("deals.Deal", models.CASCADE, related_name="drafts")
    offer = models.ForeignKey("deals.Offer", models.CASCADE, null=True, related_name="+")
    key = models.CharField(max_length=160, db_collation="utf8mb4_bin")
    text = models.TextField()
    message = models.CharField(max_length=400)
    mend = models.CharField(max_length=400, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now=True)

    class Meta:
        unique_together = [("deal", "offer", "key")]


class Clash(models.Model):
    """Two people changed one key from the same version: the earlier value is in force, what each later one typed waits here
    until somebody chooses."""

    deal = models.ForeignKey("deals.Deal", models.CASCADE, related_name="clashes")
    offer = models.ForeignKey("deals.Offer", models.CASCADE, null=True, related_name="+")
    key = models.CharField(max_length=160, db_collation="utf8mb4_bin")
    text = models.TextField(blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        unique_together = [("deal", "offer", "key", "by")]
