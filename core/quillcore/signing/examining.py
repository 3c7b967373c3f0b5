"""A finished file looked into: by whom it was sealed, whether that holds, and what its record says.

Opens files by strangers: called in a limited child (see ``verifying``), or in tests.
"""

from __future__ import annotations

import hashlib
import io
import json
from collections.abc import Iterator, Mapping, Sequence
from typing import Any

from asn1crypto import algos, cms, core, parser
from pyhanko.pdf_utils.misc import PdfError
from pyhanko.pdf_utils.reader import PdfFileReader
from pyhanko.sign.validation import validate_pdf_signature
from pyhanko.sign.validation.status import SignatureCoverageLevel
from pyhanko_certvalidator import ValidationContext

from quillcore.sandbox import Refused
from quillcore.signing.finishing import FORMAT, RECORD
from quillcore.signing.sealing import read_certificate
from quillcore.signing.trail import ChainLink, first_break, read_rows
from quillcore.signing.verifying import TO_VERIFY, CheckResult, Verdict
from quillcore.values import Fault

MOST_RECORD = 20_000_000
"""Bytes of a record: some 20,000 events."""
_END = 1_024
"""Bytes at the end in which a PDF says that it ends."""
MOST_ATTACHED = 40
"""Files in a file that are looked through: a finished one has its record, and a scan of each who signed by
pen."""


def examine_inside(content: bytes, authorities: str) -> bytes:
    """Return the verdict as JSON, called in the child."""
    if not content.startswith(b"%PDF-"):
        raise Refused(Fault("seal", "This isn't a PDF.", TO_VERIFY.mend))
    verdict = examine(content, [text.encode("ascii") for text in json.loads(authorities)])
    rows = {
        "said": [[one.about, one.holds, one.sentence] for one in verdict.said],
        "paper": verdict.paper,
        "signers": list(verdict.signers),
    }
    return json.dumps(rows, ensure_ascii=False).encode()


def examine(content: bytes, authorities: Sequence[bytes]) -> Verdict:
    """Check a file, where it is opened."""

    if b"%%EOF" not in content[-_END:]:
        return Verdict(
            (CheckResult("whole", False, "This file was cut short: its end is missing. Ask for it again."),)
        )
    try:
        reader = PdfFileReader(io.BytesIO(content), strict=False)
        seals = reader.embedded_regular_signatures
    except (PdfError, ValueError, TypeError, KeyError, IndexError):  # what a damaged file makes of its reader
        return Verdict(
            (CheckResult("whole", False, "This file is damaged and can't be read. Ask for it again."),)
        )
    if not seals:
        return Verdict((CheckResult("seal", False, "This file has no seal."),))
    said = list(_seal(seals[-1], content, authorities))
    record = _record(reader)
    if isinstance(record, Fault):
        return Verdict((*said, CheckResult("record", False, record.message)))
    events = read_rows(record.get("events"))
    said += _events(events)
    said.append(_beginning(content, record.get("frozen"), events))
    said += _scans(reader, record.get("scans"))
    names = [str(s.get("name", "")) for s in record.get("signers", ()) if isinstance(s, dict)]
    return Verdict(tuple(said), str(record.get("paper", "")), tuple(names))


def _is_as_written(embedded: Any, content: bytes) -> bool:
    """Return whether what the seal leaves out of the file is the seal and nothing else: its digits, then
    zeros; and in it, beside what its own hashes cover, what is always the same."""
    _, before, behind, _ = (int(n) for n in embedded.byte_range)
    _, _, _, header, body, trailer = parser.parse(embedded.pkcs7_content)
    written = header + body + trailer
    digits = written.hex().upper().encode("ascii")
    if content[before:behind] != b"<" + digits.ljust(behind - before - 2, b"0") + b">":
        return False
    seal = cms.ContentInfo.load(written)
    if seal.dump(force=True) != written:
        return False
    stamps = [
        stamp
        for kept in seal["content"]["signer_infos"][0]["unsigned_attrs"]
        if kept["type"].native == "signature_time_stamp_token"
        for stamp in kept["values"]
    ]
    return _is_usual(seal["content"], "v1") and all(_is_usual(stamp["content"], "v3") for stamp in stamps)


_DIGEST = algos.DigestAlgorithm({"algorithm": "sha256"})


def _is_usual(signed: Any, version: str) -> bool:
    """Return whether what no hash covers in a signature is as ours have it: versions, how it was hashed,
    and one certificate, the signer's."""
    one = signed["signer_infos"][0]
    usual = {_DIGEST.dump(), algos.DigestAlgorithm({"algorithm": "sha256", "parameters": core.Null()}).dump()}
    hashed = [one["digest_algorithm"], *signed["digest_algorithms"]]
    return (
        (signed["version"].native, one["version"].native) == (version, "v1")
        and len(signed["certificates"]) == len(signed["signer_infos"]) == 1
        and len(signed["digest_algorithms"]) == 1
        and all(how.dump() in usual for how in hashed)
    )


def _seal(embedded: Any, content: bytes, authorities: Sequence[bytes]) -> Iterator[CheckResult]:

    roots = [read_certificate(certificate) for certificate in authorities]
    context = ValidationContext(trust_roots=roots, allow_fetching=False, revocation_mode="soft-fail")
    status = validate_pdf_signature(embedded, context, context)
    untouched = bool(status.intact and status.valid) and _is_as_written(embedded, content)
    yield CheckResult(
        "seal",
        untouched,
        "The file has not changed since it was sealed."
        if untouched
        else "The file was changed after it was sealed.",
    )
    whole = status.coverage is SignatureCoverageLevel.ENTIRE_FILE
    yield CheckResult(
        "whole",
        whole,
        "The seal covers the whole file."
        if whole
        else "Something was appended to the file after it was sealed.",
    )
    by = embedded.signer_cert.subject.native.get("common_name", "someone without a name")
    yield CheckResult(
        "authority",
        bool(status.trusted),
        f"It was sealed by {by}, whose certificate the authority confirms."
        if status.trusted
        else f"It was sealed by {by}, whose certificate the authority does not confirm.",
    )
    stamp = status.timestamp_validity
    stamped = stamp is not None and bool(stamp.intact and stamp.valid and stamp.trusted)
    at = stamp.timestamp.strftime("%B %-d, %Y, %H:%M:%S UTC") if stamp is not None and stamped else ""
    yield CheckResult(
        "time",
        stamped,
        f"A time stamp proves the seal of {at}." if stamped else "The file has no time stamp.",
    )


def _record(reader: Any) -> Mapping[str, Any] | Fault:

    missing = Fault("record", "The file has no record of who signed it.")
    data = _attached(reader, RECORD)
    if data is None:
        return missing
    try:
        found: Any = json.loads(data) if len(data) <= MOST_RECORD else None
    except ValueError:
        return missing
    is_ours = isinstance(found, dict) and found.get("format") == FORMAT
    return found if is_ours else missing


def _attached(reader: Any, name: str) -> bytes | None:
    """Return a file in the file, by its name; None where there is none."""
    try:
        names = reader.root["/Names"]["/EmbeddedFiles"]["/Names"]
    except KeyError:
        return None
    for n in range(0, min(len(names), MOST_ATTACHED * 2) - 1, 2):
        if names[n] == name:
            return bytes(names[n + 1]["/EF"]["/F"].data)
    return None


def _scans(reader: Any, rows: object) -> Iterator[CheckResult]:
    """Yield what was signed by pen is there as it was put in.  Files of before there were scans name none."""
    for row in rows[:MOST_ATTACHED] if isinstance(rows, list) else ():
        named = row if isinstance(row, dict) else {}
        data = _attached(reader, str(named.get("file", "")))
        holds = data is not None and hashlib.sha256(data).hexdigest() == named.get("sha256")
        yield CheckResult(
            "scan",
            holds,
            "The scans of papers signed by pen are in the file, unchanged."
            if holds
            else "A scan of a paper signed by pen is missing, or isn't the one that was added.",
        )


def _events(events: list[ChainLink] | Fault) -> Iterator[CheckResult]:
    if isinstance(events, Fault) or not events:
        yield CheckResult("record", False, "The record in this file can't be read.")
        return
    broken = first_break(events)
    yield CheckResult(
        "record",
        broken is None,
        f"The record's {len(events)} events follow from each other."
        if broken is None
        else f"Event {broken} of the record doesn't follow from the one before it.",
    )


def _beginning(content: bytes, frozen: object, events: list[ChainLink] | Fault) -> CheckResult:
    """Return whether the file begins with the paper that was sent, which the first event of the record names,
    too."""
    length = frozen.get("length") if isinstance(frozen, dict) else None
    wanted = frozen.get("sha256") if isinstance(frozen, dict) else None
    is_count = isinstance(length, int) and not isinstance(length, bool) and 0 < length < len(content)
    sent = events[0].said.get("papers", "") if not isinstance(events, Fault) and events else ""
    is_named = not sent or (isinstance(wanted, str) and wanted in sent)
    holds = is_count and is_named and hashlib.sha256(content[: int(length or 0)]).hexdigest() == wanted
    return CheckResult(
        "paper",
        holds,
        "The signed paper is the paper that was sent."
        if holds
        else "The paper in this file isn't the one that was sent.",
    )
