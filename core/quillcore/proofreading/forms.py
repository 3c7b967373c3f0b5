"""The right papers for this deal: called for, out of place, twice, still to come."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from quillcore.proofreading.model import Mend, Proof, Remark, Remarks, Weight

_LEAD_LAW = 1978
"""Homes begun before that year may have lead paint, and their papers say so."""
_HOMES = ("single-family", "condominium", "townhouse", "manufactured", "multi-family 2–4")


class Call(NamedTuple):
    """A form that facts call for: the reason, or "" where they don't; None where they rule it out."""

    number: str
    weight: Weight
    why: Callable[[Proof], str | None]


def _lead(proof: Proof) -> str | None:
    built, kind = proof.money("property.year_built"), proof.said("property.category")
    if kind and kind not in _HOMES:
        return None
    if built is None:
        return ""
    return f"the home was built in {built:f}" if built < _LEAD_LAW else None


def _loan(*types: str) -> Callable[[Proof], str | None]:
    def why(proof: Proof) -> str | None:
        loan = proof.said("terms.loan_type")
        if not loan:
            return ""
        return f"the loan is {loan}" if loan in types else None

    return why


def _yes(key: str, said: str) -> Callable[[Proof], str | None]:
    def why(proof: Proof) -> str | None:
        answer = proof.yes(key)
        return "" if answer is None else said if answer else None

    return why


def _well_or_septic(proof: Proof) -> str | None:
    water, sewer = proof.said("property.water").casefold(), proof.said("property.sewer").casefold()
    if not water and not sewer:
        return ""
    own = [name for name, text in (("well", water), ("septic", sewer)) if name in text]
    return f"the property has its own {' and '.join(own)}" if own else None


def _possession(proof: Proof) -> str | None:
    said = proof.said("terms.possession")
    if not said:
        return ""
    return f"possession is {said}" if said != "at closing" else None


def _condominium(proof: Proof) -> str | None:
    kind = proof.said("property.category")
    return "" if not kind else "it is a condominium" if kind == "condominium" else None


_SALE = (
    Call("503", Weight.MUST, _lead),
    Call("401", Weight.SHOULD, _loan("conventional")),
    Call("403", Weight.MUST, _loan("FHA", "VA", "USDA")),
    Call("405", Weight.MUST, _loan("seller carry")),
    Call("412", Weight.MUST, _yes("terms.sale_contingency", "it depends on the sale of the buyer's home")),
    Call("326", Weight.MUST, _yes("terms.backup", "it is a back-up offer")),
    Call("420", Weight.SHOULD, _yes("property.association", "there is an owners' association")),
    Call("505", Weight.SHOULD, _yes("property.flood_zone", "it lies in a flood zone")),
    Call("507", Weight.SHOULD, _well_or_septic),
    Call("430", Weight.SHOULD, _possession),
    Call("422", Weight.LOOK, _condominium),
)
_LEASE = (Call("603", Weight.MUST, _yes("lease.pets", "pets are allowed")),)
_OF_KIND = {
    "301": ("single-family", "townhouse", "manufactured", "multi-family 2–4"),
    "303": ("condominium",),
    "305": ("land", "farm"),
    "307": ("commercial", "industrial"),
}
"""Agreements, and the kinds of property that each is written for."""
_AGREEMENTS = ("301", "303", "305", "307", "601")


def _calls(proof: Proof) -> tuple[Call, ...]:
    is_about_terms = any(number in proof.numbers for number in _AGREEMENTS)
    if not is_about_terms:
        return ()
    return _LEASE if proof.package.sheet.ledger.side.is_lease else _SALE


def called_for(proof: Proof) -> Remarks:
    """A form that the facts call for and that isn't there, nor expected."""
    waiting = " ".join(e.title for e in proof.expected)
    for call in _calls(proof):
        why = call.why(proof)
        is_there = call.number in proof.numbers or call.number in waiting
        title = proof.titles.get(call.number, "")
        if why and not is_there and (title or not proof.titles):
            says = f"{call.number} {title}".strip()
            yield Remark(
                "called for",
                call.weight,
                f"{says} belongs to this package: {why}.",
                "Add it.",
                does=Mend(f"Add {call.number}", add=call.number),
            )


def out_of_place(proof: Proof) -> Remarks:
    """A form whose reason isn't there."""
    for call in _calls(proof):
        if call.number in proof.numbers and call.why(proof) is None:
            [document, *_] = proof.numbers[call.number]
            yield Remark(
                "out of place",
                Weight.SHOULD,
                f"{_title(proof, document)} doesn't apply: {_NOT[call.number]}.",
                "Set it aside.",
                document=document,
                does=Mend(f"Set {call.number} aside", aside=document),
            )


_NOT = {
    "503": f"the home was built in {_LEAD_LAW} or later, or isn't one",
    "401": "the loan isn't conventional",
    "403": "no government backs the loan",
    "405": "the seller doesn't carry the loan",
    "412": "it doesn't depend on the sale of the buyer's home",
    "326": "it is no back-up offer",
    "420": "there is no owners' association",
    "505": "it doesn't lie in a flood zone",
    "507": "water and sewer are public",
    "430": "possession is at closing",
    "422": "it is no condominium",
    "603": "no pets are allowed",
}


def wrong_kind(proof: Proof) -> Remarks:
    """An agreement for another kind of property."""
    kind = proof.said("property.category")
    for number, kinds in _OF_KIND.items():
        if kind and number in proof.numbers and kind not in kinds:
            [document, *_] = proof.numbers[number]
            right = next((n for n, of in _OF_KIND.items() if kind in of), "")
            yield Remark(
                "wrong kind",
                Weight.MUST,
                f"{_title(proof, document)} isn't written for {kind} property.",
                f"Use {right} {proof.titles.get(right, '')}.".replace(" .", ".")
                if right
                else "Use another agreement.",
                document=document,
            )


def two_agreements(proof: Proof) -> Remarks:
    """Two agreements for one deal."""
    there = [number for number in _AGREEMENTS if number in proof.numbers]
    if len(there) > 1:
        yield Remark(
            "two agreements",
            Weight.SHOULD,
            f"The package has more than one agreement: {' and '.join(there)}.",
            "Set one aside.",
            document=proof.numbers[there[1]][0],
        )


def same_form_twice(proof: Proof) -> Remarks:
    """A form that is there twice."""
    for number, documents in proof.numbers.items():
        if number and len(documents) > 1:
            yield Remark(
                "form twice",
                Weight.LOOK,
                f"{_title(proof, documents[0])} is in the package {len(documents)} times.",
                "Set one aside, if that isn't meant.",
                document=documents[1],
                does=Mend("Set the second aside", aside=documents[1]),
            )


def still_to_come(proof: Proof) -> Remarks:
    """A paper that the package waits for."""
    for expected in proof.expected:
        of = f" from the {expected.of}" if expected.of else ""
        yield Remark("expected", Weight.LOOK, f"{expected.title} hasn't come yet{of}.", "Ask for it.")


def retired(proof: Proof) -> Remarks:
    """An edition that a newer release has otherwise."""
    for document, since in proof.retired.items():
        if document in proof.package.by_id and not proof.package.by_id[document].set_aside:
            day = f"{since:%B} {since.day}, {since.year}"
            yield Remark(
                "retired",
                Weight.SHOULD,
                f"A newer edition of {_title(proof, document)} is in use since {day}.",
                "Take the newer one, unless this deal began with the old.",
                document=document,
            )


def others_open(proof: Proof) -> Remarks:
    """The other side's paper with open blanks."""
    side = proof.package.sheet.ledger.side
    for document in proof.package.documents:
        if document.set_aside or document.form.edition.is_ours(side):
            continue
        open_ones = sum(b.document == document.id and b.state == "open" for b in proof.blanks)
        if open_ones:
            yield Remark(
                "theirs open",
                Weight.SHOULD,
                f"{_title(proof, document.id)} is the other side's to fill, and has {open_ones} open.",
                "Ask for it filled in.",
                document=document.id,
            )


def no_representation(proof: Proof) -> Remarks:
    """An offer without any paper that says whom the firm acts for."""
    has_offer = any(n in proof.numbers for n in ("301", "303", "305", "307"))
    papers = ("101", "110", "201", "215")
    if has_offer and not any(n in proof.numbers for n in papers):
        yield Remark(
            "representation",
            Weight.LOOK,
            "No paper here says whom the firm acts for.",
            "Add 101, or keep it with the client.",
            does=Mend("Add 101", add="101"),
        )


def _title(proof: Proof, document: str) -> str:
    edition = proof.package.by_id[document].form.edition
    return f"{edition.number} {edition.title}".strip()


RULES = (
    called_for,
    out_of_place,
    wrong_kind,
    two_agreements,
    same_form_twice,
    still_to_come,
    retired,
    others_open,
    no_representation,
)
