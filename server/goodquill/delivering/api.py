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

from goodquill.deals.opening import only_a_deal, open_deal
from goodquill.deals.shapes import OfferQuery, offer_at_hand
from goodquill.delivering import actions, shapes
from goodquill.delivering.links import keep, open_by, recipient_of
from goodquill.delivering.models import DeliveredFile
from goodquill.delivering.queries import proposed, seen_by
from goodquill.http.anybody import ForAnybody
from goodquill.http.endpoints import as_file, checked
from goodquill.offices.attempts import counts_attempts
from goodquill.offices.once import expensive, once
from goodquill.offices.requests import MemberRequest
from goodquill.signing.shapes import OpenLinkSerializer
from goodquill.storage import files


class DeliveriesView(APIView):
    """The deliveries of a deal."""

    @extend_schema(operation_id="deliveries", parameters=[OfferQuery], responses=shapes.DeliveriesSerializer)
    def get(self, request: MemberRequest, deal: UUID) -> Response:
        """Return what may be delivered, to whom, and what was."""
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
    @expensive
    def post(self, request: MemberRequest, deal: UUID) -> Response:
        """Deliver some."""
        opened = open_deal(request.user, deal, offer_at_hand(request))  # whose it is comes first
        actions.deliver(request.user, opened, checked(shapes.DeliverSerializer, request))
        return Response(proposed(opened), 201)


class DeliverAgainView(APIView):
    """A former delivery, sent again."""

    @extend_schema(operation_id="deliver_again", request=None, responses=shapes.DeliveriesSerializer)
    @once
    def post(self, request: MemberRequest, delivery: UUID) -> Response:
        """Send it once more, as it was."""
        row = actions.again(request.user, delivery)
        return Response(proposed(open_deal(request.user, row.deal_id)))


class OpenPapersView(ForAnybody):
    """A link that is opened."""

    @extend_schema(operation_id="open_papers", request=OpenLinkSerializer, responses=shapes.ForYouSerializer)
    @counts_attempts("papers link")
    def post(self, request: Request, recipient: UUID) -> Response:
        """Let this browser see the papers."""
        person = open_by(recipient, checked(OpenLinkSerializer, request)["secret"])
        answer = Response(seen_by(person))
        keep(answer, person)
        return answer


class PapersForYouView(ForAnybody):
    """The papers."""

    @extend_schema(operation_id="papers_for_you", responses=shapes.ForYouSerializer)
    def get(self, request: Request, recipient: UUID) -> Response:
        """Return which they are."""
        return Response(seen_by(recipient_of(request, recipient)))


class PaperForYouView(ForAnybody):
    """One of them."""

    @extend_schema(operation_id="paper_for_you", responses={(200, "application/pdf"): OpenApiTypes.BINARY})
    def get(self, request: Request, recipient: UUID, delivered_file: UUID) -> HttpResponse:
        """Return the file as it was delivered."""
        person = recipient_of(request, recipient)
        row = get_object_or_404(DeliveredFile, pk=delivered_file, delivery=person.delivery_id)
        return as_file(files.fetch(row.content), "application/pdf", row.name)
