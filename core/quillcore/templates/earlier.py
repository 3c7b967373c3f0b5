"""An agent's earlier answers, which may be offered again where the same is asked."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from typing import NamedTuple

from quillcore.facts import Side
from quillcore.facts.keys import SERVICES, group_of, own_key
from quillcore.templates.writing import becomes_standing

MOST_OFFERED = 5
"""As many as are taken in at a glance under a field."""
_CHOSEN_OR_COUNTED = ("choice", "yes_no", "integer", "percent", "number", "time")
_WORDING = ("terms.additional_terms", "lease.additional_terms")
_OWN_WORDING = ("additional",)
"""The forms' names for their blanks for further terms."""
_OF_ONE_CASE = ("file_number",)


def may_be_offered(key: str, kind: str, side: Side) -> bool:
    """Return whether what was stated under a key in one deal may be offered in another: what is chosen,
    periods and percents, wording of further terms, and firms and people who serve many.  Nothing of a
    client's or of a home's: no name, address, price or date."""
    own = own_key(key)
    if own is not None and own.name in _OWN_WORDING:
        return True
    if key in _WORDING:
        return True
    if group_of(key) in SERVICES:
        return not key.endswith(_OF_ONE_CASE)
    return kind in _CHOSEN_OR_COUNTED and becomes_standing(key, kind, side)


class Earlier(NamedTuple):
    """A value as it is kept, and in how many deals it was the answer."""

    value: str
    times: int


def offered(answers: Iterable[str]) -> list[Earlier]:
    """Return, of answers newest first, those to be offered: the most frequent first, of equals the newest."""
    return [Earlier(value, times) for value, times in Counter(answers).most_common(MOST_OFFERED)]
