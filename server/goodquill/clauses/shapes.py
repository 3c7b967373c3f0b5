"""The shapes of what the endpoints of clauses take and give; the web's types are generated from them."""

from __future__ import annotations

from quillcore.facts.wording import MOST_WORDING
from rest_framework import serializers as s

from goodquill.clauses.models import ClauseReach

_MOST_NUMBER = 1_000_000


class WordingPartSerializer(s.Serializer):
    """Some words, or a fact by its key with what it is called."""

    words = s.CharField(allow_blank=True)
    key = s.CharField(allow_blank=True)
    label = s.CharField(allow_blank=True)


class ClauseSerializer(s.Serializer):
    """A clause: whose it is (``of`` whom or which office), who approved its newest version and when, in how
    many deals it stands.  ``ref`` names that version where it is put into a blank."""

    id = s.UUIDField()
    ref = s.CharField()
    name = s.CharField()
    wording = s.CharField()
    parts = WordingPartSerializer(many=True)
    reach = s.ChoiceField(choices=ClauseReach.choices)
    of = s.CharField(allow_blank=True)
    number = s.IntegerField()
    approved_by = s.CharField(allow_blank=True)
    approved_on = s.DateField(allow_null=True)
    used = s.IntegerField()
    may_write = s.BooleanField()


class ClauseVersionSerializer(s.Serializer):
    """One version of its wording."""

    number = s.IntegerField()
    name = s.CharField()
    wording = s.CharField()
    by = s.CharField()
    at = s.DateTimeField()


class ClauseUseSerializer(s.Serializer):
    """A deal in which that version stands, and in what."""

    deal = s.UUIDField()
    name = s.CharField()
    label = s.CharField()
    number = s.IntegerField()


class WholeClauseSerializer(ClauseSerializer):
    """A clause with what it said before, the newest first, and where it stands."""

    versions = ClauseVersionSerializer(many=True)
    uses = ClauseUseSerializer(many=True)


class SaveClauseSerializer(s.Serializer):
    """A clause as it is to be kept; ``based_on`` is the version that was written over."""

    name = s.CharField(max_length=120)
    wording = s.CharField(max_length=2 * MOST_WORDING, trim_whitespace=False)
    reach = s.ChoiceField(choices=ClauseReach.choices, required=False, default=ClauseReach.MINE.value)
    approved = s.BooleanField(required=False, default=False)
    based_on = s.IntegerField(required=False, default=0, min_value=0, max_value=_MOST_NUMBER)


class ClausesQuery(s.Serializer):
    """Words to find them by."""

    find = s.CharField(max_length=200, required=False, default="", allow_blank=True)
