"""Releases of packs: reading one, what it changes, taking it along."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping
from datetime import date
from typing import TYPE_CHECKING, Any
from uuid import UUID

from django.http import HttpResponse
from django.shortcuts import get_object_or_404
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from quillcore.forms import Form
from quillcore.packs.manifest import Pack
from quillcore.packs.reading import write_zip
from quillcore.packs.releases import (
    Difference,
    TemplateChange,
    compare_releases,
    compare_sheets,
    compare_templates,
)
from quillcore.packs.strangers import read_stranger
from quillcore.sandbox import PACK
from rest_framework.parsers import JSONParser, MultiPartParser
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill.forms.models import Edition, Release
from goodquill.forms.queries import newest_of, newest_releases, pack_of, releases_out
from goodquill.http.endpoints import Refusal, as_file, checked, uploaded
from goodquill.offices.access import may_take_in_releases, may_use_releases
from goodquill.offices.once import expensive, once
from goodquill.offices.requests import MemberRequest
from goodquill.packs.actions import take_in, use
from goodquill.packs.shapes import (
    ReleaseReadSerializer,
    ReleaseSerializer,
    ReleaseUploadSerializer,
    UseSerializer,
)
from goodquill.papers.faults import fault_rows

if TYPE_CHECKING:
    from goodquill.http import wire


def _printed(forms: Mapping[str, Form]) -> dict[str, Any]:
    editions = Edition.objects.filter(pk__in={f.edition_hash for f in forms.values()})
    return dict(editions.values_list("pk", "sentences"))


def _whole(release: Release) -> Pack:
    return pack_of(release, {t.slug: t.data for t in release.templates.all() if t.slug})


def _read(association: str, released: date | None, taken: bool) -> wire.ReleaseRead:
    """Return a release of which nothing is told yet: no faults, no changes."""
    return {
        "association": association,
        "released": released,
        "faults": [],
        "changes": [],
        "same": 0,
        "sheet": [],
        "templates": [],
        "taken": taken,
    }


def _changed(
    read: wire.ReleaseRead, before: Pack | None, after: Pack, sentences: Mapping[str, Any]
) -> wire.ReleaseRead:
    """Return the same with what it changes against the one before; without one all its forms are new."""
    old = before.forms if before is not None else {}
    every = compare_releases(old, after.forms, _printed(old) | dict(sentences))
    sheet: list[Difference] = []
    templates: list[TemplateChange] = []
    if before is not None:
        sheet = compare_sheets(before.sheet, after.sheet)
        templates = compare_templates(before.templates, after.templates, after.forms)
    return {
        **read,
        "changes": [
            {
                "number": c.number,
                "title": c.title,
                "what": c.what,
                "wording": c.wording,
                "blanks": [{"id": b.id, "label": b.label, "what": b.what} for b in c.blanks],
            }
            for c in every
            if c.what != "same"
        ],
        "same": sum(c.what == "same" for c in every),
        "sheet": list(map(_difference, sheet)),
        "templates": [
            {"name": t.name, "what": t.what, "parts": list(map(_difference, t.parts))} for t in templates
        ],
    }


def _difference(one: Difference) -> wire.Difference:
    return {"what": one.what, "was": one.was, "now": one.now}


class ReleasesView(APIView):
    """The releases open to the user."""

    parser_classes = (MultiPartParser, JSONParser)

    @extend_schema(operation_id="releases", responses=ReleaseSerializer(many=True))
    def get(self, request: MemberRequest) -> Response:
        """List releases, newest first."""
        out = list(releases_out(request.user).defer("sheet"))
        newest = {r.pk for r in newest_of(out)}
        of_its_association = Counter(r.association for r in out)
        left = set(request.user.brokerage.left_releases.values_list("pk", flat=True))
        decides = may_take_in_releases(request.user)

        def may_change(release: Release) -> bool:
            has_others = of_its_association[release.association] > 1
            may_leave = release.pk in newest and not release.own_papers and has_others
            return decides and (may_leave or release.pk in left)

        rows = (
            Release.objects.filter(may_use_releases(request.user))
            .defer("sheet")
            .prefetch_related("forms")
            .order_by("-released", "-taken_in")
        )
        return Response(
            [
                {
                    "id": r.pk,
                    "association": r.association,
                    "released": r.released,
                    "forms": len(r.forms.all()),
                    "own": r.own_papers,
                    "newest": r.pk in newest,
                    "left": r.pk in left,
                    "may_change": may_change(r),
                }
                for r in rows
            ]
        )

    @extend_schema(
        operation_id="read_release",
        request={"multipart/form-data": ReleaseUploadSerializer},
        responses=ReleaseReadSerializer,
    )
    @once
    @expensive
    def post(self, request: MemberRequest) -> Response:
        """Read a pack's ZIP for the brokerage: every fault, or what it changes; with ``take`` it is put to
        use from its date."""
        if not may_take_in_releases(request.user):
            raise Refusal(
                "Only the broker can add a new release.", "Send the file to your broker.", "role", 403
            )
        given = checked(ReleaseUploadSerializer, request)
        content = uploaded(given["file"], PACK.most_bytes)
        taken = read_stranger(content)
        if isinstance(taken, list):
            if taken and taken[0].rule == "busy":
                raise Refusal.of(taken[0])
            refused: wire.ReleaseRead = {**_read("", None, False), "faults": fault_rows(taken)}
            return Response(refused)
        pack = taken.pack
        if Release.objects.filter(
            may_use_releases(request.user), own_papers=True, association=pack.sheet.association
        ).exists():
            raise Refusal(
                "This file has your brokerage's name as its association.",
                "A pack must come from an association; nothing was imported.",
                "association",
            )
        before = next(
            (r for r in newest_releases(request.user) if r.association == pack.sheet.association), None
        )
        if given["take"]:
            take_in(pack, request.user.brokerage, taken.printed)
        read = _read(pack.sheet.association, pack.sheet.released, given["take"])
        printed = {pack.forms[number].edition_hash: said.sentences for number, said in taken.printed.items()}
        return Response(_changed(read, _whole(before) if before else None, pack, printed))


class ReleaseChangesView(APIView):
    """The changes in a release."""

    @extend_schema(operation_id="release_changes", responses=ReleaseReadSerializer)
    @expensive
    def get(self, request: MemberRequest, release: UUID) -> Response:
        """Compare it with the same association's release before it."""
        found = get_object_or_404(Release.objects.filter(may_use_releases(request.user)), pk=release)
        earlier = Release.objects.filter(
            may_use_releases(request.user), association=found.association, taken_in__lt=found.taken_in
        )
        before = earlier.order_by("-released", "-taken_in").first()
        read = _read(found.association, found.released, True)
        if before is None:
            return Response(read)
        after = _whole(found)
        return Response(_changed(read, _whole(before), after, _printed(after.forms)))


class ReleaseUseView(APIView):
    """Going back from a release, and using it again."""

    @extend_schema(operation_id="use_release", request=UseSerializer, responses={204: None})
    def post(self, request: MemberRequest, release: UUID) -> Response:
        """Set whether the brokerage's new deals begin with it."""
        found = get_object_or_404(Release.objects.filter(may_use_releases(request.user)), pk=release)
        use(request.user, found, checked(UseSerializer, request)["use"])
        return Response(status=204)


class ReleaseFileView(APIView):
    """A release as a file."""

    @extend_schema(operation_id="release_file", responses={(200, "application/zip"): OpenApiTypes.BINARY})
    @expensive
    def get(self, request: MemberRequest, release: UUID) -> HttpResponse:
        """Return the pack as a ZIP, which can be changed elsewhere and read back."""
        found = get_object_or_404(Release.objects.filter(may_use_releases(request.user)), pk=release)
        packed = write_zip(_whole(found))
        return as_file(packed, "application/zip", f"{found.association} {found.released}.zip")
