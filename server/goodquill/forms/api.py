"""The forms one may use, and pictures of their pages."""

from __future__ import annotations

from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from quillcore.pdf import picture
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill import files
from goodquill.api import Refusal
from goodquill.forms.models import Edition, Release, ReleaseForm
from goodquill.offices.access import may_use_releases

SHARPNESS = (48, 110, 165, 220)
"""Dots per inch that pictures come in: the map, and the paper on plain and dense screens."""


class FormSerializer(serializers.Serializer):
    """A form that can be added to a package."""

    number = serializers.CharField()
    title = serializers.CharField()
    topic = serializers.CharField()
    sides = serializers.ListField(child=serializers.CharField())
    pages = serializers.IntegerField()
    edition = serializers.CharField()
    released = serializers.DateField()
    association = serializers.CharField()


class FormsView(APIView):
    """Forms of the newest release of each association."""

    @extend_schema(operation_id="forms", responses=FormSerializer(many=True))
    def get(self, request: Request) -> Response:
        """All forms that the user may add, in the pack's order."""
        newest: dict[str, Release] = {}
        for release in Release.objects.filter(may_use_releases(request.user)).order_by("released"):
            newest[release.association] = release
        rows = ReleaseForm.objects.filter(release__in=newest.values()).select_related("edition", "release")
        return Response(
            [
                {
                    "number": row.number,
                    "title": row.edition.title,
                    "topic": row.edition.data["topic"],
                    "sides": row.edition.data["sides"],
                    "pages": row.edition.pages,
                    "edition": row.edition_id,
                    "released": row.edition.data["released"],
                    "association": row.release.association,
                }
                for row in rows
            ]
        )


class PagePictureView(APIView):
    """A page of an edition as a picture: private, checked, and never different under the same address."""

    @extend_schema(operation_id="page_picture", responses={(200, "image/png"): OpenApiTypes.BINARY})
    def get(self, request: Request, edition: str, page: int, sharpness: int) -> HttpResponse:
        """The page (from 1) at one of the offered dots per inch."""
        allowed = ReleaseForm.objects.filter(may_use_releases(request.user, "release__"), edition=edition)
        found = get_object_or_404(Edition, pk=edition, pk__in=allowed.values("edition"))
        if sharpness not in SHARPNESS or not 1 <= page <= found.pages:
            raise Refusal("There is no such picture.", f"Pages run from 1 to {found.pages}; sharpness is one of {SHARPNESS}.", code=404)
        name = f"pictures/{found.page_content[:2]}/{found.page_content}-{page}-{sharpness}.png"
        if default_storage.exists(name):
            with default_storage.open(name, "rb") as kept:
                content = kept.read()
        else:
            content = picture(files.fetch(found.page_content), page, sharpness)
            default_storage.save(name, ContentFile(content))
        answer = HttpResponse(content, content_type="image/png")
        answer["Cache-Control"] = "private, max-age=31536000, immutable"
        return answer
