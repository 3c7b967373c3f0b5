"""Delivering papers, and the page of whoever got some."""

from __future__ import annotations

from uuid import UUID

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill import files, linked
from goodquill.api import as_file, checked
from goodquill.deals.opening import find_deal, only_a_deal, open_deal
from goodquill.deals.shapes import OfferQuery, offer_at_hand
from goodquill.delivering import actions, shapes
from goodquill.delivering.models import DeliveredFile
from goodquill.delivering.queries import proposed, seen_by
from goodquill.offices.once import dear, once
from goodquill.offices.requests import MemberRequest
from goodquill.signing.signer_api import TriesAtLinks

COOKIE = "papers"
KEPT = 24 * 3600
"""Seconds that a browser is known; the link opens the papers anew."""


class DeliveriesView(APIView):
    """What leaves a deal."""

    @extend_schema(operation_id="deliveries", parameters=[OfferQuery], responses=shapes.DeliveriesSerializer)
    def get(self, request: MemberRequest, deal: UUID) -> Response:
        """What may be delivered, to whom, and what was."""
        opened = open_deal(request.user, deal, offer_at_hand(request))
        only_a_deal(opened.deal)
        return Response(proposed(opened))

    @extend_schema(
        operation_id="deliver",
        parameters=[OfferQuery],
        request=shapes.DeliverSerializer,
        responses={201: shapes.DeliveriesSerializer},
    )
    @once
    @dear
    def post(self, request: MemberRequest, deal: UUID) -> Response:
        """Deliver some."""
        find_deal(request.user, deal)  # whose it is comes before what was sent
        offer = offer_at_hand(request)
        actions.deliver(request.user, deal, offer, checked(shapes.DeliverSerializer, request))
        return Response(proposed(open_deal(request.user, deal, offer)), 201)


class DeliverAgainView(APIView):
    """What was delivered before."""

    @extend_schema(operation_id="deliver_again", request=None, responses=shapes.DeliveriesSerializer)
    @once
    def post(self, request: MemberRequest, delivery: UUID) -> Response:
        """Send it once more, as it was."""
        row = actions.again(request.user, delivery)
        return Response(proposed(open_deal(request.user, row.deal_id)))


class ForYou(APIView):
    """For whoever has a link to papers."""

    authentication_classes = ()
    permission_classes = ()


class OpenPapersView(ForYou):
    """A link that is opened."""

    throttle_classes = (TriesAtLinks,)

    @extend_schema(
        operation_id="open_papers", request=shapes.OpenLinkSerializer, responses=shapes.ForYouSerializer
    )
    def post(self, request: Request, recipient: UUID) -> Response:
        """Let this browser see the papers."""
        secret = checked(shapes.OpenLinkSerializer, request)["secret"]
        person = actions.open_by(recipient, secret)
        answer = Response(seen_by(person))
        linked.keep(answer, COOKIE, secret, f"/api/papers-for/{person.pk}", KEPT)
        return answer


class PapersForYouView(ForYou):
    """The papers."""

    @extend_schema(operation_id="papers_for_you", responses=shapes.ForYouSerializer)
    def get(self, request: Request, recipient: UUID) -> Response:
        """Which they are."""
        return Response(seen_by(actions.open_by(recipient, request.COOKIES.get(COOKIE, ""))))


class PaperForYouView(ForYou):
    """One of them."""

    @extend_schema(operation_id="paper_for_you", responses={(200, "application/pdf"): OpenApiTypes.BINARY})
    def get(self, request: Request, recipient: UUID, delivered_file: UUID) -> HttpResponse:
        """As it was delivered."""
        person = actions.open_by(recipient, request.COOKIES.get(COOKIE, ""))
        row = get_object_or_404(DeliveredFile, pk=delivered_file, delivery=person.delivery_id)
        return as_file(files.fetch(row.content), "application/pdf", row.name)
