"""The templates one may apply."""

from __future__ import annotations

from drf_spectacular.utils import extend_schema
from quillcore.facts import Side
from quillcore.templates.choosing import Offered, best_fit
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill.api import asked
from goodquill.forms.queries import newest_releases
from goodquill.offices.requests import MemberRequest
from goodquill.templates.models import Template
from goodquill.templates.shapes import TemplateSerializer, TemplatesQuery


class TemplatesView(APIView):
    """Templates from the packs that the user may use."""

    @extend_schema(
        operation_id="templates", parameters=[TemplatesQuery], responses=TemplateSerializer(many=True)
    )
    def get(self, request: MemberRequest) -> Response:
        """Those of the newest releases, by name; ``fits`` is the one that a deal of that side, about that
        kind of property, starts with."""
        given = asked(TemplatesQuery, request)
        rows = list(Template.objects.filter(release__in=newest_releases(request.user)))
        offered = [Offered(t.name, Side(t.side), tuple(t.data.get("kinds", ()))) for t in rows]
        best = best_fit(offered, Side(given["side"]), given["category"]) if given["side"] else None
        return Response(
            [
                {
                    "fits": one is best,
                    "id": t.pk,
                    "name": t.name,
                    "side": t.side,
                    "kinds": t.data.get("kinds", []),
                    "about": t.data.get("about", ""),
                    "documents": len(t.data["documents"]),
                    "answers": len(t.data.get("answers", {})) + len(t.data.get("blanks", {})),
                }
                for t, one in zip(rows, offered, strict=True)
            ]
        )
