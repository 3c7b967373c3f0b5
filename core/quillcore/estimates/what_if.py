"""The deal as it would be if something were otherwise: nothing is kept."""

from __future__ import annotations

from collections.abc import Mapping

from quillcore.facts import Act, Entry, Source
from quillcore.formulas import Evaluator
from quillcore.values import Value


def what_if(sheet: Evaluator, stated: Mapping[str, Value]) -> Evaluator:
    """Return a sheet over the same facts, with some stated otherwise, by stored key.  What is locked stays
    so."""
    ledger = sheet.ledger.copy()
    for key, value in stated.items():
        ledger.add(Entry(key, Act.STATE, ledger.newest + 1, Source.TYPED, value))
    return sheet.over(ledger)
