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
from goodquill.offers import actions, agreeing, shapes, taking, turns
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
        """Name it, say what became of it, or take it out."""
        given = checked(shapes.OfferEditSerializer, request)
        change = offer_request(request, deal, given, offer)
        return Response(actions.change_offer(change, given["op"], given["name"]))


class AcceptanceView(APIView):
    """Acceptance of an offer."""

    @extend_schema(operation_id="acceptance", responses=shapes.AcceptanceSerializer)
    def get(self, request: MemberRequest, deal: UUID, offer: int) -> Response:
        """Return the terms that will be in force, and what stands against it."""
        return Response(agreeing.acceptance(open_deal(request.user, deal, offer)))

    @extend_schema(
        operation_id="accept_offer", request=shapes.AcceptOfferSerializer, responses=DeltaSerializer
    )
    def post(self, request: MemberRequest, deal: UUID, offer: int) -> Response:
        """Record that it was accepted, when and how."""
        given = checked(shapes.AcceptOfferSerializer, request)
        return Response(agreeing.accept(offer_request(request, deal, given, offer), given))


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
        return Response(taking.take_turn(offer_request(request, deal, given, offer), given["maker"], given))


class TurnView(APIView):
    """One turn."""

    @extend_schema(operation_id="agree_on", request=shapes.AgreedSerializer, responses=DeltaSerializer)
    def post(self, request: MemberRequest, deal: UUID, offer: int, turn: int) -> Response:
        """Record that both sides agree on it: its terms are the deal's."""
        given = checked(shapes.AgreedSerializer, request)
        return Response(agreeing.agree_on(offer_request(request, deal, given, offer), turn, given))

    @extend_schema(operation_id="change_turn", request=shapes.TurnSaidSerializer, responses=DeltaSerializer)
    def put(self, request: MemberRequest, deal: UUID, offer: int, turn: int) -> Response:
        """State it anew, with its paper, as long as it wasn't sent or answered."""
        given = checked(shapes.TurnSaidSerializer, request)
        return Response(taking.change_turn(offer_request(request, deal, given, offer), turn, given))
