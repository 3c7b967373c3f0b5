"""The property report's endpoints."""

from __future__ import annotations

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from quillcore.values import clock
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill.http.endpoints import as_file, asked
from goodquill.offices.once import expensive
from goodquill.offices.requests import MemberRequest
from goodquill.sources import report
from goodquill.sources.shapes import ParcelQuery, ReportSerializer


def _asked(request: MemberRequest) -> report.Report:
    given = asked(ParcelQuery, request)
    return report.report_of(given["county"].strip(), given["parcel"].strip())


class ReportView(APIView):
    """The roll's report on a parcel."""

    @extend_schema(operation_id="property_report", parameters=[ParcelQuery], responses=ReportSerializer)
    @expensive
    def get(self, request: MemberRequest) -> Response:
        """Owners, legal description, building and land, assessment and taxes by year, sales."""
        return Response(report.as_data(_asked(request)))


class ReportFileView(APIView):
    """The same, to print."""

    @extend_schema(
        operation_id="property_report_file",
        parameters=[ParcelQuery],
        responses={(200, "application/pdf"): OpenApiTypes.BINARY},
    )
    @expensive
    def get(self, request: MemberRequest) -> HttpResponse:
        """As PDF."""
        found = _asked(request)
        return as_file(
            report.as_pdf(found, f"{request.user.name}, {request.user.brokerage.name}"),
            "application/pdf",
            f"Property report, {found.address}, {clock.today().isoformat()}.pdf",
        )
