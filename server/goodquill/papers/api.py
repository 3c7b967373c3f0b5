"""An office's own papers: a PDF is read in, its blanks are confirmed or placed, and it becomes a form."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any
from uuid import UUID

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from pydantic import ValidationError
from quillcore.papers.placing import LINE_HEIGHT, OfficePaper, Placed
from quillcore.sandbox import PDF
from rest_framework.parsers import JSONParser, MultiPartParser
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill.forms.finding import form_row
from goodquill.forms.pages import SHARPNESS, page_picture
from goodquill.http.endpoints import Refusal, checked, name_of, uploaded
from goodquill.offices.access import may_save_papers, may_see_papers_in_work
from goodquill.offices.models import User
from goodquill.offices.once import expensive, once
from goodquill.offices.requests import MemberRequest
from goodquill.papers import actions
from goodquill.papers.models import Reading
from goodquill.papers.shapes import (
    KeepSerializer,
    PaperSerializer,
    ReadingRowSerializer,
    ReadingSerializer,
    SavedSerializer,
    ShareSerializer,
    UploadSerializer,
)

if TYPE_CHECKING:
    from goodquill.http import wire


def _row(reading: Reading, user: User) -> wire.ReadingRow:
    return {
        "id": reading.pk,
        "name": reading.name,
        "title": reading.paper.get("title", ""),
        "by": reading.by.name,
        "pages": reading.found["pages"],
        "blanks": len(reading.placed),
        "confirmed": sum(p["confirmed"] for p in reading.placed),
        "made": reading.made,
        "proposed_by": reading.proposed_by.name if reading.proposed_by else "",
        "mine": reading.by_id == user.pk,
        "shared": reading.shared,
    }


def _whole(reading: Reading, user: User) -> wire.Reading:
    made = actions.form_from(
        reading,
        paper_from({"number": "0", "title": "untitled"} | {k: v for k, v in reading.paper.items() if v}),
    )
    faults = made if isinstance(made, list) else []
    return {
        **_row(reading, user),
        "may_save": may_save_papers(user),
        "line_height": LINE_HEIGHT,
        "sizes": reading.found["sizes"],
        "removed": reading.found["removed"],
        "told": reading.told or None,
        "version": reading.version,
        "paper": {
            "number": "",
            "title": "",
            "topic": "office",
            "purpose": "",
            "sides": ["buying", "listing", "leasing out", "renting"],
            **reading.paper,
        },
        "placed": reading.placed,
        "faults": [{"message": f.message, "mend": f.mend, "place": f.place.split(", ")[-1]} for f in faults],
    }


def paper_from(given: dict[str, Any]) -> OfficePaper:
    """Return what is said of a paper, checked."""
    try:
        return OfficePaper.model_validate({k: v for k, v in given.items() if v not in ("", [])})
    except ValidationError as trouble:
        raise Refusal(
            "The paper needs a number and a title.", "Fill them in above the pages.", "paper"
        ) from trouble


class ReadingsView(APIView):
    """Papers of the brokerage that are being made forms."""

    parser_classes = (MultiPartParser, JSONParser)

    @extend_schema(operation_id="readings", responses=ReadingRowSerializer(many=True))
    def get(self, request: MemberRequest) -> Response:
        """List papers, newest first."""
        rows = Reading.objects.filter(may_see_papers_in_work(request.user), removed=False)
        rows = rows.select_related("by", "proposed_by")
        return Response([_row(r, request.user) for r in rows.defer("printed")[:50]])

    @extend_schema(
        operation_id="read_paper",
        request={"multipart/form-data": UploadSerializer},
        responses={201: ReadingSerializer},
    )
    @once
    @expensive
    def post(self, request: MemberRequest) -> Response:
        """Read a PDF: its pages, its blanks, and what each probably asks for."""
        given = checked(UploadSerializer, request)
        reading = actions.start_reading(
            request.user,
            name_of(given["file"]),
            uploaded(given["file"], PDF.most_bytes),
            given.get("replaces", ""),
        )
        return Response(_whole(reading, request.user), 201)


class ReadingView(APIView):
    """One of them."""

    @extend_schema(operation_id="reading", responses=ReadingSerializer)
    def get(self, request: MemberRequest, reading: UUID) -> Response:
        """Return a paper with all its blanks."""
        return Response(_whole(actions.find_reading(request.user, reading), request.user))

    @extend_schema(operation_id="keep_reading", request=KeepSerializer, responses=ReadingSerializer)
    @expensive
    def put(self, request: MemberRequest, reading: UUID) -> Response:
        """Keep what has been placed so far; what is wrong with it is said, and kept all the same."""
        given = checked(KeepSerializer, request)
        try:
            placed = [Placed.model_validate(dict(p)) for p in given["placed"]]
        except ValidationError as trouble:
            raise Refusal(
                "A blank can't be saved.",
                "Reload the paper. Blanks saved before are there.",
                "placing",
            ) from trouble
        kept = actions.keep_reading(request.user, reading, placed, dict(given["paper"]), given["based_on"])
        return Response(_whole(kept, request.user))

    @extend_schema(operation_id="drop_reading", responses={204: None})
    def delete(self, request: MemberRequest, reading: UUID) -> Response:
        """Take it off the list; it can be put back."""
        actions.remove_reading(request.user, reading, removed=True)
        return Response(status=204)

    @extend_schema(operation_id="restore_reading", request=None, responses={204: None})
    def post(self, request: MemberRequest, reading: UUID) -> Response:
        """Put it back."""
        actions.remove_reading(request.user, reading, removed=False)
        return Response(status=204)


class ShareReadingView(APIView):
    """The audience of a paper that is being made a form."""

    @extend_schema(operation_id="share_reading", request=ShareSerializer, responses=ReadingRowSerializer)
    def post(self, request: MemberRequest, reading: UUID) -> Response:
        """Share a paper with the whole brokerage, or with its uploader alone."""
        shared = checked(ShareSerializer, request)["shared"]
        return Response(_row(actions.share_reading(request.user, reading, shared), request.user))


class SaveReadingView(APIView):
    """Making a reading a form."""

    @extend_schema(operation_id="save_reading", request=PaperSerializer, responses={201: SavedSerializer})
    @once
    @expensive
    def post(self, request: MemberRequest, reading: UUID) -> Response:
        """Save it as a form of the brokerage's own; where the broker doesn't let that member, propose it."""
        made = actions.save_as_form(
            request.user, reading, paper_from(dict(checked(PaperSerializer, request)))
        )
        return Response({"form": form_row(made, False) if made else None, "proposed": made is None}, 201)


class ReadingPictureView(APIView):
    """A page of a paper that is being made a form."""

    @extend_schema(operation_id="reading_picture", responses={(200, "image/png"): OpenApiTypes.BINARY})
    def get(self, request: MemberRequest, reading: UUID, page: int, sharpness: int) -> HttpResponse:
        """Return the page (from 1) at one of the offered dots per inch."""
        found = actions.find_reading(request.user, reading)
        if sharpness not in SHARPNESS or not 1 <= page <= found.found["pages"]:
            raise Refusal(
                "This page doesn't exist.", f"Pages run from 1 to {found.found['pages']}.", code=404
            )
        return page_picture(found.content, page, sharpness, True)
