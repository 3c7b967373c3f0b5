"""Fields written into a PDF, so that it can be filled in on by any reader.

Each field carries its own appearance, set as on paper, so that readers which don't draw fields
themselves show the values too.  Typing on in another program is left to the standard font.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from functools import lru_cache
from typing import Literal, NamedTuple

import pikepdf
from pikepdf import Dictionary, Name

from quillcore.pdf.drawing import INK, cross, drawn
from quillcore.pdf.fitting import Fit
from quillcore.pdf.typeface import Face
from quillcore.pdf.updating import Update
from quillcore.pdf.widgets import Rect

_MULTILINE, _RADIO, _KEEP_ONE, _READ_ONLY = 1 << 12, 1 << 15, 1 << 14, 1


FieldKind = Literal["text", "check", "one_of", "signature"]


class Interactive(NamedTuple):
    """One place of a field.  ``page`` counts from 0 over the whole file; ``rect`` is left, bottom, right, top
    in points.

    Places of one name belong together.  A check or one-of place stands for ``option`` and is ``on`` or not.
    """

    name: str
    kind: FieldKind
    page: int
    rect: Rect
    tooltip: str = ""
    read_only: bool = False
    value: str = ""
    fit: Fit | None = None
    lines: int = 1
    size: float = 10.0
    option: str = "Yes"
    on: bool = False


def begin_fields(out: pikepdf.Pdf, fields: Iterable[Interactive], font: pikepdf.Object | None) -> None:
    """Give a file what its fields will hang on: empty lists on the pages that have some, and the fonts."""
    plain = Dictionary(
        Type=Name.Font, Subtype=Name.Type1, BaseFont=Name.Helvetica, Encoding=Name.WinAnsiEncoding
    )
    fonts = Dictionary(Helv=out.make_indirect(plain))
    if font is not None:
        fonts.GQ = font
    out.Root.AcroForm = out.make_indirect(Dictionary(DR=Dictionary(Font=fonts)))
    for page in {field.page for field in fields}:  # a background has no widgets of its own
        out.pages[page].obj.Annots = out.make_indirect(pikepdf.Array())


def with_fields(content: bytes, fields: Sequence[Interactive], face: Face) -> bytes:
    """A file that was begun, with its fields in a tree by the dots in their names."""
    return _Fields(content, face).written(fields)


def _by_name(fields: Iterable[Interactive]) -> dict[str, list[Interactive]]:
    found: dict[str, list[Interactive]] = {}
    for f in fields:
        found.setdefault(f.name, []).append(f)
    return found


class _Fields:
    """Writes fields behind a file that was begun for them.

    Appearances that are alike are written once: a package has a thousand boxes of three sizes.
    """

    def __init__(self, content: bytes, face: Face) -> None:
        self.face = face
        self.update = Update(content)
        self.add = self.update.add
        self.annotations: dict[int, list[str]] = {}
        self.kids: dict[str, list[str]] = {"": []}
        self.branches: dict[str, str] = {}
        self.drawn: dict[str, str] = {}
        form = self.update.before.Root.AcroForm
        self.form = f"{form.objgen[0]} 0 R"
        self.fonts = {name: f"{font.objgen[0]} 0 R" for name, font in form.DR.Font.items()}
        self.bare = self.add("<< >>")
        font = self.fonts.get("/GQ")  # none where nothing is set
        self.with_font = self.add(f"<< /Font << /GQ {font} >> >>") if font else self.bare

    def written(self, fields: Sequence[Interactive]) -> bytes:
        """The file with all of them."""
        for name, places in _by_name(fields).items():
            above, _, own = name.rpartition(".")
            parent = self.branch(above)
            self.kids[above].append(self.field(own, places, parent))
        self.finish()
        return self.update.written()

    def branch(self, name: str) -> str:
        """What refers to the branch of that name; "" for the root.  What hangs on it is known at the end."""
        if name and name not in self.branches:
            above = name.rpartition(".")[0]
            self.branch(above)
            self.kids[name] = []
            self.branches[name] = self.add()
            self.kids[above].append(self.branches[name])
        return self.branches.get(name, "")

    def field(self, own: str, places: list[Interactive], parent: str) -> str:
        """One field, with its places."""
        first = places[0]
        what = _what(own, first.kind, first.tooltip, first.lines, first.size, first.read_only)
        entries = f"{what}{_value(places)}{f' /Parent {parent}' if parent else ''}"
        if len(places) == 1 and first.kind != "one_of":
            return self.place(first, entries)
        node = self.add()
        kids = [self.place(place, f"/Parent {node}") for place in places]
        self.update.put(node, f"<< {entries} /Kids [{' '.join(kids)}] >>")
        return node

    def place(self, place: Interactive, entries: str) -> str:
        """A widget of a field: where it stands, and how it looks."""
        node = self.add(f"<< {entries} {_where(place.rect)}{self.look(place)} >>")
        self.annotations.setdefault(place.page, []).append(node)
        return node

    def look(self, place: Interactive) -> str:
        """What a widget shows."""
        if place.kind == "signature":
            return ""
        if place.fit is not None:  # in the page's own points, as on paper
            content = f"/Tx BMC q\n{INK} BT\n{drawn(place.fit, self.face)}\nET Q EMC"
            return f" /AP << /N {self.drawing(content, place.rect, self.with_font)} >>"
        left, bottom, right, top = place.rect
        box = (0.0, 0.0, right - left, top - bottom)
        empty = self.drawing("", box, self.bare)
        if place.kind == "text":
            return f" /AP << /N {empty} >>"
        on = self.drawing(f"q {INK} {cross(*box)} Q", box, self.bare)
        state = place.option if place.on else "Off"
        return f" /AP << /N << /{place.option} {on} /Off {empty} >> >> /AS /{state} /MK << /CA (8) >>"

    def drawing(self, content: str, box: Rect, resources: str) -> str:
        """A drawing in a box; the same one for the same."""
        head = f"/Type /XObject /Subtype /Form /BBox [{_box(box)}] /Resources {resources}"
        body = f"<< {head} /Length {len(content)} >>\nstream\n{content}\nendstream"
        if body not in self.drawn:
            self.drawn[body] = self.add(body)
        return self.drawn[body]

    def finish(self) -> None:
        """What hangs on what: the branches, the fields of the file, the widgets of each page."""
        for name, node in self.branches.items():
            above, _, own = name.rpartition(".")
            parent = f" /Parent {self.branches[above]}" if above else ""
            self.update.put(node, f"<< /T {_string(own)}{parent} /Kids [{' '.join(self.kids[name])}] >>")
        fonts = " ".join(f"{name} {reference}" for name, reference in self.fonts.items())
        self.update.put(
            self.form,
            f"<< /Fields [{' '.join(self.kids[''])}] /DR << /Font << {fonts} >> >>"
            " /DA (/Helv 10 Tf 0 g) /NeedAppearances false >>",
        )
        pages = self.update.before.pages
        for page, nodes in self.annotations.items():
            self.update.put(f"{pages[page].obj.Annots.objgen[0]} 0 R", f"[{' '.join(nodes)}]")


def _number(value: float) -> str:
    return f"{value:.4f}".rstrip("0").rstrip(".")


@lru_cache(maxsize=20_000)
def _box(rect: Rect) -> str:
    return " ".join(map(_number, rect))


def _where(rect: Rect) -> str:
    """A widget at its place, which is printed."""
    return f"/Type /Annot /Subtype /Widget /Rect [{_box(rect)}] /F 4"


_ESCAPED = str.maketrans({letter: f"\\{letter}" for letter in "\\()"})


def _string(text: str) -> str:
    """A text as a file has it: as it is where every reader knows its letters, else as UTF-16."""
    if text.isascii() and text.isprintable():
        return f"({text.translate(_ESCAPED)})"
    return f"<FEFF{text.encode('utf-16-be').hex()}>"


@lru_cache(maxsize=20_000)
def _what(own: str, kind: str, tooltip: str, lines: int, size: float, read_only: bool) -> str:
    """What a field is, whatever it holds: the same in every package with its form."""
    flags = _READ_ONLY if read_only else 0
    said = f"/T {_string(own)}" + (f" /TU {_string(tooltip)}" if tooltip else "")
    if kind == "text":
        style = _string(f"/Helv {size:g} Tf 0.07 0.11 0.27 rg")
        said += f" /FT /Tx /DA {style}"
        flags |= _MULTILINE if lines > 1 else 0
    elif kind == "signature":
        said += " /FT /Sig"
    else:
        said += " /FT /Btn"
        flags |= _RADIO | _KEEP_ONE if kind == "one_of" else 0
    return said + (f" /Ff {flags}" if flags else "")


def _value(places: list[Interactive]) -> str:
    """What a field holds."""
    first = places[0]
    if first.kind == "text":
        return f" /V {_string(first.value)}"
    if first.kind == "signature":
        return ""
    return f" /V /{next((p.option for p in places if p.on), 'Off')}"
