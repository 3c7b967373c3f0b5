"""Endpoints for a deal's signers, and its rounds: made, sent, followed."""

from __future__ import annotations

from uuid import UUID

from django.contrib.auth import logout
from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill.deals.opening import find_deal, only_a_deal, open_deal
from goodquill.deals.requests import deal_request
from goodquill.deals.shapes import DeltaSerializer, OfferQuery, offer_at_hand
from goodquill.forms.pages import SHARPNESS, page_picture
from goodquill.http.endpoints import Refusal, as_file, asked, checked
from goodquill.offices.once import expensive, once
from goodquill.offices.requests import MemberRequest
from goodquill.signing.letters import TOLD, told_of
from goodquill.signing.links import keep, keep_known
from goodquill.signing.models import Paper
from goodquill.signing.rounds import by_pen, following, making, sending, shapes
from goodquill.signing.rounds.handing_over import hand_over, own_link
from goodquill.signing.rounds.news import news_for
from goodquill.signing.rounds.on_paper import record_signed
from goodquill.signing.rounds.queries import out_for, rounds_of, whole_round
from goodquill.signing.rounds.returned import returned
from goodquill.signing.rounds.who_signs import who_signs
from goodquill.storage import files


class WhoSignsView(APIView):
    """The signers of a deal's package."""

    @extend_schema(operation_id="who_signs", parameters=[OfferQuery], responses=shapes.WhoSignsSerializer)
    def get(self, request: MemberRequest, deal: UUID) -> Response:
        """Return everybody with their papers and places, and what stands against sending it."""
        opened = open_deal(request.user, deal, offer_at_hand(request))
        only_a_deal(opened.deal)
        return Response(who_signs(opened))


class RoundsView(APIView):
    """A deal's rounds."""

    @extend_schema(operation_id="rounds", responses=shapes.RoundSerializer(many=True))
    def get(self, request: MemberRequest, deal: UUID) -> Response:
        """Return the newest first."""
        return Response(rounds_of(find_deal(request.user, deal).pk))

    @extend_schema(
        operation_id="begin_round",
        parameters=[OfferQuery],
        request=shapes.BeginRoundSerializer,
        responses={201: shapes.WholeRoundSerializer},
    )
    @once
    def post(self, request: MemberRequest, deal: UUID) -> Response:
        """Begin a round, with the usual choices proposed."""
        find_deal(request.user, deal)  # whose it is comes before what was sent
        given = checked(shapes.BeginRoundSerializer, request)
        row = making.begin_round(request.user, deal, offer_at_hand(request), given["like"], given["papers"])
        return Response(whole_round(request.user, row), 201)


class ReturnedView(APIView):
    """A paper that came back."""

    @extend_schema(operation_id="returned", parameters=[shapes.AgainstQuery], responses=shapes.ReturnedShape)
    @expensive
    def get(self, request: MemberRequest, deal: UUID, document: str) -> Response:
        """Return what they changed in it."""
        given = asked(shapes.AgainstQuery, request)
        found = returned(request.user, deal, given["offer"], document, given["against"])
        return Response(shapes.ReturnedShape(found).data)


class SignedOnPaperView(APIView):
    """A paper that came back signed by pen."""

    @extend_schema(
        operation_id="record_signed",
        parameters=[OfferQuery],
        request=shapes.SignedOnPaperSerializer,
        responses=DeltaSerializer,
    )
    def post(self, request: MemberRequest, deal: UUID, document: str) -> Response:
        """Record by whom it was signed and when."""
        given = checked(shapes.SignedOnPaperSerializer, request)
        said = (document, given["ours"], given["who"], given["day"])
        return Response(record_signed(deal_request(request, deal, given), *said))


class RoundsOutView(APIView):
    """Rounds of all deals."""

    @extend_schema(operation_id="rounds_out", responses=shapes.RoundOutSerializer(many=True))
    def get(self, request: MemberRequest) -> Response:
        """Return the own ones that are out for signature."""
        return Response(out_for(request.user))


class NewsView(APIView):
    """Events in one's own rounds."""

    @extend_schema(operation_id="round_news", parameters=[shapes.AfterQuery], responses=shapes.NewsShape)
    def get(self, request: MemberRequest) -> Response:
        """Return what happened after the last event that is known; without one only which that is."""
        return Response(news_for(request.user, asked(shapes.AfterQuery, request)["after"]))


class ToldView(APIView):
    """Letters about one's own rounds."""

    @extend_schema(operation_id="told_of_rounds", responses=shapes.ToldShape(many=True))
    def get(self, request: MemberRequest) -> Response:
        """Return of which events one gets letters."""
        return Response(told_of(request.user))

    @extend_schema(
        operation_id="say_told_of_rounds",
        request=shapes.NotToldSerializer,
        responses=shapes.ToldShape(many=True),
    )
    def post(self, request: MemberRequest) -> Response:
        """Say of which none is wanted; the product itself tells all of them."""
        wanted = checked(shapes.NotToldSerializer, request)["not_told"]
        request.user.not_told = [kind for kind in TOLD if kind in wanted]
        request.user.save(update_fields=["not_told"])
        return Response(told_of(request.user))


class RoundView(APIView):
    """One round."""

    @extend_schema(operation_id="round", responses=shapes.WholeRoundSerializer)
    def get(self, request: MemberRequest, round_id: UUID) -> Response:
        """Return a round with what happened; while it is being made, with what there is to choose."""
        return Response(whole_round(request.user, making.find_round(request.user, round_id)))

    @extend_schema(
        operation_id="change_round",
        request=shapes.ChangeRoundSerializer,
        responses=shapes.WholeRoundSerializer,
    )
    @once
    def post(self, request: MemberRequest, round_id: UUID) -> Response:
        """Change what is planned."""
        making.find_round(request.user, round_id)  # whose it is comes before what was sent
        row = making.change(request.user, round_id, checked(shapes.ChangeRoundSerializer, request))
        return Response(whole_round(request.user, row))

    @extend_schema(operation_id="throw_away_round", responses={204: None})
    def delete(self, request: MemberRequest, round_id: UUID) -> Response:
        """Drop one that was never sent."""
        making.throw_away(request.user, round_id)
        return Response(status=204)


class LookAtRoundView(APIView):
    """The papers of a round, before they are sent."""

    @extend_schema(operation_id="look_at_round", request=None, responses=shapes.WholeRoundSerializer)
    @expensive
    def post(self, request: MemberRequest, round_id: UUID) -> Response:
        """Make them as they will be sent: just these are."""
        return Response(whole_round(request.user, sending.look(request.user, round_id)))


class SendRoundView(APIView):
    """A round, sent."""

    @extend_schema(
        operation_id="send_round", request=shapes.SendSerializer, responses=shapes.WholeRoundSerializer
    )
    def post(self, request: MemberRequest, round_id: UUID) -> Response:
        """Send just what was looked at; sent twice, it goes once."""
        making.find_round(request.user, round_id)
        reason = checked(shapes.SendSerializer, request)["reason"]
        row = sending.send(request.user, round_id, reason, str(request.META.get("REMOTE_ADDR", "")))
        return Response(whole_round(request.user, row, just_sent=True))


class RecallView(APIView):
    """A round that is taken back."""

    @extend_schema(
        operation_id="recall_round", request=shapes.RecallSerializer, responses=shapes.WholeRoundSerializer
    )
    def post(self, request: MemberRequest, round_id: UUID) -> Response:
        """Close its links, and tell who was asked."""
        making.find_round(request.user, round_id)
        row = following.recall(request.user, round_id, checked(shapes.RecallSerializer, request)["said"])
        return Response(whole_round(request.user, row))


class RemindView(APIView):
    """Somebody who is waited on."""

    @extend_schema(operation_id="remind_signer", request=None, responses=shapes.WholeRoundSerializer)
    def post(self, request: MemberRequest, round_id: UUID, signer: UUID) -> Response:
        """Ask once more."""
        return Response(whole_round(request.user, following.remind(request.user, round_id, signer)))


class ReaddressView(APIView):
    """Somebody whose address was wrong."""

    @extend_schema(
        operation_id="readdress_signer",
        request=shapes.AddressSerializer,
        responses=shapes.WholeRoundSerializer,
    )
    def post(self, request: MemberRequest, round_id: UUID, signer: UUID) -> Response:
        """Send the link to another; the old one leads nowhere."""
        making.find_round(request.user, round_id)
        email = checked(shapes.AddressSerializer, request)["email"]
        row = following.readdress(request.user, round_id, signer, email)
        return Response(whole_round(request.user, row))


class ByPenView(APIView):
    """Somebody of a round who signed on paper."""

    @extend_schema(operation_id="scans", parameters=[shapes.ScanQuery], responses=shapes.ScansSerializer)
    @expensive
    def get(self, request: MemberRequest, round_id: UUID, signer: UUID) -> Response:
        """Return which papers could be scans; of those that are named, which is the scan of what."""
        codes = asked(shapes.ScanQuery, request)["documents"].split()
        return Response(by_pen.scans_in(request.user, round_id, signer, codes))

    @extend_schema(
        operation_id="signed_by_pen", request=shapes.ByPenSerializer, responses=shapes.WholeRoundSerializer
    )
    @once
    def post(self, request: MemberRequest, round_id: UUID, signer: UUID) -> Response:
        """Record it: nothing more is expected of them."""
        making.find_round(request.user, round_id)
        given = checked(shapes.ByPenSerializer, request)
        scans = {scan["paper"]: scan["document"] for scan in given["scans"]}
        row = by_pen.record_by_pen(request.user, round_id, signer, scans, given["day"])
        return Response(whole_round(request.user, row))


class OwnLinkView(APIView):
    """The user's own place in a round."""

    @extend_schema(operation_id="own_signing_link", request=None, responses=shapes.OwnLinkSerializer)
    def post(self, request: MemberRequest, round_id: UUID, signer: UUID) -> Response:
        """Return the link, for whoever signs there."""
        person, address = own_link(request.user, round_id, signer)
        answer = Response({"address": address})
        keep(answer, person)
        keep_known(answer, person)
        return answer


class HandOverView(APIView):
    """Signing in person, on the user's device."""

    @extend_schema(operation_id="hand_over", request=None, responses=shapes.OwnLinkSerializer)
    def post(self, request: MemberRequest, round_id: UUID, signer: UUID) -> Response:
        """Sign the user out and the signer in: the device is given back at the sign-in page."""
        person, address = hand_over(request.user, round_id, signer)
        logout(request._request)
        answer = Response({"address": address})
        keep(answer, person, stays=False)
        keep_known(answer, person, stays=False)
        return answer


class RoundPaperView(APIView):
    """A paper of a round as a file."""

    @extend_schema(operation_id="round_paper", responses={(200, "application/pdf"): OpenApiTypes.BINARY})
    def get(self, request: MemberRequest, round_id: UUID, paper_id: UUID) -> HttpResponse:
        """Return the finished one, before that as it is sent."""
        row = _paper(request, round_id, paper_id)
        return as_file(files.fetch(row.finished or row.frozen), "application/pdf", f"{row.named}.pdf")


class RoundPictureView(APIView):
    """A page of it as a picture."""

    @extend_schema(operation_id="round_picture", responses={(200, "image/png"): OpenApiTypes.BINARY})
    def get(
        self, request: MemberRequest, round_id: UUID, paper_id: UUID, page: int, sharpness: int
    ) -> HttpResponse:
        """Return the page as it is sent."""
        row = _paper(request, round_id, paper_id)
        if sharpness not in SHARPNESS or not 1 <= page <= len(row.sizes):
            raise Refusal("This page doesn't exist.", "Reload the paper and try again.", "page", 404)
        return page_picture(row.frozen, page, sharpness, foreign=True)


def _paper(request: MemberRequest, round_id: UUID, paper_id: UUID) -> Paper:
    row = making.find_round(request.user, round_id)
    return get_object_or_404(Paper, pk=paper_id, round=row)
