"""Memberships: member numbers, checked with the association's registry, decide who may use its forms."""

from __future__ import annotations

import re
import unicodedata
from datetime import date
from typing import TYPE_CHECKING

from django.conf import settings
from drf_spectacular.utils import extend_schema
from quillcore.values import clock
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill.forms.models import Release
from goodquill.http.endpoints import Refusal, checked
from goodquill.offices.models import Membership, User
from goodquill.offices.once import expensive
from goodquill.offices.requests import MemberRequest
from goodquill.packs.shapes import ForgottenSerializer, MemberNumberSerializer, MembershipSerializer
from goodquill.runtime.services import Trouble, ask

if TYPE_CHECKING:
    from goodquill.http import wire


def _membership(m: Membership) -> wire.Membership:
    return {
        "association": m.association,
        "number": m.number,
        "active": m.active,
        "expires": m.expires,
        "open": m.active and m.expires >= clock.today() and m.licence == m.user.licence,
    }


def check_member(user: User, association: str, number: str) -> Membership:
    """Ask the association's registry about a number, and keep the answer.

    Name, license and association that the registry has must all be those that the broker confirmed and the
    pack names: what the member typed alone opens nothing.
    """
    if not user.is_confirmed:
        raise Refusal(
            "Your broker hasn't confirmed the name and license in your profile.",
            "Ask your broker to confirm them under Members. Your forms stay the same.",
            "unconfirmed",
            409,
        )
    clean = number.strip().upper()
    if not re.fullmatch(r"[A-Z]{2}-\d{5}", clean, re.A):
        raise Refusal(
            f"“{number.strip()}” isn't a member number.",
            "Use two letters, a hyphen and five digits, like CL-12345.",
            "member number",
        )
    member = _registered(clean)
    for said, ours, what in (
        (member.get("licence"), user.confirmed_licence, "a different license"),
        (member["name"], user.confirmed_name, "a different name"),
        (member["association"], association, "another association"),
    ):
        if _plain(said) != _plain(ours):
            raise Refusal(
                f"Member {clean} is registered with {what}.",
                "Check the number; nothing was changed.",
                "member number",
            )
    try:
        expires = date.fromisoformat(str(member["expires"]))
    except ValueError as trouble:
        raise Refusal(
            "The member registry sent an answer that can't be read.",
            "Try again later; your forms stay the same.",
            "registry",
            503,
        ) from trouble
    kept, _ = Membership.objects.update_or_create(
        user=user,
        association=association,
        defaults={
            "number": clean,
            "licence": user.licence,
            "active": member["active"] is True,
            "expires": expires,
        },
    )
    return kept


def _registered(clean: str) -> dict[str, object]:
    """Return the registry's entry for a number.  Raises Refusal where there is none, or no answer."""
    answer = ask(
        "member registry", f"{settings.MEMBER_REGISTRY['url']}/members/{clean}", {}, may_be_missing=True
    )
    if isinstance(answer, Trouble):
        raise Refusal(answer.message, "Your forms stay the same.", "registry", 503)
    member = answer.get("member")
    if not isinstance(member, dict) or not {"name", "active", "expires", "association"} <= member.keys():
        raise Refusal(
            f"The registry knows no member {clean}.",
            "Check the number, or find it by your name and license.",
            "member number",
            404,
        )
    return member


def _plain(said: object) -> str:
    return " ".join(unicodedata.normalize("NFKC", str(said or "")).casefold().split())


class MembershipsView(APIView):
    """The user's own memberships."""

    @extend_schema(operation_id="memberships", responses=MembershipSerializer(many=True))
    def get(self, request: MemberRequest) -> Response:
        """Return all of them, and the associations whose packs are here."""
        mine = {
            m.association: _membership(m)
            for m in request.user.memberships.select_related("user").order_by("association")
        }
        known = Release.objects.filter(brokerage=None).values_list("association", flat=True).distinct()
        none = {"number": "", "active": False, "expires": clock.today(), "open": False}
        return Response([*mine.values(), *({"association": a, **none} for a in known if a not in mine)])

    @extend_schema(
        operation_id="check_membership", request=MemberNumberSerializer, responses=MembershipSerializer
    )
    @expensive
    def post(self, request: MemberRequest) -> Response:
        """Check a number with the registry; an active one opens the association's forms."""
        given = checked(MemberNumberSerializer, request)
        return Response(_membership(check_member(request.user, given["association"], given["number"])))


class ForgetMembershipView(APIView):
    """A forgotten number."""

    @extend_schema(operation_id="forgotten_number", responses=ForgottenSerializer)
    @expensive
    def get(self, request: MemberRequest) -> Response:
        """Find the user's membership by their own name and license."""
        params = {"name": request.user.name, "licence": request.user.licence}
        answer = ask("member registry", f"{settings.MEMBER_REGISTRY['url']}/members", params)
        if isinstance(answer, Trouble):
            raise Refusal(answer.message, "Try again later.", "registry", 503)
        members = answer.get("members")
        return Response(
            {
                "numbers": (
                    [str(m["number"]) for m in members if isinstance(m, dict) and "number" in m]
                    if isinstance(members, list)
                    else []
                )
            }
        )
