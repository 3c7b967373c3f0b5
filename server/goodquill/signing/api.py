"""The signing endpoints."""

from __future__ import annotations

from uuid import UUID

from drf_spectacular.utils import extend_schema
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill.deals.opening import only_a_deal, open_deal
from goodquill.deals.shapes import OfferQuery, offer_at_hand
from goodquill.offices.requests import MemberRequest
from goodquill.signing.queries import who_signs
from goodquill.signing.shapes import WhoSignsSerializer


class WhoSignsView(APIView):
    """Who signs a deal's package."""

    @extend_schema(operation_id="who_signs", parameters=[OfferQuery], responses=WhoSignsSerializer)
    def get(self, request: MemberRequest, deal: UUID) -> Response:
        """Everybody with their papers and places, and what stands against sending it."""
        opened = open_deal(request.user, deal, offer_at_hand(request))
        only_a_deal(opened.deal)
        return Response(who_signs(opened))
