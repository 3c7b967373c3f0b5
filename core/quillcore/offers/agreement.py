"""Agreement: whose signatures make a contract of a paper, and which terms are then in force."""

from __future__ import annotations

from collections.abc import Collection, Sequence

from quillcore.facts import Ledger
from quillcore.forms import Form
from quillcore.formulas import Evaluator

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
