"""Files by their SHA-256, behind Django's storage; what is read is checked against its name."""

from __future__ import annotations

import contextlib
import hashlib
import os
import time
import uuid
from pathlib import Path

from django.core.files.base import ContentFile, File
from django.core.files.storage import FileSystemStorage, default_storage

_PARTS = "parts"
_PARTS_KEPT = 86_400.0
"""Seconds: the slowest file is written in some."""


class WholeFiles(FileSystemStorage):
    """Files in folders, each there whole or not at all.

    Django's own writes under the name that is read: a process killed in the middle of it, or a full disk,
    leaves a piece there that every later look takes for the file.
    """

    def _save(self, name: str, content: File[bytes]) -> str:
        at_first = f"{_PARTS}/{uuid.uuid4()}"
        part, whole = Path(self.path(at_first)), Path(self.path(name))
        try:
            super()._save(at_first, content)  # type: ignore[misc]
            self._make(whole.parent)
            _on_disk(part)
            part.replace(whole)
            _on_disk(whole.parent)
        finally:
            part.unlink(missing_ok=True)
        return name

    def _make(self, folder: Path) -> None:
        """Make a folder with those that it lies in, each for the server alone."""
        missing = [one for one in (folder, *folder.parents) if not one.exists()]
        for one in reversed(missing):
            one.mkdir(mode=self.directory_permissions_mode or 0o777, exist_ok=True)

    def forget_parts(self) -> None:
        """Take away what processes were writing that were killed."""
        for part in Path(self.path(_PARTS)).glob("*"):
            with contextlib.suppress(OSError):  # it is whole by now, or none of ours: the clock goes on
                if part.stat().st_mtime < time.time() - _PARTS_KEPT:
                    part.unlink()


def _on_disk(path: Path) -> None:
    """Wait until the disk has it: the database will say that it is there, and keeps its word after the
    current failed."""
    opened = os.open(path, os.O_RDONLY)
    try:
        os.fsync(opened)
    finally:
        os.close(opened)


class Corrupt(Exception):
    """A stored file no longer has the bytes that it was stored with."""


def keep(content: bytes) -> str:
    """Store the bytes once; gives their SHA-256."""
    digest = hashlib.sha256(content).hexdigest()
    path = path_of(digest)
    is_whole = default_storage.exists(path) and default_storage.size(path) == len(content)
    if not is_whole:
        default_storage.save(path, ContentFile(content))
    return digest


def fetch(digest: str) -> bytes:
    """Return the bytes with that SHA-256.  Raises Corrupt when the store gives others, FileNotFoundError
    when it has none."""
    with default_storage.open(path_of(digest), "rb") as stored:
        content: bytes = stored.read()
    if hashlib.sha256(content).hexdigest() != digest:
        raise Corrupt(digest)
    return content


def path_of(digest: str) -> str:
    """Return where a file lies in the store."""
    return f"{digest[:2]}/{digest[2:4]}/{digest}"


def forget_parts() -> None:
    """Take away what was left half written, where files are kept in folders."""
    if isinstance(default_storage, WholeFiles):
        default_storage.forget_parts()
