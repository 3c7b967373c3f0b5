"""The property report's endpoints."""

from __future__ import annotations

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import serializers as s
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill.api import as_file, asked
from goodquill.offices.once import dear
from goodquill.sources import report


class ParcelQuery(s.Serializer):
    """Which parcel."""

    parcel = s.CharField(max_length=60)
    county = s.CharField(required=False, allow_blank=True, default="", max_length=60)


class LineSerializer(s.Serializer):
    """One thing that the roll says."""

    label = s.CharField()
    text = s.CharField()


class SectionSerializer(s.Serializer):
    """Lines under a title."""

    title = s.CharField()
    rows = LineSerializer(many=True)


class ReportOwnerSerializer(s.Serializer):
    """A recorded owner as read; ``ask`` is what isn't sure."""

    name = s.CharField()
    capacity = s.CharField(allow_blank=True)
    ask = s.CharField(allow_blank=True)


class YearSerializer(s.Serializer):
    """One year of assessment and tax, as texts."""

    year = s.IntegerField()
    assessed = s.CharField(allow_blank=True)
    change = s.CharField(allow_blank=True)
    tax = s.CharField(allow_blank=True)


class SaleSerializer(s.Serializer):
    """One sale, as texts."""

    on = s.CharField()
    price = s.CharField(allow_blank=True)
    per_foot = s.CharField(allow_blank=True)
    deed = s.CharField(allow_blank=True)


class ReportSerializer(s.Serializer):
    """A property report."""

    address = s.CharField()
    parcel = s.CharField()
    county = s.CharField()
    sections = SectionSerializer(many=True)
    owners = ReportOwnerSerializer(many=True)
    years = YearSerializer(many=True)
    sales = SaleSerializer(many=True)


def _asked(request: Request) -> report.Report:
    given = asked(ParcelQuery, request)
    return report.report_of(given["county"].strip(), given["parcel"].strip())


class ReportView(APIView):
    """What the roll knows of a parcel."""

    @extend_schema(operation_id="property_report", parameters=[ParcelQuery], responses=ReportSerializer)
    @dear
    def get(self, request: Request) -> Response:
        """Owners, legal description, building and land, assessment and taxes by year, sales."""
        return Response(report.as_data(_asked(request)))


class ReportFileView(APIView):
    """The same, to print."""

    @extend_schema(operation_id="property_report_file", parameters=[ParcelQuery], responses={(200, "application/pdf"): OpenApiTypes.BINARY})
    @dear
    def get(self, request: Request) -> HttpResponse:
        """As PDF."""
        found = _asked(request)
        return as_file(report.as_pdf(found, f"{request.user.name}, {request.user.brokerage.name}"), "application/pdf", f"{found.address}.pdf")
