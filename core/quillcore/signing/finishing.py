"""A finished paper: as it was sent, then the marks and the record page, each appended and nothing rewritten.

What was sent is the beginning of what is finished, byte for byte: so whoever has the finished file can hold
the paper that was signed against the hash in its record.
"""

from __future__ import annotations

import hashlib
import io
import json
from collections.abc import Sequence
from typing import Any

from pyhanko.pdf_utils import embed, generic
from pyhanko.pdf_utils.incremental_writer import IncrementalPdfFileWriter
from pyhanko.pdf_utils.reader import PdfFileReader

from quillcore.pdf import FilePart, Frame, Mark, Overlay, combine, fit
from quillcore.signing.certificate_page import Certificate, record_pages
from quillcore.signing.marks import placed
from quillcore.signing.puts import Put, Scan
from quillcore.signing.trail import as_rows

RECORD = "record.json"
FORMAT = 1
_SMALL = 4.6


def finished(frozen: bytes, put: Sequence[Put], record: Certificate, scans: Sequence[Scan] = ()) -> bytes:
    """Return the paper with its marks and its record, and the scans of what was signed by pen, still to be
    sealed. Raises ValueError where the bytes aren't those that the record names."""
    if hashlib.sha256(frozen).hexdigest() != record.frozen:
        raise ValueError("these bytes are not the paper that was sent")
    writer = IncrementalPdfFileWriter(io.BytesIO(frozen), strict=False)
    pages = 1 + max([p.page for p in put], default=0)
    overlays = [Overlay() for _ in range(pages)]
    for one in put:
        _draw(overlays[one.page - 1], one)
    marked = [n for n, overlay in enumerate(overlays) if not overlay.is_empty]
    last = record_pages(record)
    made = PdfFileReader(
        io.BytesIO(combine([FilePart(None, [*(overlays[n] for n in marked), *last])], "Record of signatures"))
    )
    taken = _taken(writer, made)
    for n, page in zip(marked, taken, strict=False):
        _lay(writer, n, page.get_object())
    for page in taken[len(marked) :]:
        writer.insert_page(page.get_object())
    _attach(writer, frozen, record, scans)
    out = io.BytesIO()
    writer.write(out)
    return out.getvalue()


def _draw(overlay: Overlay, put: Put) -> None:
    left, bottom, right, top = put.rect
    if put.drawing is not None:
        overlay.outlines.append(placed(put.drawing, put.rect))
    if put.text:
        overlay.fits.append(fit(put.text, put.frame or Frame(left, bottom, right, top, least=4.5)))
    if put.is_mark:
        overlay.marks.append(Mark(put.rect))
    if put.told:
        small = Frame(left, top - _SMALL * 1.3, right + 60, top, size=_SMALL, least=3.0)
        overlay.fits.append(fit(put.told, small))


def _taken(writer: IncrementalPdfFileWriter, made: PdfFileReader) -> list[Any]:
    """Return the pages of a file, taken over with what they share; what hangs above them stays in theirs."""
    kids = made.root["/Pages"]["/Kids"]
    for page in kids:
        del page.get_object()["/Parent"]
    return list(writer.import_object(kids))


def _lay(writer: IncrementalPdfFileWriter, number: int, made: Any) -> None:
    """Lay a page's content over that of the page (from 0): as a form of its own, over what stands there
    between q and Q."""
    streams = [part.get_object() for part in _parts(made)]
    content = b"\n".join(stream.data for stream in streams if stream.encoded_data)
    form = generic.StreamObject(
        generic.DictionaryObject(
            {
                generic.pdf_name("/Type"): generic.pdf_name("/XObject"),
                generic.pdf_name("/Subtype"): generic.pdf_name("/Form"),
                generic.pdf_name("/BBox"): generic.ArrayObject(
                    map(generic.NumberObject, (-2000, -2000, 6000, 6000))
                ),
                generic.pdf_name("/Resources"): made["/Resources"],
            }
        ),
        stream_data=b"q\n" + content,
    )
    form.compress()
    name = generic.pdf_name("/QuillMarks")
    reference, resources = writer.find_page_for_modification(number)
    page = reference.get_object()
    held = page.get("/Contents")
    parts = (
        list(held) if isinstance(held, generic.ArrayObject) else [page.raw_get("/Contents")] if held else []
    )
    before = writer.add_object(generic.StreamObject(stream_data=b"q\n"))
    behind = writer.add_object(generic.StreamObject(stream_data=b"\nQ q " + name.encode() + b" Do Q\n"))
    page[generic.pdf_name("/Contents")] = generic.ArrayObject([before, *parts, behind])
    own = generic.DictionaryObject(resources.get_object())  # pages may share theirs
    forms = generic.DictionaryObject(own.get("/XObject", {}))
    forms[name] = writer.add_object(form)
    own[generic.pdf_name("/XObject")] = forms
    page[generic.pdf_name("/Resources")] = own
    writer.update_container(page)


def _parts(page: Any) -> list[Any]:
    held = page["/Contents"]
    return list(held) if isinstance(held, generic.ArrayObject) else [page.raw_get("/Contents")]


def _attach(
    writer: IncrementalPdfFileWriter, frozen: bytes, record: Certificate, scans: Sequence[Scan]
) -> None:
    """Put the record into the file, for whoever checks it, and the scans that it names."""
    said = {
        "format": FORMAT,
        "round": record.round,
        "paper": record.paper,
        "sender": record.sender,
        "frozen": {"length": len(frozen), "sha256": record.frozen},
        "signers": [{"key": s.key, "name": s.name, "email": s.email} for s in record.signers],
        "events": as_rows(record.events),
        "scans": [{"who": scan.who, "file": scan.name, "sha256": scan.digest} for scan in scans],
    }
    content = json.dumps(said, ensure_ascii=False, separators=(",", ":")).encode()
    _embed(writer, RECORD, content, "application/json")
    for scan in scans:
        _embed(writer, scan.name, scan.content, "application/pdf")


def _embed(writer: IncrementalPdfFileWriter, name: str, content: bytes, kind: str) -> None:
    data = embed.EmbeddedFileObject.from_file_data(writer, data=content, mime_type=kind, compress=True)
    embed.embed_file(writer, embed.FileSpec(name, file_name=name, embedded_data=data))
