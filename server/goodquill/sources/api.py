"""Finding property, and bringing it in."""

from __future__ import annotations

from uuid import UUID

from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework import serializers as s
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill.api import Refusal, checked
from goodquill.deals.api import OFFER, offer_at_hand
from goodquill.deals.serializers import DeltaSerializer
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


class SearchSerializer(s.Serializer):
    """What both sources found, and which of them could not be asked."""

    found = FoundSerializer(many=True)
    troubles = s.ListField(child=s.CharField())


class SearchView(APIView):
    """Homes in both sources at once."""

    @extend_schema(
        operation_id="find_property",
        parameters=[OpenApiParameter("text", str, required=True), OpenApiParameter("county", str)],
        responses=SearchSerializer,
    )
    def get(self, request: Request) -> Response:
        """By listing number, parcel number, address or owner, within a county where one is named; a home in both sources is one row."""
        text = request.query_params.get("text", "").strip()[:120]
        if len(text) < 3:
            raise Refusal("Three characters are the least to look for.", "Type a little more.", "short")
        listings, parcels, troubles = clients.search(text, request.query_params.get("county", "").strip()[:60])
        rows = {}
        for p in parcels[:40]:
            parts = (p.get(k) for k in ("situs_number", "situs_direction", "situs_street", "situs_suffix"))
            line = " ".join(x for x in parts if x) + (f" Unit {p['situs_unit']}" if p.get("situs_unit") else "") + f", {p.get('situs_city', '')}"
            rows[str(p.get("parcel", "")).replace("-", "")] = {
                "listing": "", "parcel": p.get("parcel", ""), "county": p.get("county", ""), "address": line, "status": "", "price": "", "owner": p.get("owner", ""),
            }  # fmt: skip
        for r in listings:
            parts = (r.get(k) for k in ("StreetNumber", "StreetDirPrefix", "StreetName", "StreetSuffix"))
            line = " ".join(str(x) for x in parts if x) + (f" Unit {r['UnitNumber']}" if r.get("UnitNumber") else "") + f", {r.get('City', '')}"
            name = str(r.get("ParcelNumber") or r.get("ListingId")).replace("-", "")
            price = r.get("ListPrice")
            base = rows.get(name, {"parcel": str(r.get("ParcelNumber") or ""), "county": str(r.get("CountyOrParish") or ""), "owner": ""})
            rows[name] = base | {
                "listing": str(r.get("ListingId", "")), "address": line, "status": str(r.get("StandardStatus", "")),
                "price": f"${price:,.0f}" if isinstance(price, (int, float)) else "",
            }  # fmt: skip
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
    """Which home: a listing number, or a parcel number within a county."""

    listing = s.CharField(max_length=40, allow_blank=True, required=False, default="")
    parcel = s.CharField(max_length=40, allow_blank=True, required=False, default="")
    county = s.CharField(max_length=40, allow_blank=True, required=False, default="")


class RowSerializer(s.Serializer):
    """One fact: now, at each source, and what it will become.  ``status``: new, same, differs, kept."""

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


class ComparisonSerializer(s.Serializer):
    """A comparison, to be accepted or left."""

    id = s.UUIDField()
    listing = s.CharField(allow_blank=True)
    status = s.CharField(allow_blank=True)
    parcel = s.CharField(allow_blank=True)
    county = s.CharField(allow_blank=True)
    rows = RowSerializer(many=True)
    troubles = s.ListField(child=s.CharField())
    unread = s.ListField(child=s.CharField())


class LookView(APIView):
    """Comparing before anything changes."""

    @extend_schema(operation_id="compare_sources", parameters=[OFFER], request=LookSerializer, responses=ComparisonSerializer)
    def post(self, request: Request, deal: UUID) -> Response:
        """What the sources say beside what the deal holds."""
        given = checked(LookSerializer, request)
        if not given["listing"] and not given["parcel"]:
            raise Refusal("A listing number or a parcel number is needed.", "Type one of them.", "which")
        return Response(actions.look(request.user, deal, given["listing"], given["parcel"], given["county"], offer_at_hand(request)))


class AcceptSerializer(s.Serializer):
    """Accepting a comparison; ``take`` names the source to believe where it isn't the proposed one."""

    change = s.UUIDField()
    comparison = s.UUIDField()
    take = s.DictField(child=s.ChoiceField(choices=["listing", "roll"]), required=False)


class AcceptView(APIView):
    """Bringing in."""

    @extend_schema(operation_id="bring_in", parameters=[OFFER], request=AcceptSerializer, responses=DeltaSerializer)
    def post(self, request: Request, deal: UUID) -> Response:
        """Write what the comparison showed, as one undoable step."""
        given = checked(AcceptSerializer, request)
        return Response(actions.accept(request.user, deal, given["change"], given["comparison"], given.get("take", {}), offer_at_hand(request)))
