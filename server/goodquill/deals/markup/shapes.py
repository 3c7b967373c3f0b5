"""Shapes for working on a document's pages by hand: changes, places to sign."""

from __future__ import annotations

from quillcore.assembly.added_places import MOST_SPOTS, What
from quillcore.assembly.markup import MOST_LINES
from rest_framework import serializers as s

SPOT_KINDS = [(what.value, what.value) for what in What]


class InitialsSerializer(s.Serializer):
    """A place for somebody's initials."""

    name = s.CharField(allow_blank=True)
    rect = s.ListField(child=s.FloatField())


class HandChangeSerializer(s.Serializer):
    """A change made by hand, as it is drawn on its page (from 1), in points from the lower left: ``rules``
    are lines through the ``words`` struck out (left, height, right); ``lines`` the ``text`` written in, each
    from its baseline on."""

    id = s.CharField()
    page = s.IntegerField()
    words = s.CharField(allow_blank=True)
    text = s.CharField(allow_blank=True)
    rules = s.ListField(child=s.ListField(child=s.FloatField()))
    size = s.FloatField()
    lines = s.ListField(child=s.ListField(child=s.JSONField()))
    initials = InitialsSerializer(many=True)


class ChangeByHandSerializer(s.Serializer):
    """A change to be made by hand, or with ``op`` remove one to be taken out.  ``struck`` are boxes of words,
    a line each; ``at`` is the upper left corner of what is written in."""

    change = s.UUIDField()
    op = s.ChoiceField(choices=["add", "remove"])
    id = s.CharField(max_length=40)
    page = s.IntegerField(required=False, min_value=1, max_value=10_000)
    struck = s.ListField(
        child=s.ListField(child=s.FloatField(), min_length=4, max_length=4),
        max_length=MOST_LINES,
        required=False,
    )
    words = s.CharField(max_length=4_000, required=False, allow_blank=True)
    text = s.CharField(max_length=2_000, required=False, allow_blank=True, trim_whitespace=False)
    at = s.ListField(child=s.FloatField(), min_length=2, max_length=2, required=False, allow_null=True)


class HandSpotSerializer(s.Serializer):
    """A place put on a page (from 1) for whoever signs there, in points from the lower left: ``who`` is a
    signer's key; ``label`` what a text or a box asks for, ``required`` whether it has to be answered."""

    id = s.CharField(max_length=40)
    page = s.IntegerField(min_value=1, max_value=10_000)
    rect = s.ListField(child=s.FloatField(), min_length=4, max_length=4)
    what = s.ChoiceField(choices=SPOT_KINDS)
    who = s.CharField(max_length=40)
    label = s.CharField(max_length=500, allow_blank=True, required=False, default="")
    required = s.BooleanField(required=False, default=True)


class SpottedSerializer(HandSpotSerializer):
    """The same as it stands in the deal: whose it is, by ``name`` or role, and the ``initials`` of that (""
    where ``is_there`` says that the deal has nobody of that kind); of a printed name how it is set, each line
    from its baseline on."""

    name = s.CharField(allow_blank=True)
    initials = s.CharField(allow_blank=True)
    is_there = s.BooleanField()
    size = s.FloatField()
    lines = s.ListField(child=s.ListField(child=s.JSONField()))


class ChangeSpotsSerializer(s.Serializer):
    """Places to be put (those whose ids are there already take their place), or with ``op`` remove those of
    ``ids`` to be taken out."""

    change = s.UUIDField()
    op = s.ChoiceField(choices=["put", "remove"])
    spots = HandSpotSerializer(many=True, required=False, max_length=MOST_SPOTS)
    ids = s.ListField(child=s.CharField(max_length=40), required=False, max_length=MOST_SPOTS)


class MaySignSerializer(s.Serializer):
    """Somebody in whose places papers are signed; ``name`` is "" while nobody is named, ``initials`` are
    those of the role then."""

    key = s.CharField()
    name = s.CharField(allow_blank=True)
    initials = s.CharField(allow_blank=True)
    role = s.CharField()


class RememberedSpotsSerializer(s.Serializer):
    """The places that were put on just this paper before, by whom and when."""

    spots = HandSpotSerializer(many=True)
    by = s.CharField(allow_blank=True)
    at = s.DateTimeField()


class SpotsSerializer(s.Serializer):
    """The possible signers of a paper, and the places remembered for it; None where there are none, or the
    paper has them already."""

    people = MaySignSerializer(many=True)
    remembered = RememberedSpotsSerializer(allow_null=True)
