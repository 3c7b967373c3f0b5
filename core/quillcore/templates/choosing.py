"""Choosing templates for a new deal: which are offered, in what order, and why."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from enum import IntEnum
from typing import NamedTuple

from quillcore.facts import Act, Catalog, Entry, Ledger, Side, Source
from quillcore.formulas import Evaluator
from quillcore.templates.model import read_rule
from quillcore.values import Fault, Value

USUAL = "conventional"
"""Among templates for the same kind of property the one that speaks of a conventional loan comes first: most
homes are bought with one, and what doesn't fit is said when the financing is typed."""


class Offered(NamedTuple):
    """A template as it is chosen among others; one that names no ``kinds`` of property is for all of them.
    ``by`` is whose it is."""

    name: str
    side: Side
    kinds: tuple[str, ...]
    rule: str = ""
    weight: str = ""
    by: str = ""


class Rank(IntEnum):
    """The rank of a template for a new deal, the foremost first."""

    REQUIRED = 0
    SUGGESTED = 1
    FITS = 2
    OTHER = 3

    @property
    def is_usual(self) -> bool:
        """Whether a new deal begins with such a template unless somebody says otherwise: all that are
        required, and the one that fits best."""
        return self in (Rank.REQUIRED, Rank.FITS)


class Ranked(NamedTuple):
    """A template's place among those a deal is offered, and why it stands there."""

    rank: Rank
    why: str
    template: Offered


def rank(
    templates: Sequence[Offered], side: Side, facts: Mapping[str, Value], catalog: Catalog
) -> list[Ranked]:
    """Return the templates of that side: those required first, then those that their rule suggests, the one
    that fits best, and the rest.  ``facts`` is what is known of the deal when it starts."""
    best = best_fit(templates, side, str(facts.get("property.category", "")))
    ours = [t for t in templates if t.side == side]
    known = {"deal.side": side.value, **facts}
    return sorted((_ranked(t, best, known, catalog) for t in ours), key=lambda r: r.rank)


def _ranked(template: Offered, best: Offered | None, facts: Mapping[str, Value], catalog: Catalog) -> Ranked:
    if template.rule and template.weight and holds(template.rule, facts, catalog):
        told = _beyond_the_side(in_words(template.rule, catalog), template.side)
        if template.weight == "required":
            return Ranked(Rank.REQUIRED, f"required by {template.by or 'the brokerage'}: {told}", template)
        return Ranked(Rank.SUGGESTED, f"suggested: {told}", template)
    if template is best:
        return Ranked(Rank.FITS, _fit_in_words(template, str(facts.get("property.category", ""))), template)
    return Ranked(Rank.OTHER, "", template)


def _beyond_the_side(told: str, side: Side) -> str:
    """Return what a rule asks for where the side is known anyway."""
    of_side = f"Side is {side}"
    return "for every deal of this side" if told == of_side else told.removeprefix(f"{of_side} and ")


def in_words(rule: str, catalog: Catalog) -> str:
    """Return a rule as people say it: "Kind of property is land and County is Linden"."""
    plain = re.sub(r"\b[a-z_]+\.[a-z_]+\b", lambda m: catalog.label_of(m[0]), rule)
    return " ".join(re.sub(r"\s*=\s*", " is ", plain.replace("!=", " is not ")).replace('"', "").split())


def _fit_in_words(template: Offered, category: str) -> str:
    if category in template.kinds:
        return f"made for {category}"
    return "made for every kind of property" if not template.kinds else "the nearest there is"


def holds(rule: str, facts: Mapping[str, Value], catalog: Catalog) -> bool:
    """Return whether a rule holds of what is known; one that can't be told yet, or read, doesn't."""
    read = read_rule(rule, catalog)
    if isinstance(read, Fault):
        return False
    ledger = Ledger(catalog, str(facts.get("deal.side", Side.BUYING.value)))
    for order, (key, value) in enumerate(facts.items(), 1):
        ledger.add(Entry(key, Act.STATE, order, Source.TYPED, value))
    return Evaluator(ledger).test(read.tree) is True


def best_fit(templates: Sequence[Offered], side: Side, category: str) -> Offered | None:
    """Return the one that fits best: made for this kind of property, else for any, of that side; never one
    that is made for another kind alone, unless there is no other."""
    ours = [t for t in templates if t.side == side]
    fit = [t for t in ours if category in t.kinds]
    usual = [t for t in fit if USUAL in t.name]
    for_any = [t for t in ours if not t.kinds]
    return next(iter([*usual, *fit, *for_any, *ours]), None)
