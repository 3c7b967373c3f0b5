"""Papers of a client's own, which outlive one deal."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from goodquill.contacts.models import Contact
from goodquill.deals.models import Deal
from goodquill.forms.models import Edition, MappingVersion


class ClientPaper(models.Model):
    """A paper of a client's own that outlives one deal: kept from a deal as it stood, or as it came.  It
    shows in each of the client's deals, set aside from what leaves.  ``represents`` marks an agreement to
    represent the client, which ``begins`` and ``ends``."""

    contact = models.ForeignKey(Contact, models.PROTECT, related_name="papers")
    edition = models.ForeignKey(Edition, models.PROTECT)
    mapping = models.ForeignKey(MappingVersion, models.PROTECT)
    number = models.CharField(max_length=20, blank=True)
    title = models.CharField(max_length=200)
    represents = models.BooleanField(default=False)
    deal = models.ForeignKey(Deal, models.SET_NULL, null=True, related_name="+")
    begins = models.DateField(null=True)
    ends = models.DateField(null=True)
    removed = models.BooleanField(default=False)
    kept = models.DateTimeField(auto_now=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")

    class Meta:
        ordering = ["title", "-kept"]
