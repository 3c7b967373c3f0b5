"""Helpers of all endpoints: signing in, checking the sent data, taking and sending files."""

from __future__ import annotations

import hashlib
import json
from dataclasses import dataclass
from typing import Any
from uuid import UUID, uuid4

import orjson
from django.core.files.uploadedfile import UploadedFile
from django.http import HttpResponse
from django.utils.http import content_disposition_header
from quillcore.values import Fault
from quillcore.values.structured import read_json, unfit, unfit_text
from rest_framework import parsers, renderers, serializers
from rest_framework.authentication import SessionAuthentication
from rest_framework.request import Request
from rest_framework.utils.encoders import JSONEncoder

from goodquill.http.limits import MOST_JSON
from goodquill.http.problems import Refusal

__all__ = [
    "JSONParser",
    "Refusal",
    "Sent",
    "SignedIn",
    "as_file",
    "asked",
    "checked",
    "named",
    "sent_with",
    "uploaded",
]


class SignedIn(SessionAuthentication):
    """Session cookies with CSRF; a missing session answers 401, so that the screens can offer sign-in."""

    def authenticate_header(self, request: Request) -> str:
        """Return a name so that DRF answers 401 instead of 403."""
        return "Session"


class JSONParser(parsers.JSONParser):
    """JSON within bounds: of bytes, of depth, of numbers; see ``quillcore.values.structured``."""

    def parse(self, stream: Any, media_type: str | None = None, parser_context: Any = None) -> Any:
        """Return what was sent, or a refusal."""
        content = stream.read(MOST_JSON + 1)
        if len(content) > MOST_JSON:
            raise Refusal("The request is too large.", "Nothing was changed.", "size", 413)
        try:
            found = read_json(content.decode("utf-8"))
        except UnicodeDecodeError as trouble:
            raise Refusal("The request isn't UTF-8.", "Nothing was changed.", "json") from trouble
        if isinstance(found, Fault):
            raise Refusal(found.message, "Nothing was changed.", found.rule)
        return found


class JSONRenderer(renderers.JSONRenderer):
    """JSON, written faster: an opened deal has a quarter of a megabyte of it.  What that writer doesn't know
    is told to it as Django REST framework tells it, and what it can't write at all is left to that."""

    def render(
        self, data: Any, accepted_media_type: str | None = None, renderer_context: Any = None
    ) -> bytes:
        """Return the answer as bytes; none of nothing."""
        if data is None:
            return b""
        try:
            return orjson.dumps(data, default=_TOLD, option=orjson.OPT_UTC_Z | orjson.OPT_NON_STR_KEYS)
        except orjson.JSONEncodeError:  # half a character, a whole number of more than 64 bits
            return bytes(super().render(data, accepted_media_type, renderer_context))


_TOLD = JSONEncoder().default


def checked(shape: type[serializers.Serializer], request: Request) -> dict[str, Any]:
    """Return the request's body, checked against its shape; without any character that can't be kept."""
    return _fitting(shape(data=request.data))


def asked(shape: type[serializers.Serializer], request: Request) -> dict[str, Any]:
    """Return the request's query, checked likewise."""
    return _fitting(shape(data=request.query_params))


def named(
    name: str, base: type[serializers.Serializer], told: str, **fields: serializers.Field
) -> type[serializers.Serializer]:
    """Return a shape with fields that no attribute of a class can be called, such as ``as``."""
    return type(name, (base,), {"__doc__": told, **fields})


def _fitting(given: serializers.Serializer) -> dict[str, Any]:
    given.is_valid(raise_exception=True)
    data = dict(given.validated_data)
    if fault := unfit(data):
        raise Refusal.of(fault)
    return data


@dataclass(frozen=True)
class Sent:
    """A change as it was sent: its id, under which a repetition is known, and a digest of what it says, by
    which something else under the same id is told apart."""

    id: UUID
    digest: str = ""

    @classmethod
    def new(cls) -> Sent:
        """Return one of our own, that nobody repeats."""
        return cls(uuid4())


def sent_with(request: Request, given: dict[str, Any]) -> Sent:
    """Return the change that a request's body names."""
    said = json.dumps([request.path, request.query_params, request.data], sort_keys=True, default=str)
    return Sent(given["change"], hashlib.sha256(said.encode("utf-8", "replace")).hexdigest())


def uploaded(file: UploadedFile, most: int) -> bytes:
    """Return the bytes of an uploaded file, if they are not too many."""
    if (file.size or 0) > most:
        raise Refusal("The file is too large.", f"{most // 1_000_000} MB is the limit.", "size", 413)
    content: bytes = file.read()
    return content


def name_of(file: UploadedFile) -> str:
    """Return an uploaded file's name, as far as it can be kept."""
    name = (file.name or "").replace("\\", "/").rsplit("/", 1)[-1].strip()[:200]
    return name if name and unfit_text(name) is None else "File without a name"


def as_file(content: bytes | str, kind: str, name: str) -> HttpResponse:
    """Return a file to be saved under that name; nobody on the way keeps it."""
    answer = HttpResponse(content, content_type=kind)
    answer["Content-Disposition"] = content_disposition_header(True, name)
    answer["Cache-Control"] = "no-store"
    return answer
