"""An authority of one's own, for a house that brings no certificate to seal with: made once, and kept."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec, rsa
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

from quillcore.signing.identity import (
    AUTHORITY,
    CERTIFICATE,
    KEY,
    STAMPS_CERTIFICATE,
    STAMPS_KEY,
    Identity,
)

_YEARS = timedelta(days=3_650)
Key = ec.EllipticCurvePrivateKey | rsa.RSAPrivateKey


@dataclass(frozen=True)
class Authority:
    """An authority of one's own: its certificate (PEM), who seals for it, and who stamps times."""

    certificate: bytes
    seal: Identity
    stamp: Identity


def make_authority(name: str, now: datetime | None = None) -> Authority:
    """Return a new authority whose certificates hold for ten years; keys on the curve P-256, but for time
    stamps, which the service that ships signs with RSA.  The authority's own key is not kept: nobody can
    issue a further certificate in its name."""
    begun = (now or datetime.now(UTC)) - timedelta(minutes=5)  # clocks of readers may go a little behind
    root_key = ec.generate_private_key(ec.SECP256R1())
    root_name = _named(f"{name} authority")
    root = _certificate(root_name, root_name, root_key, root_key, begun, is_authority=True)
    return Authority(
        _pem(root),
        _issued(f"{name} seal", root, root_key, begun, stamps=False),
        _issued(f"{name} time stamps", root, root_key, begun, stamps=True),
    )


def keep_authority(made: Authority, folder: Path) -> None:
    """Write an authority into a folder of its own, for nobody else to read."""
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    for name, content in (
        (KEY, made.seal.key),
        (CERTIFICATE, made.seal.certificate),
        (AUTHORITY, made.certificate),
        (STAMPS_KEY, made.stamp.key),
        (STAMPS_CERTIFICATE, made.stamp.certificate),
    ):
        path = folder / name
        path.touch(mode=0o600)
        path.write_bytes(content)


def _named(name: str) -> x509.Name:
    return x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, name)])


def _issued(
    name: str, root: x509.Certificate, root_key: ec.EllipticCurvePrivateKey, begun: datetime, stamps: bool
) -> Identity:
    key: Key = rsa.generate_private_key(65_537, 2_048) if stamps else ec.generate_private_key(ec.SECP256R1())
    made = _certificate(root.subject, _named(name), key, root_key, begun, stamps=stamps)
    private = key.private_bytes(
        serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
    )
    return Identity(private, _pem(made), (_pem(root),))


def _certificate(
    issuer: x509.Name,
    subject: x509.Name,
    key: Key,
    signed_with: ec.EllipticCurvePrivateKey,
    begun: datetime,
    is_authority: bool = False,
    stamps: bool = False,
) -> x509.Certificate:
    uses = {
        "digital_signature": not is_authority,
        "content_commitment": not is_authority and not stamps,
        "key_cert_sign": is_authority,
        "crl_sign": is_authority,
    }
    nothing = ("key_encipherment", "data_encipherment", "key_agreement", "encipher_only", "decipher_only")
    built = (
        x509.CertificateBuilder()
        .subject_name(subject)
        .issuer_name(issuer)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(begun)
        .not_valid_after(begun + _YEARS)
        .add_extension(
            x509.BasicConstraints(ca=is_authority, path_length=0 if is_authority else None), critical=True
        )
        .add_extension(x509.KeyUsage(**uses, **dict.fromkeys(nothing, False)), critical=True)
        .add_extension(x509.SubjectKeyIdentifier.from_public_key(key.public_key()), critical=False)
        .add_extension(
            x509.AuthorityKeyIdentifier.from_issuer_public_key(signed_with.public_key()), critical=False
        )
    )
    if stamps:
        purposes: Sequence[x509.ObjectIdentifier] = [ExtendedKeyUsageOID.TIME_STAMPING]
        built = built.add_extension(x509.ExtendedKeyUsage(purposes), critical=True)
    return built.sign(signed_with, hashes.SHA256())


def _pem(certificate: x509.Certificate) -> bytes:
    return certificate.public_bytes(serialization.Encoding.PEM)
