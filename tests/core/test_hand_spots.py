"""Places put by hand for those who sign: read with care, never on each other, signed, printed and asked."""

from __future__ import annotations

import json
import math
from dataclasses import replace
from datetime import date
from functools import cache
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from quillcore.assembly import Package, PackageDocument, assemble, drawn, read_change
from quillcore.assembly.added_places import MOST_LABEL, HandSpot, What, in_the_way, read_spot
from quillcore.assembly.people import everybody, is_there
from quillcore.assembly.spotted import spotted
from quillcore.papers.received import paper_form, read_paper
from quillcore.pdf.rects import LEAST, lie_on_each_other
from quillcore.pdf.renderer import plain_text
from quillcore.signing.asking import answered, questions_of, read
from quillcore.signing.pen import tags_of
from quillcore.signing.spots import spots_of
from quillcore.values import Fault, Value

from tests.core.foreign import lined_form
from tests.core.small import OFFER, every_form, ledger, package, people

FORM = every_form()["301"]
CASES = json.loads((Path(__file__).parents[1] / "cases" / "places.json").read_text())
"""The rules that the web carries out, too, while somebody draws."""
SIGN: dict[str, Any] = {
    "id": "a",
    "page": 1,
    "rect": [72, 100, 232, 122],
    "what": "signature",
    "who": "buyers.1",
}


def test_places_may_touch_and_no_more_and_have_a_least_size() -> None:
    assert CASES["least"] == LEAST
    for case in CASES["collisions"]:
        for a, b in ((case["a"], case["b"]), (case["b"], case["a"])):
            assert lie_on_each_other(a, b) is case["collide"], case


@cache
def plain_paper() -> Any:
    """A paper from elsewhere, with no place of its own."""
    found = read_paper(lined_form([("Well water", "a")]))
    assert not isinstance(found, Fault)
    return paper_form("Well agreement", found, date(2026, 11, 1))


def spot(**said: Any) -> HandSpot:
    found = read_spot({**SIGN, **said}, plain_paper().edition)
    assert isinstance(found, HandSpot), found
    return found


def with_spots(*spots: HandSpot, said: dict[str, Value] | None = None) -> tuple[Package, PackageDocument]:
    made = package(FORM, said={**OFFER, **people("sellers", ("Lena", "Voss")), **(said or {})})
    document = PackageDocument("paper", plain_paper(), spots=spots)
    return Package([document], made.sheet.ledger, made.sheet.setting), document


@pytest.mark.parametrize(
    ("said", "says"),
    [
        ({"page": 0}, "doesn't exist"),
        ({"page": 9}, "doesn't exist"),
        ({"rect": [500, 100, 660, 122]}, "not on the page"),
        ({"rect": [-1, 100, 160, 122]}, "not on the page"),
        ({"rect": [72, 100, 232, 900]}, "not on the page"),
        ({"rect": [72, math.nan, 232, 122]}, "not on the page"),
        ({"rect": [72, 100, math.inf, 122]}, "not on the page"),
        ({"rect": [232, 122, 72, 100]}, "too small"),
        ({"rect": [72, 100, 72 + LEAST - 1, 122]}, "too small"),
        ({"who": "lawyers.1"}, "role doesn't sign"),
        ({"who": "buyers.0"}, "role doesn't sign"),
        ({"who": "buyers.x"}, "role doesn't sign"),
        ({"who": "buyers.²"}, "role doesn't sign"),
        ({"who": "buyers.13"}, "role doesn't sign"),
        ({"who": ""}, "role doesn't sign"),
        ({"label": "x" * (MOST_LABEL + 1)}, "letters"),
        ({"label": "ก"}, "printed"),
    ],
)
def test_what_can_not_be_put_is_a_fault(said: dict[str, Any], says: str) -> None:
    found = read_spot({**SIGN, **said}, FORM.edition)
    assert isinstance(found, Fault) and says in found.message and found.mend


@given(
    st.lists(
        st.tuples(st.integers(0, 500), st.integers(0, 700), st.integers(8, 200), st.integers(8, 60)),
        max_size=9,
    )
)
def test_of_places_that_may_stand_together_no_two_lie_on_each_other(
    rects: list[tuple[int, int, int, int]],
) -> None:
    edition = plain_paper().edition
    standing: list[HandSpot] = []
    for n, (left, bottom, width, height) in enumerate(rects):
        rect = [left, bottom, min(left + width, 612), min(bottom + height, 792)]
        one = read_spot({**SIGN, "id": str(n), "rect": rect}, edition)
        if isinstance(one, HandSpot) and in_the_way([one], standing, edition) is None:
            standing.append(one)
    for n, a in enumerate(standing):
        for b in standing[n + 1 :]:
            across = min(a.rect[2], b.rect[2]) - max(a.rect[0], b.rect[0])
            upward = min(a.rect[3], b.rect[3]) - max(a.rect[1], b.rect[1])
            assert across <= 2 or upward <= 2


def test_nothing_comes_to_lie_on_a_blank_of_the_form() -> None:
    blank = FORM.edition.fields[0]
    left, bottom, _, top = blank.rect
    one = read_spot({**SIGN, "page": blank.page, "rect": [left, bottom, left + 40, top]}, FORM.edition)
    assert isinstance(one, HandSpot)
    fault = in_the_way([one], [], FORM.edition)
    assert fault is not None and "a blank is in the way" in fault.message and fault.mend
    elsewhere = replace(one, rect=(4, 4, 30, 13))
    assert in_the_way([elsewhere], [], FORM.edition) is None


def test_who_is_there_signs_and_who_is_not_has_no_place() -> None:
    spots = [
        spot(id="one"),
        spot(id="three", who="buyers.3", rect=[72, 200, 232, 222]),
        spot(id="agent", who="buyer_agent", what="initials", rect=[300, 100, 340, 118]),
        spot(id="named", what="name", rect=[72, 60, 232, 76]),
        spot(id="asked", what="text", rect=[72, 30, 232, 46]),
    ]
    made, document = with_spots(*spots)
    assert [(s.id, s.who, s.sign) for s in spots_of(made, document)] == [
        ("paper/put-one", "buyers.1", "signature"),
        ("paper/put-agent", "buyer_agent", "initials"),
    ], "in reading order, and nothing for what isn't signed"


def test_places_by_hand_call_for_no_continuation_page() -> None:
    made, document = with_spots(spot())
    assert assemble(made, "Paper").pages == document.form.edition.pages


def test_a_printed_name_is_that_of_whoever_signs_and_follows_the_deal() -> None:
    named = spot(id="n", what="name", rect=[72, 60, 112, 76])
    made, _ = with_spots(named)
    assert "Ana Ruiz" in plain_text(assemble(made, "Paper").pdf)
    other, _ = with_spots(named, said={"party.buyers0.family": "Ruiz-Castellanos de la Vega y Montenegro"})
    assert "Ruiz-Castellanos de la Vega y Montenegro" in plain_text(assemble(other, "Paper").pdf), (
        "long, and whole"
    )
    firm: dict[str, Value] = {
        "party.buyers0.kind": "entity",
        "party.buyers0.entity_name": "Tidewater Holdings",
        "party.buyers0.entity_kind": "LLC",
        "party.buyers0.signer": "Ana Ruiz",
        "party.buyers0.capacity": "Manager",
    }
    signing, _ = with_spots(named, said=firm)
    assert "Ana Ruiz" in plain_text(assemble(signing, "Paper").pdf), "whoever signs for a firm"


def test_nobody_named_prints_no_name() -> None:
    made, document = with_spots(spot(what="name", who="listing_broker"))
    [one] = spotted(made, document)
    assert one.who is not None and one.who.role == "Listing broker" and one.name is None


def test_a_text_and_a_box_are_asked_of_whose_they_are() -> None:
    made, document = with_spots(
        spot(id="acct", what="text", label="Account number", rect=[72, 300, 232, 316]),
        spot(id="much", what="text", label="Anything else", rect=[72, 200, 400, 250], required=False),
        spot(id="yes", what="check", label="The well was tested", rect=[72, 100, 84, 112], required=False),
        spot(id="gone", what="text", who="buyers.9", rect=[72, 400, 232, 416]),
    )
    asked = {q.key: q for q in questions_of(made, document)}
    assert list(asked) == ["put-acct", "put-much", "put-yes"], "in reading order; not of who isn't there"
    assert [q.kind for q in asked.values()] == ["text", "long_text", "yes_no"]
    assert [q.required for q in asked.values()] == ["always", "never", "never"]
    assert {q.who for q in asked.values()} == {"buyers.1"}
    puts = answered(asked.values(), {"put-acct": "77-210", "put-yes": "yes"})
    assert [(p.text, p.is_mark) for p in puts] == [("77-210", False), ("", True)]
    assert answered(asked.values(), {"put-yes": "no"}) == [], "an empty box stays empty"
    assert isinstance(read(asked["put-acct"], "x" * 400), Fault), "more than it has room for"


def test_on_paper_they_are_pointed_to_by_name() -> None:
    made, document = with_spots(spot())
    [tag] = tags_of(made, [document])["paper"]
    assert tag.text == "Ana Ruiz" and tag.rect == (72, 100, 232, 122)


def test_initials_beside_a_change_are_of_those_who_sign_the_paper() -> None:
    made, document = with_spots(spot(who="buyers.2"))
    change = read_change({"id": "c", "page": 1, "text": "As agreed", "at": [72, 600]}, document.form.edition)
    assert not isinstance(change, Fault)
    changed = replace(document, by_hand=(change,))
    both = Package([changed], made.sheet.ledger, made.sheet.setting)
    [one] = drawn(both, both.documents[0])
    assert [(i.group, i.position) for i in one.initials] == [("buyers", 2)]


def test_everybody_who_could_sign_is_told_clients_first() -> None:
    made, _ = with_spots()
    keys = [p.key for p in everybody(made)]
    assert keys[:3] == ["buyers.1", "buyers.2", "sellers.1"]
    assert "deposit_holder" in keys and "guarantor" not in keys
    lease = Package([], ledger(people("tenants", ("Ana", "Ruiz")), "renting"), made.sheet.setting)
    assert next(p.key for p in everybody(lease)) == "tenants.1"
    assert "guarantor" in [p.key for p in everybody(lease)]
    assert not is_there(made, "buyers.x") and not is_there(made, "lawyers.1")
    assert is_there(made, "buyer_agent")


def test_every_kind_has_its_words() -> None:
    assert all(replace(spot(), what=what).named for what in What)
