"""The deal endpoints: list, open, change, undo, package."""

from __future__ import annotations

from uuid import UUID

from drf_spectacular.utils import extend_schema
from quillcore.facts.edits import Edit, Op
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill.deals import actions, edits, history, keeping, lens, payload, queries, shapes, steps
from goodquill.deals.earlier import earlier
from goodquill.deals.opening import find_deal, open_deal
from goodquill.deals.requests import deal_request
from goodquill.deals.shapes import offer_at_hand
from goodquill.forms.queries import setting_of
from goodquill.http.endpoints import asked, checked
from goodquill.offices.requests import MemberRequest


class DealView(APIView):
    """One deal."""

    @extend_schema(operation_id="deal", parameters=[shapes.OfferQuery], responses=shapes.DealSerializer)
    def get(self, request: MemberRequest, deal: UUID) -> Response:
        """Return the deal, whole."""
        opened = open_deal(request.user, deal, offer_at_hand(request))
        keeping.note(request.user, opened.deal, "opened")
        return Response(payload.whole(opened))

    @extend_schema(operation_id="throw_away_deal", request=None, responses={204: None})
    def delete(self, request: MemberRequest, deal: UUID) -> Response:
        """Throw it away; its agent and the broker find it again for thirty days."""
        keeping.throw_away(request.user, deal)
        return Response(status=204)

    @extend_schema(operation_id="bring_back_deal", request=None, responses=shapes.DealRowSerializer)
    def post(self, request: MemberRequest, deal: UUID) -> Response:
        """Bring it back."""
        return Response(payload.deal_row(keeping.bring_back(request.user, deal)))


class NameView(APIView):
    """A deal's name."""

    @extend_schema(
        operation_id="name_deal",
        parameters=[shapes.OfferQuery],
        request=shapes.NameSerializer,
        responses=shapes.DeltaSerializer,
    )
    def post(self, request: MemberRequest, deal: UUID) -> Response:
        """Name it, or let it follow address and surname again."""
        given = checked(shapes.NameSerializer, request)
        return Response(keeping.name_deal(deal_request(request, deal, given), given["name"]))


class LooksView(APIView):
    """The access log of a deal."""

    @extend_schema(operation_id="looks", responses=shapes.LookedSerializer(many=True))
    def get(self, request: MemberRequest, deal: UUID) -> Response:
        """Return who opened and took what, for the broker."""
        return Response(keeping.looks(request.user, deal))


class ChangesView(APIView):
    """Changes to a deal's facts."""

    @extend_schema(
        operation_id="changes",
        parameters=[shapes.SinceQuery],
        responses={200: shapes.DeltaSerializer, 204: None},
    )
    def get(self, request: MemberRequest, deal: UUID) -> Response:
        """Return what has moved since change number ``since``; 204 when nothing has."""
        given = asked(shapes.SinceQuery, request)
        if queries.newest_step(request.user, deal) <= given["since"]:
            return Response(status=204)
        return Response(steps.changes_since(open_deal(request.user, deal, given["offer"]), given["since"]))

    @extend_schema(
        operation_id="edit",
        parameters=[shapes.OfferQuery],
        request=shapes.EditsSerializer,
        responses=shapes.DeltaSerializer,
    )
    def post(self, request: MemberRequest, deal: UUID) -> Response:
        """Carry out a batch of edits."""
        given = checked(shapes.EditsSerializer, request)
        wanted = [Edit(**one | {"op": Op(one["op"])}) for one in given["edits"]]
        return Response(edits.edit(deal_request(request, deal, given), wanted))


class UndoView(APIView):
    """Taking a change back."""

    @extend_schema(
        operation_id="undo",
        parameters=[shapes.OfferQuery],
        request=shapes.UndoSerializer,
        responses=shapes.DeltaSerializer,
    )
    def post(self, request: MemberRequest, deal: UUID) -> Response:
        """Undo one change."""
        given = checked(shapes.UndoSerializer, request)
        return Response(edits.undo(deal_request(request, deal, given), given["target"]))


class HistoryView(APIView):
    """The deal's steps."""

    @extend_schema(operation_id="history", responses=shapes.ChangeSerializer(many=True))
    def get(self, request: MemberRequest, deal: UUID) -> Response:
        """Return the newest fifty steps, newest first, each with what it did from what to what."""
        return Response(history.steps(open_deal(request.user, deal)))


class LensView(APIView):
    """One fact under the lens."""

    @extend_schema(operation_id="lens", parameters=[shapes.OfferQuery], responses=shapes.LensSerializer)
    def get(self, request: MemberRequest, deal: UUID, key: str) -> Response:
        """Return value at every source, history, places."""
        return Response(lens.look(open_deal(request.user, deal, offer_at_hand(request)), key))


class EarlierView(APIView):
    """Earlier answers to this deal's questions."""

    @extend_schema(
        operation_id="earlier",
        parameters=[shapes.OfferQuery],
        responses=shapes.EarlierSerializer(many=True),
    )
    def get(self, request: MemberRequest, deal: UUID) -> Response:
        """Return, by question, answers of the same agent's other deals that may be offered again: the most
        frequent first."""
        return Response(earlier(request.user, open_deal(request.user, deal, offer_at_hand(request))))


class HolidaysView(APIView):
    """The holidays that a deal's deadlines know."""

    @extend_schema(
        operation_id="holidays",
        parameters=[shapes.YearQuery],
        responses=shapes.HolidaySerializer(many=True),
    )
    def get(self, request: MemberRequest, deal: UUID) -> Response:
        """List the holidays: federal ones as observed, and the state's by the release of the deal."""
        release = find_deal(request.user, deal).release
        year = asked(shapes.YearQuery, request)["year"]
        found = setting_of(release).calendar.holidays(year)
        return Response([{"day": day.isoformat(), "name": name} for day, name in found.items()])


class ApplyTemplateView(APIView):
    """Applying templates."""

    @extend_schema(
        operation_id="apply_template",
        parameters=[shapes.OfferQuery],
        request=shapes.ApplySerializer,
        responses=shapes.DeltaSerializer,
    )
    def post(self, request: MemberRequest, deal: UUID) -> Response:
        """Apply one template; nothing typed is replaced, and applying twice adds nothing."""
        given = checked(shapes.ApplySerializer, request)
        return Response(actions.apply_template(deal_request(request, deal, given), given["template"]))


class PackageView(APIView):
    """Changing the package."""

    @extend_schema(
        operation_id="change_package",
        parameters=[shapes.OfferQuery],
        request=shapes.PackageEditSerializer,
        responses=shapes.DeltaSerializer,
    )
    def post(self, request: MemberRequest, deal: UUID) -> Response:
        """Add, take out, set aside, take up again, reorder, or put under another heading."""
        given = checked(shapes.PackageEditSerializer, request)
        change, op, document = deal_request(request, deal, given), given["op"], given.get("document", "")
        if op == "add":
            numbers = given.get("numbers") or [n for n in [given.get("number", "")] if n]
            return Response(actions.add_forms(change, numbers, given.get("edition", "")))
        if op == "expect":
            wanted = given.get("expected", ""), given.get("expected_from", "")
            return Response(actions.expect_paper(change, *wanted))
        if op == "remove":
            return Response(actions.remove_document(change, document))
        if op == "section":
            section = given.get("section", "").strip() or "Added"
            return Response(actions.put_in_section(change, document, section))
        if op == "order":
            return Response(actions.put_in_order(change, given.get("order", []), document))
        return Response(actions.set_aside(change, document, op == "aside"))
