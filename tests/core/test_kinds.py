"""Kinds of value: what a new one has to be decided on."""

from __future__ import annotations

from quillcore.estimates import lines, solving
from quillcore.facts import scopes
from quillcore.formulas import reasons
from quillcore.formulas.typing import type_of_kind
from quillcore.templates import earlier, writing
from quillcore.values import KINDS

TABLES = {
    "facts/scopes.py: what still holds in another offer": scopes._STILL_HOLDS,
    "templates/writing.py: what a template made of a deal keeps of blanks": writing._OF_BLANKS,
    "templates/earlier.py: what earlier answers are proposed from": earlier._CHOSEN_OR_COUNTED,
    "formulas/reasons.py: what an explanation names with its value": reasons._TOLD,
    "estimates/lines.py: what a money sheet adds up": lines._MONEY,
    "estimates/solving.py: what can be solved for": tuple(solving._UNITS),
}
"""Decisions on kinds that are not the kind's own: a field of ``ValueKind`` where every use agrees."""
DECIDED = {
    *("text", "long_text", "name", "address", "choice", "phone", "email", "area", "money", "exact_money"),
    *("percent", "number", "integer", "year", "date", "time", "yes_no"),
}


def test_a_new_kind_is_decided_on_in_every_table() -> None:
    new = set(KINDS) - DECIDED
    assert not new, f"Decide on {', '.join(new)} in each of: {'; '.join(TABLES)}; then add it here."
    assert set(KINDS) == DECIDED


def test_tables_name_kinds_that_there_are() -> None:
    for table, kinds in TABLES.items():
        assert set(kinds) <= set(KINDS), table


def test_a_kinds_own_fields_fit_together() -> None:
    types = {"text", "money", "percent", "number", "date", "time", "yes_no"}
    for name, kind in KINDS.items():
        assert kind.formula in types and type_of_kind(name) == kind.formula, name
        assert kind.align in ("left", "center", "right") and (kind.width == "full" or int(kind.width) > 0), (
            name
        )
        assert kind.numeric == (kind.formula in ("money", "percent", "number")), name
        assert not kind.ask or kind.ask.endswith("?"), name
    assert type_of_kind("nothing that there is") == "text"
