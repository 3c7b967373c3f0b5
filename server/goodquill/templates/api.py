"""The templates one may apply."""

from __future__ import annotations

from drf_spectacular.utils import extend_schema
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill.forms.queries import newest_releases
from goodquill.offices.requests import MemberRequest
from goodquill.templates.models import Template
from goodquill.templates.shapes import TemplateSerializer


class TemplatesView(APIView):
    """Templates from the packs that the user may use."""

    @extend_schema(operation_id="templates", responses=TemplateSerializer(many=True))
    def get(self, request: MemberRequest) -> Response:
        """Those of the newest releases, by name."""
        rows = Template.objects.filter(release__in=newest_releases(request.user))
        return Response(
            [
                {
                    "id": t.pk,
                    "name": t.name,
                    "side": t.side,
                    "kinds": t.data.get("kinds", []),
                    "about": t.data.get("about", ""),
                    "documents": len(t.data["documents"]),
                    "answers": len(t.data.get("answers", {})) + len(t.data.get("blanks", {})),
                }
                for t in rows
            ]
        )
