"""Forms as others make them, drawn for the tests: nothing of them looks or is named like our own."""

from __future__ import annotations

import io
from collections.abc import Callable
from typing import Any

import pikepdf
from pikepdf import Array, Dictionary, Name, String
from reportlab.lib.pagesizes import letter
from reportlab.pdfgen import canvas

Row = tuple[str, str] | tuple[str, str, str]


def lined_form(rows: list[Row], tooltips: bool = False, title: str = "AGREEMENT TO PURCHASE") -> bytes:
    """A page of "label: ______" lines; a row is (printed label, field name[, expected])."""
    out = io.BytesIO()
    page = canvas.Canvas(out, pagesize=letter)
    page.setFont("Helvetica-Bold", 15)
    page.drawString(72, 752, title)
    page.setFont("Helvetica", 10)
    y = 720
    for label, name, *_ in rows:
        page.drawString(72, y, label)
        x = 72 + page.stringWidth(label, "Helvetica", 10) + 6
        page.acroForm.textfield(
            name=name, x=x, y=y - 4, width=200, height=16, borderWidth=0, tooltip=label if tooltips else ""
        )
        y -= 24
    page.save()
    return out.getvalue()


def captioned_form(rows: list[Row]) -> bytes:
    """Rules with a small caption under each, in two columns."""
    out = io.BytesIO()
    page = canvas.Canvas(out, pagesize=letter)
    for n, (label, name, *_) in enumerate(rows):
        x, y = (60, 330)[n % 2], 700 - 44 * (n // 2)
        page.acroForm.textfield(name=name, x=x, y=y, width=210, height=16, borderWidth=0)
        page.setFont("Helvetica", 7)
        page.drawString(x + 2, y - 9, label)
    page.save()
    return out.getvalue()


def mended(content: bytes, change: Callable[[pikepdf.Pdf], None]) -> bytes:
    """The same file after a change to its objects."""
    with pikepdf.open(io.BytesIO(content)) as pdf:
        change(pdf)
        out = io.BytesIO()
        pdf.save(out)
    return out.getvalue()


def widget(
    pdf: pikepdf.Pdf, page: int, rect: tuple[float, float, float, float], **entries: object
) -> pikepdf.Object:
    """A widget on a page (from 0), not yet in the field tree."""
    made = pdf.make_indirect(
        Dictionary(Type=Name.Annot, Subtype=Name.Widget, Rect=Array(list(rect)), **entries)
    )
    at = pdf.pages[page].obj
    if "/Annots" not in at:
        at.Annots = Array()
    at.Annots.append(made)
    return made


def blank_pdf(pages: int = 1) -> pikepdf.Pdf:
    """A new file of empty letter pages with an empty field tree."""
    pdf = pikepdf.new()
    for _ in range(pages):
        pdf.add_blank_page(page_size=(612, 792))
    pdf.Root.AcroForm = Dictionary(Fields=Array())
    return pdf


def saved(pdf: pikepdf.Pdf, **how: object) -> bytes:
    """Its bytes."""
    out = io.BytesIO()
    pdf.save(out, **how)
    return out.getvalue()


def field_zoo() -> bytes:
    """One of every sort of field: nine in all, on two pages."""
    pdf = blank_pdf(2)
    fields = pdf.Root.AcroForm.Fields

    def add(made: pikepdf.Object) -> None:
        fields.append(made)

    add(widget(pdf, 0, (72, 700, 272, 716), FT=Name.Tx, T=String("plain"), TU=String("Purchaser"), Ff=2))
    add(widget(pdf, 0, (72, 640, 272, 690), FT=Name.Tx, T=String("notes"), Ff=1 << 12))
    add(widget(pdf, 0, (72, 600, 172, 616), FT=Name.Tx, T=String("zip"), Ff=1 << 24, MaxLen=5))
    add(
        widget(
            pdf,
            0,
            (72, 570, 84, 582),
            FT=Name.Btn,
            T=String("agree"),
            AP=Dictionary(N=Dictionary(Agreed=Dictionary(), Off=Dictionary())),
        )
    )
    group = pdf.make_indirect(Dictionary(FT=Name.Btn, Ff=1 << 15, T=String("loan"), Kids=Array(), V=Name.FHA))
    for n, option in enumerate(("Cash", "FHA", "VA")):
        button = widget(
            pdf,
            0,
            (72 + 40 * n, 540, 84 + 40 * n, 552),
            AP=Dictionary(N=Dictionary({f"/{option}": Dictionary(), "/Off": Dictionary()})),
        )
        button.Parent = group
        group.Kids.append(button)
    add(group)
    add(
        widget(
            pdf,
            0,
            (72, 500, 172, 516),
            FT=Name.Ch,
            T=String("pick"),
            Ff=1 << 17,
            Opt=Array([Array([String("a"), String("Apple")]), String("b")]),
        )
    )
    add(widget(pdf, 1, (72, 700, 272, 730), FT=Name.Sig, T=String("sig")))
    nest = pdf.make_indirect(Dictionary(T=String("outer"), Kids=Array()))
    for n in ("1", "2"):
        inner = widget(pdf, 1, (72, 600 - 30 * int(n), 272, 616 - 30 * int(n)), FT=Name.Tx, T=String(n))
        inner.Parent = nest
        nest.Kids.append(inner)
    add(nest)
    add(
        widget(pdf, 1, (300, 700, 350, 720), FT=Name.Btn, T=String("send"), Ff=1 << 16)
    )  # a push button: no blank
    return saved(pdf)


def inked(content: bytes, places: list[dict[str, Any]]) -> bytes:
    """A scan of a paper on which somebody has signed these places by pen."""
    out = io.BytesIO()
    with pikepdf.open(io.BytesIO(content)) as pdf:
        for place in places:
            left, bottom, right, top = place["rect"]
            page = pdf.pages[place["page"] - 1]
            ink = b"q 0.1 0.1 0.5 RG 1.4 w "
            for n in range(6):
                x = left + 4 + n * min(14, (right - left - 8) / 6)
                ink += b"%f %f m %f %f l S " % (x, bottom + 2, x + 6, top - 2)
            page.contents_add(ink + b"Q")
        pdf.save(out)
    return out.getvalue()
