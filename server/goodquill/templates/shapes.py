"""The shapes of what the templates endpoints take and give; the web's types are generated from them."""

from __future__ import annotations

from rest_framework import serializers


class TemplateSerializer(serializers.Serializer):
    """A template as a choice."""

    id = serializers.UUIDField()
    name = serializers.CharField()
    side = serializers.CharField()
    kinds = serializers.ListField(child=serializers.CharField())
    about = serializers.CharField()
    documents = serializers.IntegerField()
    answers = serializers.IntegerField()
