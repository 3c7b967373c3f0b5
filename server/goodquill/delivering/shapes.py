"""The shapes of what the delivering endpoints take and give; the web's types are generated from them."""

from __future__ import annotations

from rest_framework import serializers as s

from goodquill.delivering.models import HOW
from goodquill.signing.shapes import SenderShape


class MayLeaveShape(s.Serializer):
    """A paper that may leave; ``audience`` whom it concerns: client, other side; ``usually_for``
    to whom it usually goes, others (a lender, a title company) among them."""

    document = s.CharField()
    title = s.CharField()
    pages = s.IntegerField()
    audience = s.ListField(child=s.CharField())
    usually_for = s.ListField(child=s.CharField())


class AddresseeShape(s.Serializer):
    """Somebody of the deal with an e-mail."""

    name = s.CharField()
    email = s.CharField()
    role = s.CharField()
    concerns = s.CharField()


class DeliveredFileShape(s.Serializer):
    """A file as it was delivered, by its SHA-256; its size in bytes."""

    name = s.CharField()
    hash = s.CharField()
    size = s.IntegerField()


class RecipientShape(s.Serializer):
    """A recipient; ``refused`` is the mail server's reason for a letter that it didn't take."""

    name = s.CharField()
    email = s.CharField()
    opened = s.DateTimeField(allow_null=True)
    refused = s.CharField(allow_blank=True)


class DeliveredSerializer(s.Serializer):
    """A delivery."""

    id = s.UUIDField()
    made = s.DateTimeField()
    by = s.CharField()
    how = s.ChoiceField(choices=HOW)
    subject = s.CharField()
    ends = s.DateTimeField(allow_null=True)
    files = DeliveredFileShape(many=True)
    to = RecipientShape(many=True)


class DeliveriesSerializer(s.Serializer):
    """The papers that may be delivered, the possible recipients, and the deliveries so far."""

    papers = MayLeaveShape(many=True)
    people = AddresseeShape(many=True)
    sent = DeliveredSerializer(many=True)


class ToShape(s.Serializer):
    """Somebody to whom it goes."""

    name = s.CharField(max_length=200)
    email = s.CharField(max_length=254)


class DeliverSerializer(s.Serializer):
    """Papers to be delivered: ``whole`` as one PDF; by link it ends after so many days."""

    papers = s.ListField(child=s.CharField(max_length=12), min_length=1, max_length=250)
    to = ToShape(many=True, allow_empty=False)
    subject = s.CharField(max_length=150)
    message = s.CharField(max_length=4_000, allow_blank=True, default="")
    how = s.ChoiceField(choices=HOW)
    whole = s.BooleanField(default=False)
    days = s.IntegerField(min_value=1, max_value=365, default=30)


class FileForYouShape(s.Serializer):
    """A file of a delivery."""

    id = s.UUIDField()
    name = s.CharField()
    size = s.IntegerField()


class ForYouSerializer(s.Serializer):
    """A delivery as its recipient sees it."""

    name = s.CharField()
    subject = s.CharField()
    message = s.CharField(allow_blank=True)
    sender = SenderShape()
    ends = s.DateTimeField(allow_null=True)
    files = FileForYouShape(many=True)
