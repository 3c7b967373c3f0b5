"""The shapes of what the offers endpoints take and give; the web's types are generated from them."""

from __future__ import annotations

from rest_framework import serializers as s

from goodquill.deals.shapes import MOST_ID, OfferSerializer


class OfferColumnSerializer(OfferSerializer):
    """An offer beside others: who speaks for the other side, and how many documents are this offer's own."""

    agent = s.CharField(allow_blank=True)
    firm = s.CharField(allow_blank=True)
    documents = s.IntegerField()


class OfferCellSerializer(s.Serializer):
    """One term in one offer."""

    shown = s.CharField(allow_blank=True)
    source = s.CharField(allow_null=True)


class OfferRowSerializer(s.Serializer):
    """One term across offers, in their order; ``apart`` where they don't all say the same."""

    key = s.CharField()
    label = s.CharField()
    kind = s.CharField()
    apart = s.BooleanField()
    cells = OfferCellSerializer(many=True)


class OffersSerializer(s.Serializer):
    """All offers of a deal side by side; ``other`` is the party group that they come from or go to."""

    offers = OfferColumnSerializer(many=True)
    rows = OfferRowSerializer(many=True)
    other = s.CharField()


class NewOfferSerializer(s.Serializer):
    """Another offer; ``like`` names one whose terms and documents are copied."""

    change = s.UUIDField()
    name = s.CharField(max_length=120, allow_blank=True, required=False, default="")
    like = s.IntegerField(required=False, allow_null=True, default=None, min_value=1, max_value=MOST_ID)


class OfferEditSerializer(s.Serializer):
    """What is to happen with an offer; ``day`` is the date of acceptance, ``name`` a new name."""

    change = s.UUIDField()
    op = s.ChoiceField(choices=["accept", "name", "remove", "open", "declined", "withdrawn"])
    name = s.CharField(max_length=120, allow_blank=True, required=False, default="")
    day = s.DateField(required=False, allow_null=True, default=None)
