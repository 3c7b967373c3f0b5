"""Clauses that stand in a package: facts in them that nobody knows, and wordings that were changed since."""

from __future__ import annotations

from collections.abc import Iterator

from quillcore.facts.wording import Parts, read_wording, wording_of, written
from quillcore.proofreading.model import Mend, Newer, Proof, Remarks, RemarkWeight
from quillcore.values import Fault


def gaps(proof: Proof) -> Remarks:
    """Yield a clause with a line to be written on: the fact that it names isn't known."""
    for key, parts in _wordings(proof):
        missing = [p.key for p in parts if p.key and proof.value(p.key) is None]
        for fact in dict.fromkeys(missing):
            label = proof.label(fact)
            yield proof.at(
                "clause gap",
                RemarkWeight.MUST,
                key,
                f"{proof.label(key)}: a clause names the {label[0].lower()}{label[1:]}, which isn’t known.",
                f"Answer {label}, or write the clause without it.",
            )


def changed(proof: Proof) -> Remarks:
    """Yield a clause whose kept wording was changed since it was put here."""
    ledger = proof.package.sheet.ledger
    for key, parts in _wordings(proof):
        stated = ledger.in_force(key)
        origin = stated.origin if stated is not None else ""
        for ref in origin.split():
            if ref not in proof.newer:
                continue
            newer = proof.newer[ref]
            yield proof.at(
                "clause changed",
                RemarkWeight.LOOK,
                key,
                f"The clause “{newer.name}” was changed since it was put here.",
                "This copy has the earlier wording. Compare it under Clauses.",
                _replaced(proof, key, parts, newer),
            )


def _replaced(proof: Proof, key: str, parts: Parts, newer: Newer) -> Mend | None:
    """Return the mend that puts the new wording in place of the old one; none where that was typed over."""
    wording = written(parts)
    if newer.said not in wording:
        return None
    new = wording.replace(newer.said, newer.says, 1)
    is_sound = not isinstance(read_wording(new, proof.package.catalog), Fault)
    return Mend("Take the new wording", key, new, clause=newer.ref) if is_sound else None


def _wordings(proof: Proof) -> Iterator[tuple[str, Parts]]:
    """Yield what is said by a wording, where it prints."""
    ledger = proof.package.sheet.ledger
    for key in ledger.formulas():
        parts = wording_of(ledger.in_force(key))
        if parts and key in proof.first:
            yield key, parts


RULES = (gaps, changed)
