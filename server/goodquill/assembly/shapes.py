"""The shapes of what the assembly endpoints take and give; the web's types are generated from them."""

from __future__ import annotations

from rest_framework import serializers as s

from goodquill.deals.shapes import OfferQuery
from goodquill.http.endpoints import named

AS = ("flat", "pen", "fillable", "xfdf", "separate")
"""The forms in which a file leaves: flattened, the same with arrows to each place that is signed with a pen,
still to be filled in, the answers alone, or each document by itself in a ZIP."""

FileQuery = named(
    "FileQuery",
    OfferQuery,
    "How a file leaves, and of which offer it is.",
    **{"as": s.ChoiceField(choices=AS, required=False, default="flat")},
)


class ContinuationSpotSerializer(s.Serializer):
    """A place to sign: whose, and where in points from the lower left."""

    role = s.CharField()
    sign = s.CharField()
    rect = s.ListField(child=s.FloatField())


class ContinuationPageSerializer(s.Serializer):
    """A continuation page of a document, from 1, on a letter page: ``lines`` are [x, baseline y, size,
    text] and ``rules`` [left, y, right], in points from the lower left."""

    document = s.CharField()
    number = s.IntegerField()
    lines = s.ListField(child=s.ListField())
    rules = s.ListField(child=s.ListField(child=s.FloatField()))
    spots = ContinuationSpotSerializer(many=True)
