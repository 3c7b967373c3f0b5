"""Downloading the package, or one document of it."""

from __future__ import annotations

import hashlib
import threading
from collections.abc import Iterator, Sequence
from typing import TYPE_CHECKING
from uuid import UUID

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from quillcore.assembly import (
    Package,
    PackageDocument,
    assemble,
    continuation,
    has_continuation,
    separate_files,
    write_xfdf,
)
from quillcore.signing.pen import tags_of
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill.assembly.shapes import ContinuationPageSerializer, FileQuery
from goodquill.deals import blank_status
from goodquill.deals.keeping import note
from goodquill.deals.naming import file_name
from goodquill.deals.opening import OpenDeal, open_deal
from goodquill.deals.shapes import OfferQuery
from goodquill.http.endpoints import Refusal, as_file, asked
from goodquill.offices.once import expensive
from goodquill.offices.requests import MemberRequest
from goodquill.signing.sealing.sealed import sealed_file

if TYPE_CHECKING:
    from goodquill.http import wire

LEAVES_AS = {
    (200, kind): OpenApiTypes.BINARY
    for kind in ("application/pdf", "application/zip", "application/vnd.adobe.xfdf")
}


def _file(
    request: MemberRequest, opened: OpenDeal, documents: Sequence[PackageDocument] | None, name: str, how: str
) -> HttpResponse:
    form = documents[0].form.edition if documents else None
    plain = file_name(opened, form.named if form else "")
    with _making:
        content, kind, ending = _made(opened.package, plain, name, documents, how)
    assert opened.reader is not None
    note(
        opened.reader, opened.deal, "downloaded", name if documents else "the package", how, _digest(content)
    )
    return as_file(content, kind, f"{plain}.{ending}")


_making = threading.BoundedSemaphore(2)
"""Two at once in a worker: whoever saves beside them gets a third of the computing, however many download."""


def _digest(content: bytes) -> str:
    return hashlib.sha256(content).hexdigest()


def _made(
    package: Package, plain: str, name: str, documents: Sequence[PackageDocument] | None, how: str
) -> tuple[bytes, str, str]:
    """Return the file, its kind and ending."""
    if how == "xfdf":
        return write_xfdf(package, f"{plain}.pdf", documents), "application/vnd.adobe.xfdf", "xfdf"
    if how == "separate":
        return separate_files(package, documents), "application/zip", "zip"
    if how == "pen":
        wanted = package.leaving if documents is None else documents
        made = assemble(package, name, wanted, tags=tags_of(package, wanted))
    else:
        made = assemble(package, name, documents, fillable=how == "fillable")
    return made.pdf, "application/pdf", "pdf"


class PackageFileView(APIView):
    """The whole package."""

    @extend_schema(
        operation_id="package_file",
        parameters=[FileQuery],
        responses=LEAVES_AS,
    )
    @expensive
    def get(self, request: MemberRequest, deal: UUID) -> HttpResponse:
        """Return all documents that aren't set aside, filled: flattened and combined, or as asked."""
        given = asked(FileQuery, request)
        opened = open_deal(request.user, deal, given["offer"])
        if not any(not d.set_aside for d in opened.package.documents):
            raise Refusal(
                "There is no form in the package yet.", "Add one, or apply a template.", "empty", 409
            )
        return _file(request, opened, None, opened.deal.name, given["as"])


class DocumentFileView(APIView):
    """One document."""

    @extend_schema(
        operation_id="document_file",
        parameters=[FileQuery],
        responses=LEAVES_AS,
    )
    @expensive
    def get(self, request: MemberRequest, deal: UUID, document: str) -> HttpResponse:
        """Return one document, filled: flattened, or as asked."""
        given = asked(FileQuery, request)
        opened = open_deal(request.user, deal, given["offer"])
        found = opened.package.by_id.get(document)
        if found is None:
            raise Refusal(
                "This document is no longer in the package.", "Reload and try again.", "document", 404
            )
        if given["as"] == "flat" and (sealed := sealed_file(opened, document)):
            plain = file_name(opened, found.form.edition.title)
            note(request.user, opened.deal, "downloaded", found.form.edition.title, "sealed", _digest(sealed))
            return as_file(sealed, "application/pdf", f"{plain}.pdf")
        return _file(request, opened, [found], f"{found.form.edition.number} {opened.deal.name}", given["as"])


class ContinuationPagesView(APIView):
    """The pages that follow the forms' own."""

    @extend_schema(
        operation_id="continuation_pages",
        parameters=[OfferQuery],
        responses=ContinuationPageSerializer(many=True),
    )
    def get(self, request: MemberRequest, deal: UUID) -> Response:
        """Return every continuation page of the package as it will print, in order."""
        opened = open_deal(request.user, deal, asked(OfferQuery, request)["offer"])
        return Response([page for d in _with_more(opened) for page in _continued(opened.package, d)])


def _with_more(opened: OpenDeal) -> Iterator[PackageDocument]:
    """Yield the documents that have further pages, as far as the kept letters tell: only these are set."""
    kept = blank_status.letters_of(opened) if blank_status.are_of(opened, opened.record.seq) else {}
    for document in opened.package.documents:
        letters = kept.get(document.id)
        overflows = letters is None or blank_status.overflows(letters)
        if has_continuation(opened.package, document, overflows):
            yield document


def _continued(package: Package, document: PackageDocument) -> Iterator[wire.ContinuationPage]:
    over = [b for b in package.blanks([document]) if b.overflow]
    sheets, spots = continuation(package, document, over, before=0)
    for number, sheet in enumerate(sheets, 1):
        lines = [
            [round(line.x, 2), round(line.y, 2), found.size, line.text]
            for found in sheet.fits
            for line in found.lines
        ]
        signed: list[wire.ContinuationSpot] = [
            {"role": s.role, "sign": s.sign, "rect": list(s.rect)} for s in spots if s.page == number
        ]
        yield {
            "document": document.id,
            "number": number,
            "lines": lines,
            "rules": [list(rule) for rule in sheet.rules],
            "spots": signed,
        }
