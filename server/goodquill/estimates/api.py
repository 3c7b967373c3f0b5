"""The money endpoints."""

from __future__ import annotations

from uuid import UUID

from drf_spectacular.utils import extend_schema
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill.estimates import shapes
from goodquill.estimates.queries import ask_backwards, reckon
from goodquill.http.endpoints import checked
from goodquill.offices.requests import MemberRequest


class EstimatesView(APIView):
    """Money sheets."""

    @extend_schema(
        operation_id="reckon", request=shapes.ReckonSerializer, responses=shapes.ReckonedSerializer
    )
    def post(self, request: MemberRequest, deal: UUID) -> Response:
        """Return a sheet over up to three cases of a deal; nothing is changed."""
        given = checked(shapes.ReckonSerializer, request)
        answer = reckon(request.user, deal, given["sheet"], given["columns"])
        return Response(shapes.ReckonedSerializer(answer).data)


class SolveView(APIView):
    """Sums asked backwards."""

    @extend_schema(
        operation_id="ask_backwards", request=shapes.SolveSerializer, responses=shapes.SolvedSerializer
    )
    def post(self, request: MemberRequest, deal: UUID) -> Response:
        """Return what a fact has to be so that a sum comes out as wanted; nothing is changed."""
        given = checked(shapes.SolveSerializer, request)
        return Response(ask_backwards(request.user, deal, given))
