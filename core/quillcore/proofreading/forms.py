"""The right papers for this deal: called for, out of place, twice, still to come."""

from __future__ import annotations

from quillcore.forms import Form
from quillcore.forms.model import Called
from quillcore.proofreading.model import Mend, Proof, Remark, Remarks, RemarkWeight

_AGREEMENTS = ("301", "303", "305", "307", "601")
_BEGINS = ("purchase", "listing", "leasing")
"""Topics of the papers with which a deal begins: without one of them a package is a part of one, of which
nothing is missed."""


def _candidates(proof: Proof) -> dict[str, Form]:
    """Return the forms of this side that say when they are called for, by number: those at hand, and those
    that could be added."""
    at_hand = {d.form.edition.number: d.form for d in proof.package.documents}
    if not any(d.form.edition.topic in _BEGINS for d in proof.package.leaving):
        return {}
    side = proof.package.sheet.ledger.side
    every = {**proof.available, **at_hand}
    return {n: f for n, f in every.items() if f.mapping.called is not None and side in f.edition.sides}


def missed(proof: Proof) -> list[tuple[Form, Called]]:
    """Return the forms that the facts call for and that aren't there, nor expected, with what they say of
    it."""
    waiting = " ".join(e.title for e in proof.expected)
    return [
        (form, called)
        for number, form in _candidates(proof).items()
        if (called := form.mapping.called) is not None
        and called.weight != "may"
        and number not in proof.numbers
        and number not in waiting
        and proof.package.is_called_for(form)
        and _is_for(proof, form) is not False
    ]


def called_for(proof: Proof) -> Remarks:
    """Yield a form that the facts call for and that isn't there, nor expected."""
    for form, called in missed(proof):
        number, title = form.edition.number, form.edition.title
        yield Remark(
            "called for",
            RemarkWeight(called.weight),
            f"{number} {title} belongs to this package: {called.because}.",
            "Add it.",
            does=Mend(f"Add {number}", add=number),
        )


def own_remarks(proof: Proof) -> Remarks:
    """Yield what a form itself remarks on."""
    for document in proof.package.documents:
        if document.set_aside or proof.package.is_called_for(document.form) is False:
            continue
        for remark in proof.package.own_remarks(document):
            meaning = document.form.mapping.by_id[remark.at]
            key = meaning.fact or document.prefix + (meaning.group or meaning.id)
            said = f"{document.form.edition.number}: {remark.says}"
            weight = RemarkWeight(remark.weight)
            yield Remark("form's own", weight, said, remark.mend, key, document.id, remark.at)


def out_of_place(proof: Proof) -> Remarks:
    """Yield a form that the facts rule out."""
    for document in proof.package.documents:
        called = document.form.mapping.called
        if document.set_aside or called is None or proof.package.is_called_for(document.form) is not False:
            continue
        yield Remark(
            "out of place",
            RemarkWeight.SHOULD,
            f"{_title(proof, document.id)} doesn't apply: {called.unless}.",
            "Leave it out of this package.",
            document=document.id,
            does=Mend(f"Set {document.form.edition.number} aside", aside=document.id),
        )


def _is_for(proof: Proof, form: Form) -> bool | None:
    """Return whether a form is written for this kind of property; None where either says nothing of it."""
    kind = proof.said("property.category")
    return kind in form.edition.kinds if kind and form.edition.kinds else None


def wrong_kind(proof: Proof) -> Remarks:
    """Yield a form for another kind of property."""
    for document in proof.package.documents:
        if document.set_aside or _is_for(proof, document.form) is not False:
            continue
        edition, kind = document.form.edition, proof.said("property.category")
        right = [
            f"{number} {form.edition.title}"
            for number, form in proof.available.items()
            if form.edition.topic == edition.topic and kind in form.edition.kinds
        ]
        yield Remark(
            "wrong kind",
            RemarkWeight.MUST,
            f"{_title(proof, document.id)} is not meant for {kind} property.",
            f"Use {right[0]}." if right else "Use another one.",
            document=document.id,
        )


def two_agreements(proof: Proof) -> Remarks:
    """Yield two agreements for one deal."""
    there = [number for number in _AGREEMENTS if number in proof.numbers]
    if len(there) > 1:
        yield Remark(
            "two agreements",
            RemarkWeight.SHOULD,
            f"The package has more than one agreement: {' and '.join(there)}.",
            "Leave one out of this package.",
            document=proof.numbers[there[1]][0],
        )


def same_form_twice(proof: Proof) -> Remarks:
    """Yield a form that is there twice."""
    for number, documents in proof.numbers.items():
        if number and len(documents) > 1:
            yield Remark(
                "form twice",
                RemarkWeight.LOOK,
                f"{_title(proof, documents[0])} is in the package {len(documents)} times.",
                "Leave one out if this is a mistake.",
                document=documents[1],
                does=Mend("Leave out the second", aside=documents[1]),
            )


def still_to_come(proof: Proof) -> Remarks:
    """Yield a paper that the package waits for."""
    for expected in proof.expected:
        of = f" from the {expected.of}" if expected.of else ""
        yield Remark(
            "expected", RemarkWeight.LOOK, f"{expected.title} hasn't arrived yet{of}.", "Ask for it."
        )


def retired(proof: Proof) -> Remarks:
    """Yield an edition that a newer release has otherwise."""
    for document, since in proof.retired.items():
        if document in proof.package.by_id and not proof.package.by_id[document].set_aside:
            day = f"{since:%B} {since.day}, {since.year}"
            yield Remark(
                "retired",
                RemarkWeight.SHOULD,
                f"A newer edition of {_title(proof, document)} is in use since {day}.",
                "Use the newer one, unless this deal started with the old one.",
                document=document,
            )


def others_open(proof: Proof) -> Remarks:
    """Yield the other side's paper with open blanks."""
    side = proof.package.sheet.ledger.side
    for document in proof.package.documents:
        if document.set_aside or document.form.edition.is_ours(side):
            continue
        open_ones = sum(b.document == document.id and b.state == "open" for b in proof.blanks)
        if open_ones:
            yield Remark(
                "theirs open",
                RemarkWeight.SHOULD,
                f"{_title(proof, document.id)} is for the other side to fill in. Unanswered: {open_ones}.",
                "Ask for a completed copy.",
                document=document.id,
            )


def no_representation(proof: Proof) -> Remarks:
    """Yield an offer without any paper that says whom the firm acts for."""
    has_offer = any(n in proof.numbers for n in ("301", "303", "305", "307"))
    papers = ("101", "110", "201", "215")
    if has_offer and not any(n in proof.numbers for n in papers):
        yield Remark(
            "representation",
            RemarkWeight.LOOK,
            "No form states who the firm represents.",
            "Add 101, or confirm that the client has one.",
            does=Mend("Add 101", add="101"),
        )


def _title(proof: Proof, document: str) -> str:
    return proof.package.by_id[document].form.edition.named


def came_open(proof: Proof) -> Remarks:
    """Yield a form that the other side filled in, with blanks left open."""
    for came in proof.came:
        if came.open:
            named = ", ".join(came.open[:_MOST_NAMED])
            more = f" and {len(came.open) - _MOST_NAMED} more" if len(came.open) > _MOST_NAMED else ""
            yield Remark(
                "came open",
                RemarkWeight.SHOULD,
                f"{came.title} came with {len(came.open)} unanswered: {named}{more}.",
                "Ask for a completed copy.",
                document=came.document,
            )


_MOST_NAMED = 4

RULES = (
    came_open,
    own_remarks,
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
