"""Working on a document's pages by hand."""

from __future__ import annotations

from uuid import UUID

from drf_spectacular.utils import extend_schema
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill.deals import shapes
from goodquill.deals.markup import by_hand, spots
from goodquill.deals.markup.shapes import ChangeByHandSerializer, ChangeSpotsSerializer, SpotsSerializer
from goodquill.deals.requests import deal_request
from goodquill.deals.shapes import offer_at_hand
from goodquill.http.endpoints import checked
from goodquill.offices.requests import MemberRequest


class ByHandView(APIView):
    """Changing a document's pages by hand."""

    @extend_schema(
        operation_id="change_by_hand",
        parameters=[shapes.OfferQuery],
        request=ChangeByHandSerializer,
        responses=shapes.DeltaSerializer,
    )
    def post(self, request: MemberRequest, deal: UUID, document: str) -> Response:
        """Strike words out, write some in, or take such a change out again."""
        given = checked(ChangeByHandSerializer, request)
        return Response(by_hand.change_by_hand(deal_request(request, deal, given), document, given))


class SpotsView(APIView):
    """The places that are put on a document's pages for those who sign it."""

    @extend_schema(operation_id="spots", parameters=[shapes.OfferQuery], responses=SpotsSerializer)
    def get(self, request: MemberRequest, deal: UUID, document: str) -> Response:
        """Return who could sign it, and what was put on the same paper before."""
        return Response(spots.spots_for(request.user, deal, document, offer_at_hand(request)))

    @extend_schema(
        operation_id="change_spots",
        parameters=[shapes.OfferQuery],
        request=ChangeSpotsSerializer,
        responses=shapes.DeltaSerializer,
    )
    def post(self, request: MemberRequest, deal: UUID, document: str) -> Response:
        """Put places, move them, or take them out; never on top of each other."""
        given = checked(ChangeSpotsSerializer, request)
        return Response(spots.change_spots(deal_request(request, deal, given), document, given))
