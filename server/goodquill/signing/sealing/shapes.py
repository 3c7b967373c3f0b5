"""Shapes of checking a finished file."""

from __future__ import annotations

from rest_framework import serializers as s


class VerifyFileSerializer(s.Serializer):
    """A file to be checked."""

    file = s.FileField()


class CheckedShape(s.Serializer):
    """One thing that was looked at."""

    about = s.CharField()
    holds = s.BooleanField()
    sentence = s.CharField()


class VerdictSerializer(s.Serializer):
    """The results of checking a file; ``paper`` and ``signers`` as its record says."""

    holds = s.BooleanField()
    said = CheckedShape(many=True)
    paper = s.CharField(allow_blank=True)
    signers = s.ListField(child=s.CharField())
