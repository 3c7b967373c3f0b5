"""Who signs a paper, and by which name: no entity holds a pen, and nobody is lost for want of a line."""

from __future__ import annotations

import pytest
from quillcore.assembly import Package, assemble
from quillcore.facts.keys import Group, read_role
from quillcore.values import Value

from tests.core.small import demo_pack, every_form, package, people, small_form

TRUST: dict[str, Value] = {
    "sellers": "t",
    "party.t.kind": "entity",
    "party.t.entity_name": "Voss Family Trust",
    "party.t.entity_kind": "trust",
}


def printed(made: Package, name: str = "printed-seller.1") -> tuple[str, str, tuple[str, ...]]:
    found = next(b for b in made.blanks() if b.field.id == name)
    return found.text, found.state, found.missing


SIGNED = '<p>x</p><signatures for="seller.1 seller.2">'


def test_who_signs_for_an_entity_is_open_until_it_is_said() -> None:
    assert printed(package(small_form(SIGNED), said=TRUST)) == ("", "open", ("sellers.1.signer",))
    for said, name in (
        ({"party.t.signer": "Lena Voss"}, "Voss Family Trust, by Lena Voss"),
        (
            {"party.t.signer": "Lena Voss", "party.t.capacity": "trustee"},
            "Lena Voss, as trustee of the Voss Family Trust",
        ),
    ):
        assert printed(package(small_form(SIGNED), said=TRUST | said))[:2] == (name, "filled")


def test_a_trustee_without_a_name_is_no_signer() -> None:
    text, state, missing = printed(package(small_form(SIGNED), said=TRUST | {"party.t.capacity": "trustee"}))
    assert (text, state, missing) == ("", "open", ("sellers.1.signer",)), "the trust is no trustee of itself"


def test_a_person_and_an_empty_line_ask_for_nothing() -> None:
    made = package(small_form(SIGNED), said=people("sellers", ("June", "Tate")))
    assert printed(made)[:2] == ("June Tate", "filled")
    assert printed(made, "printed-seller.2")[1] == "optional"


@pytest.mark.parametrize("number", sorted(every_form()))
def test_initials_are_asked_of_as_many_as_sign(number: str) -> None:
    """Else the third tenant would sign a lease of which they have initialed nothing."""
    signed: dict[Group, set[int]] = {}
    initials: dict[Group, set[int]] = {}
    for meaning in every_form()[number].mapping.meanings:
        role = read_role(meaning.role or "")
        if role is None or role.party_group is None or meaning.sign not in ("signature", "initials"):
            continue
        found = signed if meaning.sign == "signature" else initials
        found.setdefault(role.party_group, set()).add(role.position)
    for group, positions in initials.items():
        assert signed.get(group, set()) <= positions, (number, group)


def test_who_only_puts_initials_and_finds_no_line_has_one_behind() -> None:
    guide = demo_pack().forms["512"]
    crowd = people("buyers", *[("Ann", f"Number{n}") for n in range(5)])
    made = assemble(package(guide, said=crowd), "Guide")
    assert {s.role for s in made.further if s.sign == "initials"} >= {"buyer.5"}
    assert not assemble(package(guide, said=people("buyers", ("A", "B"))), "Guide").further


def test_each_seller_certifies_alone() -> None:
    form = demo_pack().forms["520"]
    who = {m.id: m.who for m in form.mapping.meanings}
    names = ("seller", "second", "third", "fourth")
    assert [who[f"{n}-number"] for n in names] == [f"seller.{n}" for n in range(1, 5)], "no agent fills it in"
    crowd = [("June", "Tate"), ("Ivo", "Tate"), ("Ann", "Lind")]
    for count in (1, 2, 3):
        blanks = {b.field.id: b for b in package(form, said=people("sellers", *crowd[:count])).blanks()}
        idle = [n for n in names if blanks[f"{n}-is-not"].state == "idle"]
        assert idle == list(names[count:])
        assert all(blanks[f"{n}-name"].text == "does not apply" for n in idle)
    said = {**people("sellers", *crowd[:1]), "doc.d1.seller-foreign": "not foreign"}
    rate = next(b for b in package(form, said=said).blanks() if b.field.id == "rate")
    assert rate.state == "idle", "sellers who are not there leave nothing open"


def test_a_condition_record_is_signed_when_moving_in_and_when_moving_out() -> None:
    meanings = {m.id: m for m in demo_pack().forms["605"].mapping.meanings}
    for role in ("tenant.1", "tenant.4", "landlord.1", "landlord.2"):
        assert meanings[f"signature-{role}"].required == "always"
        assert meanings[f"move-out-signature-{role}"].required == "never"
