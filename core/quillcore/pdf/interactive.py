"""Fields written into a PDF, so that it can be filled in on by any reader.

Each field carries its own appearance, set as on paper, so that readers which don't draw fields
themselves show the values too.  Typing on in another program is left to the standard font.
"""

from __future__ import annotations

import io
from collections.abc import Iterable, Sequence
from functools import lru_cache
from typing import Literal, NamedTuple

import pikepdf
from pikepdf import Dictionary, Name, String

from quillcore.pdf.fitting import Fit
from quillcore.pdf.typeface import Face

INK = "0.07 0.11 0.27 rg 0.07 0.11 0.27 RG"
_MULTILINE, _RADIO, _KEEP_ONE, _READ_ONLY = 1 << 12, 1 << 15, 1 << 14, 1


class Interactive(NamedTuple):
    """One place of a field.  ``page`` counts from 0 over the whole file; ``rect`` is left, bottom, right, top
    in points.

    Places of one name belong together.  A check or one-of place stands for ``option`` and is ``on`` or not.
    """

    name: str
    kind: Literal["text", "check", "one_of", "signature"]
    page: int
    rect: tuple[float, float, float, float]
    value: str = ""
    fit: Fit | None = None
    lines: int = 1
    size: float = 10.0
    option: str = "Yes"
    on: bool = False
    tooltip: str = ""
    read_only: bool = False


@lru_cache(maxsize=8_000)
def cross(left: float, bottom: float, right: float, top: float) -> str:
    """The mark in a box, as drawing."""
    inset = (right - left) * 0.18
    a, b, c, d = left + inset, bottom + inset, right - inset, top - inset
    return f"1.4 w 1 J {a:.2f} {b:.2f} m {c:.2f} {d:.2f} l {a:.2f} {d:.2f} m {c:.2f} {b:.2f} l S"


def file_with(fields: Sequence[Interactive], pages: int, face: Face) -> pikepdf.Pdf:
    """A file without pages that has the fields of ``pages`` pages to come, in a tree by the dots in their
    names."""
    return _Fields(face, pages).written(fields)


def attach_fields(out: pikepdf.Pdf, font: pikepdf.Object | None) -> None:
    """Put the fields that a file began with on its pages, now that they are there."""
    taken = out.Root.Taken
    if font is not None:
        taken.WithFont.Font.GQ = font
    for page, nodes in zip(out.pages, taken.Annotations, strict=True):
        if len(nodes):  # a background has none of its own; which page a widget is on, that page says
            page.obj.Annots = nodes
    plain = Dictionary(
        Type=Name.Font, Subtype=Name.Type1, BaseFont=Name.Helvetica, Encoding=Name.WinAnsiEncoding
    )
    out.Root.AcroForm = Dictionary(
        Fields=taken.Fields,
        DR=Dictionary(Font=Dictionary(Helv=out.make_indirect(plain))),
        DA=String("/Helv 10 Tf 0 g"),
        NeedAppearances=False,
    )
    del out.Root.Taken


def _by_name(fields: Iterable[Interactive]) -> dict[str, list[Interactive]]:
    found: dict[str, list[Interactive]] = {}
    for f in fields:
        found.setdefault(f.name, []).append(f)
    return found


class _Fields:
    """Writes a file that has nothing but fields.

    A package has thousands of them, and an object made from Python costs more than one that is read: so they
    are written as text, and the file that is opened from it gets the pages.  Appearances that are alike are
    written once: a package has a thousand boxes of three sizes.
    """

    def __init__(self, face: Face, pages: int) -> None:
        self.face = face
        self.objects: list[str] = []
        self.annotations: list[list[str]] = [[] for _ in range(pages)]
        self.roots: list[str] = []
        self.kids: dict[str, list[str]] = {}
        self.branches: dict[str, str] = {}
        self.drawn: dict[tuple[str, str], str] = {}
        self.bare = self.add("<< >>")
        self.with_font = self.add("<< /Font << >> >>")

    def written(self, fields: Sequence[Interactive]) -> pikepdf.Pdf:
        """The file with all of them."""
        for name, places in _by_name(fields).items():
            above, _, own = name.rpartition(".")
            parent = self.branch(above)
            self.hang(self.field(own, places, parent), above)
        return self.opened()

    def add(self, body: str) -> str:
        """One more object; gives what refers to it."""
        self.objects.append(body)
        return f"{len(self.objects)} 0 R"

    def hang(self, node: str, above: str) -> None:
        """Hang a node below the branch of that name."""
        (self.kids[above] if above else self.roots).append(node)

    def branch(self, name: str) -> str:
        """What refers to the branch of that name; "" for the root.  What hangs on it is known at the end."""
        if name and name not in self.branches:
            higher, _, own = name.rpartition(".")
            parent = self.branch(higher)
            said = f" /Parent {parent}" if parent else ""
            self.branches[name] = self.add(f"<< /T {_string(own)}{said} /Kids [{{{name}}}] >>")
            self.kids[name] = []
            self.hang(self.branches[name], higher)
        return self.branches.get(name, "")

    def field(self, own: str, places: list[Interactive], parent: str) -> str:
        """One field, with its places."""
        first = places[0]
        entries = _entries(own, places) + (f" /Parent {parent}" if parent else "")
        if len(places) == 1 and first.kind != "one_of":
            return self.place(first, entries)
        node = f"{len(self.objects) + 1} 0 R"
        self.objects.append("")
        kids = [self.place(place, f"/Parent {node}") for place in places]
        self.objects[int(node.split(" ")[0]) - 1] = f"<< {entries} /Kids [{' '.join(kids)}] >>"
        return node

    def place(self, place: Interactive, entries: str) -> str:
        """A widget of a field."""
        node = self.add(f"<< {entries} {self.widget(place)} >>")
        self.annotations[place.page].append(node)
        return node

    def widget(self, place: Interactive) -> str:
        """Where a field stands, and how it looks."""
        left, bottom, right, top = place.rect
        rect = " ".join(map(_number, place.rect))
        said = f"/Type /Annot /Subtype /Widget /Rect [{rect}] /F 4"
        width, height = round(right - left, 2), round(top - bottom, 2)
        size = f"{_number(width)} {_number(height)}"
        if place.kind == "text":
            drawing = ["/Tx BMC q", INK, "BT"]
            for line in place.fit.lines if place.fit else ():
                assert place.fit is not None
                at = f"{line.x - left:.2f} {line.y - bottom:.2f}"
                drawing.append(f"/GQ {place.fit.size:g} Tf 1 0 0 1 {at} Tm <{self.face.shown(line.text)}> Tj")
            drawing += ["ET Q EMC"]
            fonts = self.with_font if place.fit else self.bare
            return f"{said} /AP << /N {self.appearance(chr(10).join(drawing), size, fonts)} >>"
        if place.kind in ("check", "one_of"):
            on = self.appearance(f"q {INK} {cross(0, 0, width, height)} Q", size, self.bare)
            off = self.appearance("", size, self.bare)
            state = place.option if place.on else "Off"
            looks = f"<< /{place.option} {on} /Off {off} >>"
            return f"{said} /AP << /N {looks} >> /AS /{state} /MK << /CA (8) >>"
        return said

    def appearance(self, content: str, size: str, resources: str) -> str:
        """A drawing of that size; the same one for the same."""
        name = (content, size)
        if name not in self.drawn:
            head = f"/Type /XObject /Subtype /Form /BBox [0 0 {size}] /Resources {resources}"
            self.drawn[name] = self.add(f"<< {head} /Length {len(content)} >>\nstream\n{content}\nendstream")
        return self.drawn[name]

    def opened(self) -> pikepdf.Pdf:
        """The file, opened."""
        for name, reference in self.branches.items():
            at = int(reference.split(" ")[0]) - 1
            self.objects[at] = self.objects[at].replace(f"{{{name}}}", " ".join(self.kids[name]))
        annotations = " ".join(f"[{' '.join(nodes)}]" for nodes in self.annotations)
        fields = f"/Fields [{' '.join(self.roots)}]"
        taken = self.add(f"<< /WithFont {self.with_font} {fields} /Annotations [{annotations}] >>")
        pages = self.add("<< /Type /Pages /Kids [] /Count 0 >>")
        root = self.add(f"<< /Type /Catalog /Pages {pages} /Taken {taken} >>")
        out, offsets = bytearray(b"%PDF-1.7\n"), []
        for number, body in enumerate(self.objects, 1):
            offsets.append(len(out))
            out += f"{number} 0 obj\n{body}\nendobj\n".encode("ascii")
        start, size = len(out), len(offsets) + 1
        rows = "".join(f"{offset:010d} 00000 n \n" for offset in offsets)
        out += f"xref\n0 {size}\n0000000000 65535 f \n{rows}".encode("ascii")
        out += f"trailer\n<< /Size {size} /Root {root} >>\nstartxref\n{start}\n%%EOF\n".encode("ascii")
        return pikepdf.open(io.BytesIO(bytes(out)))


@lru_cache(maxsize=20_000)
def _number(value: float) -> str:
    return f"{value:.4f}".rstrip("0").rstrip(".")


_ESCAPED = str.maketrans({letter: f"\\{letter}" for letter in "\\()"})


def _string(text: str) -> str:
    """A text as a file has it: as it is where every reader knows its letters, else as UTF-16."""
    if text.isascii() and text.isprintable():
        return f"({text.translate(_ESCAPED)})"
    return f"<FEFF{text.encode('utf-16-be').hex()}>"


def _entries(own: str, places: list[Interactive]) -> str:
    """What a field is, whatever its places look like."""
    first = places[0]
    flags = _READ_ONLY if first.read_only else 0
    said = f"/T {_string(own)}" + (f" /TU {_string(first.tooltip)}" if first.tooltip else "")
    if first.kind == "text":
        style = _string(f"/Helv {first.size:g} Tf 0.07 0.11 0.27 rg")
        said += f" /FT /Tx /V {_string(first.value)} /DA {style}"
        flags |= _MULTILINE if first.lines > 1 else 0
    elif first.kind == "signature":
        said += " /FT /Sig"
    else:
        chosen = next((p.option for p in places if p.on), None)
        said += f" /FT /Btn /V /{chosen or 'Off'}"
        flags |= _RADIO | _KEEP_ONE if first.kind == "one_of" else 0
    return said + (f" /Ff {flags}" if flags else "")
