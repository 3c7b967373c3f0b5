"""Finding property, and bringing it in."""

from __future__ import annotations

from uuid import UUID

from drf_spectacular.utils import extend_schema
from rest_framework import serializers as s
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill.deals.requests import deal_request
from goodquill.deals.shapes import DeltaSerializer, OfferQuery, offer_at_hand
from goodquill.http.endpoints import Refusal, asked, checked
from goodquill.offices.once import expensive
from goodquill.offices.requests import MemberRequest
from goodquill.runtime.services import Trouble
from goodquill.sources import actions, clients, searching
from goodquill.sources.shapes import (
    AcceptSerializer,
    ComparisonSerializer,
    LookSerializer,
    PropertyQuery,
    SearchSerializer,
)


class SearchView(APIView):
    """Homes in both sources at once."""

    @extend_schema(
        operation_id="find_property",
        parameters=[PropertyQuery],
        responses=SearchSerializer,
    )
    def get(self, request: MemberRequest) -> Response:
        """By listing number, parcel number, address or owner, within a county where one is named; a home in
        both sources is one row."""
        given = asked(PropertyQuery, request)
        text = given["text"].strip()
        if len(text) < 3:
            raise Refusal("Enter at least three characters.", "Type more to search.", "short")
        found, more, troubles = searching.search(text, given["county"].strip())
        return Response({"found": found, "more": more, "troubles": [t.message for t in troubles]})


class CountiesView(APIView):
    """Counties whose rolls can be searched."""

    @extend_schema(operation_id="counties", responses=s.ListSerializer(child=s.CharField()))
    def get(self, request: MemberRequest) -> Response:
        """Return their names; none while the roll can't be asked."""
        found = clients.counties()
        return Response([] if isinstance(found, Trouble) else found)


class LookView(APIView):
    """Comparing before anything changes."""

    @extend_schema(
        operation_id="compare_sources",
        parameters=[OfferQuery],
        request=LookSerializer,
        responses=ComparisonSerializer,
    )
    @expensive
    def post(self, request: MemberRequest, deal: UUID) -> Response:
        """Compare the sources with the deal."""
        given = checked(LookSerializer, request)
        if not any(given[name] for name in ("listing", "parcel", "file", "again")):
            raise Refusal("Enter a listing number or a parcel number.", "Enter one of them.", "which")
        return Response(actions.look(request.user, deal, actions.Wanted(**given), offer_at_hand(request)))


class AcceptView(APIView):
    """Bringing in."""

    @extend_schema(
        operation_id="bring_in", parameters=[OfferQuery], request=AcceptSerializer, responses=DeltaSerializer
    )
    @expensive
    def post(self, request: MemberRequest, deal: UUID) -> Response:
        """Write what the comparison showed, as one undoable step."""
        given = checked(AcceptSerializer, request)
        return Response(
            actions.accept(
                deal_request(request, deal, given),
                given["comparison"],
                given.get("take", {}),
                given.get("papers", []),
            )
        )
