"""Papers that come: told apart, read where a known form has its blanks, arranged and straightened."""

from __future__ import annotations

import io
from functools import cache

import cv2
import numpy as np
import pikepdf
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image, ImageDraw
from quillcore.assembly import assemble
from quillcore.assembly.answers import Filled, read_answers
from quillcore.facts.keys import Side
from quillcore.forms import Form
from quillcore.forms.printed import printed_on
from quillcore.papers.incoming import (
    IncomingFile,
    Known,
    PlacedPages,
    Stretch,
    arranged,
    is_picture,
    read_incoming,
    runs_of,
    stretches,
)
from quillcore.papers.photographed import _MOST_PIXELS
from quillcore.pdf.renderer import picture, plain_text
from quillcore.values import Fault

from tests.core.foreign import lined_form
from tests.core.small import OFFER, every_form, package


@cache
def known() -> tuple[Known, ...]:
    return tuple(
        Known(number, form.edition.pages, runs_of(words_of(form))) for number, form in every_form().items()
    )


def words_of(form: Form) -> str:
    heights = tuple(form.edition.size(n)[1] for n in range(1, form.edition.pages + 1))
    return printed_on(form.pdf, heights).words


def filled(*numbers: str) -> bytes:
    return assemble(package(*(every_form()[n] for n in numbers), said=OFFER), "x").pdf


def read(content: bytes) -> IncomingFile:
    found = read_incoming(content)
    assert isinstance(found, IncomingFile), found
    return found


def pages_said(*said: str) -> bytes:
    """A PDF whose pages say that."""
    out = pikepdf.new()
    for text in said:
        with pikepdf.open(io.BytesIO(lined_form([(text, "a")]))) as one:
            out.pages.extend(one.pages)
    buffer = io.BytesIO()
    out.save(buffer)
    return buffer.getvalue()


def test_every_form_is_known_by_its_pages() -> None:
    every, ends = pikepdf.new(), []
    for form in every_form().values():
        every.pages.extend(pikepdf.open(io.BytesIO(form.pdf)).pages)
        ends.append(len(every.pages))
    out = io.BytesIO()
    every.save(out)
    texts = read(out.getvalue()).texts
    for (number, form), last in zip(every_form().items(), ends, strict=True):
        first = last - form.edition.pages
        found = stretches(texts[first:last], known())
        assert found == [Stretch(1, form.edition.pages, number)], number


def test_a_file_is_parted_where_forms_begin_and_what_is_none_stays_together() -> None:
    both = pikepdf.open(io.BytesIO(filled("503", "301", "503")))
    letter = pikepdf.open(io.BytesIO(pages_said("A letter by the bank", "and its second page")))
    both.pages.extend(letter.pages)
    out = io.BytesIO()
    both.save(out)
    assert stretches(read(out.getvalue()).texts, known()) == [
        Stretch(1, 2, "503"),
        Stretch(3, 10, "301"),
        Stretch(11, 12, "503"),
        Stretch(13, 14),
    ]


def test_a_form_that_lacks_a_page_is_none() -> None:
    with pikepdf.open(io.BytesIO(filled("301"))) as pdf:
        del pdf.pages[3]
        out = io.BytesIO()
        pdf.save(out)
    assert [s.form for s in stretches(read(out.getvalue()).texts, known())] == [""]


def test_of_two_editions_that_one_is_meant_that_the_paper_names() -> None:
    runs = runs_of("this agreement is made between the buyer and the seller named below on that day")
    text = "This agreement is made between the buyer and the seller named below on that day. May 1, 2025"
    editions = [Known("old", 1, runs, "May 1, 2025"), Known("new", 1, runs, "May 1, 2026")]
    assert stretches([text], editions) == [Stretch(1, 1, "old")]
    assert stretches([text], reversed(editions)) == [Stretch(1, 1, "old")]


@given(st.lists(st.sampled_from(["", "a few words", words_of(every_form()["510"])[:900]]), max_size=9))
def test_each_page_is_in_one_stretch(texts: list[str]) -> None:
    found = stretches(texts, known())
    assert [n for s in found for n in range(s.first, s.last + 1)] == list(range(1, len(texts) + 1))


@pytest.mark.parametrize("number", ["301", "401", "503", "601"])
def test_what_is_filled_in_is_read_where_the_form_has_its_blanks(number: str) -> None:
    form = every_form()[number]
    made = package(form, said=OFFER)
    found = read_answers(read(assemble(made, "x").pdf).clean, 1, form, Side.BUYING)
    assert isinstance(found, Filled)
    there = {b.label: b.text for b in made.blanks() if b.field.shape == "text" and b.fit and b.fit.lines}
    said = {a.label: " ".join(a.text.split()) for a in found.answers}
    missed = {label for label, text in there.items() if said.get(label) != " ".join(text.split())}
    assert not missed, missed
    marked = {b.label for b in made.blanks() if b.marked}
    assert said.keys() == there.keys() | marked, "nothing that isn't there"
    assert not set(found.open) & said.keys()


def test_a_blank_form_has_no_answers() -> None:
    form = every_form()["301"]
    found = read_answers(read(form.pdf).clean, 1, form, Side.LISTING)
    assert isinstance(found, Filled) and found.answers == () and len(found.open) > 30


def test_pages_are_put_together_turned_as_asked() -> None:
    files = {"a": read(pages_said("First", "Second")).clean, "b": read(pages_said("Third")).clean}
    made = arranged(files, [PlacedPages("b", 1, 90), PlacedPages("a", 2), PlacedPages("a", 1, 180)])
    assert not isinstance(made, Fault)
    content, sizes = made
    assert sizes == [(792.0, 612.0), (612.0, 792.0), (612.0, 792.0)]
    text = plain_text(content)
    assert text.index("Third") < text.index("Second") < text.index("First")
    again = arranged({"c": content}, [PlacedPages("c", 1, 270)])
    assert not isinstance(again, Fault)
    assert picture(again[0], 1, 48) == picture(files["b"], 1, 48), "turned back it is as it was"


def test_a_page_that_comes_again_is_turned_by_its_own_turn() -> None:
    files = {"a": read(pages_said("First")).clean}
    made = arranged(files, [PlacedPages("a", 1, 90), PlacedPages("a", 1, 90), PlacedPages("a", 1)])
    assert not isinstance(made, Fault)
    content, sizes = made
    assert sizes == [(792.0, 612.0), (792.0, 612.0), (612.0, 792.0)]
    assert picture(content, 1, 48) == picture(content, 2, 48) != picture(content, 3, 48)
    assert picture(content, 3, 48) == picture(files["a"], 1, 48)


@pytest.mark.parametrize(
    "pages",
    [
        [],
        [PlacedPages("a", 0)],
        [PlacedPages("a", 9)],
        [PlacedPages("x", 1)],
        [PlacedPages("a", 1, 45)],
        [PlacedPages("a", 1)] * 501,
    ],
)
def test_pages_that_cannot_be_put_together_are_a_fault(pages: list[PlacedPages]) -> None:
    found = arranged({"a": read(pages_said("First")).clean}, pages)
    assert isinstance(found, Fault) and found.mend


def askew(corners: list[tuple[int, int]], size: tuple[int, int] = (1200, 1500)) -> Image.Image:
    """A sheet with a black band near its upper edge, on a dark table."""
    table = Image.new("L", size, 60)
    sheet = Image.new("L", (850, 1100), 235)
    ImageDraw.Draw(sheet).rectangle((60, 60, 790, 110), fill=20)
    coefficients = _onto(corners)
    laid = sheet.transform(size, Image.Transform.PERSPECTIVE, coefficients, Image.Resampling.BILINEAR)
    mask = Image.new("L", sheet.size, 255).transform(size, Image.Transform.PERSPECTIVE, coefficients)
    table.paste(laid, mask=mask)
    return table


def _onto(corners: list[tuple[int, int]]) -> list[float]:
    """By what a letter sheet of 850 by 1100 is laid on corners (clockwise from upper left)."""
    flat = np.float32([[0, 0], [850, 0], [850, 1100], [0, 1100]])
    matrix = cv2.getPerspectiveTransform(np.float32(corners), flat)
    return [float(n) for n in (matrix / matrix[2, 2]).flatten()[:8]]


def jpeg(image: Image.Image, **more: object) -> bytes:
    out = io.BytesIO()
    image.save(out, "JPEG", quality=85, **more)
    return out.getvalue()


def shades(content: bytes) -> Image.Image:
    found = read(content)
    assert found.sizes == ((612.0, 792.0),) and found.scans == (1,)
    return Image.open(io.BytesIO(picture(found.clean, 1, 48))).convert("L")


@pytest.mark.parametrize(
    "corners",
    [
        [(220, 160), (1020, 220), (1080, 1320), (120, 1260)],
        [(150, 200), (1000, 120), (1090, 1380), (240, 1420)],
        [(100, 100), (1100, 100), (1100, 1400), (100, 1400)],
    ],
)
def test_a_photographed_page_is_found_and_straightened(corners: list[tuple[int, int]]) -> None:
    page = shades(jpeg(askew(corners)))
    wide, high = page.size
    inside = [(x, y) for x in (0.03, 0.5, 0.97) for y in (0.015, 0.5, 0.985)]
    assert all(page.getpixel((x * wide, y * high)) > 200 for x, y in inside), "paper to the edges, no table"
    band = [page.getpixel((x * wide, 85 / 1100 * high)) for x in (0.15, 0.5, 0.85)]
    assert all(shade < 90 for shade in band), "what is printed is level"


def test_a_picture_that_is_all_page_is_taken_whole_and_turned_as_it_was_held() -> None:
    whole = Image.new("L", (850, 1100), 250)
    ImageDraw.Draw(whole).rectangle((60, 60, 790, 110), fill=20)
    page = shades(jpeg(whole))
    assert page.getpixel((page.width // 2, page.height * 85 // 1100)) < 90
    lying = whole.rotate(90, expand=True)
    exif = Image.Exif()
    exif[0x0112] = 6  # to be turned a quarter clockwise
    turned = shades(jpeg(lying, exif=exif))
    assert turned.getpixel((turned.width // 2, turned.height * 85 // 1100)) < 90


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (b"\xff\xd8\xff" + b"\0" * 200, "can’t be read"),
        (b"\x89PNG\r\n\x1a\n" + b"\0" * 200, "can’t be read"),
        (jpeg(Image.new("L", (20, 20), 250)), "too small"),
        (b"GIF89a" + b"\0" * 50, "isn't a PDF"),
    ],
)
def test_what_is_no_picture_of_a_paper_is_refused(content: bytes, says: str) -> None:
    found = read_incoming(content)
    assert isinstance(found, Fault) and says in found.message and found.mend


def test_a_picture_that_unpacks_to_more_than_any_camera_takes_is_refused() -> None:
    side = int(_MOST_PIXELS**0.5) + 500
    out = io.BytesIO()
    Image.new("1", (side, side)).save(out, "PNG", compress_level=9)
    assert is_picture(out.getvalue())
    found = read_incoming(out.getvalue())
    assert isinstance(found, Fault) and "too large" in found.message
