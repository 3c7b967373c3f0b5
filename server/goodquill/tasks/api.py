"""Tasks: of a deal, of all deals, and as calendars."""

from __future__ import annotations

from uuid import UUID

from django.http import Http404, HttpResponse
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill.deals.opening import open_deal
from goodquill.deals.requests import deal_request
from goodquill.deals.shapes import DeltaSerializer, OfferQuery, offer_at_hand
from goodquill.http.anybody import ForAnybody
from goodquill.http.endpoints import as_file, asked, checked
from goodquill.offices.once import once
from goodquill.offices.requests import MemberRequest
from goodquill.tasks import actions, calendars, queries, shapes

CALENDAR = "text/calendar; charset=utf-8"


class TasksView(APIView):
    """A deal's tasks."""

    @extend_schema(operation_id="tasks", parameters=[OfferQuery], responses=shapes.TasksSerializer)
    def get(self, request: MemberRequest, deal: UUID) -> Response:
        """Return all of them, by day."""
        return Response(queries.tasks_of(open_deal(request.user, deal, offer_at_hand(request))))

    @extend_schema(
        operation_id="change_task",
        parameters=[OfferQuery],
        request=shapes.TaskOpSerializer,
        responses=DeltaSerializer,
    )
    def post(self, request: MemberRequest, deal: UUID) -> Response:
        """Change one."""
        given = checked(shapes.TaskOpSerializer, request)
        return Response(actions.change_task(deal_request(request, deal, given), given))


class DealCalendarView(APIView):
    """A deal's dates as a file."""

    @extend_schema(operation_id="deal_calendar", responses={(200, "text/calendar"): OpenApiTypes.BINARY})
    def get(self, request: MemberRequest, deal: UUID) -> HttpResponse:
        """Return the calendar as iCalendar."""
        opened = open_deal(request.user, deal)
        rows = queries.dues_of_deal(opened)
        return as_file(calendars.as_calendar(opened.deal.name, rows), CALENDAR, f"{opened.deal.name}.ics")


class DuesView(APIView):
    """Tasks of all deals."""

    @extend_schema(
        operation_id="dues", parameters=[shapes.DuesQuery], responses=shapes.DueRowSerializer(many=True)
    )
    def get(self, request: MemberRequest) -> Response:
        """Return those that one may see, by day."""
        given = asked(shapes.DuesQuery, request)
        return Response(queries.dues_for(request.user, given["since"], given["until"], given["progress"]))


class CalendarView(APIView):
    """All dates as a file."""

    @extend_schema(operation_id="calendar", responses={(200, "text/calendar"): OpenApiTypes.BINARY})
    def get(self, request: MemberRequest) -> HttpResponse:
        """Return the calendar as iCalendar."""
        rows = queries.dues_for(request.user, progress="to do")
        return as_file(calendars.as_calendar("Good Quill", rows), CALENDAR, "Good Quill.ics")


class FeedView(APIView):
    """The member's feed."""

    @extend_schema(operation_id="feed", responses=shapes.FeedSerializer)
    def get(self, request: MemberRequest) -> Response:
        """Return its address."""
        return Response({"address": calendars.address_of(request.user)})

    @extend_schema(operation_id="renew_feed", request=None, responses=shapes.FeedSerializer)
    @once
    def post(self, request: MemberRequest) -> Response:
        """Make it, or give it another address."""
        return Response({"address": calendars.renew(request.user)})

    @extend_schema(operation_id="end_feed", responses={204: None})
    def delete(self, request: MemberRequest) -> Response:
        """Let nobody read it any more."""
        calendars.end(request.user)
        return Response(status=204)


class ReadFeedView(ForAnybody):
    """A feed, read by a calendar program that knows its address and nothing else."""

    @extend_schema(operation_id="read_feed", auth=[], responses={(200, "text/calendar"): OpenApiTypes.BINARY})
    def get(self, request: Request, user: UUID, secret: str) -> HttpResponse:
        """Return the dates, if the address is the one in force."""
        content = calendars.read_feed(user, secret)
        if content is None:
            raise Http404
        return HttpResponse(content, content_type=CALENDAR)
