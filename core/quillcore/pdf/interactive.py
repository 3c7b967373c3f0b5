"""Fields written into a PDF, so that it can be filled in on by any reader.

Each field carries its own appearance, set as on paper, so that readers which don't draw fields
themselves show the values too.  Typing on in another program is left to the standard font.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal

import pikepdf
from pikepdf import Array, Dictionary, Name, String

from quillcore.pdf.fitting import Fit
from quillcore.pdf.typeface import Face

INK = "0.07 0.11 0.27 rg 0.07 0.11 0.27 RG"
_MULTILINE, _RADIO, _KEEP_ONE, _READ_ONLY = 1 << 12, 1 << 15, 1 << 14, 1


@dataclass(frozen=True)
class Interactive:
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


def add_fields(
    out: pikepdf.Pdf, fields: Sequence[Interactive], face: Face, font: pikepdf.Object | None
) -> None:
    """Write the fields into the file, in a tree by the dots in their names."""
    _Fields(out, face, font).write(fields)


def _by_name(fields: Iterable[Interactive]) -> dict[str, list[Interactive]]:
    found: dict[str, list[Interactive]] = {}
    for f in fields:
        found.setdefault(f.name, []).append(f)
    return found


@dataclass
class _Branch:
    """A node of the tree above fields; what hangs on it is put down once all of it is known."""

    node: pikepdf.Object
    kids: list[pikepdf.Object]


class _Fields:
    """Writes fields into one file.  Appearances that are alike are written once: a package has a thousand
    boxes of three sizes."""

    def __init__(self, out: pikepdf.Pdf, face: Face, font: pikepdf.Object | None) -> None:
        self.out, self.face = out, face
        self.bare = out.make_indirect(Dictionary())
        self.with_font = (
            out.make_indirect(Dictionary(Font=Dictionary(GQ=font))) if font is not None else self.bare
        )
        self.pages = [page.obj for page in out.pages]
        self.annotations: dict[int, list[pikepdf.Object]] = {}
        self.roots: list[pikepdf.Object] = []
        self.branches: dict[str, _Branch] = {}
        self.drawn: dict[tuple[str, float, float], pikepdf.Object] = {}

    def write(self, fields: Sequence[Interactive]) -> None:
        """All of them."""
        for name, places in _by_name(fields).items():
            above, _, own = name.rpartition(".")
            node = self.field(own, places)
            self.hang(node, above)
        for branch in self.branches.values():
            branch.node.Kids = Array(branch.kids)
        for number, nodes in self.annotations.items():
            page = self.pages[number]
            page.Annots = Array([*page.get("/Annots", ()), *nodes])
        plain = Dictionary(
            Type=Name.Font, Subtype=Name.Type1, BaseFont=Name.Helvetica, Encoding=Name.WinAnsiEncoding
        )
        self.out.Root.AcroForm = Dictionary(
            Fields=Array(self.roots),
            DR=Dictionary(Font=Dictionary(Helv=self.out.make_indirect(plain))),
            DA=String("/Helv 10 Tf 0 g"),
            NeedAppearances=False,
        )

    def hang(self, node: pikepdf.Object, above: str) -> None:
        """Hang a node below the branch of that name."""
        if not above:
            self.roots.append(node)
            return
        if above not in self.branches:
            higher, _, own = above.rpartition(".")
            self.branches[above] = _Branch(self.out.make_indirect(Dictionary(T=String(own))), [])
            self.hang(self.branches[above].node, higher)
        branch = self.branches[above]
        node.Parent = branch.node
        branch.kids.append(node)

    def field(self, own: str, places: list[Interactive]) -> pikepdf.Object:
        """One field, with its places."""
        first = places[0]
        entries = _entries(own, places)
        if len(places) == 1 and first.kind != "one_of":
            return self.put(first, entries | self.widget(first))
        node = self.out.make_indirect(Dictionary(entries))
        node.Kids = Array([self.put(place, {**self.widget(place), "/Parent": node}) for place in places])
        return node

    def put(self, place: Interactive, entries: dict[str, object]) -> pikepdf.Object:
        """A widget on its page."""
        node = self.out.make_indirect(Dictionary({**entries, "/P": self.pages[place.page]}))
        self.annotations.setdefault(place.page, []).append(node)
        return node

    def widget(self, place: Interactive) -> dict[str, object]:
        """Where a field stands, and how it looks."""
        left, bottom, right, top = place.rect
        entries: dict[str, object] = {
            "/Type": Name.Annot,
            "/Subtype": Name.Widget,
            "/Rect": Array([left, bottom, right, top]),
            "/F": 4,
        }
        size = round(right - left, 2), round(top - bottom, 2)
        if place.kind == "text":
            drawing = ["/Tx BMC q", INK, "BT"]
            for line in place.fit.lines if place.fit else ():
                assert place.fit is not None
                at = f"{line.x - left:.2f} {line.y - bottom:.2f}"
                drawing.append(f"/GQ {place.fit.size:g} Tf 1 0 0 1 {at} Tm <{self.face.shown(line.text)}> Tj")
            drawing += ["ET Q EMC"]
            entries["/AP"] = Dictionary(
                N=self.appearance("\n".join(drawing), size, self.with_font if place.fit else self.bare)
            )
        elif place.kind in ("check", "one_of"):
            on = self.appearance(f"q {INK} {cross(0, 0, *size)} Q", size, self.bare)
            entries["/AP"] = Dictionary(
                N=Dictionary({f"/{place.option}": on, "/Off": self.appearance("", size, self.bare)})
            )
            entries["/AS"] = Name("/" + place.option) if place.on else Name.Off
            entries["/MK"] = Dictionary(CA=String("8"))
        return entries

    def appearance(
        self, content: str, size: tuple[float, float], resources: pikepdf.Object
    ) -> pikepdf.Object:
        """A drawing of that size; the same one for the same."""
        name = (content, *size)
        if name not in self.drawn:
            box = Array([0, 0, *size])
            drawn = pikepdf.Stream(
                self.out,
                content.encode("ascii"),
                Type=Name.XObject,
                Subtype=Name.Form,
                BBox=box,
                Resources=resources,
            )
            self.drawn[name] = self.out.make_indirect(drawn)
        return self.drawn[name]


def _entries(own: str, places: list[Interactive]) -> dict[str, object]:
    """What a field is, whatever its places look like."""
    first = places[0]
    flags = _READ_ONLY if first.read_only else 0
    entries: dict[str, object] = {
        "/T": String(own),
        **({"/TU": String(first.tooltip)} if first.tooltip else {}),
    }
    if first.kind == "text":
        entries |= {
            "/FT": Name.Tx,
            "/V": String(first.value),
            "/DA": String(f"/Helv {first.size:g} Tf 0.07 0.11 0.27 rg"),
        }
        flags |= _MULTILINE if first.lines > 1 else 0
    elif first.kind == "signature":
        entries["/FT"] = Name.Sig
    else:
        chosen = next((p.option for p in places if p.on), None)
        entries |= {"/FT": Name.Btn, "/V": Name("/" + chosen) if chosen else Name.Off}
        flags |= _RADIO | _KEEP_ONE if first.kind == "one_of" else 0
    return entries | ({"/Ff": flags} if flags else {})
