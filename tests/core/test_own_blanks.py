"""A form's own blank has a reason: it asks nothing that a fact knows, and nothing that another form of the
same package asks too."""

from __future__ import annotations

from itertools import combinations

from quillcore.forms.model import Meaning
from rapidfuzz import fuzz

from tests.core.small import CATALOG, demo_pack

ALIKE = 84
"""Of a hundred: below it labels share words and ask different things."""
ONES = {
    "Guarantor": "whether there is one; the fact says who",
    "Notice to end in days": "of the representation, not of the lease",
    "Notice to end early in days": "of this agreement alone; the lease's own is at the end of its term",
    "Directions": "how to get there, not the street's direction",
    "Inspect: lead-based paint": "one of many things to look at; the election is the disclosure's",
    "Units": "how many there are",
    "Occupant's liability insurance at least": "of who stays on, who is no tenant",
    "Amends the inspection period": "whether an amendment does",
    "Licensee for Seller": "one of two in the same firm",
    "Licensee for Buyer": "one of two in the same firm",
    "Deposit received": "how much came, which may be less than was agreed",
    "File: purchase agreement": "whether the broker's file has it",
    "Exception": "from a tax on withholding",
}
"""Own blanks whose label is near a fact's, and why they are the form's own."""
TWICE = {
    "Lead-based paint known": "each disclosure is its signer's own statement",
    "Known lead-based paint": "each disclosure is its signer's own statement",
    "Records on lead": "each disclosure is its signer's own statement",
    "Records and reports on lead": "each disclosure is its signer's own statement",
    "Roof laid in": "in the disclosure the seller's own statement",
    "Seller is a foreign person": "in the certificate sworn to by the seller",
}
"""Own blanks that two forms of one package share, and why."""


def own(meaning: Meaning) -> bool:
    return not (meaning.fact or meaning.formula or meaning.sign)


def alternates(a: str, b: str) -> bool:
    """Whether two forms are for different kinds of property, or one is in the other's place."""
    one, other = (demo_pack().forms[n].edition for n in (a, b))
    both_say = bool(one.kinds and other.kinds)
    return both_say and not set(one.kinds) & set(other.kinds)


def test_no_own_blank_asks_what_a_fact_knows() -> None:
    facts = {fact.label.casefold(): fact.key for fact in CATALOG}
    found = {
        (number, meaning.label): facts[label]
        for number, form in demo_pack().forms.items()
        for meaning in form.mapping.meanings
        for label in facts
        if own(meaning) and meaning.label and fuzz.token_sort_ratio(meaning.label.casefold(), label) >= ALIKE
    }
    strangers = {where: key for where, key in found.items() if where[1] not in ONES}
    assert not strangers, "bind them to the fact, or say here why they are the form's own"
    assert {label for _, label in found} == set(ONES), "a reason for a blank that is gone"


def test_no_question_is_asked_under_two_own_blanks_of_one_package() -> None:
    asked: dict[str, set[str]] = {}
    for number, form in demo_pack().forms.items():
        for meaning in form.mapping.meanings:
            if own(meaning) and meaning.label:
                asked.setdefault(meaning.label, set()).add(number)
    sides = {n: set(f.edition.sides) for n, f in demo_pack().forms.items()}
    twice = {
        (label, a, b)
        for label, numbers in asked.items()
        for a, b in combinations(sorted(numbers), 2)
        if sides[a] & sides[b] and not alternates(a, b) and label not in TWICE
    }
    assert not twice
