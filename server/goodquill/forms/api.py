"""Finding the forms one may use, looking at them, and pictures of their pages."""

from __future__ import annotations

from typing import Any

from django.core.files.base import ContentFile
from django.core.files.storage import default_storage
from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from quillcore.facts import load_catalog
from quillcore.limited import run_limited
from quillcore.pdf import picture
from quillcore.values import Fault
from rest_framework import serializers as s
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill import files
from goodquill.api import Refusal, asked, checked
from goodquill.forms.finding import find_forms, form_row
from goodquill.forms.models import Edition, Favourite, ReleaseForm
from goodquill.forms.queries import forms_of
from goodquill.offices.access import may_see_deals, may_use_releases

SHARPNESS = (48, 110, 165, 220)
"""Dots per inch that pictures come in: the map, and the paper on plain and dense screens."""


class FormSerializer(s.Serializer):
    """A form that can be added to a package.  ``own`` papers are the brokerage's; ``filled_by`` are the sides on which it is
    ours to fill (none: all); ``found`` is the text around what was looked for, where only the text has it."""

    number = s.CharField()
    title = s.CharField()
    topic = s.CharField()
    purpose = s.CharField(allow_blank=True)
    sides = s.ListField(child=s.CharField())
    kinds = s.ListField(child=s.CharField())
    audience = s.ListField(child=s.CharField())
    filled_by = s.ListField(child=s.CharField())
    pages = s.IntegerField()
    blanks = s.IntegerField()
    edition = s.CharField()
    released = s.DateField()
    association = s.CharField()
    own = s.BooleanField()
    favourite = s.BooleanField()
    found = s.CharField(allow_blank=True)


class FormsQuery(s.Serializer):
    """What is looked for."""

    find = s.CharField(required=False, allow_blank=True, default="", max_length=200)
    side = s.CharField(required=False, allow_blank=True, default="", max_length=20)
    kind = s.CharField(required=False, allow_blank=True, default="", max_length=60)
    topic = s.CharField(required=False, allow_blank=True, default="", max_length=60)


class FormsView(APIView):
    """Forms of the newest release of each association, and the brokerage's own papers."""

    @extend_schema(
        operation_id="forms",
        parameters=[FormsQuery],
        responses=FormSerializer(many=True),
    )
    def get(self, request: Request) -> Response:
        """Those that the user may add: by number, title, topic, purpose or words in the text; best first."""
        return Response(find_forms(request.user, **asked(FormsQuery, request)))


class FormBlankSerializer(s.Serializer):
    """One blank of a form: page from 1, rectangle in points, what it asks for and of whom."""

    id = s.CharField()
    page = s.IntegerField()
    rect = s.ListField(child=s.FloatField())
    shape = s.CharField()
    label = s.CharField()
    key = s.CharField(allow_blank=True)
    who = s.CharField(allow_blank=True)


class FormSheetSerializer(FormSerializer):
    """A form with its pages' sizes in points and its blanks."""

    sizes = s.ListField(child=s.ListField(child=s.FloatField()))
    fields_on_pages = FormBlankSerializer(many=True)


class FormView(APIView):
    """One form, to be looked at before it is used."""

    @extend_schema(operation_id="form", responses=FormSheetSerializer)
    def get(self, request: Request, edition: str) -> Response:
        """The form with its blanks."""
        row = ReleaseForm.objects.filter(may_use_releases(request.user, "release__"), edition=edition).select_related("edition", "release").first()
        if row is None:
            raise Refusal("There is no such form here.", "Look for it under Forms.", "form", 404)
        form = forms_of([row])[row.number]
        catalog = load_catalog()
        blanks = []
        for field, meaning in form.pairs():
            fact = catalog.find(meaning.fact) if meaning.fact else None
            label = meaning.label or (fact.label if fact else meaning.sign or (meaning.group or field.id).replace("-", " "))
            blanks.append(
                {"id": field.id, "page": field.page, "rect": field.rect, "shape": field.shape, "label": label, "key": meaning.fact or "", "who": meaning.role or meaning.who or ""}
            )  # fmt: skip
        liked = Favourite.objects.filter(user=request.user, association=row.release.association, number=row.number).exists()
        sizes = [form.edition.size(n) for n in range(1, form.edition.pages + 1)]
        return Response({**form_row(row, liked), "sizes": sizes, "fields_on_pages": blanks})


class FavouriteSerializer(s.Serializer):
    """A form to be kept at hand, or no longer."""

    association = s.CharField(max_length=200)
    number = s.CharField(max_length=20)
    favourite = s.BooleanField()


class FavouritesView(APIView):
    """The user's own favourite forms."""

    @extend_schema(operation_id="keep_favourite", request=FavouriteSerializer, responses={204: None})
    def post(self, request: Request) -> Response:
        """Keep a form at hand, or no longer."""
        given = checked(FavouriteSerializer, request)
        named = {"user": request.user, "association": given["association"], "number": given["number"]}
        if given["favourite"]:
            Favourite.objects.get_or_create(**named)
        else:
            Favourite.objects.filter(**named).delete()
        return Response(status=204)


class CatalogFactSerializer(s.Serializer):
    """A fact that a blank can be bound to."""

    key = s.CharField()
    label = s.CharField()
    group = s.CharField()
    kind = s.CharField()
    options = s.ListField(child=s.CharField())


class CatalogView(APIView):
    """The fact catalog."""

    @extend_schema(operation_id="catalog", responses=CatalogFactSerializer(many=True))
    def get(self, request: Request) -> Response:
        """Every fact, with those of the first two parties of each group."""
        catalog = load_catalog()
        people = [
            f"{g}.{n}.{f}"
            for g in ("buyers", "sellers", "landlords", "tenants")
            for n in (1, 2)
            for f in ("name", "email", "phone", "mailing_address", "initials")
        ]
        rows: list[dict[str, Any]] = []
        for key in [*(f.key for f in catalog), *people]:
            fact = catalog[key]
            rows.append(
                {"key": key, "label": fact.label, "group": catalog.groups.get(key.split(".")[0], ""), "kind": fact.kind, "options": fact.options}
            )
        return Response(rows)


def page_picture(content: str, page: int, sharpness: int, foreign: bool) -> HttpResponse:
    """A page (from 1) of stored pages as PNG.  Pages from elsewhere are drawn in a limited child."""
    name = f"pictures/{content[:2]}/{content}-{page}-{sharpness}.png"
    if default_storage.exists(name):
        with default_storage.open(name, "rb") as kept:
            drawn: bytes | Fault = kept.read()
    else:
        pdf = files.fetch(content)
        drawn = run_limited("quillcore.pdf.renderer:picture_inside", pdf, str(page), str(sharpness)) if foreign else picture(pdf, page, sharpness)
        if isinstance(drawn, Fault):
            raise Refusal.of(drawn, 422)
        default_storage.save(name, ContentFile(drawn))
    answer = HttpResponse(drawn, content_type="image/png")
    # An association's blank pages are no secret among its members; what came from elsewhere may bear a client's name, and a
    # browser that several people use keeps none of it.
    answer["Cache-Control"] = "no-store" if foreign else "private, max-age=31536000, immutable"
    return answer


class PagePictureView(APIView):
    """A page of an edition as a picture: private, checked, and never different under the same address."""

    @extend_schema(operation_id="page_picture", responses={(200, "image/png"): OpenApiTypes.BINARY})
    def get(self, request: Request, edition: str, page: int, sharpness: int) -> HttpResponse:
        """The page (from 1) at one of the offered dots per inch."""
        allowed = ReleaseForm.objects.filter(may_use_releases(request.user, "release__"), edition=edition)
        plain = Edition.objects.defer("data", "words")
        found = plain.filter(pk=edition, pk__in=allowed.values("edition")).first()
        if found is None:  # a deal keeps the edition it began with, whatever becomes of the release
            found = get_object_or_404(plain.filter(may_see_deals(request.user, "document__deal__")).distinct(), pk=edition)
        if sharpness not in SHARPNESS or not 1 <= page <= found.pages:
            raise Refusal("There is no such picture.", f"Pages run from 1 to {found.pages}; sharpness is one of {SHARPNESS}.", code=404)
        return page_picture(found.page_content, page, sharpness, found.foreign)
