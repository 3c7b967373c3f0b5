"""The brokerage's letters that could not be sent, for its broker."""

from __future__ import annotations

from uuid import UUID

from django.shortcuts import get_object_or_404
from drf_spectacular.utils import extend_schema
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill.http.endpoints import Refusal
from goodquill.mail.models import Letter, LetterState
from goodquill.mail.sending import send_again
from goodquill.offices.access import may_manage_members
from goodquill.offices.requests import MemberRequest
from goodquill.offices.shapes import LetterShape

MOST = 100
_FAILED = (LetterState.REFUSED, LetterState.GIVEN_UP)


def _for_the_broker(request: MemberRequest) -> None:
    if not may_manage_members(request.user):
        raise Refusal("Only the managing broker can see the brokerage's e-mails.", "", "role", 403)


def _rows(request: MemberRequest) -> list[dict[str, object]]:
    """Return those that failed, and those that still wait after a first try, the last first."""
    rows = Letter.objects.filter(brokerage=request.user.brokerage_id).exclude(state=LetterState.SENT)
    waiting = rows.exclude(state=LetterState.WAITING, tries=0).order_by("-made")[:MOST]
    return [
        {
            "id": letter.pk,
            "to": letter.to,
            "subject": letter.subject,
            "about": letter.about,
            "state": letter.state,
            "said": letter.said,
            "tries": letter.tries,
            "next_try": letter.next_try if letter.state == LetterState.WAITING else None,
            "made": letter.made,
        }
        for letter in waiting
    ]


class LettersView(APIView):
    """Letters that didn't arrive."""

    @extend_schema(operation_id="letters", responses=LetterShape(many=True))
    def get(self, request: MemberRequest) -> Response:
        """Return the last first."""
        _for_the_broker(request)
        return Response(_rows(request))


class LetterView(APIView):
    """One of them."""

    @extend_schema(operation_id="send_letter_again", request=None, responses=LetterShape(many=True))
    def post(self, request: MemberRequest, letter: UUID) -> Response:
        """Try it anew."""
        _for_the_broker(request)
        rows = Letter.objects.filter(brokerage=request.user.brokerage_id, state__in=_FAILED)
        send_again(get_object_or_404(rows, pk=letter))
        return Response(_rows(request))
