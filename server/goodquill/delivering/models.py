"""Deliveries: what, to whom, and how."""

from __future__ import annotations

import uuid

from django.conf import settings
from django.db import models

from goodquill.deals.models import Deal

HOW = [("link", "by a link that ends"), ("mail", "as attachments")]


class Delivery(models.Model):
    """Papers of a deal handed to somebody, just as they were then: they can be sent again."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    deal = models.ForeignKey(Deal, models.PROTECT, related_name="deliveries")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.PROTECT, related_name="+")
    how = models.CharField(max_length=4, choices=HOW)
    subject = models.CharField(max_length=150)
    message = models.TextField(blank=True)
    ends = models.DateTimeField(null=True)
    """The end of its links; None for one by mail."""
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-made", "pk"]


class DeliveredFile(models.Model):
    """One file of a delivery, by the SHA-256 of its bytes."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    delivery = models.ForeignKey(Delivery, models.CASCADE, related_name="files")
    position = models.PositiveSmallIntegerField()
    name = models.CharField(max_length=200)
    content = models.CharField(max_length=64)
    size = models.PositiveIntegerField()

    class Meta:
        ordering = ["position"]
        unique_together = [("delivery", "position")]


class Recipient(models.Model):
    """Somebody to whom papers were delivered; ``opened`` when they first opened the link."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4)
    delivery = models.ForeignKey(Delivery, models.CASCADE, related_name="recipients")
    name = models.CharField(max_length=200)
    email = models.EmailField()
    opened = models.DateTimeField(null=True)
    letter = models.UUIDField(null=True)

    class Meta:
        ordering = ["name", "pk"]
