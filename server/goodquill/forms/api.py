"""Finding the forms one may use, looking at them, and pictures of their pages."""

from __future__ import annotations

from django.db.models import Q
from django.http import Http404, HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from quillcore.facts import Side, load_catalog
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill.forms.catalog import bindable, catalog_digest, catalog_sheet
from goodquill.forms.finding import find_forms, form_row
from goodquill.forms.layouts import layout_rows
from goodquill.forms.models import Favourite, MappingVersion, ReleaseForm
from goodquill.forms.pages import SHARPNESS, kept_by_browsers, page_picture, page_words
from goodquill.forms.queries import find_edition, forms_by_hash, forms_of
from goodquill.forms.shapes import (
    CatalogFactSerializer,
    CatalogSerializer,
    FavouriteSerializer,
    FormSerializer,
    FormSheetSerializer,
    FormsQuery,
    LayoutBlankSerializer,
    PageWordsSerializer,
)
from goodquill.http.endpoints import Refusal, asked, checked
from goodquill.offices.access import may_use_releases
from goodquill.offices.requests import MemberRequest


class FormsView(APIView):
    """Forms of the newest release of each association, and the brokerage's own papers."""

    @extend_schema(
        operation_id="forms",
        parameters=[FormsQuery],
        responses=FormSerializer(many=True),
    )
    def get(self, request: MemberRequest) -> Response:
        """Return those that the user may add: by number, title, topic, purpose or words in the text; best
        first."""
        return Response(find_forms(request.user, **asked(FormsQuery, request)))


class FormView(APIView):
    """One form, to be looked at before it is used."""

    @extend_schema(operation_id="form", responses=FormSheetSerializer)
    def get(self, request: MemberRequest, edition: str) -> Response:
        """Return the form with its blanks."""
        row = (
            ReleaseForm.objects.filter(may_use_releases(request.user, "release__"), edition=edition)
            .select_related("edition", "release")
            .first()
        )
        if row is None:
            raise Refusal("This form doesn't exist.", "Find it under Forms.", "form", 404)
        form = forms_of([row])[row.number]
        catalog = load_catalog()
        blanks = []
        for field, meaning in form.pairs():
            fact = catalog.find(meaning.fact) if meaning.fact else None
            label = meaning.label or (
                fact.label if fact else meaning.sign or (meaning.group or field.id).replace("-", " ")
            )
            blanks.append(
                {
                    "id": field.id,
                    "page": field.page,
                    "rect": field.rect,
                    "shape": field.shape,
                    "label": label,
                    "key": meaning.fact or "",
                    "who": meaning.role or meaning.who or "",
                }
            )
        liked = Favourite.objects.filter(
            user=request.user, association=row.release.association, number=row.number
        ).exists()
        sizes = [form.edition.size(n) for n in range(1, form.edition.pages + 1)]
        return Response({**form_row(row, liked), "sizes": sizes, "fields_on_pages": blanks})


class FavouritesView(APIView):
    """The user's own favourite forms."""

    @extend_schema(operation_id="keep_favourite", request=FavouriteSerializer, responses={204: None})
    def post(self, request: MemberRequest) -> Response:
        """Keep a form at hand, or no longer."""
        given = checked(FavouriteSerializer, request)
        named = {"user": request.user, "association": given["association"], "number": given["number"]}
        if given["favourite"]:
            Favourite.objects.get_or_create(**named)
        else:
            Favourite.objects.filter(**named).delete()
        return Response(status=204)


class BindableView(APIView):
    """The facts that blanks can be bound to."""

    @extend_schema(operation_id="bindable", responses=CatalogFactSerializer(many=True))
    def get(self, request: MemberRequest) -> Response:
        """Return every fact, with those of the first two parties of each group."""
        return Response(bindable())


class CatalogView(APIView):
    """The fact catalog."""

    @extend_schema(operation_id="catalog", responses=CatalogSerializer)
    def get(self, request: MemberRequest, digest: str) -> Response:
        """Return the catalog of that digest, which never changes; a deal's head says it."""
        if digest != catalog_digest():
            raise Refusal(
                "The catalog of facts has changed.",
                "Your work is kept. Reload the page.",
                "catalog",
                404,
            )
        answer = Response(catalog_sheet())
        answer["Cache-Control"] = kept_by_browsers(foreign=False)
        return answer


class LayoutView(APIView):
    """The blanks of a form, as an edition and a mapping fix them."""

    @extend_schema(operation_id="layout", responses=LayoutBlankSerializer(many=True))
    def get(self, request: MemberRequest, edition: str, mapping: str, side: str) -> Response:
        """Return the blanks in reading order, as a deal of that side has them; never different under the same
        address."""
        found = find_edition(request.user, edition)
        go_together = Q(releaseform__edition=edition) | Q(document__edition=edition)
        if not MappingVersion.objects.filter(go_together, pk=mapping).exists():
            raise Http404
        form = forms_by_hash([(edition, mapping)])[(edition, mapping)]
        answer = Response(layout_rows(form.seen_from(Side(side)), found.foreign))
        answer["Cache-Control"] = kept_by_browsers(found.foreign)
        return answer


class PagePictureView(APIView):
    """A page of an edition as a picture: private, checked, and never different under the same address."""

    @extend_schema(operation_id="page_picture", responses={(200, "image/png"): OpenApiTypes.BINARY})
    def get(self, request: MemberRequest, edition: str, page: int, sharpness: int) -> HttpResponse:
        """Return the page (from 1) at one of the offered dots per inch."""
        found = find_edition(request.user, edition)
        if sharpness not in SHARPNESS or not 1 <= page <= found.pages:
            raise Refusal(
                "This page doesn't exist.",
                f"Pages run from 1 to {found.pages}; sharpness is one of {SHARPNESS}.",
                code=404,
            )
        return page_picture(found.page_content, page, sharpness, found.foreign)


class PageWordsView(APIView):
    """The words printed on an edition's pages, with where they stand."""

    @extend_schema(operation_id="page_words", responses=PageWordsSerializer)
    def get(self, request: MemberRequest, edition: str) -> HttpResponse:
        """Return the words by page, as rows of left, bottom, right and top in points and the word; never
        different under the same address."""
        found = find_edition(request.user, edition)
        return page_words(found.page_content, found.foreign)
