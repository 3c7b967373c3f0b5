"""The endpoints of a deal's offers."""

from __future__ import annotations

from uuid import UUID

from drf_spectacular.utils import extend_schema
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill.deals.opening import open_deal
from goodquill.deals.requests import offer_request
from goodquill.deals.shapes import DeltaSerializer
from goodquill.http.endpoints import checked
from goodquill.offers import actions, shapes, turns
from goodquill.offices.once import expensive
from goodquill.offices.requests import MemberRequest


class OffersView(APIView):
    """A deal's offers."""

    @extend_schema(operation_id="offers", responses=shapes.OffersSerializer)
    @expensive
    def get(self, request: MemberRequest, deal: UUID) -> Response:
        """Return their terms side by side."""
        return Response(actions.side_by_side(open_deal(request.user, deal)))

    @extend_schema(operation_id="add_offer", request=shapes.NewOfferSerializer, responses=DeltaSerializer)
    def post(self, request: MemberRequest, deal: UUID) -> Response:
        """Add an offer, which is then at hand."""
        given = checked(shapes.NewOfferSerializer, request)
        return Response(actions.add_offer(offer_request(request, deal, given, given["like"]), given["name"]))


class OfferView(APIView):
    """One offer."""

    @extend_schema(operation_id="change_offer", request=shapes.OfferEditSerializer, responses=DeltaSerializer)
    def post(self, request: MemberRequest, deal: UUID, offer: int) -> Response:
        """Accept it, name it, say what became of it, or take it out."""
        given = checked(shapes.OfferEditSerializer, request)
        return Response(
            actions.change_offer(
                offer_request(request, deal, given, offer),
                given["op"],
                given["name"],
                given["day"],
                given["decline_others"],
            )
        )


class TurnsView(APIView):
    """The turns of one offer."""

    @extend_schema(operation_id="turns", responses=shapes.TurnsSerializer)
    @expensive
    def get(self, request: MemberRequest, deal: UUID, offer: int) -> Response:
        """Return its terms turn by turn, and what may be countered."""
        opened = open_deal(request.user, deal, offer)
        return Response(shapes.TurnsSerializer(turns.turn_by_turn(opened)).data)

    @extend_schema(
        operation_id="take_turn", request=shapes.NewTurnSerializer, responses=shapes.TurnTakenSerializer
    )
    def post(self, request: MemberRequest, deal: UUID, offer: int) -> Response:
        """Record a counteroffer: one side puts terms otherwise; our client's gets its paper."""
        given = checked(shapes.NewTurnSerializer, request)
        said = (given["maker"], given["day"], given["terms"], given["paper"])
        return Response(turns.take_turn(offer_request(request, deal, given, offer), *said))


class TurnView(APIView):
    """One turn."""

    @extend_schema(operation_id="agree_on", request=shapes.AgreedSerializer, responses=DeltaSerializer)
    def post(self, request: MemberRequest, deal: UUID, offer: int, turn: int) -> Response:
        """Record that both sides agree on it: its terms are the deal's."""
        given = checked(shapes.AgreedSerializer, request)
        return Response(turns.agree_on(offer_request(request, deal, given, offer), turn))
