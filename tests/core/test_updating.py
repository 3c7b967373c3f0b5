"""Updates behind finished files, and files that the library reads and writes by itself."""

from __future__ import annotations

import io
import re

import pikepdf
import pytest
from quillcore.assembly import Package, assemble
from quillcore.pdf import Frame, Overlay, Part, combine, fit
from quillcore.pdf.in_memory import opened, written
from quillcore.pdf.updating import Update

from tests.core.small import package, small_form
from tests.core.test_output import offer


def paper(text: str = "Wharf Street") -> bytes:
    return combine([Part(None, [Overlay(fits=[fit(text, Frame(72, 700, 300, 715))])])], "A paper")


def test_an_update_adds_objects_and_stands_in_for_others():
    before = paper()
    update = Update(before)
    added = update.add("<< /Says (added) >>")
    page = update.before.pages[0].obj.objgen[0]
    update.put(f"{page} 0 R", f"<< /Type /Page /MediaBox [0 0 9 9] /Further {added} >>")
    after = update.written()
    assert after.startswith(before), "what was there stays as it was"
    with pikepdf.open(io.BytesIO(after)) as pdf:
        assert str(pdf.pages[0].obj.Further.Says) == "added"
        assert list(pdf.pages[0].obj.MediaBox) == [0, 0, 9, 9]
        assert str(pdf.docinfo["/Title"]) == "A paper"


def test_a_body_may_come_later():
    update = Update(paper())
    first = update.add()
    second = update.add(f"<< /Back {first} >>")
    update.put(first, f"<< /On {second} >>")
    root, pages = update.before.Root.objgen[0], update.before.Root.Pages.objgen[0]
    update.put(f"{root} 0 R", f"<< /Type /Catalog /Pages {pages} 0 R /X {first} >>")
    with pikepdf.open(io.BytesIO(update.written())) as pdf:
        assert pdf.Root.X.On.Back.objgen == pdf.Root.X.objgen


def test_every_object_stands_where_the_table_says():
    content = assemble(offer(), "Offer", fillable=True).pdf
    at = int(content[content.rindex(b"startxref") :].split()[1])
    assert content[at : at + 5] == b"xref\n"
    table = content[at : content.rindex(b"trailer")].decode()
    seen = 0
    for section in re.finditer(r"^(\d+) (\d+)\n((?:\d{10} 00000 n \n)+)", table, re.M):
        rows = section[3].splitlines()
        assert len(rows) == int(section[2])
        for number, row in enumerate(rows, int(section[1])):
            assert content[int(row[:10]) :].startswith(f"{number} 0 obj\n".encode())
            seen += 1
    assert seen > 200


def test_the_same_package_gives_the_same_bytes_and_another_one_another_identity():
    first, again = (assemble(offer(), "Offer", fillable=True).pdf for _ in range(2))
    assert first == again
    given = offer()
    fewer = Package(given.documents[:1], given.sheet.ledger, given.sheet.setting)
    other = assemble(fewer, "Offer", fillable=True).pdf
    assert len({bytes(opened(content).trailer.ID[1]) for content in (first, other)}) == 2


def test_a_package_without_values_can_be_filled_in_on():
    form = small_form('<blank id="porch" kind="text"> <blank id="shed" kind="text">')
    content = assemble(package(form), "Empty", fillable=True).pdf
    with opened(content) as pdf:
        assert [str(f.T) for f in pdf.Root.AcroForm.Fields[0].Kids] == ["porch", "shed"]
        assert len(pdf.objects) > 5, "each of them can be read"
    assert b"None" not in content


@pytest.mark.parametrize("content", [b"", b"x", b"%PDF-1.7\nnothing"])
def test_what_is_no_file_is_told(content: bytes) -> None:
    with pytest.raises(pikepdf.PdfError):
        opened(content)


def test_a_file_is_written_like_its_like():
    with opened(paper()) as pdf:
        assert written(pdf) == written(pdf)
