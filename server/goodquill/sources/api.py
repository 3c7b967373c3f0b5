"""Finding property, and bringing it in."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Any
from uuid import UUID

from drf_spectacular.utils import extend_schema
from quillcore.facts.intake import category_of
from rest_framework import serializers as s
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill.api import Refusal, asked, checked, sent_with
from goodquill.contacts.models import HOME_CHOICES
from goodquill.deals.api import offer_at_hand
from goodquill.deals.serializers import DeltaSerializer, OfferQuery
from goodquill.offices.once import dear
from goodquill.services import Trouble
from goodquill.sources import actions, clients


class FoundSerializer(s.Serializer):
    """One home in either source."""

    listing = s.CharField(allow_blank=True)
    parcel = s.CharField(allow_blank=True)
    county = s.CharField(allow_blank=True)
    address = s.CharField()
    status = s.CharField(allow_blank=True)
    price = s.CharField(allow_blank=True)
    owner = s.CharField(allow_blank=True)
    kind = s.ChoiceField(choices=HOME_CHOICES)
    category = s.CharField(allow_blank=True)


class SearchSerializer(s.Serializer):
    """What both sources found, and which of them could not be asked."""

    found = FoundSerializer(many=True)
    troubles = s.ListField(child=s.CharField())


def _line(record: Mapping[str, Any], street: Sequence[str], unit: str, city: str) -> str:
    said = " ".join(str(record[k]) for k in street if record.get(k)) + (f" Unit {record[unit]}" if record.get(unit) else "")
    return ", ".join(x for x in (said, str(record.get(city) or "")) if x)


def parcel_found(row: Mapping[str, Any]) -> dict[str, Any]:
    """A row of a roll as a home that was found."""
    line = _line(row, ("situs_number", "situs_direction", "situs_street", "situs_suffix"), "situs_unit", "situs_city")
    return {
        "listing": "",
        "parcel": row.get("parcel", ""),
        "county": row.get("county", ""),
        "address": line,
        "status": "",
        "price": "",
        "owner": row.get("owner", ""),
        "kind": "sale",
        "category": row.get("land_use", ""),
    }


def listing_found(record: Mapping[str, Any]) -> dict[str, Any]:
    """A listing as a home that was found."""
    price = record.get("ListPrice")
    return {
        "listing": str(record.get("ListingId") or ""), "parcel": str(record.get("ParcelNumber") or ""), "county": str(record.get("CountyOrParish") or ""), "owner": "",
        "address": _line(record, ("StreetNumber", "StreetDirPrefix", "StreetName", "StreetSuffix"), "UnitNumber", "City"),
        "kind": "lease" if "Lease" in str(record.get("PropertyType")) else "sale", "category": category_of(record),
        "status": str(record.get("StandardStatus") or ""), "price": f"${price:,.0f}" if isinstance(price, (int, float)) and abs(price) < 1e12 else "",
    }  # fmt: skip


def home_of(record: Mapping[str, Any]) -> dict[str, Any]:
    """A listing as a home that was seen."""
    return {k: v for k, v in listing_found(record).items() if k not in ("status", "owner")}


class PropertyQuery(s.Serializer):
    """What is looked for, within a county where one is named."""

    text = s.CharField(max_length=120)
    county = s.CharField(required=False, allow_blank=True, default="", max_length=60)


class SearchView(APIView):
    """Homes in both sources at once."""

    @extend_schema(
        operation_id="find_property",
        parameters=[PropertyQuery],
        responses=SearchSerializer,
    )
    def get(self, request: Request) -> Response:
        """By listing number, parcel number, address or owner, within a county where one is named; a home in both sources is one row."""
        given = asked(PropertyQuery, request)
        text = given["text"].strip()
        if len(text) < 3:
            raise Refusal("Three characters are the least to look for.", "Type a little more.", "short")
        listings, parcels, troubles = clients.search(text, given["county"].strip())
        rows = {}
        for p in parcels[:40]:
            rows[str(p.get("parcel", "")).replace("-", "")] = parcel_found(p)
        for r in listings:
            found = listing_found(r)
            name = str(found["parcel"] or found["listing"]).replace("-", "")
            known = rows.get(name, {})
            rows[name] = found | {k: known[k] for k in ("parcel", "county", "owner") if k in known}
        ordered = sorted(rows.values(), key=lambda row: (row["status"] != "Active", not row["listing"]))
        return Response({"found": ordered[:12], "troubles": [t.message for t in troubles]})


class CountiesView(APIView):
    """Counties whose rolls can be searched."""

    @extend_schema(operation_id="counties", responses=s.ListSerializer(child=s.CharField()))
    def get(self, request: Request) -> Response:
        """Their names; none while the roll can't be asked."""
        found = clients.counties()
        return Response([] if isinstance(found, Trouble) else found)


class LookSerializer(s.Serializer):
    """Which home: a listing number, a parcel number within a county, a ``row`` (from 0) of a file, or the one brought in before."""

    listing = s.CharField(max_length=40, allow_blank=True, required=False, default="")
    parcel = s.CharField(max_length=40, allow_blank=True, required=False, default="")
    county = s.CharField(max_length=40, allow_blank=True, required=False, default="")
    file = s.UUIDField(required=False, allow_null=True, default=None)
    row = s.IntegerField(required=False, default=0, min_value=0, max_value=2**31 - 1)
    again = s.BooleanField(required=False, default=False)


class RowSerializer(s.Serializer):
    """One fact: now, at each source, and what it will become.  ``status``: new, same, differs, kept.  ``was`` is what a
    source said when it was brought in before, where it says something else now."""

    key = s.CharField()
    label = s.CharField()
    group = s.CharField()
    now = s.CharField(allow_blank=True)
    now_source = s.CharField(allow_null=True)
    listing = s.CharField(allow_blank=True)
    roll = s.CharField(allow_blank=True)
    becomes = s.CharField(allow_blank=True)
    becomes_source = s.CharField(allow_null=True)
    status = s.ChoiceField(choices=["new", "same", "differs", "kept"])
    heavy = s.BooleanField()
    was = s.DictField(child=s.CharField())


class AttachedSerializer(s.Serializer):
    """A paper attached to the listing; ``place`` is what the package expects and it would take the place of."""

    key = s.CharField()
    title = s.CharField()
    place = s.CharField(allow_blank=True)


class ComparisonSerializer(s.Serializer):
    """A comparison, to be accepted or left.  ``before`` is when something was last brought into the deal."""

    id = s.UUIDField()
    listing = s.CharField(allow_blank=True)
    status = s.CharField(allow_blank=True)
    parcel = s.CharField(allow_blank=True)
    county = s.CharField(allow_blank=True)
    file = s.CharField(allow_blank=True)
    before = s.DateTimeField(allow_null=True)
    rows = RowSerializer(many=True)
    papers = AttachedSerializer(many=True)
    troubles = s.ListField(child=s.CharField())
    unread = s.ListField(child=s.CharField())


class LookView(APIView):
    """Comparing before anything changes."""

    @extend_schema(operation_id="compare_sources", parameters=[OfferQuery], request=LookSerializer, responses=ComparisonSerializer)
    @dear
    def post(self, request: Request, deal: UUID) -> Response:
        """What the sources say beside what the deal holds."""
        given = checked(LookSerializer, request)
        if not any(given[name] for name in ("listing", "parcel", "file", "again")):
            raise Refusal("A listing number or a parcel number is needed.", "Type one of them.", "which")
        return Response(actions.look(request.user, deal, actions.Wanted(**given), offer_at_hand(request)))


class AcceptSerializer(s.Serializer):
    """Accepting a comparison; ``take`` names the source to believe where it isn't the proposed one."""

    change = s.UUIDField()
    comparison = s.UUIDField()
    take = s.DictField(child=s.ChoiceField(choices=["listing", "roll"]), required=False)
    papers = s.ListField(child=s.CharField(max_length=80), required=False, max_length=30)


class AcceptView(APIView):
    """Bringing in."""

    @extend_schema(operation_id="bring_in", parameters=[OfferQuery], request=AcceptSerializer, responses=DeltaSerializer)
    @dear
    def post(self, request: Request, deal: UUID) -> Response:
        """Write what the comparison showed, as one undoable step."""
        given = checked(AcceptSerializer, request)
        return Response(
            actions.accept(
                request.user,
                deal,
                sent_with(request, given),
                given["comparison"],
                given.get("take", {}),
                given.get("papers", []),
                offer_at_hand(request),
            )
        )
