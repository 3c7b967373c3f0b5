"""Downloading the package, or one document of it."""

from __future__ import annotations

import re
from collections.abc import Sequence
from uuid import UUID

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from quillcore.assembly import Document, assemble, separate_files, write_xfdf
from rest_framework import serializers as s
from rest_framework.request import Request
from rest_framework.views import APIView

from goodquill.api import Refusal, as_file, asked
from goodquill.deals.keeping import note
from goodquill.deals.opening import OpenDeal, open_deal
from goodquill.deals.serializers import OfferQuery
from goodquill.offices.once import dear

AS = ("flat", "fillable", "xfdf", "separate")
"""How a file leaves: flattened, still to be filled in, the answers alone, or each document by itself in a ZIP."""


class FileQuery(OfferQuery):
    """How a file leaves, and of which offer it is."""

    # "as" is no name for a class's attribute, so it is added below.


FileQuery._declared_fields["as"] = s.ChoiceField(choices=AS, required=False, default="flat")


def _file(opened: OpenDeal, documents: Sequence[Document] | None, name: str, how: str) -> HttpResponse:
    plain = re.sub(r"[\\/:*?<>|]+", " ", name)
    if how == "xfdf":
        content, kind, ending = write_xfdf(opened.package, f"{plain}.pdf", documents), "application/vnd.adobe.xfdf", "xfdf"
    elif how == "separate":
        content, kind, ending = separate_files(opened.package, documents), "application/zip", "zip"
    else:
        content, kind, ending = assemble(opened.package, name, documents, fillable=how == "fillable").pdf, "application/pdf", "pdf"
    assert opened.reader is not None
    note(opened.reader, opened.deal, "downloaded", name if documents else "the package", how, content)
    return as_file(content, kind, f"{plain}.{ending}")


class PackageFileView(APIView):
    """The whole package."""

    @extend_schema(
        operation_id="package_file",
        parameters=[FileQuery],
        responses={(200, "application/pdf"): OpenApiTypes.BINARY},
    )
    @dear
    def get(self, request: Request, deal: UUID) -> HttpResponse:
        """All documents that aren't set aside, filled: flattened and combined, or as asked."""
        given = asked(FileQuery, request)
        opened = open_deal(request.user, deal, given["offer"])
        if not any(not d.set_aside for d in opened.package.documents):
            raise Refusal("There is no form in the package yet.", "Add one, or apply a template.", "empty", 409)
        return _file(opened, None, opened.deal.name, given["as"])


class DocumentFileView(APIView):
    """One document."""

    @extend_schema(
        operation_id="document_file",
        parameters=[FileQuery],
        responses={(200, "application/pdf"): OpenApiTypes.BINARY},
    )
    @dear
    def get(self, request: Request, deal: UUID, document: str) -> HttpResponse:
        """One document, filled: flattened, or as asked."""
        given = asked(FileQuery, request)
        opened = open_deal(request.user, deal, given["offer"])
        found = opened.package.by_id.get(document)
        if found is None:
            raise Refusal("This document is no longer in the package.", "Look at it again.", "document", 404)
        return _file(opened, [found], f"{found.form.edition.number} {opened.deal.name}", given["as"])
