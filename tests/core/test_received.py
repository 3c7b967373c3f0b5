"""Papers that come from elsewhere: what was filled in stays on them, and where they belong is told by their
title."""

from __future__ import annotations

import io
from datetime import date

import pikepdf
import pytest
from quillcore.assembly import Package, PackageDocument, assemble
from quillcore.facts import Ledger
from quillcore.papers.received import Received, paper_form, place_for, read_paper
from quillcore.pdf import plain_text
from quillcore.values import Fault

from tests.core.foreign import lined_form
from tests.core.small import CATALOG, ROOT, demo_pack

ATTACHED = ROOT / "standins" / "data" / "media" / "26110400-501.pdf"


def test_what_stands_in_fields_stays_on_the_page() -> None:
    package = Package([PackageDocument("d", demo_pack().forms["501"])], Ledger(CATALOG, "listing"))
    fillable = assemble(package, "x", fillable=True).pdf
    with pikepdf.open(io.BytesIO(fillable)) as pdf:
        field = next(
            o for o in pdf.objects if isinstance(o, pikepdf.Dictionary) and o.get("/FT") == pikepdf.Name.Tx
        )
        field.V = "Written in by Marisol"
        pdf.Root.AcroForm.NeedAppearances = True
        out = io.BytesIO()
        pdf.save(out)
    paper = read_paper(out.getvalue())
    assert isinstance(paper, Received)
    assert "Written in by Marisol" in plain_text(paper.clean)
    assert b"/AcroForm" not in paper.clean


def test_a_paper_is_an_item_of_a_package_like_others() -> None:
    paper = read_paper(ATTACHED.read_bytes())
    assert isinstance(paper, Received)
    form = paper_form("Seller's Property Disclosure", paper, date(2026, 11, 1))
    package = Package(
        [PackageDocument("a", demo_pack().forms["101"]), PackageDocument("b", form)],
        Ledger(CATALOG, "buying"),
    )
    combined = assemble(package, "both").pdf
    assert "Quarry" in plain_text(combined) or "Juniper" in plain_text(combined)
    assert [b for b in package.blanks() if b.document == "b"] == []


WAITING = [
    ("e1", "501 Seller's property disclosure"),
    ("e2", "503 Lead-based paint disclosure"),
    ("e3", "Proof of funds"),
    ("e4", "Inspection report"),
]


@pytest.mark.parametrize(
    "title, words, place",
    [
        ("Seller's Property Disclosure", "", "e1"),
        ("SELLERS PROPERTY DISCLOSURE", "", "e1"),
        ("scan_0017", "501 · Seller's Property Disclosure Form of the association", "e1"),
        ("Proof of Funds", "", "e3"),
        ("proof of funds (bank)", "", None),
        ("Floor plan", "Ground floor", None),
        ("Report", "", None),
        ("", "", None),
    ],
)
def test_a_paper_finds_its_place_by_title_or_by_what_it_says_on_top(
    title: str, words: str, place: str | None
) -> None:
    assert place_for(title, words, WAITING) == place


def test_a_damaged_paper_is_refused() -> None:
    assert isinstance(read_paper(b"%PDF-1.7 and then nothing"), Fault)
    assert isinstance(read_paper(lined_form([("Buyer", "a")])), Received)
