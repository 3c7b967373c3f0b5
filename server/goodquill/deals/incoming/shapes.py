"""Shapes of papers that arrive: found, answered and put in their places."""

from __future__ import annotations

from quillcore.forms.model import AUDIENCE
from rest_framework import serializers as s


class IncomingFileSerializer(s.Serializer):
    """A PDF or a picture for the package."""

    file = s.FileField()


class IncomingPageSerializer(s.Serializer):
    """A page as it came, in points; a ``scan`` has no text to be read."""

    width = s.FloatField()
    height = s.FloatField()
    scan = s.BooleanField()


class AnswerThereSerializer(s.Serializer):
    """An answer that somebody filled in on a known form, beside the deal's (``ours``, the ``same`` or
    something else); ``may`` where it can be taken over."""

    key = s.CharField(allow_blank=True)
    label = s.CharField()
    text = s.CharField()
    ours = s.CharField(allow_blank=True)
    may = s.BooleanField()
    same = s.BooleanField()


class FoundPaperSerializer(s.Serializer):
    """Pages that belong together: what they are called, which known form they are ("" for none) of which
    edition, the place that is proposed ("" for the end), what is filled in and what is open on them."""

    first = s.IntegerField()
    last = s.IntegerField()
    title = s.CharField()
    number = s.CharField(allow_blank=True)
    released = s.DateField(allow_null=True)
    place = s.CharField(allow_blank=True)
    section = s.CharField(allow_blank=True)
    audience = s.ListField(child=s.CharField())
    answers = AnswerThereSerializer(many=True)
    open = s.ListField(child=s.CharField())


class IncomingSerializer(s.Serializer):
    """A file that waits to be put in its place; ``left_out`` says what of it acts and was left out."""

    id = s.UUIDField()
    name = s.CharField()
    at = s.DateTimeField()
    left_out = s.ListField(child=s.CharField())
    pages = IncomingPageSerializer(many=True)
    found = FoundPaperSerializer(many=True)


class PlacedPageSerializer(s.Serializer):
    """A page of a file that came, turned clockwise."""

    of = s.CharField(max_length=40)
    page = s.IntegerField(min_value=1, max_value=10_000)
    turn = s.ChoiceField(choices=[0, 90, 180, 270], required=False, default=0)


class PlacedPaperSerializer(s.Serializer):
    """A paper made of such pages: its name, the item of the package whose place it takes ("" for the end),
    the heading there, who may see it, and the keys of the answers on it that are taken over."""

    title = s.CharField(max_length=200)
    place = s.CharField(max_length=12, required=False, default="", allow_blank=True)
    section = s.CharField(max_length=80, required=False, default="", allow_blank=True)
    audience = s.ListField(
        child=s.ChoiceField(choices=AUDIENCE),
        max_length=2,
        allow_empty=False,
        required=False,
        default=lambda: list(AUDIENCE),
    )
    pages = PlacedPageSerializer(many=True, max_length=500, allow_empty=False)
    take = s.ListField(child=s.CharField(max_length=160), max_length=500, required=False, default=list)


class PutInPlaceSerializer(s.Serializer):
    """Papers to be put in their places, as one change."""

    change = s.UUIDField()
    papers = PlacedPaperSerializer(many=True, max_length=40, allow_empty=False)
