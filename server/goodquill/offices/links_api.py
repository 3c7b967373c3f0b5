"""Setting a password by a link, and asking for one: for whoever isn't signed in."""

from __future__ import annotations

from drf_spectacular.utils import extend_schema
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill.http.endpoints import checked
from goodquill.offices import links
from goodquill.offices.attempts import counts_attempts
from goodquill.offices.shapes import ForgottenShape, LinkedShape, LinkShape, NewPasswordShape


class ForgottenView(APIView):
    """A password that was forgotten."""

    permission_classes = [AllowAny]

    @extend_schema(operation_id="forgot_password", request=ForgottenShape, responses={204: None})
    @counts_attempts("forgotten", always=True)
    def post(self, request: Request) -> Response:
        """Have a letter sent, if the e-mail is a member's; the answer is the same for every address."""
        links.forgot(checked(ForgottenShape, request)["email"])
        return Response(status=204)


class LinkView(APIView):
    """A link with which a password is set."""

    permission_classes = [AllowAny]

    @extend_schema(operation_id="look_at_link", request=LinkShape, responses=LinkedShape)
    @counts_attempts("password link")
    def post(self, request: Request) -> Response:
        """Return whose it is."""
        given = checked(LinkShape, request)
        user = links.find_by_link(given["user"], given["token"])
        return Response(
            {
                "name": user.name,
                "email": user.email,
                "brokerage": user.brokerage.name,
                "invited": user.invited is not None,
            }
        )


class NewPasswordView(APIView):
    """The password that a link lets one set."""

    permission_classes = [AllowAny]

    @extend_schema(operation_id="set_password", request=NewPasswordShape, responses={204: None})
    @counts_attempts("password link")
    def post(self, request: Request) -> Response:
        """Set it; signing in with it is the next step, with the second step where there is one."""
        given = checked(NewPasswordShape, request)
        links.set_password(links.find_by_link(given["user"], given["token"]), given["password"])
        return Response(status=204)
