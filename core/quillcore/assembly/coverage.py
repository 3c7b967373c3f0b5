"""Coverage of a template: the blanks of its forms that it answers, and who answers the others."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from enum import StrEnum
from typing import NamedTuple

from quillcore.assembly.blanks import Blank, Package
from quillcore.facts import Source
from quillcore.facts.keys import GROUPS, SERVICES, group_of


class By(StrEnum):
    """The source of a blank's answer in a deal of this template."""

    YOU = "you"
    SOURCES = "listing and roll"
    PROFILE = "profile"
    WORKED_OUT = "worked out"
    PARTIES = "parties"
    CONTACTS = "contacts"
    CLIENT = "client"
    ASKED = "asked"


class Covered(NamedTuple):
    """One question of the package: boxes of one group are one."""

    blank: Blank
    by: By


def coverage(package: Package) -> Iterator[Covered]:
    """Yield every question of a template's package that its answers leave to apply, in reading order, with
    who answers it.  Places to be signed are none, nor what may stay empty."""
    seen: set[tuple[str, str]] = set()
    for blank in package.blanks():
        if blank.state in ("sign", "idle", "optional") or (blank.document, blank.key) in seen:
            continue
        if blank.field.shape == "box":
            seen.add((blank.document, blank.key))
        yield Covered(blank, _by(package, blank))


def count_coverage(package: Package) -> dict[str, int]:
    """Return how many questions each answers; those that answer none are left out."""
    counts = Counter(c.by for c in coverage(package))
    return {by.value: counts[by] for by in By if counts[by]}


_FILLED = {
    Source.TYPED: By.YOU,
    Source.TEMPLATE: By.YOU,
    Source.FORM: By.YOU,
    Source.PROFILE: By.PROFILE,
    Source.WORKED_OUT: By.WORKED_OUT,
}


def _by(package: Package, blank: Blank) -> By:
    if blank.state == "theirs":
        return By.CLIENT
    group = group_of(blank.key)
    if blank.state == "filled":
        return _FILLED.get(blank.source or Source.TYPED, By.YOU)
    if group in GROUPS:
        return By.PARTIES
    fact = package.catalog.find(blank.key)
    if fact is not None and (fact.reso or fact.roll) and fact.own_side != package.sheet.ledger.side:
        return By.SOURCES
    if group == package.sheet.ledger.side.own_agent:
        return By.PROFILE
    if blank.key in package.sheet.rules:
        return By.WORKED_OUT
    return By.CONTACTS if group in SERVICES else By.ASKED
