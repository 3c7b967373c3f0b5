"""Clauses: finding them, keeping them, and where they stand."""

from __future__ import annotations

from uuid import UUID

from drf_spectacular.utils import extend_schema
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill.clauses import actions
from goodquill.clauses.queries import clauses_of, find_clause, rows_of, whole_clause
from goodquill.clauses.shapes import (
    ClauseSerializer,
    ClausesQuery,
    SaveClauseSerializer,
    WholeClauseSerializer,
)
from goodquill.http.endpoints import asked, checked
from goodquill.offices.once import once
from goodquill.offices.requests import MemberRequest


class ClausesView(APIView):
    """Clauses that one may use."""

    @extend_schema(operation_id="clauses", parameters=[ClausesQuery], responses=ClauseSerializer(many=True))
    def get(self, request: MemberRequest) -> Response:
        """List the clauses by name: one's own, the office's and the brokerage's."""
        return Response(clauses_of(request.user, asked(ClausesQuery, request)["find"]))

    @extend_schema(operation_id="add_clause", request=SaveClauseSerializer, responses={201: ClauseSerializer})
    @once
    def post(self, request: MemberRequest) -> Response:
        """Keep a new one."""
        clause = actions.add(request.user, checked(SaveClauseSerializer, request))
        return Response(rows_of(request.user, [clause])[0], 201)


class ClauseView(APIView):
    """One clause."""

    @extend_schema(operation_id="clause", responses=WholeClauseSerializer)
    def get(self, request: MemberRequest, clause: UUID) -> Response:
        """Return a clause with its earlier versions and the deals that use it."""
        return Response(whole_clause(request.user, find_clause(request.user, clause)))

    @extend_schema(operation_id="save_clause", request=SaveClauseSerializer, responses=ClauseSerializer)
    @once
    def post(self, request: MemberRequest, clause: UUID) -> Response:
        """Change it; where it stands it goes on saying what it said."""
        changed = actions.change(request.user, clause, checked(SaveClauseSerializer, request))
        return Response(rows_of(request.user, [changed])[0])

    @extend_schema(operation_id="remove_clause", responses={204: None})
    def delete(self, request: MemberRequest, clause: UUID) -> Response:
        """Take it off the list; it can be put back."""
        actions.remove(request.user, clause, removed=True)
        return Response(status=204)


class RestoreClauseView(APIView):
    """A clause that was taken off the list."""

    @extend_schema(operation_id="restore_clause", request=None, responses={204: None})
    def post(self, request: MemberRequest, clause: UUID) -> Response:
        """Put it back."""
        actions.remove(request.user, clause, removed=False)
        return Response(status=204)
