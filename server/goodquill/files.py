"""Files by their SHA-256, behind Django's storage; what is read is checked against its name."""

from __future__ import annotations

import hashlib

from django.core.files.base import ContentFile
from django.core.files.storage import default_storage


class Corrupt(Exception):
    """A stored file no longer has the bytes that it was stored with."""


def keep(content: bytes) -> str:
    """Store the bytes once; gives their SHA-256."""
    digest = hashlib.sha256(content).hexdigest()
    if not default_storage.exists(_path(digest)):
        default_storage.save(_path(digest), ContentFile(content))
    return digest


def fetch(digest: str) -> bytes:
    """The bytes with that SHA-256.  Raises Corrupt when the store gives others, FileNotFoundError when it has
    none."""
    with default_storage.open(_path(digest), "rb") as stored:
        content: bytes = stored.read()
    if hashlib.sha256(content).hexdigest() != digest:
        raise Corrupt(digest)
    return content


def _path(digest: str) -> str:
    return f"{digest[:2]}/{digest[2:4]}/{digest}"
