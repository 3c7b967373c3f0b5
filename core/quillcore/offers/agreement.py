"""Agreement: whose signatures make a contract of a paper, and which terms are then in force."""

from __future__ import annotations

from collections.abc import Collection, Sequence

from quillcore.facts import Ledger
from quillcore.forms import Form
from quillcore.formulas import Evaluator
from quillcore.values import Fault

ACCEPTED = "terms.acceptance_date"
"""The fact of the day on which the last party signed: by that the offer is accepted."""


def parties_of_both(ledger: Ledger) -> set[str]:
    """Return the keys, as signers, of all parties of both sides; none where a side has nobody yet."""
    ours, theirs = ledger.signers(ledger.side.clients), ledger.signers(ledger.side.others)
    return {*ours, *theirs} if ours and theirs else set()


def accepts(sheet: Evaluator, signed: Sequence[Form]) -> bool:
    """Return whether papers that both sides have signed accept the offer: one of them states the day of
    acceptance, and the deal has none yet."""
    is_accepted = sheet.held(ACCEPTED).value is not None
    return not is_accepted and any(m.fact == ACCEPTED for form in signed for m in form.mapping.meanings)


def turns_agreed(papers: Sequence[str], agreed: Sequence[bool], signed: Collection[str]) -> int:
    """Return how many of an offer's turns, in order, are agreed once the ``signed`` documents are: all to the
    last one whose paper is among them, unless that was ``agreed`` before.  ``papers`` are the turns'
    documents, "" for none; 0 where none of them was signed."""
    found = (n for n, paper in enumerate(papers, 1) if paper in signed and not agreed[n - 1])
    return max(found, default=0)


def against_accepting(
    *,
    accepted: str | None,
    unanswered: str | None,
    has_paper: bool,
    how: str,
    expired: str | None = None,
) -> Fault | None:
    """Return what stands against recording that both sides agree; None for nothing.

    ``accepted`` is the name of another offer that is accepted, ``unanswered`` that of our own newest turn
    while nobody answered it: the other side's agreement is never ours to give.  ``has_paper``: a paper
    shows it; ``how`` is what is said of it.  ``expired`` is when the newest turn ended, where it is
    agreed on after that.
    """
    if accepted is not None:
        return Fault(
            "accepted",
            f"{accepted} is accepted already.",
            "Take this one as a back-up, or reopen the accepted one first.",
        )
    if unanswered is not None and not has_paper:
        return Fault(
            "unanswered",
            f"{unanswered} is ours, and the other side hasn’t answered it.",
            "Choose the paper that they signed, or record their counter-offer.",
        )
    if expired is not None:
        return Fault(
            "expired",
            f"It expired {expired}, before it was agreed on.",
            "Enter the day and hour at which it was agreed, or make another turn.",
        )
    if not has_paper and not how.strip():
        return Fault(
            "how", "Nothing shows that it was agreed.", "Choose the signed paper, or enter how you know."
        )
    return None
