"""Checking a finished file: for anybody, and nothing of it is kept."""

from __future__ import annotations

import threading

from drf_spectacular.utils import extend_schema
from quillcore.signing.verifying import TO_VERIFY, verify
from quillcore.values import Fault
from rest_framework.parsers import MultiPartParser
from rest_framework.request import Request
from rest_framework.response import Response

from goodquill.http.anybody import ForAnybody
from goodquill.http.endpoints import Refusal, checked, uploaded
from goodquill.offices.attempts import counts_attempts
from goodquill.signing.sealing.seal import authorities
from goodquill.signing.sealing.shapes import VerdictSerializer, VerifyFileSerializer

_checking = threading.Lock()
"""One file at a time in a worker: anybody may send some.  Further ones are asked to come back."""


class VerifyView(ForAnybody):
    """A file that somebody was given."""

    parser_classes = (MultiPartParser,)

    @extend_schema(
        operation_id="verify",
        request={"multipart/form-data": VerifyFileSerializer},
        responses=VerdictSerializer,
    )
    @counts_attempts("verify", always=True)
    def post(self, request: Request) -> Response:
        """Check whether the file's seal, its record and the paper in it hold."""
        content = uploaded(checked(VerifyFileSerializer, request)["file"], TO_VERIFY.most_bytes)
        if not _checking.acquire(blocking=False):
            raise Refusal("Other files are being checked.", "Try again in a moment.", "busy", 503, wait=1)
        try:
            found = verify(content, authorities())
        finally:
            _checking.release()
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
