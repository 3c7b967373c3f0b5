"""What they changed in a paper that came back: by its words and by its picture."""

from __future__ import annotations

import io
from collections.abc import Callable
from decimal import Decimal
from functools import cache
from typing import Any

import pikepdf
import pytest
from PIL import Image
from quillcore.assembly import assemble
from quillcore.papers.overlaid import pairs_of
from quillcore.papers.returned import Compared, InkPlace, compare_returned
from quillcore.pdf.renderer import picture, printed_words
from quillcore.values import Fault
from reportlab.pdfgen import canvas

from tests.core.small import OFFER, demo_pack, package

PAGES = 4
SAID: dict[str, Any] = OFFER | {"property.category": "townhouse", "terms.inspection_days": Decimal(10)}


@cache
def sent(**otherwise: Any) -> bytes:
    """The first pages of the purchase agreement as it is sent."""
    said = SAID | {key.replace("__", "."): value for key, value in otherwise.items()}
    with pikepdf.open(io.BytesIO(assemble(package(demo_pack().forms["301"], said=said), "Offer").pdf)) as pdf:
        del pdf.pages[PAGES:]
        out = io.BytesIO()
        pdf.save(out)
    return out.getvalue()


def spots() -> list[InkPlace]:
    edition = demo_pack().forms["301"].edition
    return [InkPlace(f.id, f.page, f.shape, f.rect) for f in edition.fields if f.page <= PAGES]


def compared(theirs: bytes) -> Compared:
    found = compare_returned(sent(), theirs, spots())
    assert isinstance(found, Compared), found
    return found


def drawn_on(content: bytes, page: int, draw: Callable[[canvas.Canvas], None]) -> bytes:
    """The same with something drawn over a page."""
    over = io.BytesIO()
    sheet = canvas.Canvas(over, pagesize=(612, 792))
    draw(sheet)
    sheet.save()
    with pikepdf.open(io.BytesIO(content)) as pdf, pikepdf.open(io.BytesIO(over.getvalue())) as ink:
        pdf.pages[page - 1].add_overlay(ink.pages[0])
        out = io.BytesIO()
        pdf.save(out)
    return out.getvalue()


def scrawl(sheet: canvas.Canvas, rect: tuple[float, float, float, float]) -> None:
    """A signature."""
    left, bottom, right, top = rect
    sheet.setLineWidth(1.4)
    path = sheet.beginPath()
    path.moveTo(left + 4, bottom + 3)
    wide, high = (right - left) / 6, top - bottom
    for n in range(5):
        x = left + 4 + n * wide
        path.curveTo(x + 4, bottom + high, x + wide / 2, bottom + high, x + wide, bottom + 3)
    sheet.drawPath(path)


def rect_of(name: str) -> tuple[float, float, float, float]:
    return demo_pack().forms["301"].edition.by_id[name].rect


def scanned(content: bytes, pages: int, turn: float = 0.7, size: float = 0.97) -> bytes:
    """Printed, and scanned a little askew and smaller."""
    sheets = []
    for page in range(1, pages + 1):
        with Image.open(io.BytesIO(picture(content, page, 150))) as image:
            grey = image.convert("L")
            wide, high = grey.size
            smaller = grey.resize((round(wide * size), round(high * size)))
            sheet = Image.new("L", (wide, high), 255)
            sheet.paste(smaller, (18, 25))
            sheets.append(sheet.rotate(turn, fillcolor=255, resample=Image.Resampling.BICUBIC))
    out = io.BytesIO()
    sheets[0].save(out, "PDF", save_all=True, append_images=sheets[1:], resolution=150)
    return out.getvalue()


def test_what_comes_back_as_it_went_has_no_difference_and_no_signature() -> None:
    found = compared(sent())
    assert found.differences == () and found.signed == ()
    assert "initials-buyer.1@1" in found.unsigned


def test_blanks_that_say_something_else_are_told_each_with_both() -> None:
    found = compared(sent(terms__purchase_price=Decimal(405_000), terms__inspection_days=Decimal(7)))
    said = {d.spot: (d.was, d.now) for d in found.differences if d.kind == "blank"}
    assert said["price"] == ("412,500.00", "405,000.00")
    assert said["inspection-days"] == ("10", "7")
    assert {d.kind for d in found.differences} == {"blank"}, "and nothing else is"


def test_a_box_marked_otherwise_is_told() -> None:
    found = compared(sent(property__category="single-family"))
    assert {(d.spot, d.was, d.now) for d in found.differences} == {
        ("cat-single", "", "marked"),
        ("cat-town", "marked", ""),
    }


def test_signatures_are_seen_and_are_no_change() -> None:
    name = "initials-buyer.1@2"
    page = demo_pack().forms["301"].edition.by_id[name].page
    found = compared(drawn_on(sent(), page, lambda sheet: scrawl(sheet, rect_of(name))))
    assert found.signed == (name,) and found.differences == ()


def test_what_is_struck_and_written_by_hand_is_told_where_it_is() -> None:
    def draw(sheet: canvas.Canvas) -> None:
        sheet.setLineWidth(1.2)
        sheet.line(90, 406, 400, 407)

    found = compared(drawn_on(sent(), 3, draw))
    (only,) = found.differences
    assert (only.kind, only.page) == ("drawn", 3)
    assert only.rect is not None and only.rect[0] < 130 and only.rect[2] > 370
    assert only.rect[1] - 2 < 406 < only.rect[3] + 2


def test_printed_words_added_are_told() -> None:
    def draw(sheet: canvas.Canvas) -> None:
        sheet.setFont("Helvetica", 9)
        sheet.drawString(72, 757, "Seller keeps the chandelier")

    found = compared(drawn_on(sent(), 2, draw))
    assert [(d.kind, d.page, d.was, d.now) for d in found.differences] == [
        ("words", 2, "", "Seller keeps the chandelier")
    ]


def test_pages_missing_and_new_are_told() -> None:
    with pikepdf.open(io.BytesIO(sent())) as pdf:
        del pdf.pages[2]
        pdf.add_blank_page(page_size=(612, 792))
        out = io.BytesIO()
        pdf.save(out)
    found = compared(
        drawn_on(
            out.getvalue(),
            PAGES,
            lambda s: s.drawString(
                72, 700, "Our own rider, in one line of text that is long enough to be read as words"
            ),
        )
    )
    kinds = {(d.kind, d.page, d.their_page) for d in found.differences}
    assert kinds == {("missing page", 3, 0), ("new page", 0, 4)}


def test_printed_smaller_it_is_the_same_paper() -> None:
    with pikepdf.open(io.BytesIO(sent(terms__purchase_price=Decimal(405_000)))) as pdf:
        for page in pdf.pages:
            page.contents_add(pikepdf.Stream(pdf, b"q 0.94 0 0 0.94 18 22 cm"), prepend=True)
            page.contents_add(pikepdf.Stream(pdf, b"Q"))
        out = io.BytesIO()
        pdf.save(out)
    found = compared(out.getvalue())
    assert {d.kind for d in found.differences} == {"blank"}
    assert next(d.now for d in found.differences if d.spot == "price") == "405,000.00"


def test_a_scan_is_compared_by_what_is_seen_on_it() -> None:
    name = "initials-seller.1@4"
    page = demo_pack().forms["301"].edition.by_id[name].page
    signed = drawn_on(sent(), page, lambda sheet: scrawl(sheet, rect_of(name)))
    found = compared(scanned(signed, PAGES))
    assert found.signed == (name,)
    assert found.differences == (), "a scan alone is no change"

    def strike(sheet: canvas.Canvas) -> None:
        sheet.setLineWidth(1.5)
        sheet.line(90, 406, 400, 407)

    found = compared(scanned(drawn_on(sent(), 3, strike), PAGES))
    assert [(d.kind, d.page) for d in found.differences] == [("drawn", 3)]


@pytest.mark.parametrize("content", [b"", b"%PDF-1.7\nnonsense", b"\x00" * 5000])
def test_what_is_no_paper_is_a_fault_and_no_crash(content: bytes) -> None:
    assert isinstance(compare_returned(sent(), content, spots()), Fault)


def test_pages_of_one_form_are_not_taken_for_each_other() -> None:
    words = printed_words(sent())
    turned = [words[n] for n in (2, 0, 1, 3)]
    assert pairs_of(words, turned) == [(1, 2), (2, 3), (3, 1), (4, 4)]
