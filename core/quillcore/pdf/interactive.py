"""Fields written into a PDF, so that it can be filled in on by any reader.

Each field carries its own appearance, set as on paper, so that readers which don't draw fields
themselves show the values too.  Typing on in another program is left to the standard font.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property, lru_cache
from typing import Literal, NamedTuple

from quillcore.pdf.drawing import INK, cross, drawn
from quillcore.pdf.fitting import Fit
from quillcore.pdf.objects import Objects, string
from quillcore.pdf.typeface import Face
from quillcore.pdf.widgets import Rect

_MULTILINE, _RADIO, _KEEP_ONE, _READ_ONLY = 1 << 12, 1 << 15, 1 << 14, 1


FieldKind = Literal["text", "check", "one_of", "signature"]


@dataclass(frozen=True, eq=False)
class Widget:
    """A form's fixed data for one place of a field: ``own`` is the last part of its name, ``rect`` left,
    bottom, right, top in points. A check or one-of place stands for ``option``."""

    own: str
    kind: FieldKind
    rect: Rect
    tooltip: str = ""
    lines: int = 1
    size: float = 10.0
    option: str = "Yes"

    @cached_property
    def said(self) -> tuple[str, str]:
        """The field's own entries: as anybody may fill it in, and as nobody may."""
        return _what(self, 0), _what(self, _READ_ONLY)

    @cached_property
    def where(self) -> str:
        """The entries of a widget at its place, which is printed."""
        return f"/Type /Annot /Subtype /Widget /Rect [{_box(self.rect)}] /F 4"

    @cached_property
    def extent(self) -> tuple[float, float]:
        """Its width and height."""
        left, bottom, right, top = self.rect
        return round(right - left, 4), round(top - bottom, 4)


class Interactive(NamedTuple):
    """One place of a field as it stands.  ``page`` counts from 0 over the whole file; places of one name
    belong together.  A check or one-of place is ``on`` or not."""

    name: str
    widget: Widget
    page: int
    read_only: bool = False
    value: str = ""
    fit: Fit | None = None
    on: bool = False


@dataclass(frozen=True)
class Hung:
    """Fields that were put into a file: the widgets of each page, and what the file's root says of them."""

    on_pages: Mapping[int, Sequence[str]] = field(default_factory=dict)
    entry: str = ""


def add_fields(out: Objects, fields: Sequence[Interactive], face: Face, font: str) -> Hung:
    """Put fields into a file, in a tree by the dots in their names.  ``font`` refers to the face; "" where
    nothing is set."""
    return _Fields(out, face, font).hung(fields)


def _by_name(fields: Iterable[Interactive]) -> dict[str, list[Interactive]]:
    found: dict[str, list[Interactive]] = {}
    for f in fields:
        found.setdefault(f.name, []).append(f)
    return found


class _Fields:
    """Writes fields into a file in the making.

    Appearances that are alike are written once: a package has a thousand boxes of three sizes.
    """

    def __init__(self, out: Objects, face: Face, font: str) -> None:
        self.face, self.out, self.add = face, out, out.add
        self.annotations: dict[int, list[str]] = {}
        self.kids: dict[str, list[str]] = {"": []}
        self.branches: dict[str, str] = {}
        self.boxes: dict[tuple[float, float], tuple[str, str]] = {}
        self.font = f"/{face.resource} {font} " if font else ""
        self.bare = self.add("<< >>")
        self.with_font = self.add(f"<< /Font << {self.font}>> >>")

    def hung(self, fields: Sequence[Interactive]) -> Hung:
        """Return all of them put there."""
        for name, places in _by_name(fields).items():
            above = name.rpartition(".")[0]
            field = self.field(places, self.branch(above))
            self.kids[above].append(field)
        return Hung(self.annotations, f" /AcroForm {self.form()}")

    def branch(self, name: str) -> str:
        """Return what refers to the branch of that name; "" for the root.  What hangs on it is known at the
        end."""
        if name and name not in self.branches:
            above = name.rpartition(".")[0]
            self.branch(above)
            self.kids[name] = []
            self.branches[name] = self.add()
            self.kids[above].append(self.branches[name])
        return self.branches.get(name, "")

    def field(self, places: list[Interactive], parent: str) -> str:
        """Return one field, with its places."""
        first = places[0]
        what = first.widget.said[first.read_only]
        entries = f"{what}{_value(places)}{f' /Parent {parent}' if parent else ''}"
        if len(places) == 1 and first.widget.kind != "one_of":
            return self.place(first, entries)
        node = self.add()
        kids = [self.place(place, f"/Parent {node}") for place in places]
        self.out.put(node, f"<< {entries} /Kids [{' '.join(kids)}] >>")
        return node

    def place(self, place: Interactive, entries: str) -> str:
        """Return a widget of a field: where it stands, and how it looks."""
        node = self.add(f"<< {entries} {place.widget.where}{self.look(place)} >>")
        self.annotations.setdefault(place.page, []).append(node)
        return node

    def look(self, place: Interactive) -> str:
        """Return what a widget shows."""
        widget = place.widget
        if widget.kind == "signature":
            return ""
        if place.fit is not None:  # in the page's own points, as on paper
            content = f"/Tx BMC q\n{INK} BT\n{drawn(place.fit, self.face)}\nET Q EMC"
            return f" /AP << /N {self.add(_drawing(content, widget.rect, self.with_font))} >>"
        on, empty = self.of_size(widget.extent)
        if widget.kind == "text":
            return f" /AP << /N {empty} >>"
        state = widget.option if place.on else "Off"
        return f" /AP << /N << /{widget.option} {on} /Off {empty} >> >> /AS /{state} /MK << /CA (8) >>"

    def of_size(self, size: tuple[float, float]) -> tuple[str, str]:
        """Return a marked and an empty box; the same ones for the same size."""
        found = self.boxes.get(size)
        if found is None:
            box = (0.0, 0.0, *size)
            marked = _drawing(f"q {INK} {cross(*box)} Q", box, self.bare)
            found = self.boxes[size] = (self.add(marked), self.add(_drawing("", box, self.bare)))
        return found

    def form(self) -> str:
        """Return what hangs on what: the branches, and the fields of the file."""
        for name, node in self.branches.items():
            above, _, own = name.rpartition(".")
            parent = f" /Parent {self.branches[above]}" if above else ""
            self.out.put(node, f"<< /T {string(own)}{parent} /Kids [{' '.join(self.kids[name])}] >>")
        plain = self.add("<< /Type /Font /Subtype /Type1 /BaseFont /Helvetica /Encoding /WinAnsiEncoding >>")
        return self.add(
            f"<< /Fields [{' '.join(self.kids[''])}] /DR << /Font << /Helv {plain} {self.font}>> >>"
            " /DA (/Helv 10 Tf 0 g) /NeedAppearances false >>"
        )


def _drawing(content: str, box: Rect, resources: str) -> str:
    head = f"/Type /XObject /Subtype /Form /BBox [{_box(box)}] /Resources {resources}"
    return f"<< {head} /Length {len(content)} >>\nstream\n{content}\nendstream"


def _number(value: float) -> str:
    return f"{value:.4f}".rstrip("0").rstrip(".")


@lru_cache(maxsize=20_000)
def _box(rect: Rect) -> str:
    return " ".join(map(_number, rect))


def _what(widget: Widget, flags: int) -> str:
    """Return what a field is, whatever it holds: the same in every package with its form."""
    said = f"/T {string(widget.own)}" + (f" /TU {string(widget.tooltip)}" if widget.tooltip else "")
    if widget.kind == "text":
        style = string(f"/Helv {widget.size:g} Tf 0.07 0.11 0.27 rg")
        said += f" /FT /Tx /DA {style}"
        flags |= _MULTILINE if widget.lines > 1 else 0
    elif widget.kind == "signature":
        said += " /FT /Sig"
    else:
        said += " /FT /Btn"
        flags |= _RADIO | _KEEP_ONE if widget.kind == "one_of" else 0
    return said + (f" /Ff {flags}" if flags else "")


def _value(places: list[Interactive]) -> str:
    """Return what a field holds."""
    first = places[0]
    if first.widget.kind == "text":
        return f" /V {string(first.value)}"
    if first.widget.kind == "signature":
        return ""
    return f" /V /{next((p.widget.option for p in places if p.on), 'Off')}"
