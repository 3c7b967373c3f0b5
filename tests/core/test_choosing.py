"""Which template a new deal starts with."""

from __future__ import annotations

import pytest
from quillcore.facts import Side
from quillcore.templates.choosing import Offered, best_fit

ALL = [
    Offered("cash", Side.BUYING, ("single-family",)),
    Offered("condo", Side.BUYING, ("condominium",)),
    Offered("conventional", Side.BUYING, ("single-family",)),
    Offered("any lease", Side.RENTING, ()),
    Offered("house lease", Side.RENTING, ("single-family",)),
]


@pytest.mark.parametrize(
    ("side", "category", "name"),
    [
        (Side.BUYING, "condominium", "condo"),
        (Side.BUYING, "single-family", "conventional"),
        (Side.BUYING, "castle", "cash"),
        (Side.RENTING, "condominium", "any lease"),
        (Side.RENTING, "single-family", "house lease"),
        (Side.LISTING, "condominium", None),
    ],
)
def test_the_one_made_for_such_a_home_comes_first(side: Side, category: str, name: str | None) -> None:
    found = best_fit(ALL, side, category)
    assert (found.name if found else None) == name
