"""The agent's own profile, and the brokerage with its offices: what forms print of them."""

from __future__ import annotations

from typing import TYPE_CHECKING

from django.db import transaction
from drf_spectacular.utils import extend_schema
from quillcore.values import KINDS, Fault
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill.http.endpoints import Refusal, checked
from goodquill.offices.access import may_change_brokerage, may_manage_members
from goodquill.offices.models import Brokerage, Office, User
from goodquill.offices.requests import MemberRequest
from goodquill.offices.shapes import BrokerageSerializer, ProfileSerializer

if TYPE_CHECKING:
    from goodquill.http import wire


def _brokerage(brokerage: Brokerage) -> wire.Brokerage:
    return {
        "name": brokerage.name,
        "licence": brokerage.licence,
        "broker": brokerage.broker_id,
        "offices": [
            {
                "id": o.pk,
                "name": o.name,
                "address": o.address,
                "phone": o.phone,
                "code": o.code,
                "supervisor": o.supervisor_id,
            }
            for o in brokerage.offices.order_by("name")
        ],
    }


def _profile(user: User) -> wire.Profile:
    members = user.brokerage.users.filter(is_active=True).order_by("name")
    return {
        "name": user.name,
        "email": user.email,
        "phone": user.phone,
        "licence": user.licence,
        "licences": user.licences,
        "listing_code": user.listing_code,
        "office": user.office.name,
        "brokerage": _brokerage(user.brokerage),
        "may_change_brokerage": may_change_brokerage(user),
        "may_manage_members": may_manage_members(user),
        "confirmed": user.is_confirmed,
        "memberships": [
            f"{m.association}, {m.number}{'' if m.active else ' (not active)'}"
            for m in user.memberships.order_by("association")
        ],
        "members": [{"id": m.pk, "name": m.name} for m in members],
    }


def _phone(text: str) -> str:
    if not text.strip():
        return ""
    read = KINDS["phone"].read(text, ())
    if isinstance(read, Fault):
        raise Refusal(read.message, f"{read.mend} Nothing was changed.", "phone")
    return str(read)


class ProfileView(APIView):
    """The own profile."""

    @extend_schema(operation_id="profile", responses=ProfileSerializer)
    def get(self, request: MemberRequest) -> Response:
        """Return what forms print of oneself, one's office and brokerage."""
        return Response(_profile(request.user))

    @extend_schema(operation_id="save_profile", request=ProfileSerializer, responses=ProfileSerializer)
    def post(self, request: MemberRequest) -> Response:
        """Change the own part; open deals show it at once."""
        given, user = checked(ProfileSerializer, request), request.user
        if not given["name"].strip():
            raise Refusal("Enter a name.", "Enter the name as forms should print it.", "name")
        licences = {
            state.strip().upper(): number.strip()
            for state, number in given["licences"].items()
            if number.strip()
        }
        if wrong := next((state for state in licences if len(state) != 2 or not state.isalpha()), None):
            raise Refusal(
                f"“{wrong}” is not a two-letter state code.",
                "Use CW for Calloway. Nothing was changed.",
                "state",
            )
        user.name, user.phone, user.licences = given["name"].strip(), _phone(given["phone"]), licences
        user.licence, user.listing_code = given["licence"].strip(), given["listing_code"].strip()
        user.save(update_fields=["name", "phone", "licence", "licences", "listing_code"])
        return Response(_profile(user))


class BrokerageView(APIView):
    """The brokerage and its offices."""

    @extend_schema(operation_id="save_brokerage", request=BrokerageSerializer, responses=ProfileSerializer)
    def post(self, request: MemberRequest) -> Response:
        """Change them: for the brokerage's broker."""
        user, given = request.user, None
        if not may_change_brokerage(user):
            raise Refusal(
                "Only the managing broker can change the brokerage.",
                "Ask your broker; nothing was changed.",
                "role",
                403,
            )
        given = checked(BrokerageSerializer, request)
        members = set(user.brokerage.users.values_list("pk", flat=True))
        if {given["broker"], *(o["supervisor"] for o in given["offices"])} - {None} - members:
            raise Refusal(
                "Someone you chose is not a member of the brokerage.",
                "Choose a member; nothing was changed.",
                "member",
            )
        with transaction.atomic():
            brokerage = user.brokerage
            brokerage.name, brokerage.licence, brokerage.broker_id = (
                given["name"],
                given["licence"],
                given["broker"],
            )
            brokerage.save()
            for said in given["offices"]:
                office = (
                    Office.objects.filter(brokerage=brokerage, pk=said["id"]).first()
                    if said["id"] is not None
                    else Office(brokerage=brokerage)
                )
                if office is None:
                    raise Refusal(
                        "This office doesn't belong to the brokerage.",
                        "Reload; nothing was changed.",
                        "office",
                        404,
                    )
                office.name, office.address, office.phone = (
                    said["name"],
                    said["address"].strip(),
                    _phone(said["phone"]),
                )
                office.code, office.supervisor_id = said["code"].strip(), said["supervisor"]
                office.save()
        return Response(_profile(user))
