"""Backgrounds and overlays made into one PDF.

The text font is embedded once for the whole file, and each page gets one content stream of its own
over the copied background: the pages' printed text is never touched.
"""

from __future__ import annotations

import zlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import lru_cache

from quillcore.pdf.background import Background, filled
from quillcore.pdf.drawing import INK, cross, drawn, face_of
from quillcore.pdf.fitting import Fit
from quillcore.pdf.interactive import Hung, Interactive, add_fields
from quillcore.pdf.objects import Objects, string
from quillcore.pdf.typeface import Face


@dataclass(frozen=True)
class Mark:
    """A mark in a box, drawn as a path: left, bottom, right, top in points."""

    box: tuple[float, float, float, float]


@dataclass
class Overlay:
    """The drawing over one page."""

    fits: list[Fit] = field(default_factory=list)
    marks: list[Mark] = field(default_factory=list)
    rules: list[tuple[float, float, float]] = field(default_factory=list)
    """Lines to write on: left, height, right in points."""
    outlines: list[str] = field(default_factory=list)
    """Outlines, each as operators that leave no trace behind."""

    def content(self, face: Face) -> bytes:
        """Return the page's content stream."""
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
class FilePart:
    """One document of the result: its background (None for ``blank_pages`` empty letter pages), an overlay
    for each page, the title of its bookmark ("" for none), and what its page labels begin with ("301, "; ""
    goes on counting).
    """

    background: Background | None
    overlays: Sequence[Overlay]
    title: str = ""
    label: str = ""


def combine(parts: Sequence[FilePart], title: str, fields: Sequence[Interactive] = ()) -> bytes:
    """Return one PDF of all parts in order, with a bookmark for each titled part, and page labels.  It is
    flat where no ``fields`` are given, and can be filled in on where they are.  The same input gives the
    same bytes."""
    fits = [f for part in parts for overlay in part.overlays for f in overlay.fits]
    fits += [f.fit for f in fields if f.fit]
    face = face_of(fits)
    out = Objects()
    font = embedded(out, face) if any(f.lines for f in fits) else ""
    root, info = out.add(), out.add(f"<< /Title {string(title)} /Producer (Good Quill) >>")
    hung = add_fields(out, fields, face, font) if fields else Hung()
    pages = _Pages(out, face, font, hung.on_pages)
    for part in parts:
        pages.add(part)
    out.put(root, f"<< /Type /Catalog {pages.entries()}{hung.entry} >>")
    return out.written(root, info)


class _Pages:
    """The pages of a file in the making, what is found in them, and what they are called."""

    def __init__(self, out: Objects, face: Face, font: str, widgets: Mapping[int, Sequence[str]]) -> None:
        self.out, self.face, self.widgets = out, face, widgets
        self.node = out.add()
        self.font = (f"/{face.resource}", f"/{face.resource} {font} ") if font else ("", "")
        self.blank = out.add(f"<< /Font << {self.font[1]}>> >>")
        self.before = out.stream(b"q\n")
        self.known: dict[int, list[bytes]] = {}
        self.all: list[str] = []
        self.marks: list[tuple[str, str]] = []
        self.labels: list[str] = []

    def add(self, part: FilePart) -> None:
        """Add the pages of a part, one after another."""
        first = len(self.all)
        if part.label or not self.labels:
            begins = f" /P {string(part.label)}" if part.label else ""
            self.labels.append(f"{first} << /S /D{begins} >>")
        if part.background is None:
            for overlay in part.overlays:
                self.page("/Type /Page /MediaBox [0 0 612 792] ", [], self.blank, overlay)
        else:
            self.copied(part.background, part.overlays)
        if part.title:
            self.marks.append((part.title, self.all[first]))

    def copied(self, background: Background, overlays: Sequence[Overlay]) -> None:
        """Copy the pages of a background; their content is in the file once, however often they come."""
        if id(background) not in self.known:
            self.known[id(background)] = background.put_into(self.out, *self.font)
        names = self.known[id(background)]
        for number, sheet in enumerate(background.sheets):
            own = filled(sheet.entries, names).decode("latin-1")
            contents = [names[n].decode() for n in sheet.contents]
            overlay = overlays[number] if number < len(overlays) else Overlay()
            self.page(own, contents, names[sheet.resources].decode(), overlay)

    def page(self, own: str, contents: Sequence[str], resources: str, overlay: Overlay) -> None:
        """Add a page. Its own content stands between q and Q: so what is laid over it has an upright
        coordinate system, whatever the page has left behind."""
        shown = list(contents)
        if not overlay.is_empty:
            over = _packed(b"Q\n" + overlay.content(self.face))
            shown = [self.before, *shown, self.out.stream(over, "/Filter /FlateDecode")]
        nodes = self.widgets.get(len(self.all))
        widgets = f" /Annots [{' '.join(nodes)}]" if nodes else ""
        said = f"<< {own}/Parent {self.node} /Resources {resources} /Contents [{' '.join(shown)}]{widgets} >>"
        self.all.append(self.out.add(said))

    def entries(self) -> str:
        """Return what the file's root says of them."""
        kids = " ".join(self.all)
        self.out.put(self.node, f"<< /Type /Pages /Count {len(self.all)} /Kids [{kids}] >>")
        labels = f"/PageLabels << /Nums [{' '.join(self.labels)}] >>"
        outline = f" /Outlines {self.outline()}" if self.marks else ""
        return f"/Pages {self.node} {labels}{outline}"

    def outline(self) -> str:
        """Return the bookmarks, each with the one before and after it."""
        root, *nodes = (self.out.add() for _ in range(len(self.marks) + 1))
        for (title, page), before, node, after in zip(
            self.marks, ["", *nodes], nodes, [*nodes[1:], ""], strict=False
        ):
            beside = (f" /Prev {before}" if before else "") + (f" /Next {after}" if after else "")
            self.out.put(node, f"<< /Title {string(title)} /Parent {root}{beside} /Dest [{page} /Fit] >>")
        self.out.put(root, f"<< /Type /Outlines /Count {len(nodes)} /First {nodes[0]} /Last {nodes[-1]} >>")
        return root


def embedded(out: Objects, face: Face) -> str:
    """Return the face put into a file; gives what refers to it."""
    program = out.stream(face.program, f"/Filter /FlateDecode /Length1 {face.length}")
    descriptor = out.add(
        f"<< /Type /FontDescriptor /FontName /{face.name} /Flags 32 /FontBBox [-400 -400 1400 1050]"
        f" /ItalicAngle 0 /Ascent 1024 /Descent -400 /CapHeight 660 /StemV 95 /FontFile2 {program} >>"
    )
    inner = out.add(
        f"<< /Type /Font /Subtype /CIDFontType2 /BaseFont /{face.name} /FontDescriptor {descriptor}"
        " /CIDToGIDMap /Identity /CIDSystemInfo << /Registry (Adobe) /Ordering (Identity) /Supplement 0 >>"
        f" /DW 500 /W {face.widths_array} >>"
    )
    letters = out.stream(face.to_unicode, "/Filter /FlateDecode")
    return out.add(
        f"<< /Type /Font /Subtype /Type0 /BaseFont /{face.name} /Encoding /Identity-H"
        f" /DescendantFonts [{inner}] /ToUnicode {letters} >>"
    )
