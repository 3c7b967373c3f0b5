"""PDF work, checked with independent readers: what is set reads back, stays in its place, and covers
nothing."""

from __future__ import annotations

import io
import re
import subprocess
from dataclasses import dataclass
from datetime import date, time
from decimal import Decimal
from pathlib import Path

import pikepdf
import pytest
from PIL import Image, ImageChops
from quillcore.assembly import Package, PackageDocument, assemble
from quillcore.facts import Act, Entry, Group, Ledger, Side, Source
from quillcore.forms import Form
from quillcore.pdf import (
    Background,
    Damaged,
    FilePart,
    Fit,
    Frame,
    Mark,
    Overlay,
    SetLine,
    combine,
    fit,
    picture,
    plain_text,
    print_picture,
)
from quillcore.pdf.renderer import Word as PrintedWord
from quillcore.pdf.renderer import printed_words, words_and_text
from quillcore.pdf.typeface import face
from quillcore.values import Value
from quillcore.values.scripts import SETTABLE

from tests.core.small import CATALOG, demo_pack, people

FORMS = sorted(demo_pack().forms)


def read(pdf: bytes, folder: Path, *options: str) -> str:
    path = folder / "x.pdf"
    path.write_bytes(pdf)
    return subprocess.run(
        ["pdftotext", *options, str(path), "-"], capture_output=True, text=True, check=True
    ).stdout


def test_every_settable_character_reads_back(tmp_path: Path) -> None:
    letters = sorted(SETTABLE - {" ", "\u00a0", "\u00ad"})
    lines = [letters[n : n + 24] for n in range(0, len(letters), 24)]
    overlay = Overlay(
        fits=[Fit(9, (SetLine(40, 760 - 17 * n, " ".join(line)),)) for n, line in enumerate(lines)]
    )
    text = read(combine([FilePart(None, [overlay])], "Letters"), tmp_path, "-raw")
    assert set("".join(letters)) - {"µ"} <= set(
        text
    )  # the micro sign is drawn, and reads back, as the Greek letter


def test_small_files_embed_only_latin_and_larger_alphabets_when_they_are_needed() -> None:
    def font(text: str, of: str) -> str:
        made = combine([FilePart(None, [Overlay(fits=[fit(text, Frame(10, 10, 300, 30))])])], "x")
        with pikepdf.open(io.BytesIO(made)) as pdf:
            return str(pdf.pages[0].Resources.Font[f"/{face(of).resource}"].BaseFont)

    assert font("Amara Okafor, Łódź", "latin") == "/GQVALA+SourceSans3-Medium"
    assert font("Ελένη Жукова", "all") == "/GQVALX+SourceSans3-Medium"


def test_a_background_keeps_its_text_and_loses_what_acts() -> None:
    source = pikepdf.new()
    page = source.add_blank_page(page_size=(612, 792))
    page.Contents = source.make_stream(b"1 0 0 -1 0 792 cm 10 10 50 50 re f")
    page.Annots = pikepdf.Array([pikepdf.Dictionary(Type=pikepdf.Name.Annot, Subtype=pikepdf.Name.Link)])
    page.AA = pikepdf.Dictionary(O=pikepdf.Dictionary(S=pikepdf.Name.JavaScript, JS="app.alert(1)"))
    buffer = io.BytesIO()
    source.save(buffer)
    background = Background(buffer.getvalue())
    made = combine([FilePart(background, [Overlay(fits=[fit("upright", Frame(100, 700, 300, 715))])])], "x")
    with pikepdf.open(io.BytesIO(made)) as pdf:
        before, under, over = (stream.read_bytes() for stream in pdf.pages[0].Contents)
        assert before.startswith(b"q\n") and b"re f" in under
        assert over.startswith(b"Q\n"), "what is laid over keeps an upright coordinate system"
        assert b"Tj" in over
        assert "/Annots" not in pdf.pages[0].obj
        assert "/AA" not in pdf.pages[0].obj


@pytest.mark.parametrize("content", [b"", b"not a PDF", b"%PDF-1.7\n", b"%PDF-1.7\n1 0 obj\n<<"])
def test_a_damaged_file_is_told_in_plain_words(content: bytes) -> None:
    with pytest.raises(Damaged, match="isn't a PDF that can be read"):
        Background(content)


def test_bookmarks_lead_to_the_first_page_of_each_document() -> None:
    forms = [demo_pack().forms[n] for n in ("101", "301")]
    package = Package(
        [PackageDocument(n, f) for n, f in zip("ab", forms, strict=True)],
        Ledger(CATALOG, "buying"),
        demo_pack().sheet.setting(),
    )
    with (
        pikepdf.open(io.BytesIO(assemble(package, "Offer · Okafor").pdf)) as pdf,
        pdf.open_outline() as outline,
    ):
        marks = [(item.title, pdf.pages.index(pikepdf.Page(item.destination[0]))) for item in outline.root]
        assert marks == [
            ("101 Agency Relationships Disclosure", 0),
            ("301 Residential Purchase Agreement", 2),
        ]
        assert str(pdf.docinfo["/Title"]) == "Offer · Okafor"


def test_a_mark_is_drawn_as_a_path_within_its_box() -> None:
    content = Overlay(marks=[Mark((100, 100, 108, 108))]).content(face("latin")).decode()
    numbers = [float(n) for n in re.findall(r"\d+\.\d+", content.split("w 1 J")[1])]
    assert all(100 < n < 108 for n in numbers)
    assert content.count(" l") == 2


def test_pages_become_pictures_of_their_size() -> None:
    image = Image.open(io.BytesIO(picture(demo_pack().forms["101"].pdf, 2, 110)))
    assert image.size == (935, 1210)
    assert image.mode == "L"


def test_sixteen_greys_are_near_all_of_them_and_smaller() -> None:
    pdf = demo_pack().forms["101"].pdf
    whole, few = picture(pdf, 1, 110), print_picture(pdf, 1, 110)
    greys, sixteen = (Image.open(io.BytesIO(png)).convert("L") for png in (whole, few))
    assert len(few) < len(whole) * 0.9
    assert ImageChops.difference(greys, sixteen).getextrema() <= (0, 8), "half of what lies between two"


@pytest.mark.parametrize("number", ["101", "301", "401", "605"])
def test_words_are_the_same_asked_for_whole_and_letter_by_letter(
    number: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    pdf = demo_pack().forms[number].pdf
    whole, said = words_and_text(pdf)
    assert plain_text(pdf) == said
    monkeypatch.setattr("quillcore.pdf.renderer._characters", lambda text: "")
    assert [[rounded(word) for word in page] for page in printed_words(pdf)] == [
        [rounded(word) for word in page] for page in whole
    ]


def rounded(word: PrintedWord) -> tuple[float | str, ...]:
    return *(round(side, 2) for side in word[:4]), word.text


def test_a_word_parted_at_a_lines_end_keeps_its_hyphen() -> None:
    found, said = words_and_text(typed("(Of every counter-) Tj 0 -20 Td (offer both are told) Tj"))
    assert [word.text for word in found[0]] == ["Of", "every", "counter-", "offer", "both", "are", "told"]
    assert said == "Of every counter-offer both are told"


@pytest.mark.parametrize(
    ("drawing", "words"),
    [
        ("/F 40 Tf (Agreement) Tj", ["Agreement"]),  # its g hangs as low as a line of small print
        ("8 Tc (12345) Tj", ["12345"]),  # a number in boxes
        ("[(Price) -4000 (Deposit)] TJ", ["Price", "Deposit"]),
        ("(Pri) Tj (ce) Tj", ["Price"]),
        ("(Buyer____ and) Tj", ["Buyer", "and"]),
    ],
)
def test_a_word_ends_at_a_space_a_rule_or_a_gap_and_not_by_its_size(drawing: str, words: list[str]) -> None:
    assert [word.text for word in words_and_text(typed(drawing))[0][0]] == words


def typed(drawing: str) -> bytes:
    """A page with some text on it."""
    pdf = pikepdf.new()
    page = pdf.add_blank_page(page_size=(612, 792))
    font = pikepdf.Dictionary(
        Type=pikepdf.Name.Font, Subtype=pikepdf.Name.Type1, BaseFont=pikepdf.Name.Helvetica
    )
    page.Resources = pikepdf.Dictionary(Font=pikepdf.Dictionary(F=font))
    page.Contents = pdf.make_stream(f"BT /F 12 Tf 72 700 Td {drawing} ET".encode())
    out = io.BytesIO()
    pdf.save(out)
    return out.getvalue()


@dataclass(frozen=True)
class Word:
    text: str
    left: float
    top: float
    right: float
    bottom: float


def words(pdf: bytes, folder: Path) -> list[list[Word]]:
    """Words with their boxes, from the page's upper left corner, page by page."""
    pages = read(pdf, folder, "-bbox").split("<page ")[1:]
    found = r'<word xMin="([\d.]+)" yMin="([\d.]+)" xMax="([\d.]+)" yMax="([\d.]+)">(.*?)</word>'
    return [
        [Word(m[5], float(m[1]), float(m[2]), float(m[3]), float(m[4])) for m in re.finditer(found, page)]
        for page in pages
    ]


LONG: dict[str, Value] = {
    "money": Decimal("98765432.10"),
    "exact_money": Decimal("12345.6789"),
    "percent": Decimal("12.875"),
    "integer": Decimal(120),
    "number": Decimal("1234.5"),
    "year": Decimal(2024),
    "yes_no": True,
    "date": date(2027, 9, 28),
    "time": time(12, 30),
    "phone": "(555) 555-0123 ext. 1234",
    "email": "maximiliana.castellanos@harrowbridge.example",
    "area": "12,345,678 sq ft",
    "name": "Maximiliana Ngozi Castellanos-O'Brien Nguyễn",
    "text": "Walnut panelling, gas range, Łódź chandelier",
    "address": "12457 North Candlewick Place Unit 24, Harrow Falls, CW 09932",
    "long_text": (
        "The seller leaves the piano, the garden bench and both rain barrels, and has the chimney swept"
        " before possession at no cost to the buyer. " * 3
    ),
}


def longest(form: Form) -> Package:
    """The form with the longest plausible value in every blank of its own and of the facts."""
    said: dict[str, Value] = {}
    for group in Group:
        said |= people(
            group, ("Maximiliana Ngozi", "Castellanos-O'Brien"), ("Bartholomew", "van der Meer-Nguyễn")
        )
        said |= {f"party.{group}{n}.email": LONG["email"] for n in range(2)} | {
            f"party.{group}0.mailing_address": LONG["address"]
        }
    for m in form.seen_from(Side("buying")).mapping.meanings:
        fact = CATALOG.find(m.fact) if m.fact else None
        if m.sign is None and fact is not None and fact.group not in set(Group):
            said.setdefault(fact.key, max(fact.options, key=len) if fact.options else LONG[fact.kind])
        elif m.sign is None and m.fact is None:
            said[f"doc.d.{m.group or m.id}"] = m.value or (
                max(m.options, key=len) if m.options else LONG[m.kind or "text"]
            )
    ledger = Ledger(
        CATALOG,
        "buying",
        [Entry(k, Act.STATE, n, Source.TYPED, v) for n, (k, v) in enumerate(said.items(), 1)],
    )
    return Package([PackageDocument("d", form)], ledger, demo_pack().sheet.setting())


@pytest.mark.parametrize("number", FORMS)
def test_the_longest_values_lie_within_their_blanks_and_cover_no_printed_text(
    number: str, tmp_path: Path
) -> None:
    form = demo_pack().forms[number]
    printed = words(form.pdf, tmp_path)
    filled = words(assemble(longest(form), "x").pdf, tmp_path)
    rects = {
        n: [f.rect for f in form.edition.fields if f.page == n and f.shape == "text"]
        for n in range(1, form.edition.pages + 1)
    }
    checked = 0
    for page, (before, after) in enumerate(zip(printed, filled, strict=False), 1):
        for word in set(after) - set(before):
            checked += 1
            base = (
                792 - word.bottom + 0.24 * (word.bottom - word.top)
            )  # the baseline: descenders reach below the box's foot
            inside = [
                r
                for r in rects[page]
                if r[0] - 0.5 <= word.left and word.right <= r[2] + 0.5 and r[1] - 0.5 <= base <= r[3] + 0.5
            ]
            assert inside, (number, page, word)
            for other in before:
                sideways = min(word.right, other.right) - max(word.left, other.left)
                height = min(word.bottom, other.bottom) - max(word.top, other.top)
                assert not (sideways > 0.8 and height > 0.45 * (word.bottom - word.top)), (
                    number,
                    page,
                    word,
                    other,
                )
    assert checked > 15


@pytest.mark.parametrize("number", FORMS)
def test_nothing_that_does_not_fit_is_lost(number: str, tmp_path: Path) -> None:
    package = longest(demo_pack().forms[number])
    made = assemble(package, "x")
    text = "".join(read(made.pdf, tmp_path).split())
    for blank in package.blanks():
        if blank.text:
            assert "".join(blank.text.split())[:60] in text or blank.overflow is False, blank.field.id
    for blank in made.continued:
        assert "".join(blank.text.split()) in text, blank.field.id
