"""Templates: listed, begun, said of, published, tried, and as files."""

from __future__ import annotations

from uuid import UUID

from django.http import HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from quillcore.sandbox import TEMPLATE
from rest_framework.parsers import JSONParser, MultiPartParser
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill.deals.opening import open_deal
from goodquill.deals.shapes import DeltaSerializer
from goodquill.drafting import actions, moving, queries, samples, shapes, upstream
from goodquill.drafting.gathering import goes_with
from goodquill.http.endpoints import Refusal, as_file, asked, checked, sent_with, uploaded
from goodquill.offices.once import expensive, once
from goodquill.offices.requests import MemberRequest
from goodquill.templates.models import Template
from goodquill.templates.queries import find_template
from goodquill.templates.shapes import TemplateSerializer, TemplatesQuery


class TemplatesView(APIView):
    """Templates that one may use or write."""

    @extend_schema(
        operation_id="templates", parameters=[TemplatesQuery], responses=TemplateSerializer(many=True)
    )
    def get(self, request: MemberRequest) -> Response:
        """List templates by name; of a side, those first that a deal about that is offered first."""
        given = asked(TemplatesQuery, request)
        known = {
            "property.category": given["category"],
            "property.county": given["county"],
            "terms.loan_type": given["loan"],
        }
        facts = {key: text for key, text in known.items() if text}
        return Response(queries.templates_for(request.user, given["side"], facts))

    @extend_schema(
        operation_id="begin_template",
        request=shapes.NewTemplateSerializer,
        responses={201: shapes.BegunSerializer},
    )
    @once
    def post(self, request: MemberRequest) -> Response:
        """Begin one."""
        template, left = actions.begin_template(request.user, checked(shapes.NewTemplateSerializer, request))
        return Response({"id": template.pk, "name": template.name, "stayed_out": left}, 201)


class TemplateView(APIView):
    """One template."""

    @extend_schema(operation_id="template", responses=shapes.WrittenTemplateSerializer)
    def get(self, request: MemberRequest, template: UUID) -> Response:
        """Return a template with its working copy, versions, and what it leaves unanswered."""
        return Response(queries.whole_template(request.user, template))

    @extend_schema(
        operation_id="say_about_template", request=shapes.AboutSerializer, responses=DeltaSerializer
    )
    def post(self, request: MemberRequest, template: UUID) -> Response:
        """Set what it says of itself."""
        given = checked(shapes.AboutSerializer, request)
        return Response(actions.say_about(request.user, template, sent_with(request, given), given))

    @extend_schema(operation_id="remove_template", responses={204: None})
    def delete(self, request: MemberRequest, template: UUID) -> Response:
        """Take it off the list; deals that began with it keep all of it."""
        actions.remove(request.user, template, removed=True)
        return Response(status=204)


class RestoreTemplateView(APIView):
    """A template back on the list."""

    @extend_schema(operation_id="restore_template", request=None, responses={204: None})
    def post(self, request: MemberRequest, template: UUID) -> Response:
        """Put it back."""
        actions.remove(request.user, template, removed=False)
        return Response(status=204)


class PublishView(APIView):
    """Publishing."""

    @extend_schema(
        operation_id="publish_template",
        request=shapes.PublishSerializer,
        responses=shapes.WrittenTemplateSerializer,
    )
    @once
    def post(self, request: MemberRequest, template: UUID) -> Response:
        """Make what is written what others get."""
        actions.publish(request.user, template, checked(shapes.PublishSerializer, request))
        return Response(queries.whole_template(request.user, template))


class MoveOnView(APIView):
    """Moving on."""

    @extend_schema(operation_id="what_would_move", responses=shapes.FormMovesSerializer(many=True))
    @expensive
    def get(self, request: MemberRequest, template: UUID) -> Response:
        """Return what becomes otherwise with the newest editions, before it does."""
        found = actions.find_written(request.user, template)
        return Response(moving.what_would_change(request.user, found))

    @extend_schema(
        operation_id="move_template_on", request=shapes.UpstreamChangeSerializer, responses=DeltaSerializer
    )
    def post(self, request: MemberRequest, template: UUID) -> Response:
        """Put it on the newest editions of its forms."""
        given = checked(shapes.UpstreamChangeSerializer, request)
        return Response(moving.move_on(request.user, template, sent_with(request, given)))


class TryRuleView(APIView):
    """A rule tried on the member's own deals."""

    @extend_schema(operation_id="try_rule", request=shapes.TrySerializer, responses=shapes.TriedSerializer)
    @expensive
    def post(self, request: MemberRequest, template: UUID) -> Response:
        """Return in how many of them it would have held."""
        side = actions.find_written(request.user, template).side
        held, of, fault = actions.try_rule(request.user, side, checked(shapes.TrySerializer, request)["rule"])
        return Response({"held": held, "of": of, "fault": fault})


class TemplateFileView(APIView):
    """A template as a YAML file."""

    @extend_schema(operation_id="template_file", responses={(200, "application/yaml"): OpenApiTypes.BINARY})
    def get(self, request: MemberRequest, template: UUID) -> HttpResponse:
        """Return the file: as it is written now for those who may write it, as it was published for
        others."""
        found = find_template(request.user, template)
        return as_file(actions.as_yaml(request.user, found), "application/yaml", f"{found.name}.yaml")


class TemplateFilesView(APIView):
    """Templates read from files."""

    parser_classes = (MultiPartParser, JSONParser)

    @extend_schema(
        operation_id="read_template",
        request={"multipart/form-data": shapes.TemplateFileSerializer},
        responses={201: shapes.BegunSerializer},
    )
    @once
    def post(self, request: MemberRequest) -> Response:
        """Import a template of one's own from a file."""
        given = checked(shapes.TemplateFileSerializer, request)
        content = uploaded(given["file"], TEMPLATE.most_bytes)
        found = actions.read_file(request.user, content, str(given["file"].name)[:80])
        if isinstance(found, list):
            told = " ".join(str(f) for f in found[:5])
            raise Refusal(f"This file can't be used as a template: {told}", "Nothing was saved.", "template")
        return Response({"id": found.pk, "name": found.name, "stayed_out": []}, 201)


class MoveManyOnView(APIView):
    """Moving several on."""

    @extend_schema(
        operation_id="move_templates_on",
        request=shapes.MoveManySerializer,
        responses=shapes.MovedSerializer(many=True),
    )
    @once
    @expensive
    def post(self, request: MemberRequest) -> Response:
        """Put them on the newest editions of their forms."""
        wanted = checked(shapes.MoveManySerializer, request)["templates"]
        return Response(moving.move_many_on(request.user, wanted))


class UpstreamView(APIView):
    """Changes in the template that this one was copied from."""

    @extend_schema(
        operation_id="take_over_upstream", request=shapes.TakeOverSerializer, responses=DeltaSerializer
    )
    def post(self, request: MemberRequest, template: UUID) -> Response:
        """Take parts of it over, or leave them as they are here."""
        given = checked(shapes.TakeOverSerializer, request)
        sent = sent_with(request, given)
        return Response(upstream.take_over(request.user, template, sent, given["parts"], given["keep"]))


class AsTemplateView(APIView):
    """A deal as a template."""

    @extend_schema(operation_id="deal_as_template", responses=shapes.FromDealSerializer)
    def get(self, request: MemberRequest, deal: UUID) -> Response:
        """Return what would be kept, before it is."""
        return Response(actions.preview_of_deal(request.user, deal))


def _tried(request: MemberRequest, template_id: UUID) -> tuple[Template, samples.Sample]:
    """Return a template as it is written for those who write it, as it was published for others."""
    template = find_template(request.user, template_id)
    deal = asked(shapes.SampleQuery, request)["deal"]
    content = actions.content_for(request.user, template)
    return template, samples.try_on(request.user, template, content, deal)


class SampleView(APIView):
    """A template tried on a deal."""

    @extend_schema(
        operation_id="try_template", parameters=[shapes.SampleQuery], responses=shapes.SampleSerializer
    )
    def get(self, request: MemberRequest, template: UUID) -> Response:
        """Return how it would stand there; nothing is written."""
        found, sample = _tried(request, template)
        return Response(samples.told(request.user, found, sample))


class SampleFileView(APIView):
    """The same as paper."""

    @extend_schema(
        operation_id="try_template_file",
        parameters=[shapes.SampleQuery],
        responses={(200, "application/pdf"): OpenApiTypes.BINARY},
    )
    @expensive
    def get(self, request: MemberRequest, template: UUID) -> HttpResponse:
        """Return its package, filled from that deal."""
        found, sample = _tried(request, template)
        return as_file(samples.as_pdf(sample, found), "application/pdf", f"{found.name}, tried.pdf")


class GoesWithView(APIView):
    """Forms that go with a package."""

    @extend_schema(operation_id="goes_with", responses=shapes.GoesWithSerializer(many=True))
    def get(self, request: MemberRequest, deal: UUID) -> Response:
        """Return forms that its forms name, and that are usual beside them."""
        return Response(goes_with(request.user, open_deal(request.user, deal)))
