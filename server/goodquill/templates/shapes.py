"""The shapes of what the templates endpoints take and give; the web's types are generated from them."""

from __future__ import annotations

from quillcore.facts import Side
from rest_framework import serializers as s

SIDES = ["", *(side.value for side in Side)]


class TemplatesQuery(s.Serializer):
    """What a new deal is about: its side, and the kind of property."""

    side = s.ChoiceField(choices=SIDES, required=False, default="")
    category = s.CharField(required=False, allow_blank=True, default="", max_length=60)


class TemplateSerializer(s.Serializer):
    """A template as a choice; ``fits`` marks the one that fits best what was asked about."""

    fits = s.BooleanField()
    id = s.UUIDField()
    name = s.CharField()
    side = s.CharField()
    kinds = s.ListField(child=s.CharField())
    about = s.CharField()
    documents = s.IntegerField()
    answers = s.IntegerField()
