"""An office's own papers: a PDF is read in, its blanks are confirmed or placed, and it becomes a form."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from pydantic import ValidationError
from quillcore.forms.placing import MOST_PLACED, Paper, Placed
from quillcore.limited import PDF
from quillcore.values import Fault
from rest_framework import serializers as s
from rest_framework.parsers import JSONParser, MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill.api import Refusal, checked, name_of, uploaded
from goodquill.forms import actions
from goodquill.forms.api import SHARPNESS, FormSerializer, page_picture
from goodquill.forms.finding import form_row
from goodquill.forms.models import Reading
from goodquill.offices.access import may_save_papers
from goodquill.offices.models import User
from goodquill.offices.once import dear, once


class PlacedSerializer(s.Serializer):
    """One blank or sign spot on a page; see ``quillcore.forms.placing.Placed``."""

    id = s.CharField(max_length=100)
    page = s.IntegerField(min_value=1, max_value=500)
    rect = s.ListField(child=s.FloatField(), min_length=4, max_length=4)
    shape = s.ChoiceField(choices=["text", "box", "sign"])
    lines = s.IntegerField(min_value=1, max_value=60)
    label = s.CharField(allow_blank=True, max_length=200)
    fact = s.CharField(allow_blank=True, max_length=100)
    kind = s.CharField(allow_blank=True, max_length=30)
    group = s.CharField(allow_blank=True, max_length=100)
    value = s.CharField(allow_blank=True, max_length=200)
    role = s.CharField(allow_blank=True, max_length=30)
    sign = s.CharField(allow_blank=True, max_length=20)
    who = s.CharField(allow_blank=True, max_length=30)
    required = s.BooleanField()
    confirmed = s.BooleanField()
    confidence = s.FloatField()
    others = s.ListField(child=s.CharField(max_length=100), max_length=8)


class PaperSerializer(s.Serializer):
    """What is said of the paper."""

    number = s.CharField(allow_blank=True, max_length=20)
    title = s.CharField(allow_blank=True, max_length=200)
    topic = s.CharField(allow_blank=True, max_length=60, required=False)
    purpose = s.CharField(allow_blank=True, max_length=300, required=False)
    sides = s.ListField(child=s.ChoiceField(choices=["buying", "listing", "leasing out", "renting"]), required=False)


class FaultSerializer(s.Serializer):
    """One thing that is wrong; ``place`` is a blank's id where it is one's."""

    message = s.CharField()
    mend = s.CharField(allow_blank=True)
    place = s.CharField(allow_blank=True)


class ReadingRowSerializer(s.Serializer):
    """A paper that is being made a form."""

    id = s.UUIDField()
    name = s.CharField()
    title = s.CharField(allow_blank=True)
    by = s.CharField()
    pages = s.IntegerField()
    blanks = s.IntegerField()
    confirmed = s.IntegerField()
    made = s.DateTimeField()
    proposed_by = s.CharField(allow_blank=True)
    mine = s.BooleanField()


class ToldSerializer(s.Serializer):
    """What differs from the edition before: blanks by id."""

    new = s.ListField(child=s.CharField())
    gone = s.ListField(child=s.CharField())
    moved = s.ListField(child=s.CharField())


class ReadingSerializer(ReadingRowSerializer):
    """The same with pages, what was left out, and all blanks.  ``faults`` is what stands in the way of saving it."""

    sizes = s.ListField(child=s.ListField(child=s.FloatField()))
    removed = s.ListField(child=s.CharField())
    paper = PaperSerializer()
    told = ToldSerializer(allow_null=True)
    placed = PlacedSerializer(many=True)
    faults = FaultSerializer(many=True)
    version = s.IntegerField()
    may_save = s.BooleanField()


class UploadSerializer(s.Serializer):
    """A file; ``replaces`` names the edition of the office paper whose next edition it is."""

    file = s.FileField()
    replaces = s.CharField(required=False, allow_blank=True, max_length=64)


class KeepSerializer(s.Serializer):
    """What has been placed and said so far, and the version it is based on."""

    placed = PlacedSerializer(many=True, max_length=MOST_PLACED)
    paper = PaperSerializer()
    based_on = s.IntegerField(min_value=0, max_value=2**31)


def _row(reading: Reading, user: User) -> dict[str, Any]:
    return {
        "id": reading.pk, "name": reading.name, "title": reading.paper.get("title", ""), "by": reading.by.name, "pages": reading.found["pages"],
        "blanks": len(reading.placed), "confirmed": sum(p["confirmed"] for p in reading.placed), "made": reading.made,
        "proposed_by": reading.proposed_by.name if reading.proposed_by else "", "mine": reading.by_id == user.pk,
    }  # fmt: skip


def _whole(reading: Reading, user: User) -> dict[str, Any]:
    made = actions.form_from(reading, paper_from({"number": "0", "title": "untitled"} | {k: v for k, v in reading.paper.items() if v}))
    faults = made if isinstance(made, list) else []
    return {
        **_row(reading, user), "may_save": may_save_papers(user), "sizes": reading.found["sizes"], "removed": reading.found["removed"], "told": reading.told or None, "version": reading.version,
        "paper": {"number": "", "title": "", "topic": "office", "purpose": "", "sides": ["buying", "listing", "leasing out", "renting"], **reading.paper},
        "placed": reading.placed, "faults": [{"message": f.message, "mend": f.mend, "place": f.place.split(", ")[-1]} for f in faults],
    }  # fmt: skip


def paper_from(given: dict[str, Any]) -> Paper:
    """What is said of a paper, checked."""
    try:
        return Paper.model_validate({k: v for k, v in given.items() if v not in ("", [])})
    except ValidationError as trouble:
        raise Refusal("The paper needs a number and a title.", "Fill them in above the pages.", "paper") from trouble


class ReadingsView(APIView):
    """Papers of the brokerage that are being made forms."""

    parser_classes = (MultiPartParser, JSONParser)

    @extend_schema(operation_id="readings", responses=ReadingRowSerializer(many=True))
    def get(self, request: Request) -> Response:
        """Newest first."""
        rows = Reading.objects.filter(brokerage=request.user.brokerage_id, removed=False).select_related("by", "proposed_by")
        return Response([_row(r, request.user) for r in rows.defer("printed")[:50]])

    @extend_schema(operation_id="read_paper", request={"multipart/form-data": UploadSerializer}, responses={201: ReadingSerializer})
    @once
    @dear
    def post(self, request: Request) -> Response:
        """Read a PDF: its pages, its blanks, and what each probably asks for."""
        given = checked(UploadSerializer, request)
        reading = actions.start_reading(request.user, name_of(given["file"]), uploaded(given["file"], PDF.most_bytes), given.get("replaces", ""))
        return Response(_whole(reading, request.user), 201)


class ReadingView(APIView):
    """One of them."""

    @extend_schema(operation_id="reading", responses=ReadingSerializer)
    def get(self, request: Request, reading: UUID) -> Response:
        """With all its blanks."""
        return Response(_whole(actions.find_reading(request.user, reading), request.user))

    @extend_schema(operation_id="keep_reading", request=KeepSerializer, responses=ReadingSerializer)
    @dear
    def put(self, request: Request, reading: UUID) -> Response:
        """Keep what has been placed so far; what is wrong with it is said, and kept all the same."""
        given = checked(KeepSerializer, request)
        try:
            placed = [Placed.model_validate(dict(p)) for p in given["placed"]]
        except ValidationError as trouble:
            raise Refusal("A blank can't be kept as it was sent.", "Reload the paper; what was kept before is there.", "placing") from trouble
        kept = actions.keep_reading(request.user, reading, placed, dict(given["paper"]), given["based_on"])
        return Response(_whole(kept, request.user))

    @extend_schema(operation_id="drop_reading", responses={204: None})
    def delete(self, request: Request, reading: UUID) -> Response:
        """Take it off the list; it can be put back."""
        actions.remove_reading(request.user, reading, removed=True)
        return Response(status=204)

    @extend_schema(operation_id="restore_reading", request=None, responses={204: None})
    def post(self, request: Request, reading: UUID) -> Response:
        """Put it back."""
        actions.remove_reading(request.user, reading, removed=False)
        return Response(status=204)


class SavedSerializer(s.Serializer):
    """The form that was made, or that it was proposed to those who decide."""

    form = FormSerializer(allow_null=True)
    proposed = s.BooleanField()


class SaveReadingView(APIView):
    """Making a reading a form."""

    @extend_schema(operation_id="save_reading", request=PaperSerializer, responses={201: SavedSerializer})
    @once
    @dear
    def post(self, request: Request, reading: UUID) -> Response:
        """The form stands under the brokerage's own papers from then on; by whom the broker doesn't let, it is proposed."""
        made = actions.save_as_form(request.user, reading, paper_from(dict(checked(PaperSerializer, request))))
        return Response({"form": form_row(made, False) if made else None, "proposed": made is None}, 201)


class ReadingPictureView(APIView):
    """A page of a paper that is being made a form."""

    @extend_schema(operation_id="reading_picture", responses={(200, "image/png"): OpenApiTypes.BINARY})
    def get(self, request: Request, reading: UUID, page: int, sharpness: int) -> HttpResponse:
        """The page (from 1) at one of the offered dots per inch."""
        found = actions.find_reading(request.user, reading)
        if sharpness not in SHARPNESS or not 1 <= page <= found.found["pages"]:
            raise Refusal("There is no such picture.", f"Pages run from 1 to {found.found['pages']}.", code=404)
        return page_picture(found.content, page, sharpness, True)


def fault_rows(faults: list[Fault]) -> list[dict[str, str]]:
    """Faults as answers carry them."""
    return [{"message": f.message, "mend": f.mend, "place": f.place} for f in faults]
