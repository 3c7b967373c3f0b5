"""Finding the forms one may use, looking at them, and pictures of their pages."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from quillcore.facts import Group, load_catalog
from quillcore.facts.keys import group_of
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill.api import Refusal, asked, checked
from goodquill.forms.finding import find_forms, form_row
from goodquill.forms.models import Edition, Favourite, ReleaseForm
from goodquill.forms.pictures import SHARPNESS, page_picture
from goodquill.forms.queries import forms_of
from goodquill.forms.shapes import CatalogFactSerializer, FavouriteSerializer, FormSerializer, FormSheetSerializer, FormsQuery
from goodquill.offices.access import may_see_deals, may_use_releases


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


class CatalogView(APIView):
    """The fact catalog."""

    @extend_schema(operation_id="catalog", responses=CatalogFactSerializer(many=True))
    def get(self, request: Request) -> Response:
        """Every fact, with those of the first two parties of each group."""
        catalog = load_catalog()
        people = [g.key(n, f) for g in Group for n in (1, 2) for f in ("name", "email", "phone", "mailing_address", "initials")]
        rows: list[dict[str, Any]] = []
        for key in [*(f.key for f in catalog), *people]:
            fact = catalog[key]
            rows.append({"key": key, "label": fact.label, "group": catalog.groups.get(group_of(key), ""), "kind": fact.kind, "options": fact.options})
        return Response(rows)


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
