"""The seal's own means: the installation's certificate from a folder, time stamps from their service."""

from __future__ import annotations

from functools import lru_cache

import httpx
from django.conf import settings
from quillcore.signing.identity import AUTHORITY, CERTIFICATE, KEY, Identity, kept_identity
from quillcore.values import Fault

CONTENT = "application/timestamp-query"


def is_ready_to_seal() -> bool:
    """Return whether there is a certificate to seal with."""
    return all((settings.SEAL_FOLDER / name).is_file() for name in (KEY, CERTIFICATE, AUTHORITY))


NO_CERTIFICATE = Fault(
    "seal", "This installation has no certificate to seal with.", "Ask your administrator."
)


@lru_cache(maxsize=1)
def identity() -> Identity:
    """Return who seals.  Raises OSError where there is none."""
    return kept_identity(settings.SEAL_FOLDER)


def authorities() -> list[bytes]:
    """Return the authorities by whose certificates seals are checked here; none where there is none."""
    path = settings.SEAL_FOLDER / AUTHORITY
    return [path.read_bytes()] if path.is_file() else []


@lru_cache(maxsize=1)
def _client() -> httpx.Client:
    return httpx.Client(timeout=settings.SOURCE_TIMEOUT * 3, trust_env=False)


def stamp(request: bytes) -> bytes:
    """Return a time stamp for a request, both DER (RFC 3161).  Raises httpx.HTTPError where the service
    gives none; the paper then waits unsealed, and is tried again."""
    answer = _client().post(settings.TIME_STAMPS["url"], content=request, headers={"Content-Type": CONTENT})
    answer.raise_for_status()
    return answer.content
