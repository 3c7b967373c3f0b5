"""The brokerage's members, as its broker sees to them: invited, placed, licenses confirmed, papers,
second step."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any
from uuid import UUID

from django.shortcuts import get_object_or_404
from django_otp.plugins.otp_totp.models import TOTPDevice
from drf_spectacular.utils import extend_schema
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill.http.endpoints import Refusal, checked
from goodquill.offices import links, two_steps
from goodquill.offices.access import may_manage_members, may_start_for
from goodquill.offices.models import MemberRole, Office, User
from goodquill.offices.once import once
from goodquill.offices.requests import MemberRequest
from goodquill.offices.shapes import AgentShape, InvitationShape, MemberOpShape, MembersShape, RequireShape

if TYPE_CHECKING:
    from goodquill.http import wire


def _all(request: MemberRequest) -> wire.MembersShape:
    user = request.user
    with_code = set(
        TOTPDevice.objects.filter(user__brokerage=user.brokerage_id, confirmed=True).values_list(
            "user", flat=True
        )
    )
    members: list[wire.MemberShape] = [
        {
            "id": m.pk,
            "name": m.name,
            "email": m.email,
            "role": m.role,
            "office": m.office.name,
            "office_id": m.office_id,
            "licence": m.licence,
            "confirmed": m.is_confirmed,
            "saves_papers": m.saves_papers,
            "second_step": m.pk in with_code,
            "active": m.is_active,
            "invited": m.invited,
            "me": m.pk == user.pk,
        }
        for m in User.objects.filter(brokerage=user.brokerage_id).select_related("office").order_by("name")
    ]
    offices = user.brokerage.offices.order_by("name")
    return {
        "two_steps": user.brokerage.two_steps,
        "members": members,
        "offices": [{"id": o.pk, "name": o.name} for o in offices],
        "roles": MemberRole.values,
    }


def _for_the_broker(request: MemberRequest) -> None:
    if not may_manage_members(request.user):
        raise Refusal(
            "Only the managing broker can manage members.",
            "Ask your broker; nothing was changed.",
            "role",
            403,
        )


class MembersView(APIView):
    """All members."""

    @extend_schema(operation_id="members", responses=MembersShape)
    def get(self, request: MemberRequest) -> Response:
        """List the members by name."""
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


class AgentsView(APIView):
    """Those for whom one starts deals, and whose deals one looks through."""

    @extend_schema(operation_id="agents", responses=AgentShape(many=True))
    def get(self, request: MemberRequest) -> Response:
        """List the members by name; for an agent only the agent."""
        return Response(
            list(User.objects.filter(may_start_for(request.user)).order_by("name").values("id", "name"))
        )


class InvitationsView(APIView):
    """Inviting."""

    @extend_schema(operation_id="invite_member", request=InvitationShape, responses=MembersShape)
    @once
    def post(self, request: MemberRequest) -> Response:
        """Write to somebody who is to be a member; they set their own password."""
        _for_the_broker(request)
        links.invite(request.user, **checked(InvitationShape, request))
        return Response(_all(request))


class MemberView(APIView):
    """One member."""

    @extend_schema(operation_id="see_to_member", request=MemberOpShape, responses=MembersShape)
    def post(self, request: MemberRequest, member: UUID) -> Response:
        """Confirm name and license, let save papers or no longer, reset the second step, give access again,
        place in a role and an office, write the invitation again or take it back."""
        _for_the_broker(request)
        given = checked(MemberOpShape, request)
        found = get_object_or_404(
            User.objects.select_related("office"), pk=member, brokerage=request.user.brokerage_id
        )
        _see_to(request.user, found, given)
        return Response(_all(request))


def _see_to(broker: User, member: User, given: dict[str, Any]) -> None:
    op = given["op"]
    if op == "confirm":
        if (member.name, member.licence) != (given["name"], given["licence"]):
            raise Refusal(
                "The name or license has changed.",
                "Nothing was confirmed. Reload and try again.",
                "stale",
                409,
            )
        member.confirmed_name, member.confirmed_licence = member.name, member.licence
    elif op in ("let_save_papers", "stop_saving_papers"):
        member.saves_papers = op == "let_save_papers"
    elif op == "reset_second_step":
        two_steps.end(member, broker.name)
    elif op == "place":
        _place(broker, member, given)
    elif op in ("invite_again", "take_back_invitation"):
        _invited_again(broker, member, op)
    elif member.invited is None:
        member.is_active = True
    member.save(
        update_fields=[
            "confirmed_name",
            "confirmed_licence",
            "saves_papers",
            "is_active",
            "role",
            "office",
            "invited",
        ]
    )


def _place(broker: User, member: User, given: dict[str, Any]) -> None:
    """Place a member in another role or office; a brokerage keeps a broker."""
    role = MemberRole(given.get("role", member.role))
    if member.pk == broker.pk and role != MemberRole.BROKER:
        raise Refusal("You can't change your own role.", "Ask another broker of the firm.", "own", 409)
    office = Office.objects.filter(brokerage=broker.brokerage_id, pk=given.get("office", member.office_id))
    member.role, member.office = role, get_object_or_404(office)


def _invited_again(broker: User, member: User, op: str) -> None:
    if member.invited is None:
        raise Refusal(f"{member.name} has accepted already.", "Nothing was sent.", "accepted", 409)
    if op == "invite_again":
        links.send_invitation(broker, member)
    else:
        member.invited = None  # without it the link is nobody's
