"""Templates: those that came with a pack, and those that members write."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models

from goodquill.forms.models import Release
from goodquill.http.choices import SIDES
from goodquill.offices.models import Brokerage, Office


class TemplateReach(models.TextChoices):
    """The people who may use a template: with a pack every member of its association, else as its owner
    says."""

    MINE = "mine", "mine alone"
    MEMBERS = "members", "chosen members"
    OFFICES = "offices", "chosen offices"
    BROKERAGE = "brokerage", "the whole brokerage"
    ASSOCIATION = "association", "every member of the association"


OWN_REACH = [(r.value, r.label) for r in TemplateReach if r is not TemplateReach.ASSOCIATION]


class TemplateWeight(models.TextChoices):
    """The role of a template where its rule holds."""

    CHOSEN = "", "chosen by the agent"
    SUGGESTED = "suggested", "suggested"
    REQUIRED = "required", "required"


class Template(models.Model):
    """A reusable package.  ``data`` is its content as deals get it (see ``quillcore.templates``), ``draft``
    as it is being written, in its working copy; of one that is its owner's alone both are the same.

    ``release`` is the pack whose forms it names.  ``coverage`` counts who answers its questions, as of the
    draft.  One that came with a pack has a ``slug``, and neither owner nor working copy.
    """

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    release = models.ForeignKey(Release, models.CASCADE, related_name="templates")
    slug = models.CharField(max_length=80, null=True)
    name = models.CharField(max_length=200)
    side = models.CharField(max_length=20, choices=SIDES)
    kinds = models.JSONField(default=list)
    about = models.CharField(max_length=300, blank=True)
    rule = models.CharField(max_length=300, blank=True)
    weight = models.CharField(
        max_length=10, choices=TemplateWeight.choices, blank=True, default=TemplateWeight.CHOSEN
    )
    data = models.JSONField(default=dict)
    draft = models.JSONField(default=dict)
    coverage = models.JSONField(default=dict)
    brokerage = models.ForeignKey(Brokerage, models.CASCADE, null=True, related_name="templates")
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, null=True, related_name="templates")
    reach = models.CharField(max_length=12, choices=TemplateReach.choices, default=TemplateReach.ASSOCIATION)
    members = models.ManyToManyField(settings.AUTH_USER_MODEL, related_name="templates_shared", blank=True)
    offices = models.ManyToManyField(Office, related_name="templates_shared", blank=True)
    version = models.PositiveIntegerField(default=0)
    """The number of what was published last; 0 while nothing was."""
    copied_from = models.ForeignKey("self", models.SET_NULL, null=True, related_name="copies")
    people = models.JSONField(default=dict)
    """Contacts by the group of facts that each fills in a deal, read anew when it begins."""
    base = models.JSONField(default=dict)
    """The original of a copy, as it was then or as it was last looked at: later changes there are told
    against this."""
    removed = models.BooleanField(default=False)

    class Meta:
        unique_together = [("release", "slug")]
        ordering = ["name"]


class TemplateVersion(models.Model):
    """A published version of a template, by whom, and their note."""

    template = models.ForeignKey(Template, models.CASCADE, related_name="versions")
    number = models.PositiveIntegerField()
    data = models.JSONField()
    said = models.CharField(max_length=300, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        unique_together = [("template", "number")]
        ordering = ["-number"]
