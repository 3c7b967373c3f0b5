"""The shapes of what the packs endpoints take and give; the web's types are generated from them."""

from __future__ import annotations

from rest_framework import serializers as s

from goodquill.papers.shapes import FaultSerializer, UploadSerializer


class ReleaseSerializer(s.Serializer):
    """A release open to the user; ``newest`` is the one that new deals begin with."""

    id = s.UUIDField()
    association = s.CharField()
    released = s.DateField()
    forms = s.IntegerField()
    own = s.BooleanField()
    newest = s.BooleanField()


class BlankChangeSerializer(s.Serializer):
    """What happened to one blank: new, gone, moved, or means (it asks for something else)."""

    id = s.CharField()
    label = s.CharField()
    what = s.CharField()


class FormChangeSerializer(s.Serializer):
    """What a release does to one form: new, retired or changed; ``wording`` lists changed sentences, − taken
    out, + put in."""

    number = s.CharField()
    title = s.CharField()
    what = s.CharField()
    blanks = BlankChangeSerializer(many=True)
    wording = s.ListField(child=s.CharField())


class ReleaseReadSerializer(s.Serializer):
    """A release file as it was read: its faults, or what it changes; ``taken`` once it is in use."""

    association = s.CharField(allow_blank=True)
    released = s.DateField(allow_null=True)
    faults = FaultSerializer(many=True)
    changes = FormChangeSerializer(many=True)
    same = s.IntegerField()
    taken = s.BooleanField()


class ReleaseUploadSerializer(UploadSerializer):
    """The file; ``take`` puts it to use."""

    take = s.BooleanField(default=False)


class MembershipSerializer(s.Serializer):
    """A membership as the registry last answered."""

    association = s.CharField()
    number = s.CharField()
    active = s.BooleanField()
    expires = s.DateField()
    open = s.BooleanField()


class MemberNumberSerializer(s.Serializer):
    """A member's number with an association."""

    association = s.CharField(max_length=200)
    number = s.CharField(max_length=40)


class ForgottenSerializer(s.Serializer):
    """Numbers found by name and licence."""

    numbers = s.ListField(child=s.CharField())
