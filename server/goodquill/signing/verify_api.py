"""Checking a finished file: for anybody, and nothing of it is kept."""

from __future__ import annotations

import threading

from drf_spectacular.utils import extend_schema
from quillcore.signing.verifying import SEALED, verify
from quillcore.values import Fault
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response

from goodquill.anybody import ForAnybody
from goodquill.api import Refusal, checked, uploaded
from goodquill.offices.signing_in import TriesByAddress
from goodquill.signing.sealing import authorities
from goodquill.signing.shapes import VerdictSerializer, VerifyFileSerializer

_looking = threading.Semaphore(1)
"""Files that one worker looks at at the same time: anybody may send some."""


class VerifyView(ForAnybody):
    """A file that somebody was given."""

    throttle_classes = (TriesByAddress,)
    parser_classes = (MultiPartParser,)

    @extend_schema(
        operation_id="verify",
        request={"multipart/form-data": VerifyFileSerializer},
        responses=VerdictSerializer,
    )
    def post(self, request: Request) -> Response:
        """Whether its seal, its record and the paper in it hold."""
        content = uploaded(checked(VerifyFileSerializer, request)["file"], SEALED.most_bytes)
        if not _looking.acquire(timeout=5):
            raise Refusal(
                "Other files are being checked just now.", "Try again in a moment.", "busy", 503, wait=3
            )
        try:
            found = verify(content, authorities())
        finally:
            _looking.release()
        if isinstance(found, Fault):
            raise Refusal.of(found, 422)
        return Response(
            {
                "holds": found.holds,
                "said": [{"about": s.about, "holds": s.holds, "sentence": s.sentence} for s in found.said],
                "paper": found.paper,
                "signers": list(found.signers),
            }
        )
