"""Pasting into one fact a text that is meant for several: an address, or lines from a mail or a sheet."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence

from quillcore.facts.catalog import Catalog
from quillcore.facts.keys import group_of, name_of
from quillcore.values.addresses import take_apart

_ADDRESS = {
    "street_number": "number",
    "direction": "direction",
    "street_name": "street",
    "street_suffix": "suffix",
    "unit": "unit",
    "city": "city",
    "state": "state",
    "postal_code": "postal_code",
}
_LABELLED = re.compile(r"^\s*([^:\t=]{2,60}?)\s*(?::|\t|=)\s*(.*\S)\s*$")
MOST_LINES = 400


def spread(catalog: Catalog, key: str, text: str) -> list[tuple[str, str]]:
    """Return the facts that a pasted text states, as (key, text); [(key, text)] where it is meant for the
    one alone.

    An address pasted into a part of the property's address is taken apart.  Lines of "Label: value" (or
    label, tab, value) go to the facts of those labels, first of the key's own group; lines that bear no known
    label are left out when others do.  Other lines go one by one to the facts of the group from the key on,
    an empty line skipping one.  A fact that holds several lines itself takes them all.
    """
    fact = catalog.find(key)
    lines = text.strip("\n").splitlines()[:MOST_LINES]
    if fact is None or (fact.kind == "long_text" and not _labelled(catalog, fact.group, lines)):
        return [(key, text)]
    if found := _address(key, text):
        return found
    if len(lines) < 2:
        return [(key, text)]
    if found := _labelled(catalog, fact.group, lines):
        return found
    group = [f for f in catalog if f.group == fact.group]
    stated = [f.key for f in (group[group.index(fact) :] if fact in group else [fact]) if f.formula is None]
    return [(k, line.strip()) for k, line in zip(stated, lines, strict=False) if line.strip()]


LINES_OF_ADDRESS = ("property.one_line", "property.street_line")
"""Lines that are worked out from the parts of the property's address, and that state the parts when they are
typed."""
_MAY_BE_LEFT_OUT = ("direction", "street_suffix", "unit")


def parts_of_line(key: str, text: str, known: Callable[[str], bool]) -> list[tuple[str, str]]:
    """Return the parts that an address stands for when it is typed where it is otherwise worked out, as
    (key, text). Nothing where it can't be taken apart, or leaves out a part that is ``known``: then it is
    typed over as a whole."""
    found = _taken_apart(text) if key in LINES_OF_ADDRESS else []
    stated = {part for part, _ in found}
    lacks = [part for name in _MAY_BE_LEFT_OUT if (part := f"property.{name}") not in stated and known(part)]
    return [] if lacks else found


def _address(key: str, text: str) -> list[tuple[str, str]]:
    is_address = group_of(key) == "property" and name_of(key) in _ADDRESS
    return _taken_apart(text) if is_address else []


def _taken_apart(text: str) -> list[tuple[str, str]]:
    parts = take_apart(text)
    if not (parts.number and parts.street and (parts.city or parts.suffix)):
        return []
    return [
        (f"property.{ours}", said) for ours, theirs in _ADDRESS.items() if (said := getattr(parts, theirs))
    ]


def _labelled(catalog: Catalog, group: str, lines: Sequence[str]) -> list[tuple[str, str]]:
    names: dict[str, str] = {}
    for fact in sorted(catalog, key=lambda f: f.group != group):
        for name in (_plain(fact.label), _plain(name_of(fact.key))):
            names.setdefault(name, fact.key)
    found = []
    for line in lines:
        if (m := _LABELLED.match(line)) and (key := names.get(_plain(m[1]))):
            found.append((key, m[2]))
    return found if len(found) > 1 or (len(found) == 1 and len(lines) == 1) else []


def _plain(text: str) -> str:
    return " ".join(re.sub(r"[^a-z0-9]+", " ", text.lower().replace("'", "").replace("’", "")).split())
