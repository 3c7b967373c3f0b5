"""The identity that seals: a key and its certificates, as files in a folder."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

KEY, CERTIFICATE, AUTHORITY = "seal.key", "seal.pem", "authority.pem"
STAMPS_KEY, STAMPS_CERTIFICATE = "stamps.key", "stamps.pem"
"""The files of an authority's folder: the seal's key and certificate, the certificate of the authority above
them, and the same for who stamps times."""


@dataclass(frozen=True)
class Identity:
    """A key with its certificate, both as PEM, and the certificates above it."""

    key: bytes
    certificate: bytes
    above: tuple[bytes, ...] = ()


def kept_identity(folder: Path, key: str = KEY, certificate: str = CERTIFICATE) -> Identity:
    """Return who seals, or who stamps, out of such a folder.  Raises OSError where it isn't whole."""
    content = [(folder / name).read_bytes() for name in (key, certificate, AUTHORITY)]
    return Identity(content[0], content[1], (content[2],))
