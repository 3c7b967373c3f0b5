"""Reading a package once more, as a careful broker would: what must, should and might be mended."""

from __future__ import annotations

from collections.abc import Iterator

from quillcore.proofreading import clauses, forms, paper, people, terms
from quillcore.proofreading.forms import missed
from quillcore.proofreading.model import (
    Agreed,
    Came,
    Expected,
    Mend,
    Newer,
    Proof,
    Remark,
    RemarkWeight,
    Rule,
)

RULES: tuple[Rule, ...] = (*paper.RULES, *terms.RULES, *clauses.RULES, *people.RULES, *forms.RULES)
_ORDER = {RemarkWeight.MUST: 0, RemarkWeight.SHOULD: 1, RemarkWeight.LOOK: 2}


def proofread(proof: Proof) -> list[Remark]:
    """Return all remarks, what weighs most first, each thing said once."""
    found: dict[tuple[str, str, str, str], Remark] = {}
    for remark in _every(proof):
        found.setdefault(
            (remark.rule, remark.key, remark.document if not remark.key else "", remark.message), remark
        )
    return sorted(found.values(), key=lambda remark: _ORDER[remark.weight])


def _every(proof: Proof) -> Iterator[Remark]:
    for rule in RULES:
        yield from rule(proof)


__all__ = [
    "RULES",
    "Agreed",
    "Came",
    "Expected",
    "Mend",
    "Newer",
    "Proof",
    "Remark",
    "RemarkWeight",
    "missed",
    "proofread",
]
