"""Downloading the package, or one document of it."""

from __future__ import annotations

import re
from collections.abc import Sequence
from uuid import UUID

from django.http import HttpResponse
from django.utils.http import content_disposition_header
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from quillcore.assembly import Document, assemble
from rest_framework.request import Request
from rest_framework.views import APIView

from goodquill.api import Refusal
from goodquill.deals.opening import OpenDeal, find_deal


def _file(opened: OpenDeal, documents: Sequence[Document] | None, name: str) -> HttpResponse:
    made = assemble(opened.package, name, documents)
    answer = HttpResponse(made.pdf, content_type="application/pdf")
    plain = re.sub(r"[\\/:*?<>|]+", " ", name)
    answer["Content-Disposition"] = content_disposition_header(True, f"{plain}.pdf")
    answer["Cache-Control"] = "no-store"
    return answer


class PackageFileView(APIView):
    """The whole package."""

    @extend_schema(operation_id="package_file", responses={(200, "application/pdf"): OpenApiTypes.BINARY})
    def get(self, request: Request, deal: UUID) -> HttpResponse:
        """All documents that aren't set aside, filled, flattened and combined."""
        opened = OpenDeal(find_deal(request.user, deal))
        if not any(not d.set_aside for d in opened.package.documents):
            raise Refusal("There is no form in the package yet.", "Add one, or apply a template.", "empty", 409)
        return _file(opened, None, opened.deal.name)


class DocumentFileView(APIView):
    """One document."""

    @extend_schema(operation_id="document_file", responses={(200, "application/pdf"): OpenApiTypes.BINARY})
    def get(self, request: Request, deal: UUID, document: str) -> HttpResponse:
        """One document, filled and flattened."""
        opened = OpenDeal(find_deal(request.user, deal))
        found = opened.package.by_id.get(document)
        if found is None:
            raise Refusal("This document is no longer in the package.", "Look at it again.", "document", 404)
        return _file(opened, [found], f"{found.form.edition.number} {opened.deal.name}")
