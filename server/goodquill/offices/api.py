"""Signing in and out, and who one is."""

from __future__ import annotations

from django.contrib.auth import authenticate, login, logout
from django.middleware.csrf import get_token
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.permissions import AllowAny
from rest_framework.request import Request
from rest_framework.response import Response
from rest_framework.views import APIView

from goodquill.api import Refusal
from goodquill.offices.models import User


class SessionSerializer(serializers.Serializer):
    """Who is signed in."""

    id = serializers.UUIDField()
    name = serializers.CharField()
    email = serializers.EmailField()
    role = serializers.CharField()
    brokerage = serializers.CharField()
    office = serializers.CharField()


class SignInSerializer(serializers.Serializer):
    """What signing in takes."""

    email = serializers.CharField(max_length=254)
    password = serializers.CharField(max_length=200)


def _said(user: User) -> dict[str, object]:
    return {"id": user.pk, "name": user.name, "email": user.email, "role": user.role, "brokerage": user.brokerage.name, "office": user.office.name}


class SessionView(APIView):
    """The session of this browser."""

    permission_classes = [AllowAny]

    @extend_schema(operation_id="session", responses={200: SessionSerializer, 204: None})
    def get(self, request: Request) -> Response:
        """Who is signed in (204 for nobody).  Sets the CSRF cookie."""
        get_token(request._request)
        if not request.user.is_authenticated:
            return Response(status=204)
        return Response(_said(request.user))

    @extend_schema(operation_id="sign_in", request=SignInSerializer, responses=SessionSerializer)
    def post(self, request: Request) -> Response:
        """Sign in with e-mail and password."""
        given = SignInSerializer(data=request.data)
        given.is_valid(raise_exception=True)
        email = given.validated_data["email"].strip().lower()
        user = authenticate(request._request, username=email, password=given.validated_data["password"])
        if not isinstance(user, User):
            if getattr(request._request, "axes_locked_out", False):
                raise Refusal("Too many wrong passwords for this e-mail.", "Wait fifteen minutes and try again.", "locked", 429)
            raise Refusal("E-mail and password don't go together.", "Check both and try again.", "sign-in", 401)
        login(request._request, user)
        return Response(_said(user))

    @extend_schema(operation_id="sign_out", request=None, responses={204: None})
    def delete(self, request: Request) -> Response:
        """Sign out."""
        logout(request._request)
        return Response(status=204)
