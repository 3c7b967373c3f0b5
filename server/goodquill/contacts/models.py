"""Contacts, and homes that a client has seen."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models
from quillcore.contacts import ContactFields

from goodquill.http.choices import CONTACT_KINDS
from goodquill.offices.models import Brokerage

HOME_CHOICES = [("sale", "sale"), ("lease", "lease")]


class ContactManager(models.Manager["Contact"]):
    """Gives contacts as they are to be seen."""

    def standing(self, condition: models.Q) -> models.QuerySet[Contact]:
        """Return those that meet the condition and were neither removed nor merged into another."""
        return self.filter(condition, merged_into=None, removed=False)


class Contact(models.Model):
    """A person or firm, its ``owner``'s own or ``shared`` with the brokerage.  ``fields`` are texts as typed
    (quillcore.contacts.FIELDS); ``name``, ``sorted_as``, ``email`` and ``words`` are taken from them
    for finding.  One that was merged into another says so and is kept, so that merging can be undone."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    brokerage = models.ForeignKey(Brokerage, models.CASCADE, related_name="contacts")
    owner = models.ForeignKey(settings.AUTH_USER_MODEL, models.CASCADE, related_name="contacts")
    shared = models.BooleanField(default=False)
    kind = models.CharField(max_length=20, choices=CONTACT_KINDS, default="client")
    fields = models.JSONField(default=dict)
    name = models.CharField(max_length=250)
    sorted_as = models.CharField(max_length=250, default="")
    email = models.CharField(max_length=254, blank=True)
    words = models.CharField(max_length=600, blank=True)
    merged_into = models.ForeignKey("self", models.SET_NULL, null=True, related_name="merged")
    before_merge = models.JSONField(default=dict)
    """The fields of before it was merged into another: {"kind", "fields"}."""
    removed = models.BooleanField(default=False)
    made = models.DateTimeField(auto_now_add=True)
    touched = models.DateTimeField(auto_now=True)

    class Meta:
        ordering = ["sorted_as", "pk"]
        indexes = [models.Index(fields=["brokerage", "kind", "sorted_as"])]

    objects = ContactManager()

    @property
    def core(self) -> ContactFields:
        """The same as the core knows it."""
        return ContactFields(self.kind, self.fields)


class ContactChange(models.Model):
    """One change of a contact: what it said ``before`` and ``after``, each {"kind", "fields", "shared"}; by
    whom and when."""

    WHAT = [(w, w) for w in ("made", "changed", "merged", "parted", "removed", "restored", "undone")]

    contact = models.ForeignKey(Contact, models.CASCADE, related_name="changes")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    at = models.DateTimeField(auto_now_add=True)
    what = models.CharField(max_length=10, choices=WHAT)
    before = models.JSONField(default=dict)
    after = models.JSONField(default=dict)

    class Meta:
        ordering = ["-pk"]
        indexes = [models.Index(fields=["contact", "at"])]


class HomeSeen(models.Model):
    """A home that a client was shown, as the sources had it that day.  ``kind`` is the listing's: "sale" or
    "lease"."""

    contact = models.ForeignKey(Contact, models.CASCADE, related_name="homes")
    listing = models.CharField(max_length=40, blank=True)
    parcel = models.CharField(max_length=40, blank=True)
    county = models.CharField(max_length=40, blank=True)
    address = models.CharField(max_length=250)
    price = models.CharField(max_length=40, blank=True)
    kind = models.CharField(max_length=10, choices=HOME_CHOICES, default="sale")
    category = models.CharField(max_length=40, blank=True)
    seen_on = models.DateField()
    note = models.CharField(max_length=500, blank=True)

    class Meta:
        ordering = ["-seen_on", "-pk"]
