"""The shapes of what the packs endpoints take and give; the web's types are generated from them."""

from __future__ import annotations

from rest_framework import serializers as s

from goodquill.papers.shapes import FaultSerializer, UploadSerializer


class ReleaseSerializer(s.Serializer):
    """A release open to the user; ``newest`` is the one that new deals begin with, ``left`` one from
    which the brokerage went back; ``may_change`` whether the user may go back from it, or use it again."""

    id = s.UUIDField()
    association = s.CharField()
    released = s.DateField()
    forms = s.IntegerField()
    own = s.BooleanField()
    newest = s.BooleanField()
    left = s.BooleanField()
    may_change = s.BooleanField()


class UseSerializer(s.Serializer):
    """Whether the brokerage uses a release."""

    use = s.BooleanField()


class BlankChangeSerializer(s.Serializer):
    """The change of one blank: new, gone, moved, or means (it asks for something else); values is said of a
    table of allowed ones."""

    id = s.CharField()
    label = s.CharField()
    what = s.CharField()


class FormChangeSerializer(s.Serializer):
    """A release's change of one form: new, retired or changed; ``wording`` lists changed sentences, − taken
    out, + put in."""

    number = s.CharField()
    title = s.CharField()
    what = s.CharField()
    blanks = BlankChangeSerializer(many=True)
    wording = s.ListField(child=s.CharField())


class DifferenceSerializer(s.Serializer):
    """Something that is said otherwise: a rate, a holiday, a template's answer; "" where it isn't there."""

    what = s.CharField()
    was = s.CharField(allow_blank=True)
    now = s.CharField(allow_blank=True)


class TemplateChangeSerializer(s.Serializer):
    """A release's change of one of its templates: new, retired or changed in these ``parts``."""

    name = s.CharField()
    what = s.CharField()
    parts = DifferenceSerializer(many=True)


class ReleaseReadSerializer(s.Serializer):
    """A release file as it was read: its faults, or what it changes; ``taken`` once it is in use."""

    association = s.CharField(allow_blank=True)
    released = s.DateField(allow_null=True)
    faults = FaultSerializer(many=True)
    changes = FormChangeSerializer(many=True)
    same = s.IntegerField()
    sheet = DifferenceSerializer(many=True)
    templates = TemplateChangeSerializer(many=True)
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
    """Numbers found by name and license."""

    numbers = s.ListField(child=s.CharField())
