"""Fields written into a PDF, so that it can be filled in on by any reader.

Each field carries its own appearance, set as on paper, so that readers which don't draw fields
themselves show the values too.  Typing on in another program is left to the standard font.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Literal

import pikepdf
from pikepdf import Array, Dictionary, Name, String

from quillcore.pdf.fitting import Fit
from quillcore.pdf.typeface import Face

INK = "0.07 0.11 0.27 rg 0.07 0.11 0.27 RG"
_MULTILINE, _RADIO, _KEEP_ONE, _READ_ONLY = 1 << 12, 1 << 15, 1 << 14, 1


@dataclass(frozen=True)
class Interactive:
    """One place of a field.  ``page`` counts from 0 over the whole file; ``rect`` is left, bottom, right, top in points.

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


def cross(left: float, bottom: float, right: float, top: float) -> str:
    """The mark in a box, as drawing."""
    inset = (right - left) * 0.18
    a, b, c, d = left + inset, bottom + inset, right - inset, top - inset
    return f"1.4 w 1 J {a:.2f} {b:.2f} m {c:.2f} {d:.2f} l {a:.2f} {d:.2f} m {c:.2f} {b:.2f} l S"


def add_fields(out: pikepdf.Pdf, fields: Sequence[Interactive], face: Face, font: pikepdf.Object | None) -> None:
    """Write the fields into the file, in a tree by the dots in their names."""
    helvetica = out.make_indirect(Dictionary(Type=Name.Font, Subtype=Name.Type1, BaseFont=Name.Helvetica, Encoding=Name.WinAnsiEncoding))
    roots: list[pikepdf.Object] = []
    branches: dict[str, pikepdf.Object] = {}
    for name, places in _by_name(fields).items():
        above, _, own = name.rpartition(".")
        node = _field(out, own, places, face, font)
        if above:
            branch = _branch(out, above, branches, roots)
            node.Parent = branch
            branch.Kids.append(node)
        else:
            roots.append(node)
    out.Root.AcroForm = Dictionary(
        Fields=Array(roots), DR=Dictionary(Font=Dictionary(Helv=helvetica)), DA=String("/Helv 10 Tf 0 g"), NeedAppearances=False
    )


def _by_name(fields: Iterable[Interactive]) -> dict[str, list[Interactive]]:
    found: dict[str, list[Interactive]] = {}
    for f in fields:
        found.setdefault(f.name, []).append(f)
    return found


def _branch(out: pikepdf.Pdf, name: str, branches: dict[str, pikepdf.Object], roots: list[pikepdf.Object]) -> pikepdf.Object:
    if name not in branches:
        above, _, own = name.rpartition(".")
        node = branches[name] = out.make_indirect(Dictionary(T=String(own), Kids=Array()))
        if above:
            parent = _branch(out, above, branches, roots)
            node.Parent = parent
            parent.Kids.append(node)
        else:
            roots.append(node)
    return branches[name]


def _field(out: pikepdf.Pdf, own: str, places: list[Interactive], face: Face, font: pikepdf.Object | None) -> pikepdf.Object:
    first = places[0]
    flags = _READ_ONLY if first.read_only else 0
    entries = {"/T": String(own), **({"/TU": String(first.tooltip)} if first.tooltip else {})}
    if first.kind == "text":
        entries |= {"/FT": Name.Tx, "/V": String(first.value), "/DA": String(f"/Helv {first.size:g} Tf 0.07 0.11 0.27 rg")}
        flags |= _MULTILINE if first.lines > 1 else 0
    elif first.kind == "signature":
        entries["/FT"] = Name.Sig
    else:
        entries["/FT"] = Name.Btn
        chosen = next((p.option for p in places if p.on), None)
        entries["/V"] = Name("/" + chosen) if chosen else Name.Off
        flags |= _RADIO | _KEEP_ONE if first.kind == "one_of" else 0
    if flags:
        entries["/Ff"] = flags
    if len(places) == 1 and first.kind != "one_of":
        node = out.make_indirect(Dictionary({**entries, **_widget(out, first, face, font)}))
        _put(out, first.page, node)
        return node
    node = out.make_indirect(Dictionary({**entries, "/Kids": Array()}))
    for place in places:
        kid = out.make_indirect(Dictionary({**_widget(out, place, face, font), "/Parent": node}))
        node.Kids.append(kid)
        _put(out, place.page, kid)
    return node


def _put(out: pikepdf.Pdf, page: int, node: pikepdf.Object) -> None:
    at = out.pages[page].obj
    if "/Annots" not in at:
        at.Annots = Array()
    at.Annots.append(node)
    node.P = at


def _widget(out: pikepdf.Pdf, place: Interactive, face: Face, font: pikepdf.Object | None) -> dict[str, object]:
    left, bottom, right, top = place.rect
    entries: dict[str, object] = {"/Type": Name.Annot, "/Subtype": Name.Widget, "/Rect": Array([left, bottom, right, top]), "/F": 4}
    box = Array([0, 0, round(right - left, 2), round(top - bottom, 2)])
    if place.kind == "text":
        drawing = ["/Tx BMC q", INK, "BT"]
        for line in place.fit.lines if place.fit else ():
            assert place.fit is not None
            drawing.append(f"/GQ {place.fit.size:g} Tf 1 0 0 1 {line.x - left:.2f} {line.y - bottom:.2f} Tm <{face.shown(line.text)}> Tj")
        drawing += ["ET Q EMC"]
        entries["/AP"] = Dictionary(N=_drawn(out, "\n".join(drawing), box, font if place.fit else None))
    elif place.kind in ("check", "one_of"):
        on = _drawn(out, f"q {INK} {cross(0, 0, right - left, top - bottom)} Q", box, None)
        entries["/AP"] = Dictionary(N=Dictionary({f"/{place.option}": on, "/Off": _drawn(out, "", box, None)}))
        entries["/AS"] = Name("/" + place.option) if place.on else Name.Off
        entries["/MK"] = Dictionary(CA=String("8"))
    return entries


def _drawn(out: pikepdf.Pdf, content: str, box: pikepdf.Object, font: pikepdf.Object | None) -> pikepdf.Object:
    resources = Dictionary(Font=Dictionary(GQ=font)) if font is not None else Dictionary()
    return out.make_indirect(pikepdf.Stream(out, content.encode("ascii"), Type=Name.XObject, Subtype=Name.Form, BBox=box, Resources=resources))
