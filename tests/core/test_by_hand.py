"""Changes made by hand on a paper: read with care, drawn where they were made, initials beside them."""

from __future__ import annotations

import io
from dataclasses import replace
from typing import Any

import pikepdf
import pytest
from hypothesis import given
from hypothesis import strategies as st
from quillcore.assembly import HandChange, Package, PackageDocument, assemble, drawn, read_change
from quillcore.assembly.markup import MOST_LINES, MOST_TEXT, written
from quillcore.facts.keys import Group
from quillcore.pdf.renderer import words_of
from quillcore.values import Fault

from tests.core.small import OFFER, every_form, package, people

FORM = every_form()["301"]
STRUCK = {"id": "a", "page": 1, "struck": [[72, 700, 200, 710]], "words": "Seller will pay"}
WRITTEN = {"id": "b", "page": 1, "text": "Buyer pays", "at": [72, 640]}


def change(**said: Any) -> HandChange:
    found = read_change(said, FORM.edition)
    assert isinstance(found, HandChange), found
    return found


def with_changes(*changes: HandChange) -> tuple[Package, PackageDocument]:
    made = package(FORM, said={**OFFER, **people("sellers", ("Lena", "Voss"))})
    document = replace(made.documents[0], by_hand=changes)
    return Package([document], made.sheet.ledger, made.sheet.setting), document


@pytest.mark.parametrize(
    ("said", "says"),
    [
        ({"page": 0}, "doesn't exist"),
        ({"page": 99}, "doesn't exist"),
        ({"struck": [[72, 700, 20, 710]]}, "not on the page"),
        ({"struck": [[72, 700, 900, 710]]}, "not on the page"),
        ({"struck": [[float("nan"), 700, 200, 710]]}, "not on the page"),
        ({"struck": [[72, 700, 200, float("inf")]]}, "not on the page"),
        ({"struck": [[72, 700, 200, 710]] * (MOST_LINES + 1)}, "lines at once"),
        ({"struck": []}, "Nothing was struck out"),
        ({"text": "x"}, "Choose where"),
        ({"text": "x", "at": [72, 900]}, "not on the page"),
        ({"text": "x" * (MOST_TEXT + 1), "at": [72, 600]}, "characters"),
        ({"text": "ก", "at": [72, 600]}, "printed"),
        ({"text": "word " * 100, "at": [72, 20]}, "doesn't fit there"),
    ],
)
def test_what_cannot_be_changed_is_a_fault(said: dict[str, Any], says: str) -> None:
    found = read_change({**STRUCK, **said}, FORM.edition)
    assert isinstance(found, Fault) and says in found.message and found.mend


def test_words_are_struck_through_and_written_in_on_the_page() -> None:
    made, _ = with_changes(change(**STRUCK), change(**WRITTEN))
    pdf = assemble(made, "x").pdf
    with pikepdf.open(io.BytesIO(pdf)) as opened:
        contents = list(opened.pages[0].obj.Contents)
        content = b"".join(part.read_bytes() for part in contents).decode("latin-1")
    assert "72.00 705.00 m 200.00 705.00 l S" in content
    words = words_of(pdf, {1})[1]
    [buyer] = [w for w in words if w.text == "Buyer" and abs(w.left - 73.5) < 3 and 620 < w.bottom < 645]
    assert [w.text for w in words if abs(w.bottom - buyer.bottom) < 4 and w.left > buyer.left][:1] == ["pays"]


def test_everybody_who_signs_has_a_line_beside_each_change() -> None:
    made, document = with_changes(change(**STRUCK), change(**{**STRUCK, "id": "c"}))
    parties = {
        (g, n) for g in (Group.BUYERS, Group.SELLERS) for n in range(1, len(made.sheet.parties(g)) + 1)
    }
    first, second = drawn(made, document)
    signing = {(spot.group, spot.position) for spot in first.initials}
    assert signing and signing <= parties
    assert {spot.name for spot in first.initials} == {made.sheet.party(g, n).initials for g, n in signing}
    spots = [spot.rect for spot in (*first.initials, *second.initials)]
    assert all(0 <= l < r <= 612 and 0 <= b < t <= 792 for l, b, r, t in spots)  # noqa: E741
    assert not any(
        one[1] < other[3] and other[1] < one[3] for n, one in enumerate(spots) for other in spots[:n]
    ), "none stands on another"


def test_without_changes_the_same_bytes_leave() -> None:
    made, _ = with_changes()
    made_without = Package([replace(made.documents[0], by_hand=())], made.sheet.ledger, made.sheet.setting)
    assert assemble(made, "x").pdf == assemble(made_without, "x").pdf
    assert b"72.00 705.00 m" not in assemble(made, "x").pdf


def test_a_long_text_is_wrapped_within_the_page() -> None:
    found = written(change(**{**WRITTEN, "text": "Seller replaces the water heater. " * 12}), 612.0)
    assert found is not None and not found.overflow and len(found.lines) > 2


@given(st.lists(st.integers(20, 780), min_size=1, max_size=12))
def test_initials_of_changes_close_together_stay_apart(heights: list[int]) -> None:
    changes = [
        change(id=str(n), page=1, struck=[[72, y, 200, min(792, y + 10)]], words="x")
        for n, y in enumerate(heights)
    ]
    made, document = with_changes(*changes)
    columns = [
        (min(s.rect[1] for s in d.initials), max(s.rect[3] for s in d.initials))
        for d in drawn(made, document)
        if d.initials
    ]
    assert all(a[1] <= b[0] or b[1] <= a[0] for n, a in enumerate(columns) for b in columns[:n])
