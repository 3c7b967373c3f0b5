"""A record and its steps; their lines; drafts that can't be read, and clashes that wait for a choice."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models


class Record(models.Model):
    """The rows that belong together and are locked together. ``seq`` is the number of its newest step."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    seq = models.PositiveIntegerField(default=0)


class Kind(models.TextChoices):
    """Kinds of step, with the words that History begins them with.  ``NOTHING`` left no trace but its id:
    what was typed was there already, or can't be read and waits."""

    START = "start", "Started"
    EDIT = "edit", "Typed"
    TEMPLATE = "template", "Applied"
    DOCUMENTS = "documents", "Package"
    CONTACT = "contact", "Contact"
    OFFER = "offer", "Offer"
    TASK = "task", "Task"
    BRING_IN = "bring in", "Brought in"
    NAME = "name", "Named"
    STAGE = "stage", "Stage"
    PASSED = "passed", "Passed on"
    UNDO = "undo", "Undid"
    REDO = "redo", "Redid"
    NOTHING = "nothing", ""


class Change(models.Model):
    """One undoable step.  ``id`` is given by the client, so that a retry is recognised; ``seq`` counts within
    the record.

    ``digest`` is of what was sent: something else under the same id is refused.  ``did`` is what the step did
    beside its lines, in order: [{"part", "before", "after"}], where a part is one of those in ``parts`` and
    before and after say, by the thing's key, which of its fields were and became what.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    record = models.ForeignKey(Record, models.CASCADE, related_name="changes")
    seq = models.PositiveIntegerField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    kind = models.CharField(max_length=20, choices=Kind.choices)
    digest = models.CharField(max_length=64, blank=True)
    said = models.CharField(max_length=300, blank=True)
    did = models.JSONField(default=list)
    undoes = models.ForeignKey("self", models.SET_NULL, null=True, related_name="undone_by")

    class Meta:
        indexes = [models.Index(fields=["record", "seq"]), models.Index(fields=["record", "by", "seq"])]


class FactEntry(models.Model):
    """One line of the record.  What holds is what the newest line of each key and slot says; those are
    ``newest``, so that what holds is read without what was.

    ``key`` is the stored key (parties by their stable id); ``scope`` the offer it belongs to, None for the
    deal itself.  ``act``: state, empty (the answer "none"), formula, leave (to the client), clear, choose.
    ``slot`` is the source, or "chosen" for a choice among sources: a line replaces the one before it in the
    same scope, key and slot.
    """

    record = models.ForeignKey(Record, models.CASCADE, related_name="entries")
    scope = models.PositiveBigIntegerField(null=True)
    key = models.CharField(max_length=160, db_collation="utf8mb4_bin")
    slot = models.CharField(max_length=12)
    source = models.CharField(max_length=12, blank=True)
    act = models.CharField(max_length=8)
    value = models.TextField(blank=True)
    origin = models.CharField(max_length=200, blank=True)
    locked = models.BooleanField(default=False)
    newest = models.BooleanField(default=True)
    change = models.ForeignKey(Change, models.CASCADE, related_name="entries")

    class Meta:
        indexes = [models.Index(fields=["record", "newest"]), models.Index(fields=["record", "key"])]


class Draft(models.Model):
    """A typed text that can't be read, kept beside the value in force until it is mended or dropped."""

    record = models.ForeignKey(Record, models.CASCADE, related_name="drafts")
    scope = models.PositiveBigIntegerField(null=True)
    key = models.CharField(max_length=160, db_collation="utf8mb4_bin")
    text = models.TextField()
    message = models.CharField(max_length=400)
    mend = models.CharField(max_length=400, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now=True)

    class Meta:
        unique_together = [("record", "scope", "key")]


class Clash(models.Model):
    """Two people changed one key from the same version: the earlier value is in force, what each later one
    typed waits here until somebody chooses."""

    record = models.ForeignKey(Record, models.CASCADE, related_name="clashes")
    scope = models.PositiveBigIntegerField(null=True)
    key = models.CharField(max_length=160, db_collation="utf8mb4_bin")
    text = models.TextField(blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        unique_together = [("record", "scope", "key", "by")]
