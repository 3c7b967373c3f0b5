"""The shapes of what the assembly endpoints take and give; the web's types are generated from them."""

from __future__ import annotations

from rest_framework import serializers as s

from goodquill.api import named
from goodquill.deals.shapes import OfferQuery

AS = ("flat", "fillable", "xfdf", "separate")
"""How a file leaves: flattened, still to be filled in, the answers alone, or each document by itself in a
ZIP."""

FileQuery = named(
    "FileQuery",
    OfferQuery,
    "How a file leaves, and of which offer it is.",
    **{"as": s.ChoiceField(choices=AS, required=False, default="flat")},
)
