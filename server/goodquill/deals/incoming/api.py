"""Papers that come: sending them, looking at their pages, and putting them in their places."""

from __future__ import annotations

from uuid import UUID

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from quillcore.sandbox import PDF
from rest_framework.parsers import JSONParser, MultiPartParser
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill.deals import shapes
from goodquill.deals.incoming import actions as incoming
from goodquill.deals.incoming import shapes as incoming_shapes
from goodquill.deals.opening import find_deal
from goodquill.deals.requests import deal_request
from goodquill.deals.shapes import offer_at_hand
from goodquill.forms.pages import SHARPNESS, page_picture
from goodquill.http.endpoints import Refusal, checked, name_of, uploaded
from goodquill.offices.once import expensive, once
from goodquill.offices.requests import MemberRequest


class IncomingView(APIView):
    """Papers on their way into the package."""

    parser_classes = (MultiPartParser, JSONParser)

    @extend_schema(
        operation_id="incoming",
        parameters=[shapes.OfferQuery],
        responses=incoming_shapes.IncomingSerializer(many=True),
    )
    def get(self, request: MemberRequest, deal: UUID) -> Response:
        """Return those that wait to be put in their places."""
        return Response(incoming.waiting_of(request.user, deal, offer_at_hand(request)))

    @extend_schema(
        operation_id="take_in_paper",
        parameters=[shapes.OfferQuery],
        request={"multipart/form-data": incoming_shapes.IncomingFileSerializer},
        responses={201: incoming_shapes.IncomingSerializer},
    )
    @once
    @expensive
    def post(self, request: MemberRequest, deal: UUID) -> Response:
        """Read a PDF or a picture: what it is, what is filled in on it, and where it belongs."""
        find_deal(request.user, deal)  # whose it is comes before what was sent
        file = checked(incoming_shapes.IncomingFileSerializer, request)["file"]
        content = uploaded(file, PDF.most_bytes)
        return Response(
            incoming.take_in(request.user, deal, name_of(file), content, offer_at_hand(request)), 201
        )


class OneIncomingView(APIView):
    """One of them."""

    @extend_schema(operation_id="drop_incoming", responses={204: None})
    def delete(self, request: MemberRequest, deal: UUID, incoming_file: UUID) -> Response:
        """Leave it out."""
        incoming.drop(request.user, deal, incoming_file)
        return Response(status=204)


class IncomingPictureView(APIView):
    """A page of one of them as a picture."""

    @extend_schema(operation_id="incoming_picture", responses={(200, "image/png"): OpenApiTypes.BINARY})
    def get(
        self, request: MemberRequest, deal: UUID, incoming_file: UUID, page: int, sharpness: int
    ) -> HttpResponse:
        """Return the page (from 1) at one of the offered dots per inch."""
        found = incoming.one_of(request.user, deal, incoming_file)
        if sharpness not in SHARPNESS or not 1 <= page <= len(found.sizes):
            raise Refusal("This page doesn't exist.", "Reload the papers and try again.", code=404)
        return page_picture(found.content, page, sharpness, foreign=True)


class PutInPlaceView(APIView):
    """Putting them in their places."""

    @extend_schema(
        operation_id="put_in_place",
        parameters=[shapes.OfferQuery],
        request=incoming_shapes.PutInPlaceSerializer,
        responses=shapes.DeltaSerializer,
    )
    def post(self, request: MemberRequest, deal: UUID) -> Response:
        """Put the papers made of their pages where they belong, and take over answers on them."""
        given = checked(incoming_shapes.PutInPlaceSerializer, request)
        return Response(incoming.put_in_place(deal_request(request, deal, given), given["papers"]))
