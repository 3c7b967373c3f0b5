"""The deal endpoints: list, start, open, change, undo, package."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from drf_spectacular.utils import OpenApiParameter, extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill.api import Refusal, checked
from goodquill.deals import actions, changing, lens, offers, payload
from goodquill.deals import serializers as shapes
from goodquill.deals.models import Deal
from goodquill.deals.opening import OpenDeal, find_deal
from goodquill.facts.models import Change
from goodquill.offices.access import may_see_deals

MOST_LISTED = 50
OFFER = OpenApiParameter("offer", int, description="The offer at hand; the one in force without it.")


def offer_at_hand(request: Request) -> int | None:
    """The offer that a request speaks of, by its id."""
    said = request.query_params.get("offer", "")
    if said and not said.isdigit():
        raise Refusal("“offer” is the number of an offer.", "Leave it out for the one in force.", "offer")
    return int(said) if said else None


class DealsView(APIView):
    """Deals one may see."""

    @extend_schema(operation_id="deals", parameters=[OpenApiParameter("find", str)], responses=shapes.DealRowSerializer(many=True))
    def get(self, request: Request) -> Response:
        """The fifty touched last; with ``find``, those with all its words in name, address, parties or numbers."""
        rows = Deal.objects.filter(may_see_deals(request.user)).select_related("owner").order_by("-touched")
        for word in request.query_params.get("find", "").lower().split()[:8]:
            rows = rows.filter(words__contains=word)
        return Response([deal_row(d) for d in rows[:MOST_LISTED]])

    @extend_schema(operation_id="start_deal", request=shapes.NewDealSerializer, responses={201: shapes.DealRowSerializer})
    def post(self, request: Request) -> Response:
        """Start a deal."""
        return Response(deal_row(actions.create_deal(request.user, checked(shapes.NewDealSerializer, request))), 201)


def deal_row(deal: Deal) -> dict[str, Any]:
    """A deal as lists show it."""
    s = deal.summary
    return {
        "id": deal.pk, "name": deal.name, "side": deal.side, "stage": deal.stage, "agent": deal.owner.name, "address": s.get("address", ""),
        "price": s.get("price", ""), "open": s.get("open", 0), "blanks": s.get("blanks", 0), "map": s.get("map", []), "next": s.get("next"), "touched": deal.touched,
    }  # fmt: skip


class DealView(APIView):
    """One deal."""

    @extend_schema(operation_id="deal", parameters=[OFFER], responses=shapes.DealSerializer)
    def get(self, request: Request, deal: UUID) -> Response:
        """The deal, whole."""
        return Response(payload.whole(OpenDeal(find_deal(request.user, deal), offer_at_hand(request))))


class ChangesView(APIView):
    """Changes to a deal's facts."""

    @extend_schema(operation_id="changes", parameters=[OpenApiParameter("since", int, required=True), OFFER], responses=shapes.DeltaSerializer)
    def get(self, request: Request, deal: UUID) -> Response:
        """What has moved since change number ``since``; 204 when nothing has."""
        since = request.query_params.get("since", "")
        if not since.isdigit():
            raise Refusal("“since” is the number of a change.", "Give 0 for everything.", "since")
        if find_deal(request.user, deal).seq <= int(since):
            return Response(status=204)
        return Response(changing.changes_since(request.user, deal, int(since), offer_at_hand(request)))

    @extend_schema(operation_id="edit", parameters=[OFFER], request=shapes.EditsSerializer, responses=shapes.DeltaSerializer)
    def post(self, request: Request, deal: UUID) -> Response:
        """Carry out a batch of edits."""
        given = checked(shapes.EditsSerializer, request)
        return Response(changing.edit(request.user, deal, given["change"], given["edits"], offer_at_hand(request)))


class UndoView(APIView):
    """Taking a change back."""

    @extend_schema(operation_id="undo", parameters=[OFFER], request=shapes.UndoSerializer, responses=shapes.DeltaSerializer)
    def post(self, request: Request, deal: UUID) -> Response:
        """Undo one change."""
        given = checked(shapes.UndoSerializer, request)
        return Response(changing.undo(request.user, deal, given["change"], given["target"], offer_at_hand(request)))


class HistoryView(APIView):
    """The deal's steps."""

    @extend_schema(operation_id="history", responses=shapes.ChangeSerializer(many=True))
    def get(self, request: Request, deal: UUID) -> Response:
        """The newest fifty steps, newest first."""
        found = find_deal(request.user, deal)
        rows = Change.objects.filter(deal=found).select_related("by").prefetch_related("undone_by").order_by("-seq")[:50]
        return Response(
            [{"id": c.pk, "seq": c.seq, "at": c.at, "by": c.by.name, "kind": c.kind, "said": c.said, "undone": bool(c.undone_by.all())} for c in rows]
        )


class LensView(APIView):
    """One fact under the lens."""

    @extend_schema(operation_id="lens", parameters=[OFFER], responses=shapes.LensSerializer)
    def get(self, request: Request, deal: UUID, key: str) -> Response:
        """Value at every source, history, places."""
        return Response(lens.look(OpenDeal(find_deal(request.user, deal), offer_at_hand(request)), key))


class TemplatesView(APIView):
    """Applying templates."""

    @extend_schema(operation_id="apply_template", parameters=[OFFER], request=shapes.ApplySerializer, responses=shapes.DeltaSerializer)
    def post(self, request: Request, deal: UUID) -> Response:
        """Apply one template; nothing typed is replaced, and applying twice adds nothing."""
        given = checked(shapes.ApplySerializer, request)
        return Response(actions.apply_template(request.user, deal, given["change"], given["template"], offer_at_hand(request)))


class PackageView(APIView):
    """Changing the package."""

    @extend_schema(operation_id="change_package", parameters=[OFFER], request=shapes.PackageEditSerializer, responses=shapes.DeltaSerializer)
    def post(self, request: Request, deal: UUID) -> Response:
        """Add, take out, set aside, take up again, or reorder."""
        given = checked(shapes.PackageEditSerializer, request)
        change, op, document, offer = given["change"], given["op"], given.get("document", ""), offer_at_hand(request)
        if op == "add":
            return Response(actions.add_form(request.user, deal, change, given.get("number", ""), given.get("edition", ""), offer))
        if op == "remove":
            return Response(actions.remove_document(request.user, deal, change, document, offer))
        if op == "order":
            return Response(actions.put_in_order(request.user, deal, change, given.get("order", []), offer))
        return Response(actions.set_aside(request.user, deal, change, document, op == "aside", offer))


class OffersView(APIView):
    """A deal's offers."""

    @extend_schema(operation_id="offers", responses=shapes.OffersSerializer)
    def get(self, request: Request, deal: UUID) -> Response:
        """Their terms side by side."""
        return Response(offers.side_by_side(OpenDeal(find_deal(request.user, deal))))

    @extend_schema(operation_id="add_offer", request=shapes.NewOfferSerializer, responses=shapes.DeltaSerializer)
    def post(self, request: Request, deal: UUID) -> Response:
        """Another offer, which is then at hand."""
        given = checked(shapes.NewOfferSerializer, request)
        return Response(offers.add_offer(request.user, deal, given["change"], given["name"], given["like"]))


class OfferView(APIView):
    """One offer."""

    @extend_schema(operation_id="change_offer", request=shapes.OfferEditSerializer, responses=shapes.DeltaSerializer)
    def post(self, request: Request, deal: UUID, offer: int) -> Response:
        """Accept it, name it, say what became of it, or take it out."""
        given = checked(shapes.OfferEditSerializer, request)
        return Response(offers.change_offer(request.user, deal, given["change"], offer, given["op"], given["name"], given["day"]))
