"""Which template a new deal starts with."""

from __future__ import annotations

from collections.abc import Sequence
from typing import NamedTuple

from quillcore.facts import Side

USUAL = "conventional"
"""Among templates for the same kind of property the one that speaks of a conventional loan comes first: most
homes are bought with one, and what doesn't fit is said when the financing is typed."""


class Offered(NamedTuple):
    """A template as it is chosen among others; one that names no ``kinds`` of property is for all of them."""

    name: str
    side: Side
    kinds: tuple[str, ...]


def best_fit(templates: Sequence[Offered], side: Side, category: str) -> Offered | None:
    """The one that fits best: made for this kind of property, else for any, of that side; never one that is
    made for another kind alone, unless there is no other."""
    ours = [t for t in templates if t.side == side]
    fit = [t for t in ours if category in t.kinds]
    usual = [t for t in fit if USUAL in t.name]
    for_any = [t for t in ours if not t.kinds]
    return next(iter([*usual, *fit, *for_any, *ours]), None)
