"""Signing in and out, who one is, and the own sessions, password and second step."""

from __future__ import annotations

from typing import TYPE_CHECKING

from django.contrib.auth import logout, update_session_auth_hash
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.middleware.csrf import get_token
from drf_spectacular.utils import extend_schema
from quillcore.values import clock
from rest_framework.permissions import AllowAny
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill.http.choices import choices
from goodquill.http.endpoints import Refusal, checked
from goodquill.offices import two_steps
from goodquill.offices.access import may_approve_clauses, may_publish
from goodquill.offices.attempts import counts_attempts
from goodquill.offices.models import User
from goodquill.offices.requests import MemberRequest
from goodquill.offices.shapes import (
    CodeShape,
    OffShape,
    OwnSessionShape,
    PasswordShape,
    RecoveryShape,
    SessionShape,
    SignInShape,
    TwoStepsShape,
)
from goodquill.offices.signing_in import remember_device, sign_in

if TYPE_CHECKING:
    from goodquill.http import wire


def _said(user: User) -> dict[str, object]:
    return {
        "id": user.pk,
        "name": user.name,
        "email": user.email,
        "role": user.role,
        "brokerage": user.brokerage.name,
        "office": user.office.name,
        "owes_second_step": two_steps.is_owed_by(user),
        "may_keep_clauses": may_publish(user),
        "may_approve_clauses": may_approve_clauses(user),
        "choices": choices(),
    }


def _keep_zone(user: User, zone: str) -> None:
    """Keep where the member is: reminders are written in that zone's morning."""
    if zone != user.time_zone and clock.zone_named(zone) is not None:
        user.time_zone = zone
        user.save(update_fields=["time_zone"])


class SessionView(APIView):
    """The session of this browser."""

    permission_classes = [AllowAny]

    @extend_schema(operation_id="session", responses={200: SessionShape, 204: None})
    def get(self, request: MemberRequest) -> Response:
        """Return who is signed in (204 for nobody).  Sets the CSRF cookie."""
        get_token(request._request)
        if not request.user.is_authenticated:
            return Response(status=204)
        return Response(_said(request.user))

    @extend_schema(operation_id="sign_in", request=SignInShape, responses=SessionShape)
    def post(self, request: MemberRequest) -> Response:
        """Sign in with e-mail and password, and the second step's code where there is one."""
        given = checked(SignInShape, request)
        user = sign_in(request._request, given["email"], given["password"], given["code"])
        answer = Response(_said(user))
        remember_device(request._request, answer, user)
        _keep_zone(user, request.META.get("HTTP_TIME_ZONE", ""))
        return answer

    @extend_schema(operation_id="sign_out", request=None, responses={204: None})
    def delete(self, request: MemberRequest) -> Response:
        """Sign out: the session ends here and in every worker, and the browser forgets what it kept of our
        pages."""
        logout(request._request)
        answer = Response(status=204)
        answer["Clear-Site-Data"] = '"cache"'
        return answer


class SignedInView(APIView):
    """Whether somebody is signed in: the proxy asks before it takes a large file."""

    open_before_set_up = True

    @extend_schema(operation_id="signed_in", responses={204: None})
    def get(self, request: MemberRequest) -> Response:
        """Answer 204, or 401 to nobody."""
        return Response(status=204)


def _own_sessions(request: MemberRequest) -> list[wire.OwnSessionShape]:
    here = request._request.session.session_key
    return [
        {
            "device": row.device,
            "address": row.address,
            "began": row.began,
            "seen": row.seen,
            "here": row.session_key == here,
        }
        for row in request.user.sessions.order_by("-seen")[:100]
    ]


class SessionsView(APIView):
    """All sessions of one's own."""

    open_before_set_up = True

    @extend_schema(operation_id="own_sessions", responses=OwnSessionShape(many=True))
    def get(self, request: MemberRequest) -> Response:
        """Return the last used first."""
        return Response(_own_sessions(request))

    @extend_schema(operation_id="end_other_sessions", responses=OwnSessionShape(many=True))
    def delete(self, request: MemberRequest) -> Response:
        """End all but this one."""
        request.user.sessions.exclude(session_key=request._request.session.session_key).delete()
        return Response(_own_sessions(request))


class PasswordView(APIView):
    """The own password."""

    @extend_schema(operation_id="change_password", request=PasswordShape, responses={204: None})
    @counts_attempts("password")
    def post(self, request: MemberRequest) -> Response:
        """Change it; every other session ends."""
        given, user = checked(PasswordShape, request), request.user
        if not user.check_password(given["old"]):
            raise Refusal(
                "Wrong password.", "Nothing was changed. Enter the password you signed in with.", "old"
            )
        try:
            validate_password(given["new"], user)
        except ValidationError as trouble:
            raise Refusal(" ".join(trouble.messages), "Nothing was changed.", "new") from trouble
        user.set_password(given["new"])
        user.save(update_fields=["password"])
        update_session_auth_hash(request._request, user)
        user.sessions.exclude(session_key=request._request.session.session_key).delete()
        return Response(status=204)


class TwoStepsView(APIView):
    """The own second step."""

    open_before_set_up = True

    @extend_schema(operation_id="second_step", responses=TwoStepsShape)
    def get(self, request: MemberRequest) -> Response:
        """Return how far it is set up."""
        return Response(two_steps.state_of(request.user))

    @extend_schema(operation_id="set_up_second_step", request=CodeShape, responses=RecoveryShape)
    @counts_attempts("second step")
    def post(self, request: MemberRequest) -> Response:
        """Begin setting it up, or finish with a code that the authenticator shows."""
        given = checked(CodeShape, request)
        if not given["code"]:
            return Response({"codes": [], "begun": two_steps.begin(request.user, given["proof"])})
        return Response({"codes": two_steps.finish(request.user, given["code"]), "begun": None})

    @extend_schema(operation_id="end_second_step", request=OffShape, responses=TwoStepsShape)
    @counts_attempts("password")
    def put(self, request: MemberRequest) -> Response:
        """Take it off."""
        two_steps.prove(request.user, checked(OffShape, request)["proof"])
        two_steps.end(request.user)
        return Response(two_steps.state_of(request.user))
