"""The seal over a finished file: a PAdES signature with a time stamp, as any reader of PDF checks it.

The last thing that is done to a file: whatever is changed or appended behind it shows.
"""

from __future__ import annotations

import io
from collections.abc import Callable, Iterable

from asn1crypto import pem, tsp
from asn1crypto import x509 as asn1_x509
from asn1crypto.keys import PrivateKeyInfo
from pyhanko.pdf_utils.incremental_writer import IncrementalPdfFileWriter
from pyhanko.sign import signers
from pyhanko.sign.fields import SigSeedSubFilter
from pyhanko.sign.timestamps import DummyTimeStamper, TimeStamper
from pyhanko_certvalidator.registry import SimpleCertificateStore

from quillcore.signing.identity import Identity

Stamp = Callable[[bytes], bytes]
"""Sends a time stamp request (RFC 3161, DER) to its service and gives the answer; raises where there is none.
"""
FIELD = "GoodQuillSeal"
_ROOM = 24_000
"""Digits kept free for the signature: it takes some 8,000 with its certificates and its time stamp.  Told, so
that the service isn't asked a first time to see how long its answers are."""


def seal(content: bytes, identity: Identity, stamp: Stamp, reason: str) -> bytes:
    """Return the file with a seal appended that covers all of it, stamped with a time.  What ``stamp``
    raises is passed on: without a time there is no seal."""
    writer = IncrementalPdfFileWriter(io.BytesIO(content), strict=False)
    meta = signers.PdfSignatureMetadata(
        field_name=FIELD, md_algorithm="sha256", subfilter=SigSeedSubFilter.PADES, reason=reason
    )
    out = io.BytesIO()
    signer = signers.PdfSigner(meta, signer=_signer(identity), timestamper=_Stamper(stamp))
    signer.sign_pdf(writer, output=out, bytes_reserved=_ROOM)
    return out.getvalue()


def answer_stamp_request(request: bytes, identity: Identity) -> bytes:
    """Return what a time stamp service answers to a request, both DER.  Raises ValueError for what is no
    request."""
    asked = tsp.TimeStampReq.load(request, strict=True)
    asked.native  # noqa: B018  # reads all of it, and raises where it can't be read
    service = DummyTimeStamper(read_certificate(identity.certificate), _key(identity))
    return bytes(service.request_tsa_response(asked).dump())


class _Stamper(TimeStamper):
    """Asks for time stamps by whatever means it was given."""

    def __init__(self, stamp: Stamp) -> None:
        super().__init__()
        self._stamp = stamp

    async def async_request_tsa_response(self, req: tsp.TimeStampReq) -> tsp.TimeStampResp:
        """Ask the service."""
        return tsp.TimeStampResp.load(self._stamp(req.dump()))


def _signer(identity: Identity) -> signers.SimpleSigner:
    return signers.SimpleSigner(
        signing_cert=read_certificate(identity.certificate),
        signing_key=_key(identity),
        cert_registry=_store(identity.above),
        embed_roots=False,  # whoever checks has the authority's certificate, and it isn't covered by the seal
    )


def _key(identity: Identity) -> PrivateKeyInfo:
    _, _, content = pem.unarmor(identity.key)
    return PrivateKeyInfo.load(content)


def _store(certificates: Iterable[bytes]) -> SimpleCertificateStore:
    found = SimpleCertificateStore()
    found.register_multiple(map(read_certificate, certificates))
    return found


def read_certificate(content: bytes) -> asn1_x509.Certificate:
    """Return a certificate out of PEM."""
    _, _, found = pem.unarmor(content)
    return asn1_x509.Certificate.load(found)
