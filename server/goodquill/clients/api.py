"""A client's record, contacts used in a deal, and a deal that hands on."""

from __future__ import annotations

from uuid import UUID

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from quillcore.sandbox import PDF
from rest_framework.parsers import JSONParser, MultiPartParser
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill.clients import actions, handing_on, leaving, shapes, starting
from goodquill.contacts.actions import find_contact
from goodquill.deals.actions import use_contact
from goodquill.deals.keeping import thrown_away
from goodquill.deals.payload import deal_row
from goodquill.deals.queries import deals_touched_last
from goodquill.deals.requests import deal_request
from goodquill.deals.shapes import (
    DealRowSerializer,
    DealsQuery,
    DeltaSerializer,
    LinkSerializer,
    OfferQuery,
    offer_at_hand,
)
from goodquill.http.endpoints import as_file, asked, checked, name_of, uploaded
from goodquill.http.limits import MOST_LISTED_DEALS
from goodquill.offices.once import expensive, once
from goodquill.offices.requests import MemberRequest
from goodquill.storage import files


class DealsView(APIView):
    """Deals: listed, and started."""

    @extend_schema(operation_id="deals", parameters=[DealsQuery], responses=DealRowSerializer(many=True))
    def get(self, request: MemberRequest) -> Response:
        """Return the fifty touched last; with ``find``, those that have words of name, address, parties or
        numbers which begin so; with ``thrown_away`` those that can still be brought back; ``before`` gives
        the fifty after the last one of a list."""
        given = asked(DealsQuery, request)
        if given["thrown_away"]:
            return Response([deal_row(d) for d in thrown_away(request.user)[:MOST_LISTED_DEALS]])
        return Response(
            [
                deal_row(d)
                for d in deals_touched_last(request.user, given["find"], given["agent"], given["before"])
            ]
        )

    @extend_schema(
        operation_id="start_deal", request=shapes.NewDealSerializer, responses={201: DealRowSerializer}
    )
    @once
    def post(self, request: MemberRequest) -> Response:
        """Start a deal."""
        return Response(
            deal_row(starting.start_deal(request.user, checked(shapes.NewDealSerializer, request))), 201
        )


class UseContactView(APIView):
    """Contacts in a deal."""

    @extend_schema(
        operation_id="use_contact",
        parameters=[OfferQuery],
        request=shapes.UseContactSerializer,
        responses=DeltaSerializer,
    )
    def post(self, request: MemberRequest, deal: UUID) -> Response:
        """Fill a group of facts from a contact."""
        g = checked(shapes.UseContactSerializer, request)
        return Response(
            use_contact(
                deal_request(request, deal, g),
                g["contact"],
                g["group"],
                g["party"],
            )
        )


class KeepContactView(APIView):
    """Facts of a deal kept as a contact."""

    @extend_schema(
        operation_id="keep_as_contact",
        parameters=[OfferQuery],
        request=shapes.KeepContactSerializer,
        responses={201: LinkSerializer},
    )
    @once
    def post(self, request: MemberRequest, deal: UUID) -> Response:
        """Keep the contact that is probably the same, with what it lacked; else add a new one."""
        g = checked(shapes.KeepContactSerializer, request)
        offer = offer_at_hand(request)
        contact = actions.keep_as_contact(request.user, deal, g["group"], g["position"], offer)
        return Response({"id": contact.pk, "name": contact.name}, 201)


class RecordView(APIView):
    """A client's record."""

    parser_classes = (MultiPartParser, JSONParser)

    @extend_schema(operation_id="client_record", responses=shapes.RecordSerializer)
    def get(self, request: MemberRequest, contact: UUID) -> Response:
        """Return the contact with papers, homes seen, deals, and what is missing."""
        return Response(actions.record(request.user, contact))

    @extend_schema(
        operation_id="add_client_paper",
        request={"multipart/form-data": shapes.UploadedPaperSerializer},
        responses={201: None},
    )
    @once
    @expensive
    def post(self, request: MemberRequest, contact: UUID) -> Response:
        """Keep a PDF on the record; it then shows in the client's deals."""
        find_contact(request.user, contact)
        g = checked(shapes.UploadedPaperSerializer, request)
        content, title = (
            uploaded(g["file"], PDF.most_bytes),
            g["title"] or name_of(g["file"]).rsplit(".", 1)[0],
        )
        actions.keep_upload(request.user, contact, title, content, g["represents"], g["ends"])
        return Response(status=201)


class ClientPaperView(APIView):
    """One paper of a client's."""

    @extend_schema(operation_id="client_paper", responses={(200, "application/pdf"): OpenApiTypes.BINARY})
    def get(self, request: MemberRequest, paper: int) -> HttpResponse:
        """Return the paper as PDF."""
        found = actions.find_paper(request.user, paper)
        return as_file(files.fetch(found.edition.page_content), "application/pdf", f"{found.title}.pdf")

    @extend_schema(operation_id="drop_client_paper", responses={204: None})
    def delete(self, request: MemberRequest, paper: int) -> Response:
        """Take it off the record; it can be put back."""
        actions.remove_paper(request.user, paper, removed=True)
        return Response(status=204)

    @extend_schema(operation_id="restore_client_paper", request=None, responses={204: None})
    def post(self, request: MemberRequest, paper: int) -> Response:
        """Put it back on the record."""
        actions.remove_paper(request.user, paper, removed=False)
        return Response(status=204)


class KeepWithClientView(APIView):
    """Keeping a document of a deal with its actions."""

    @extend_schema(
        operation_id="keep_with_client", parameters=[OfferQuery], request=None, responses={204: None}
    )
    @once
    @expensive
    def post(self, request: MemberRequest, deal: UUID, document: str) -> Response:
        """Keep it, as it stands, on the record of the deal's actions."""
        actions.keep_from_deal(request.user, deal, document, offer_at_hand(request))
        return Response(status=204)


class HandOnView(APIView):
    """The client's next deal."""

    @extend_schema(
        operation_id="hand_on", request=shapes.HandOnSerializer, responses={201: DealRowSerializer}
    )
    @once
    @expensive
    def post(self, request: MemberRequest, deal: UUID) -> Response:
        """Start it from this one, with everything that still holds."""
        return Response(
            deal_row(
                handing_on.hand_on(
                    request.user, deal, checked(shapes.HandOnSerializer, request)["fell_through"]
                )
            ),
            201,
        )


class StageView(APIView):
    """The stage of a deal."""

    @extend_schema(operation_id="set_stage", request=shapes.StageSerializer, responses=DealRowSerializer)
    @once
    def post(self, request: MemberRequest, deal: UUID) -> Response:
        """Say that it fell through, that it closed, or that it goes on."""
        return Response(
            deal_row(
                handing_on.set_stage(request.user, deal, checked(shapes.StageSerializer, request)["stage"])
            )
        )


class LeaveView(APIView):
    """A member who leaves."""

    @extend_schema(
        operation_id="end_access", request=shapes.LeavingSerializer, responses=shapes.PassedSerializer
    )
    @once
    def post(self, request: MemberRequest, member: UUID) -> Response:
        """End access at once; deals, contacts and templates pass to somebody."""
        to = checked(shapes.LeavingSerializer, request)["to"]
        return Response({"passed": leaving.end_access(request.user, member, to)})
