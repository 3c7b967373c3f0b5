"""The shapes of what the forms endpoints take and give; the web's types are generated from them."""

from __future__ import annotations

from rest_framework import serializers as s


class FormSerializer(s.Serializer):
    """A form that can be added to a package.  ``own`` papers are the brokerage's; ``filled_by`` are the sides on which it is
    ours to fill (none: all); ``found`` is the text around what was looked for, where only the text has it."""

    number = s.CharField()
    title = s.CharField()
    topic = s.CharField()
    purpose = s.CharField(allow_blank=True)
    sides = s.ListField(child=s.CharField())
    kinds = s.ListField(child=s.CharField())
    audience = s.ListField(child=s.CharField())
    filled_by = s.ListField(child=s.CharField())
    pages = s.IntegerField()
    blanks = s.IntegerField()
    edition = s.CharField()
    released = s.DateField()
    association = s.CharField()
    own = s.BooleanField()
    favourite = s.BooleanField()
    found = s.CharField(allow_blank=True)


class FormsQuery(s.Serializer):
    """What is looked for."""

    find = s.CharField(required=False, allow_blank=True, default="", max_length=200)
    side = s.CharField(required=False, allow_blank=True, default="", max_length=20)
    kind = s.CharField(required=False, allow_blank=True, default="", max_length=60)
    topic = s.CharField(required=False, allow_blank=True, default="", max_length=60)


class FormBlankSerializer(s.Serializer):
    """One blank of a form: page from 1, rectangle in points, what it asks for and of whom."""

    id = s.CharField()
    page = s.IntegerField()
    rect = s.ListField(child=s.FloatField())
    shape = s.CharField()
    label = s.CharField()
    key = s.CharField(allow_blank=True)
    who = s.CharField(allow_blank=True)


class FormSheetSerializer(FormSerializer):
    """A form with its pages' sizes in points and its blanks."""

    sizes = s.ListField(child=s.ListField(child=s.FloatField()))
    fields_on_pages = FormBlankSerializer(many=True)


class FavouriteSerializer(s.Serializer):
    """A form to be kept at hand, or no longer."""

    association = s.CharField(max_length=200)
    number = s.CharField(max_length=20)
    favourite = s.BooleanField()


class CatalogFactSerializer(s.Serializer):
    """A fact that a blank can be bound to."""

    key = s.CharField()
    label = s.CharField()
    group = s.CharField()
    kind = s.CharField()
    options = s.ListField(child=s.CharField())
