"""The shapes of what the proofreading endpoints take and give; the web's types are generated from them."""

from __future__ import annotations

from quillcore.proofreading import RemarkWeight
from rest_framework import serializers as s

WEIGHTS = [(w.value, w.value) for w in RemarkWeight]


class MendSerializer(s.Serializer):
    """A fix for a remark, as one change: ``text`` typed under ``key`` (or put there as the wording of a
    ``clause``), the form of number ``add`` added, or the document ``aside`` set aside."""

    says = s.CharField()
    key = s.CharField(allow_blank=True)
    text = s.CharField(allow_blank=True)
    add = s.CharField(allow_blank=True)
    aside = s.CharField(allow_blank=True)
    clause = s.CharField(allow_blank=True)


class LeftWithReasonSerializer(s.Serializer):
    """Why somebody left a remark as it is."""

    reason = s.CharField()
    by = s.CharField()
    at = s.DateTimeField()


class RemarkSerializer(s.Serializer):
    """A remark: what it says and what mends it, where it stands on paper (``document`` and ``field``, ""
    where nowhere) and which fact or blank it speaks of.  ``left`` where it was left with a reason."""

    mark = s.CharField()
    rule = s.CharField()
    weight = s.ChoiceField(choices=WEIGHTS)
    message = s.CharField()
    mend = s.CharField(allow_blank=True)
    key = s.CharField(allow_blank=True)
    document = s.CharField(allow_blank=True)
    field = s.CharField(allow_blank=True)
    place = s.CharField(allow_blank=True)
    does = MendSerializer(allow_null=True)
    left = LeftWithReasonSerializer(allow_null=True)


class ProofSerializer(s.Serializer):
    """The remarks, what weighs most first; ``ready`` where nothing that must be mended is without a
    reason."""

    ready = s.BooleanField()
    remarks = RemarkSerializer(many=True)


class ReasonSerializer(s.Serializer):
    """Why the remark of that ``mark`` is left; without a reason it is asked about again."""

    mark = s.CharField(max_length=64)
    reason = s.CharField(max_length=300, allow_blank=True)
