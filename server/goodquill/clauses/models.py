"""Clauses with what they said before, and the blanks of records that they stand in."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models

from goodquill.changelog.models import Record
from goodquill.offices.models import Brokerage, Office


class ClauseReach(models.TextChoices):
    """The people who may use a clause."""

    MINE = "mine", "mine alone"
    OFFICE = "office", "the office"
    BROKERAGE = "brokerage", "the whole brokerage"


class Clause(models.Model):
    """A wording with a name, its ``owner``'s own or the ``office``'s or brokerage's.  ``wording`` names facts
    in braces (quillcore.facts.wording).  ``number`` is that of its newest version; ``approved_by`` whoever
    approved just that one."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    brokerage = models.ForeignKey(Brokerage, models.CASCADE, related_name="clauses")
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="clauses")
    office = models.ForeignKey(Office, models.CASCADE, null=True, related_name="clauses")
    reach = models.CharField(max_length=12, choices=ClauseReach.choices, default=ClauseReach.MINE)
    name = models.CharField(max_length=120)
    wording = models.TextField()
    number = models.PositiveIntegerField(default=1)
    approved_by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, null=True, related_name="+")
    approved_on = models.DateField(null=True)
    removed = models.BooleanField(default=False)

    class Meta:
        ordering = ["name", "pk"]


class ClauseVersion(models.Model):
    """One version of a clause's wording."""

    clause = models.ForeignKey(Clause, models.CASCADE, related_name="versions")
    number = models.PositiveIntegerField()
    name = models.CharField(max_length=120)
    wording = models.TextField()
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        unique_together = [("clause", "number")]
        ordering = ["-number"]


class Use(models.Model):
    """A blank or fact of a record in which a version of a clause stands now."""

    clause = models.ForeignKey(Clause, models.CASCADE, related_name="uses")
    number = models.PositiveIntegerField()
    record = models.ForeignKey(Record, models.CASCADE, related_name="clauses")
    scope = models.PositiveBigIntegerField(null=True)
    key = models.CharField(max_length=160, db_collation="utf8mb4_bin")

    class Meta:
        indexes = [models.Index(fields=["record", "key"])]
