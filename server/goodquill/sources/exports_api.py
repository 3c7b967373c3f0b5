"""Files as sources: a RESO JSON export, or a county's CSV with its columns mapped."""

from __future__ import annotations

from typing import TYPE_CHECKING
from uuid import UUID

from drf_spectacular.utils import extend_schema
from quillcore.facts import load_catalog
from quillcore.facts.exports import our_columns
from quillcore.sandbox import TABLE
from rest_framework.parsers import JSONParser, MultiPartParser
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill.http.endpoints import asked, checked, name_of, uploaded
from goodquill.offices.once import expensive, once
from goodquill.offices.requests import MemberRequest
from goodquill.sources import exports
from goodquill.sources.found import listing_found, parcel_found
from goodquill.sources.models import SourceFile
from goodquill.sources.shapes import ColumnsSerializer, FileSerializer, FindQuery, SourceFileSerializer

if TYPE_CHECKING:
    from goodquill.http import wire


def _whole(request: MemberRequest, row: SourceFile, text: str = "") -> wire.SourceFile:
    is_roll = row.kind == "roll"
    first = row.rows.order_by("number").values_list("data", flat=True).first() or {}
    found = parcel_found if is_roll else listing_found
    return {
        "id": row.pk,
        "name": row.name,
        "kind": row.kind,
        "rows": row.count,
        "mapping": row.mapping,
        "ours": our_columns(load_catalog()) if is_roll else {},
        "columns": (
            [{"name": n, "sample": str(first.get(n) or "")[:60]} for n in row.columns] if is_roll else []
        ),
        "remembered": is_roll and exports.is_remembered(request.user, row),
        "found": [{**found(r), "row": n} for n, r in exports.find_rows(row, text)],
    }


class SourceFilesView(APIView):
    """Reading a file."""

    parser_classes = (MultiPartParser, JSONParser)

    @extend_schema(
        operation_id="read_source_file",
        request={"multipart/form-data": FileSerializer},
        responses={201: SourceFileSerializer},
    )
    @once
    @expensive
    def post(self, request: MemberRequest) -> Response:
        """Keep the file and say what is in it."""
        file = checked(FileSerializer, request)["file"]
        return Response(
            _whole(request, exports.keep_file(request.user, name_of(file), uploaded(file, TABLE.most_bytes))),
            201,
        )


class SourceFileView(APIView):
    """One file."""

    @extend_schema(operation_id="source_file", parameters=[FindQuery], responses=SourceFileSerializer)
    def get(self, request: MemberRequest, file: UUID) -> Response:
        """Return its columns, and the homes in which every word of ``find`` stands."""
        return Response(
            _whole(request, exports.find_file(request.user, file), asked(FindQuery, request)["find"])
        )

    @extend_schema(operation_id="map_columns", request=ColumnsSerializer, responses=SourceFileSerializer)
    def post(self, request: MemberRequest, file: UUID) -> Response:
        """Map its columns, for this file and every later one with the same columns."""
        return Response(
            _whole(
                request,
                exports.set_columns(request.user, file, checked(ColumnsSerializer, request)["mapping"]),
            )
        )
