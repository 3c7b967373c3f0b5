"""Downloading the package, or one document of it."""

from __future__ import annotations

import re
from collections.abc import Sequence
from uuid import UUID

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import OpenApiParameter, extend_schema
from quillcore.assembly import Document, assemble, separate_files, write_xfdf
from rest_framework.request import Request
from rest_framework.views import APIView

from goodquill.api import Refusal, as_file
from goodquill.deals.api import OFFER, offer_at_hand
from goodquill.deals.opening import OpenDeal, find_deal

AS = ("flat", "fillable", "xfdf", "separate")
"""How a file leaves: flattened, still to be filled in, the answers alone, or each document by itself in a ZIP."""


def _file(opened: OpenDeal, documents: Sequence[Document] | None, name: str, how: str) -> HttpResponse:
    plain = re.sub(r"[\\/:*?<>|]+", " ", name)
    if how == "xfdf":
        content, kind, ending = write_xfdf(opened.package, f"{plain}.pdf", documents), "application/vnd.adobe.xfdf", "xfdf"
    elif how == "separate":
        content, kind, ending = separate_files(opened.package, documents), "application/zip", "zip"
    else:
        content, kind, ending = assemble(opened.package, name, documents, fillable=how == "fillable").pdf, "application/pdf", "pdf"
    return as_file(content, kind, f"{plain}.{ending}")


def _how(request: Request) -> str:
    how: str = request.query_params.get("as", "flat")
    if how not in AS:
        raise Refusal(f"A package can't leave as “{how}”.", f"It leaves as one of: {', '.join(AS)}.", "as")
    return how


class PackageFileView(APIView):
    """The whole package."""

    @extend_schema(
        operation_id="package_file",
        parameters=[OpenApiParameter("as", str, enum=AS), OFFER],
        responses={(200, "application/pdf"): OpenApiTypes.BINARY},
    )
    def get(self, request: Request, deal: UUID) -> HttpResponse:
        """All documents that aren't set aside, filled: flattened and combined, or as asked."""
        opened = OpenDeal(find_deal(request.user, deal), offer_at_hand(request))
        if not any(not d.set_aside for d in opened.package.documents):
            raise Refusal("There is no form in the package yet.", "Add one, or apply a template.", "empty", 409)
        return _file(opened, None, opened.deal.name, _how(request))


class DocumentFileView(APIView):
    """One document."""

    @extend_schema(
        operation_id="document_file",
        parameters=[OpenApiParameter("as", str, enum=AS), OFFER],
        responses={(200, "application/pdf"): OpenApiTypes.BINARY},
    )
    def get(self, request: Request, deal: UUID, document: str) -> HttpResponse:
        """One document, filled: flattened, or as asked."""
        opened = OpenDeal(find_deal(request.user, deal), offer_at_hand(request))
        found = opened.package.by_id.get(document)
        if found is None:
            raise Refusal("This document is no longer in the package.", "Look at it again.", "document", 404)
        return _file(opened, [found], f"{found.form.edition.number} {opened.deal.name}", _how(request))
