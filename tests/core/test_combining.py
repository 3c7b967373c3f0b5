"""Files written object by object: sound for every reader, true of each document, the same for the same."""

from __future__ import annotations

import io
import re
from collections.abc import Callable
from decimal import Decimal

import pikepdf
import pypdf
import pytest
from pikepdf import Array, Dictionary, Name, String
from quillcore.assembly import Package, PackageDocument, assemble
from quillcore.facts import Act, Entry, Ledger, Source
from quillcore.papers.received import Received, read_paper
from quillcore.pdf import (
    Background,
    FilePart,
    Frame,
    Interactive,
    Overlay,
    Widget,
    combine,
    fit,
    plain_text,
)
from quillcore.pdf.background import filled
from quillcore.pdf.objects import Objects, string

from tests.core.small import CATALOG, demo_pack, package, small_form
from tests.core.test_output import offer


def laid(text: str, at: float = 700) -> Overlay:
    return Overlay(fits=[fit(text, Frame(72, at, 500, at + 15))])


def paper(text: str = "Wharf Street") -> bytes:
    return combine([FilePart(None, [laid(text)])], "A paper")


def texts(content: bytes) -> list[str]:
    """What each page says, to another program."""
    return [page.extract_text() for page in pypdf.PdfReader(io.BytesIO(content), strict=True).pages]


def made_with(change: Callable[[pikepdf.Pdf], None], pages: int = 1) -> bytes:
    """A file by another program, changed."""
    pdf = pikepdf.new()
    for n in range(pages):
        page = pdf.add_blank_page(page_size=(612, 792))
        page.Contents = pdf.make_stream(f"% page {n}\n".encode())
    change(pdf)
    out = io.BytesIO()
    pdf.save(out)
    return out.getvalue()


def copied(content: bytes, times: int = 1) -> pikepdf.Pdf:
    """The file's pages taken over, and written over."""
    background = Background(content)
    parts = [FilePart(background, [laid("over")] * background.pages)] * times
    return pikepdf.open(io.BytesIO(combine(parts, "x")))


def test_pages_that_come_again_show_only_what_is_laid_over_each() -> None:
    background = Background(paper("printed"))
    parts = [FilePart(background, [laid(word, 600)]) for word in ("first", "second", "third")]
    assert [t.split() for t in texts(combine(parts, "x"))] == [
        ["printed", word] for word in ("first", "second", "third")
    ]


def test_a_second_copy_of_a_form_says_its_own_and_nothing_of_the_first() -> None:
    form = small_form('<blank id="porch" kind="text">')
    documents = [PackageDocument(name, form) for name in "abc"]
    said = Ledger(CATALOG, "buying")
    for n, document in enumerate(documents, 1):
        words = f"Own {document.id * 4}"
        said.add(Entry(f"{document.prefix}porch", Act.STATE, n, Source.TYPED, words))
    content = assemble(Package(documents, said, demo_pack().sheet.setting()), "x").pdf
    found = re.findall(r"Own (\w)\1\1\1", "\n".join(texts(content)))
    assert found == ["a", "b", "c"]


def test_what_pages_show_is_in_the_file_once() -> None:
    content = made_with(
        lambda pdf: pdf.pages[0].obj.__setitem__("/Contents", pdf.make_stream(b"% z\n" * 9_000))
    )
    once, often = (len(combine([FilePart(Background(content), [])] * n, "x")) for n in (1, 1))
    assert once == often
    background = Background(content)
    assert len(combine([FilePart(background, [])] * 9, "x")) < once + 9 * 300


@pytest.mark.parametrize("fillable", [False, True])
def test_every_object_stands_where_the_table_says(fillable: bool) -> None:
    content = assemble(offer(), "Offer", fillable=fillable).pdf
    at = int(content[content.rindex(b"startxref") :].split()[1])
    head, count, *rows = content[at : content.rindex(b"trailer")].decode().splitlines()
    assert (head, count) == ("xref", f"0 {len(rows)}") and len(rows) > 40
    for number, row in enumerate(rows[1:], 1):
        assert content[int(row[:10]) :].startswith(f"{number} 0 obj\n".encode())
    with pikepdf.open(io.BytesIO(content)) as pdf:
        assert not pdf.check_pdf_syntax()
    assert content.count(b"%%EOF") == 1, "it is one version of one file"


def test_the_same_gives_the_same_bytes_and_another_package_another_identity() -> None:
    first, again = (assemble(offer(), "Offer", fillable=True).pdf for _ in range(2))
    assert first == again
    given = offer()
    fewer = Package(given.documents[:1], given.sheet.ledger, given.sheet.setting)
    other = assemble(fewer, "Offer", fillable=True).pdf
    known = {bytes(pikepdf.open(io.BytesIO(content)).trailer.ID[1]) for content in (first, other)}
    assert len(known) == 2


def test_a_package_without_values_can_be_filled_in_on() -> None:
    form = small_form('<blank id="porch" kind="text"> <blank id="shed" kind="text">')
    content = assemble(package(form), "Empty", fillable=True).pdf
    with pikepdf.open(io.BytesIO(content)) as pdf:
        assert [str(f.T) for f in pdf.Root.AcroForm.Fields[0].Kids] == ["porch", "shed"]
    assert b"None" not in content


def test_a_page_of_our_own_that_comes_back_keeps_its_letters_under_another_alphabet() -> None:
    ours = read_paper(combine([FilePart(None, [laid("Amara Okafor")])], "x"))
    assert isinstance(ours, Received)
    for word in ("Latin", "Ελένη Жукова"):
        content = combine([FilePart(Background(ours.clean), [laid(word, 500)])], "x")
        assert "Amara Okafor" in plain_text(content) and word in plain_text(content)
        with pikepdf.open(io.BytesIO(content)) as pdf:
            assert not pdf.check_pdf_syntax(), "no font is named twice"


def test_titles_and_labels_in_any_letters_are_read_back() -> None:
    titles = ["Parentheses (and \\ strokes)", "Łódź – Nguyễn", "Two\nlines"]
    content = combine([FilePart(None, [laid("x")], title, f"{title}, page ") for title in titles], titles[1])
    with pikepdf.open(io.BytesIO(content)) as pdf, pdf.open_outline() as outline:
        assert [item.title for item in outline.root] == titles
        assert str(pdf.docinfo["/Title"]) == titles[1]
        assert [str(pdf.Root.PageLabels.Nums[n].P) for n in (1, 3, 5)] == [f"{t}, page " for t in titles]


def test_what_refers_to_others_is_told_from_words_that_look_alike() -> None:
    def change(pdf: pikepdf.Pdf) -> None:
        kept = pdf.make_indirect(
            Dictionary(Says=String("see 3 0 R (4 0 R) \\( 5 0 R"), Number=Decimal("1.5"))
        )
        page = pdf.pages[0].obj
        page["/PieceInfo"] = Dictionary(
            Kept=kept, Row=Array([1, kept, 2, 0, kept]), Bytes=String(b"\xff 3 0 R (")
        )
        page["/Odd#20name 3 0 R"] = Name("/3 0 R")

    with copied(made_with(change)) as pdf:
        info = pdf.pages[0].obj.PieceInfo
        assert str(info.Kept.Says) == "see 3 0 R (4 0 R) \\( 5 0 R" and info.Kept.Number == Decimal("1.5")
        assert [x if isinstance(x, int) else str(x.Says)[:3] for x in info.Row] == [1, "see", 2, 0, "see"]
        assert bytes(info.Bytes) == b"\xff 3 0 R ("


def test_objects_that_go_around_and_pages_named_in_them_end() -> None:
    def change(pdf: pikepdf.Pdf) -> None:
        first, second = (pdf.make_indirect(Dictionary()) for _ in range(2))
        first.On, second.Back, second.Page = second, first, pdf.pages[1].obj
        pdf.pages[0].obj["/PieceInfo"] = first

    with copied(made_with(change, pages=2), times=2) as pdf:
        info = pdf.pages[0].obj.PieceInfo
        assert info.On.Back.objgen == info.objgen
        assert "/Page" not in info.On, "a page is taken over as a page alone"
        assert len(pdf.pages) == 4


def test_what_a_page_has_from_above_comes_with_it() -> None:
    def change(pdf: pikepdf.Pdf) -> None:
        page, above = pdf.pages[0].obj, pdf.Root.Pages
        above.Resources = Dictionary(ExtGState=Dictionary(Own=Dictionary(ca=Decimal("0.5"))))
        above.MediaBox, above.Rotate = Array([0, 0, 300, 400]), 90
        for key in ("/MediaBox", "/Resources"):
            if key in page:
                del page[key]

    with copied(made_with(change)) as pdf:
        page = pdf.pages[0].obj
        assert (list(page.MediaBox), page.Rotate) == ([0, 0, 300, 400], 90)
        assert page.Resources.ExtGState.Own.ca == Decimal("0.5")


@pytest.mark.parametrize(
    "broken",
    [
        lambda page: page.__setitem__("/Resources", 7),
        lambda page: page.__setitem__("/Resources", Dictionary(Font=Array([1]))),
        lambda page: page.__setitem__("/Contents", Array([1, Name.X, Dictionary()])),
        lambda page: page.__setitem__("/Contents", Name.X),
        lambda page: page.__delitem__("/Contents"),
        lambda page: page.__setitem__("/Parent", 3),
        lambda page: page.__setitem__("/Annots", Array([Dictionary(Subtype=Name.Link)])),
    ],
)
def test_pages_that_are_not_as_they_should_be_are_taken_as_far_as_they_go(
    broken: Callable[[pikepdf.Object], None],
) -> None:
    with copied(made_with(lambda pdf: broken(pdf.pages[0].obj))) as pdf:
        assert "over" in plain_text(_saved(pdf)) and "/Annots" not in pdf.pages[0].obj


def _saved(pdf: pikepdf.Pdf) -> bytes:
    out = io.BytesIO()
    pdf.save(out)
    return out.getvalue()


def test_fewer_overlays_than_pages_leave_the_rest_as_it_is() -> None:
    background = Background(made_with(lambda pdf: None, pages=3))
    content = combine([FilePart(background, [laid("one")])], "x")
    assert [t.strip() for t in texts(content)] == ["one", "", ""]


def test_a_body_may_come_later_and_is_filled_by_name() -> None:
    out = Objects()
    first = out.add()
    second = out.add(f"<< /Back {first} >>")
    pages = out.add("<< /Type /Pages /Count 0 /Kids [] >>")
    out.put(first, f"<< /Type /Catalog /On {second} /Pages {pages} >>")
    with pikepdf.open(io.BytesIO(out.written(first, out.add("<< >>")))) as pdf:
        assert pdf.Root.On.Back.objgen == pdf.Root.objgen
    assert filled((b"[", 1, b" ", 0, b"]"), [b"4 0 R", b"5 0 R"]) == b"[5 0 R 4 0 R]"
    assert string("a(b)\\") == "(a\\(b\\)\\\\)" and string("ł") == "<FEFF0142>"


def test_places_of_one_name_are_one_field_and_a_choice_is_one_however_few_it_has() -> None:
    boxes = [(72.0 + 20 * n, 700.0, 80.0 + 20 * n, 708.0) for n in range(4)]
    same, choice = (
        [Widget("a", "check", b) for b in boxes[:2]],
        Widget("b", "one_of", boxes[2], option="Cash"),
    )
    alone = Widget("c", "check", boxes[3])
    fields = [Interactive("901.a", w, 0, on=True) for w in same]
    fields += [Interactive("901.b", choice, 0), Interactive("901.c", alone, 0, on=True)]
    content = combine([FilePart(None, [Overlay()])], "x", fields)
    with pikepdf.open(io.BytesIO(content)) as pdf:
        a, b, c = pdf.Root.AcroForm.Fields[0].Kids
        assert [len(f.get("/Kids", [])) for f in (a, b, c)] == [2, 1, 0]
        assert [str(f.V) for f in (a, b, c)] == ["/Yes", "/Off", "/Yes"]
        assert [[float(v) for v in kid.Rect] for kid in a.Kids] == [list(box) for box in boxes[:2]]
        assert len(pdf.pages[0].obj.Annots) == 4 and not pdf.check_pdf_syntax()
