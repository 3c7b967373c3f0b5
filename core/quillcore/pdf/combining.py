"""Backgrounds and overlays made into one PDF.

The text font is embedded once for the whole file, and each page gets one content stream of its own
over the copied background: the pages' printed text is never touched.
"""

from __future__ import annotations

import zlib
from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import lru_cache

import pikepdf
from pikepdf import Array, Dictionary, Name

from quillcore.pdf.background import Background
from quillcore.pdf.drawing import INK, cross, drawn, face_of
from quillcore.pdf.fitting import Fit
from quillcore.pdf.in_memory import written
from quillcore.pdf.interactive import Interactive, begin_fields, with_fields
from quillcore.pdf.typeface import Face


@dataclass(frozen=True)
class Mark:
    """A mark in a box, drawn as a path: left, bottom, right, top in points."""

    box: tuple[float, float, float, float]


@dataclass
class Overlay:
    """What is laid over one page."""

    fits: list[Fit] = field(default_factory=list)
    marks: list[Mark] = field(default_factory=list)
    rules: list[tuple[float, float, float]] = field(default_factory=list)
    """Lines to write on: left, height, right in points."""
    outlines: list[str] = field(default_factory=list)
    """What is drawn otherwise, each as operators that leave no trace behind."""

    def content(self, face: Face) -> bytes:
        """The page's content stream."""
        out = [f"q {INK} BT", *(drawn(fitted, face) for fitted in self.fits), "ET"]
        for mark in self.marks:
            out.append(cross(*mark.box))
        out += [f"0.6 w {left:.2f} {at:.2f} m {right:.2f} {at:.2f} l S" for left, at, right in self.rules]
        out += self.outlines
        out.append("Q")
        return "\n".join(out).encode("ascii")

    @property
    def is_empty(self) -> bool:
        """Whether nothing is laid over the page."""
        return not (self.fits or self.marks or self.rules or self.outlines)


@lru_cache(
    maxsize=1_000
)  # some two megabytes; a page that says the same as in the last package is packed already
def _packed(content: bytes) -> bytes:
    return zlib.compress(content, 1)


@dataclass(frozen=True)
class Part:
    """One document of the result: its background (None for ``blank_pages`` empty letter pages), an overlay
    for each page, the title of its bookmark ("" for none), and what its page labels begin with ("301, "; ""
    goes on counting).
    """

    background: Background | None
    overlays: Sequence[Overlay]
    title: str = ""
    label: str = ""


def combine(parts: Sequence[Part], title: str, fields: Sequence[Interactive] = ()) -> bytes:
    """One PDF of all parts in order, with a bookmark for each titled part, and page labels.  It is flat where
    no ``fields`` are given, and can be filled in on where they are.  The same input gives the same bytes."""
    fits = [f for part in parts for overlay in part.overlays for f in overlay.fits]
    fits += [f.fit for f in fields if f.fit]
    face = face_of(fits)
    out = pikepdf.new()
    font = _embedded(out, face) if any(f.lines for f in fits) else None
    marks: list[tuple[str, pikepdf.Object]] = []
    save = out.make_stream(b"q\n")
    labels: list[object] = []
    for part in parts:
        first = len(out.pages)
        if part.label or not labels:
            labels += [
                first,
                Dictionary(S=Name.D, P=pikepdf.String(part.label)) if part.label else Dictionary(S=Name.D),
            ]
        if part.background is None:
            for _ in part.overlays:
                out.add_blank_page(page_size=(612, 792))
        else:
            out.pages.extend(part.background.pdf.pages)
        if part.title:
            marks.append((part.title, Array([out.pages[first].obj, Name.Fit])))
        for number, overlay in enumerate(part.overlays, first):
            if not overlay.is_empty:
                _lay(out, out.pages[number].obj, overlay.content(face), save, font)
    with out.open_outline() as outline:
        outline.root.extend(pikepdf.OutlineItem(name, where) for name, where in marks)
    out.Root.PageLabels = Dictionary(Nums=Array(labels))
    if fields:
        begin_fields(out, fields, font)
    out.docinfo["/Title"] = title
    out.docinfo["/Producer"] = "Good Quill"
    # Nothing is unpacked on the way: streams leave as they came.
    made = written(out, stream_decode_level=pikepdf.StreamDecodeLevel.none)
    return with_fields(made, fields, face) if fields else made


def _lay(
    out: pikepdf.Pdf, page: pikepdf.Object, content: bytes, save: pikepdf.Object, font: pikepdf.Object | None
) -> None:
    """Lay a content over a page's own, which stands between q (``save``, shared by all pages) and Q: so what
    is laid over it has an upright coordinate system, whatever the page has left behind."""
    stream = pikepdf.Stream(out, _packed(b"Q\n" + content), Filter=Name.FlateDecode)
    under = page.get("/Contents")
    parts = under if isinstance(under, Array) else [under] if under is not None else []
    page.Contents = Array([save, *(part for part in parts if isinstance(part, pikepdf.Stream)), stream])
    if font is None:
        return
    resources = page.Resources
    if "/Font" not in resources:
        resources.Font = Dictionary()
    resources.Font.GQ = font


def _embedded(out: pikepdf.Pdf, face: Face) -> pikepdf.Object:
    program = pikepdf.Stream(out, face.program, Filter=Name.FlateDecode, Length1=face.length)
    name = Name("/" + face.name)
    descriptor = out.make_indirect(
        Dictionary(
            Type=Name.FontDescriptor,
            FontName=name,
            Flags=32,
            FontBBox=[-400, -400, 1400, 1050],
            ItalicAngle=0,
            Ascent=1024,
            Descent=-400,
            CapHeight=660,
            StemV=95,
            FontFile2=program,
        )
    )
    inner = out.make_indirect(
        Dictionary(
            Type=Name.Font,
            Subtype=Name.CIDFontType2,
            BaseFont=name,
            FontDescriptor=descriptor,
            CIDToGIDMap=Name.Identity,
            CIDSystemInfo=Dictionary(
                Registry=pikepdf.String("Adobe"), Ordering=pikepdf.String("Identity"), Supplement=0
            ),
            DW=500,
            W=pikepdf.Object.parse(face.widths_array),
        )
    )
    return out.make_indirect(
        Dictionary(
            Type=Name.Font,
            Subtype=Name.Type0,
            BaseFont=name,
            Encoding=Name("/Identity-H"),
            DescendantFonts=Array([inner]),
            ToUnicode=pikepdf.Stream(out, face.to_unicode, Filter=Name.FlateDecode),
        )
    )
