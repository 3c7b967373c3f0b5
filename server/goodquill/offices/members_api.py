"""The brokerage's members, as its broker sees to them: licences confirmed, papers, second step, access."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from django.shortcuts import get_object_or_404
from django_otp.plugins.otp_totp.models import TOTPDevice
from drf_spectacular.utils import extend_schema
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill.api import Refusal, checked
from goodquill.offices import two_steps
from goodquill.offices.access import may_manage_members
from goodquill.offices.models import User
from goodquill.offices.requests import MemberRequest
from goodquill.offices.shapes import MemberOpShape, MembersShape, RequireShape


def _all(request: MemberRequest) -> dict[str, Any]:
    user = request.user
    with_code = set(
        TOTPDevice.objects.filter(user__brokerage=user.brokerage_id, confirmed=True).values_list(
            "user", flat=True
        )
    )
    rows = [
        {
            "id": m.pk,
            "name": m.name,
            "email": m.email,
            "role": m.role,
            "office": m.office.name,
            "licence": m.licence,
            "confirmed": m.is_confirmed,
            "saves_papers": m.saves_papers,
            "second_step": m.pk in with_code,
            "active": m.is_active,
            "me": m.pk == user.pk,
        }
        for m in User.objects.filter(brokerage=user.brokerage_id).select_related("office").order_by("name")
    ]
    return {"two_steps": user.brokerage.two_steps, "members": rows}


def _for_the_broker(request: MemberRequest) -> None:
    if not may_manage_members(request.user):
        raise Refusal(
            "Only the managing broker sees to the members.",
            "Ask your broker; nothing was changed.",
            "role",
            403,
        )


class MembersView(APIView):
    """All members."""

    @extend_schema(operation_id="members", responses=MembersShape)
    def get(self, request: MemberRequest) -> Response:
        """By name."""
        _for_the_broker(request)
        return Response(_all(request))

    @extend_schema(operation_id="require_second_step", request=RequireShape, responses=MembersShape)
    def post(self, request: MemberRequest) -> Response:
        """Ask everybody for a second step, or no longer."""
        _for_the_broker(request)
        brokerage = request.user.brokerage
        brokerage.two_steps = checked(RequireShape, request)["two_steps"]
        brokerage.save(update_fields=["two_steps"])
        return Response(_all(request))


class MemberView(APIView):
    """One member."""

    @extend_schema(operation_id="see_to_member", request=MemberOpShape, responses=MembersShape)
    def post(self, request: MemberRequest, member: UUID) -> Response:
        """Confirm name and licence, let save papers or no longer, reset the second step, end access or give
        it back."""
        _for_the_broker(request)
        given = checked(MemberOpShape, request)
        found = get_object_or_404(User, pk=member, brokerage=request.user.brokerage_id)
        _see_to(found, given, own=found.pk == request.user.pk)
        return Response(_all(request))


def _see_to(member: User, given: dict[str, Any], own: bool) -> None:
    op = given["op"]
    if op == "confirm":
        if (member.name, member.licence) != (given["name"], given["licence"]):
            raise Refusal(
                "Name or licence have changed meanwhile.",
                "Look at them again; nothing was confirmed.",
                "stale",
                409,
            )
        member.confirmed_name, member.confirmed_licence = member.name, member.licence
    elif op in ("let_save_papers", "stop_saving_papers"):
        member.saves_papers = op == "let_save_papers"
    elif op == "reset_second_step":
        two_steps.end(member)
    elif own:
        raise Refusal(
            "Your own access can't be ended by yourself.", "Another broker of the firm can do it.", "own", 409
        )
    else:
        member.is_active = op == "give_access"
    member.save(update_fields=["confirmed_name", "confirmed_licence", "saves_papers", "is_active"])
    if not member.is_active:
        member.sessions.all().delete()
