"""The shapes of what the papers endpoints take and give; the web's types are generated from them."""

from __future__ import annotations

from quillcore.papers.placing import MOST_PLACED
from rest_framework import serializers as s

from goodquill.forms.shapes import FormSerializer


class PlacedSerializer(s.Serializer):
    """One blank or sign spot on a page; see ``quillcore.papers.placing.Placed``."""

    id = s.CharField(max_length=100)
    page = s.IntegerField(min_value=1, max_value=500)
    rect = s.ListField(child=s.FloatField(), min_length=4, max_length=4)
    shape = s.ChoiceField(choices=["text", "box", "sign"])
    lines = s.IntegerField(min_value=1, max_value=60)
    label = s.CharField(allow_blank=True, max_length=200)
    fact = s.CharField(allow_blank=True, max_length=100)
    kind = s.CharField(allow_blank=True, max_length=30)
    group = s.CharField(allow_blank=True, max_length=100)
    value = s.CharField(allow_blank=True, max_length=200)
    role = s.CharField(allow_blank=True, max_length=30)
    sign = s.CharField(allow_blank=True, max_length=20)
    who = s.CharField(allow_blank=True, max_length=30)
    required = s.BooleanField()
    confirmed = s.BooleanField()
    confidence = s.FloatField()
    others = s.ListField(child=s.CharField(max_length=100), max_length=8)


class PaperSerializer(s.Serializer):
    """The description of the paper."""

    number = s.CharField(allow_blank=True, max_length=20)
    title = s.CharField(allow_blank=True, max_length=200)
    topic = s.CharField(allow_blank=True, max_length=60, required=False)
    purpose = s.CharField(allow_blank=True, max_length=300, required=False)
    sides = s.ListField(
        child=s.ChoiceField(choices=["buying", "listing", "leasing out", "renting"]), required=False
    )


class FaultSerializer(s.Serializer):
    """One thing that is wrong; ``place`` is a blank's id where it is one's."""

    message = s.CharField()
    mend = s.CharField(allow_blank=True)
    place = s.CharField(allow_blank=True)


class ReadingRowSerializer(s.Serializer):
    """A paper that is being made a form."""

    id = s.UUIDField()
    name = s.CharField()
    title = s.CharField(allow_blank=True)
    by = s.CharField()
    pages = s.IntegerField()
    blanks = s.IntegerField()
    confirmed = s.IntegerField()
    made = s.DateTimeField()
    proposed_by = s.CharField(allow_blank=True)
    mine = s.BooleanField()
    shared = s.BooleanField()


class ShareSerializer(s.Serializer):
    """Whether the whole brokerage sees a paper in work."""

    shared = s.BooleanField()


class ToldSerializer(s.Serializer):
    """The differences from the edition before: blanks by id."""

    new = s.ListField(child=s.CharField())
    gone = s.ListField(child=s.CharField())
    moved = s.ListField(child=s.CharField())


class ReadingSerializer(ReadingRowSerializer):
    """The same with pages, what was left out, and all blanks.  ``faults`` is what stands in the way of saving
    it, ``line_height`` how high a line of what is drawn by hand is taken to be, in points."""

    sizes = s.ListField(child=s.ListField(child=s.FloatField()))
    removed = s.ListField(child=s.CharField())
    paper = PaperSerializer()
    told = ToldSerializer(allow_null=True)
    placed = PlacedSerializer(many=True)
    faults = FaultSerializer(many=True)
    version = s.IntegerField()
    may_save = s.BooleanField()
    line_height = s.IntegerField()


class UploadSerializer(s.Serializer):
    """A file; ``replaces`` names the edition of the office paper whose next edition it is."""

    file = s.FileField()
    replaces = s.CharField(required=False, allow_blank=True, max_length=64)


class KeepSerializer(s.Serializer):
    """The blanks placed and described so far, and the version that they are based on."""

    placed = PlacedSerializer(many=True, max_length=MOST_PLACED)
    paper = PaperSerializer()
    based_on = s.IntegerField(min_value=0, max_value=2**31)


class SavedSerializer(s.Serializer):
    """The form that was made, or that it was proposed to those who decide."""

    form = FormSerializer(allow_null=True)
    proposed = s.BooleanField()
