"""What all endpoints share: how one is signed in, and how an error leaves."""

from __future__ import annotations

import logging
from typing import Any

from django.core.exceptions import PermissionDenied
from django.core.files.uploadedfile import UploadedFile
from django.db import OperationalError
from django.http import Http404, HttpResponse
from django.utils.http import content_disposition_header
from drf_spectacular.extensions import OpenApiAuthenticationExtension
from rest_framework import exceptions, serializers, status
from rest_framework.authentication import SessionAuthentication
from rest_framework.request import Request
from rest_framework.response import Response

log = logging.getLogger(__name__)


class SignedIn(SessionAuthentication):
    """Session cookies with CSRF; a missing session answers 401, so that the screens can offer sign-in."""

    def authenticate_header(self, request: Request) -> str:
        """Named so that DRF answers 401 instead of 403."""
        return "Session"


class SignedInScheme(OpenApiAuthenticationExtension):
    """How the schema describes it."""

    target_class = SignedIn
    name = "session"

    def get_security_definition(self, auto_schema: Any) -> dict[str, str]:
        """A cookie."""
        return {"type": "apiKey", "in": "cookie", "name": "sessionid"}


class Refusal(exceptions.APIException):
    """A request that can't be carried out, in words for the user: what happened, what is safe, what to do."""

    status_code = status.HTTP_400_BAD_REQUEST

    def __init__(self, message: str, mend: str = "", rule: str = "refused", code: int = status.HTTP_400_BAD_REQUEST) -> None:
        super().__init__(message)
        self.status_code = code
        self.extra = {"mend": mend, "rule": rule}


def checked(shape: type[serializers.Serializer], request: Request) -> dict[str, Any]:
    """The request's body, checked against its shape."""
    given = shape(data=request.data)
    given.is_valid(raise_exception=True)
    return dict(given.validated_data)


def uploaded(file: UploadedFile, most: int) -> bytes:
    """The bytes of an uploaded file, if they are not too many."""
    if (file.size or 0) > most:
        raise Refusal("The file is too large.", f"{most // 1_000_000} MB is the most.", "size", 413)
    content: bytes = file.read()
    return content


def as_file(content: bytes | str, kind: str, name: str, private: bool = True) -> HttpResponse:
    """A file to be saved under that name; a ``private`` one is kept by nobody on the way."""
    answer = HttpResponse(content, content_type=kind)
    answer["Content-Disposition"] = content_disposition_header(True, name)
    if private:
        answer["Cache-Control"] = "no-store"
    return answer


def problem(error: Exception, context: dict[str, Any]) -> Response | None:
    """Every error as ``application/problem+json``: title, status, detail, mend, and errors by field."""
    if isinstance(error, OperationalError):
        log.warning("database: %s", error)
        error = Refusal("The database can't be reached just now.", "What you typed is kept here and sent again by itself.", "database", 503)
    if isinstance(error, (Http404, PermissionDenied)):
        error = exceptions.NotFound("There is no such thing here, or it isn't yours to see.")
    if not isinstance(error, exceptions.APIException):
        return None
    body: dict[str, Any] = {"title": type(error).__name__, "status": error.status_code, "detail": "", "mend": "", "rule": ""}
    if isinstance(error, exceptions.ValidationError):
        body |= {"detail": "Something in the request doesn't fit.", "errors": error.detail}
    else:
        body |= {"detail": str(error.detail), **getattr(error, "extra", {})}
    headers = {"WWW-Authenticate": error.auth_header} if getattr(error, "auth_header", None) else {}
    return Response(body, error.status_code, content_type="application/problem+json", headers=headers)
