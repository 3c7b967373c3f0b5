"""A PDF from elsewhere: opened with care, cleaned of all that acts, and its pages turned upright.

What is kept of it are pages: content, resources and size.  Scripts, launch and other actions, attached
files, XFA, annotations and fields stay behind; what was left out is said.  Runs inside the limits of
``quillcore.sandbox``.
"""

from __future__ import annotations

import io
import zlib
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import pikepdf
from pikepdf import Array, Dictionary, Name, Object

from quillcore.pdf.widgets import FoundField, Rect, find_fields
from quillcore.sandbox import Refused
from quillcore.values import Fault

MOST_PAGES = 500
MOST_OBJECTS = 50_000
"""The most objects that pages may show: fonts, pictures and their parts."""
_MOST_CONTENT = 30_000_000
_PAGE_KEYS = {"/Type", "/Parent", "/MediaBox", "/Resources", "/Contents", "/Group"}
_ACTS = {
    "/JavaScript": "script",
    "/Launch": "launch action",
    "/SubmitForm": "form sending",
    "/ImportData": "data import",
    "/URI": "web link",
    "/GoToR": "link to another file",
    "/GoToE": "link to another file",
    "/Rendition": "media",
    "/Movie": "media",
}


@dataclass(frozen=True)
class Upright:
    """A page's former rotation: from the file's coordinates to those of the page as it is seen."""

    turn: int
    origin: tuple[float, float]
    size: tuple[float, float]

    def rect(self, r: Rect) -> Rect:
        """Return a rectangle of the file, on the page as it is seen."""
        corners = [self._point(r[0], r[1]), self._point(r[2], r[3])]
        xs, ys = sorted(c[0] for c in corners), sorted(c[1] for c in corners)
        return (round(xs[0], 2), round(ys[0], 2), round(xs[1], 2), round(ys[1], 2))

    def matrix(self) -> tuple[float, ...]:
        """Return the same as a PDF matrix."""
        x0, y0 = self.origin
        w, h = self.size
        return {
            0: (1, 0, 0, 1, -x0, -y0),
            90: (0, -1, 1, 0, -y0, h + x0),
            180: (-1, 0, 0, -1, w + x0, h + y0),
            270: (0, 1, -1, 0, w + y0, -x0),
        }[self.turn]

    def _point(self, x: float, y: float) -> tuple[float, float]:
        a, b, c, d, e, f = self.matrix()
        return a * x + c * y + e, b * x + d * y + f


@dataclass(frozen=True)
class Foreign:
    """The result of cleaning: ``clean`` is the pages alone, upright; ``removed`` lists everything that was
    left out."""

    clean: bytes
    uprights: tuple[Upright, ...]
    fields: tuple[FoundField, ...]
    removed: tuple[str, ...]


def open_foreign(content: bytes, filled: bool = False) -> Foreign:
    """Take a file apart; raises Refused with a sentence when it can't be used.  ``filled`` leaves what is
    written in its fields standing on the pages, as on a paper that somebody has filled in."""
    at = content[:4096].find(b"%PDF-")
    if at < 0:
        raise Refused(
            Fault("foreign file", "This isn't a PDF.", "Save or print the paper as PDF and try that file.")
        )
    try:
        with pikepdf.open(io.BytesIO(content[at:])) as pdf:
            count = len(pdf.pages)
            if count == 0:
                raise Refused(
                    Fault(
                        "foreign file",
                        "The file is damaged: no page of it can be read.",
                        "Ask for it again, or print it to a new PDF.",
                    )
                )
            if count > MOST_PAGES:
                raise Refused(
                    Fault(
                        "foreign file", f"The file has {count} pages; {MOST_PAGES} is the most.", "Split it."
                    )
                )
            return _taken_apart(pdf, filled)
    except pikepdf.PasswordError as trouble:
        raise Refused(
            Fault(
                "foreign file",
                "The file is locked with a password.",
                "Open it with the password and print it to a new PDF.",
            )
        ) from trouble
    except RecursionError as trouble:
        raise Refused(
            Fault(
                "foreign file",
                "The file refers to itself without end.",
                "Print it to a new PDF and try that one.",
            )
        ) from trouble
    except (
        pikepdf.PdfError,
        ValueError,
        TypeError,
        KeyError,
        AttributeError,
        IndexError,
        ArithmeticError,
        NotImplementedError,
    ) as trouble:
        raise Refused(
            Fault(
                "foreign file",
                "The file is damaged and can't be read.",
                "Ask for it again, or print it to a new PDF.",
            )
        ) from trouble


def _taken_apart(pdf: pikepdf.Pdf, filled: bool) -> Foreign:
    fields = tuple(find_fields(pdf))
    removed = tuple(sorted(set(acting(pdf))))
    out = pikepdf.new()
    uprights = []
    if not filled:
        for page in pdf.pages:
            _drop_fields(page)
    try:
        if filled:
            pdf.generate_appearance_streams()
        pdf.flatten_annotations("print")
    except (pikepdf.PdfError, RuntimeError):
        removed = tuple(sorted({*removed, "damaged annotation"}))
    for page in pdf.pages:
        upright = _upright(page)
        body = _content(page)
        out.pages.append(page)
        kept = out.pages[-1].obj
        resources = kept.get("/Resources")
        for key in list(kept.keys()):
            if key not in _PAGE_KEYS:
                del kept[key]
        matrix = " ".join(f"{n:.4f}" for n in upright.matrix())
        w, h = upright.size
        kept.Contents = out.make_stream(f"q\n{matrix} cm\n".encode() + body + b"\nQ\n")
        kept.MediaBox = Array([0, 0, round(w, 2), round(h, 2)])
        kept.Resources = resources if isinstance(resources, Dictionary) else Dictionary()
        uprights.append(upright)
    out.remove_unreferenced_resources()
    if len(out.objects) > MOST_OBJECTS:
        raise Refused(
            Fault(
                "foreign file",
                f"The file's pages are made of more than {MOST_OBJECTS:,} pieces.",
                "Print it to a new PDF and try that one.",
            )
        )
    buffer = io.BytesIO()
    out.save(buffer, deterministic_id=True, object_stream_mode=pikepdf.ObjectStreamMode.generate)
    return Foreign(buffer.getvalue(), tuple(uprights), fields, removed)


def _drop_fields(page: pikepdf.Page) -> None:
    annotations = page.obj.get("/Annots")
    if not isinstance(annotations, Array):
        if annotations is not None:
            del page.obj["/Annots"]
        return
    kept = [
        a
        for a in annotations
        if isinstance(a, Dictionary)
        and a.get("/Subtype") not in (Name.Widget, Name.Link, Name.Popup)
        and "/FT" not in a
    ]
    page.obj.Annots = Array(kept)


def _content(page: pikepdf.Page) -> bytes:
    """Return the page's drawing, unpacked within bounds (a few bytes can unpack to gigabytes)."""
    raw = page.obj.get("/Contents")
    streams = [s for s in (list(raw) if isinstance(raw, Array) else [raw]) if isinstance(s, pikepdf.Stream)]
    parts, total = [], 0
    for stream in streams:
        part = _unpacked(stream)
        total += len(part)
        if total > _MOST_CONTENT:
            raise Refused(
                Fault(
                    "foreign file",
                    "A page of this file is far too large when unpacked.",
                    "Print it to a new PDF and try that one.",
                )
            )
        parts.append(part)
    return b"\n".join(parts)


def _unpacked(stream: pikepdf.Stream) -> bytes:
    """Return a stream's bytes, as many as can be had; never many more than a page may have."""
    if (
        stream.get("/Filter") in (Name.FlateDecode, Array([Name.FlateDecode]))
        and "/DecodeParms" not in stream
    ):
        try:
            return zlib.decompressobj().decompress(stream.read_raw_bytes(), _MOST_CONTENT + 1)
        except zlib.error:
            pass
    try:
        return stream.read_bytes()
    except pikepdf.PdfError:
        return b""  # what can't be unpacked draws nothing anywhere else either


def _upright(page: pikepdf.Page) -> Upright:
    left, bottom, right, top = _box(page)
    turn: Any = 0
    at: Object | None = page.obj
    for _ in range(20):  # inherited from the page tree
        if at is None or "/Rotate" in at:
            turn = at.get("/Rotate", 0) if at is not None else 0
            break
        at = at.get("/Parent")
    try:
        turn = round(int(turn) / 90) * 90 % 360
    except (TypeError, ValueError):
        turn = 0
    w, h = right - left, top - bottom
    return Upright(turn, (left, bottom), (h, w) if turn in (90, 270) else (w, h))


def _box(page: pikepdf.Page) -> Rect:
    for name in ("cropbox", "mediabox"):
        try:
            a, b, c, d = (float(n) for n in getattr(page, name))
        except (TypeError, ValueError, AttributeError, KeyError, pikepdf.PdfError):
            continue
        if 10 <= abs(c - a) <= 3_400 and 10 <= abs(d - b) <= 3_400:
            return min(a, c), min(b, d), max(a, c), max(b, d)
    return 0.0, 0.0, 612.0, 792.0


def acting(pdf: pikepdf.Pdf) -> Iterator[str]:
    """Yield what of the file acts, or comes along, beyond its pages."""
    yield from _beside_the_pages(pdf)
    seen: set[tuple[int, int]] = set()
    for key in ("/OpenAction", "/AA"):
        yield from _actions(pdf.Root.get(key), seen, 0)
    for obj in pdf.objects:
        if isinstance(obj, Dictionary):
            if "/Subtype" in obj and obj["/Subtype"] == Name.FileAttachment:
                yield "attached file"
            yield from _own_actions(obj, seen)
    for page in pdf.pages:
        annotations = page.obj.get("/Annots")
        for annotation in annotations if isinstance(annotations, Array) else []:
            if isinstance(annotation, Dictionary):
                yield from _own_actions(annotation, seen)


def _beside_the_pages(pdf: pikepdf.Pdf) -> Iterator[str]:
    """Yield what the file's root brings along."""
    root = pdf.Root
    if pdf.is_encrypted:
        yield "owner's lock"
    if isinstance(root.get("/AcroForm"), Dictionary) and "/XFA" in root.AcroForm:
        yield "XFA form"
    names = root.get("/Names")
    named = names if isinstance(names, Dictionary) else Dictionary()
    for within, key, what in (
        (named, "/JavaScript", "script"),
        (named, "/EmbeddedFiles", "attached file"),
        (root, "/AF", "attached file"),
        (root, "/Collection", "attached file"),
        (root, "/Perms", "signature"),
    ):
        if key in within:
            yield what


def _own_actions(obj: Object, seen: set[tuple[int, int]]) -> Iterator[str]:
    for key in ("/A", "/AA"):
        if key in obj:  # a tagged form has hundreds of things without: asking is a fifth of getting nothing
            yield from _actions(obj[key], seen, 0)


def _actions(raw: Object | None, seen: set[tuple[int, int]], depth: int) -> Iterator[str]:
    if not isinstance(raw, Dictionary) or depth > 5:
        return
    if raw.objgen != (0, 0):
        if raw.objgen in seen:
            return
        seen.add(raw.objgen)
    kind = raw.get("/S")
    if kind is not None and (what := _ACTS.get(str(kind))):
        yield what
    for key, inner in raw.items():
        if key != "/Parent" and isinstance(inner, Dictionary):
            yield from _actions(inner, seen, depth + 1)
