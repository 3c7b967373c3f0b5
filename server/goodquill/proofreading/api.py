"""The proofread of a deal."""

from __future__ import annotations

from uuid import UUID

from drf_spectacular.utils import extend_schema
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill.deals.opening import only_a_deal, open_deal
from goodquill.deals.shapes import OfferQuery, offer_at_hand
from goodquill.http.endpoints import Refusal, checked
from goodquill.offices.requests import MemberRequest
from goodquill.proofreading.models import Reason
from goodquill.proofreading.queries import mark_of, proof_of, read_proof
from goodquill.proofreading.shapes import ProofSerializer, ReasonSerializer


class ProofView(APIView):
    """A deal's package, proofread."""

    @extend_schema(operation_id="proof", parameters=[OfferQuery], responses=ProofSerializer)
    def get(self, request: MemberRequest, deal: UUID) -> Response:
        """Return what must, should and might be mended."""
        return Response(proof_of(open_deal(request.user, deal, offer_at_hand(request))))

    @extend_schema(
        operation_id="leave_remark",
        parameters=[OfferQuery],
        request=ReasonSerializer,
        responses=ProofSerializer,
    )
    def post(self, request: MemberRequest, deal: UUID) -> Response:
        """Leave a remark as it is, with a reason that is kept; or ask about it again."""
        given = checked(ReasonSerializer, request)
        opened = open_deal(request.user, deal, offer_at_hand(request))
        only_a_deal(opened.deal)
        remark = next((r for r in read_proof(opened) if mark_of(r) == given["mark"]), None)
        if remark is None:
            raise Refusal("This finding is gone.", "Reload and try again.", "remark", 404)
        Reason.objects.create(
            deal=opened.deal,
            mark=given["mark"],
            message=remark.message[:400],
            reason=given["reason"].strip(),
            by=request.user,
        )
        return Response(proof_of(opened))
