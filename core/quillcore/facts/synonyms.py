"""Words of the trade for what catalog and forms call otherwise: "HOA" finds the owners' association."""

from __future__ import annotations

from functools import cache
from pathlib import Path

import yaml

MOST_TERMS = 8
"""The most terms that one search looks for."""


@cache
def load_synonyms() -> dict[str, tuple[str, ...]]:
    """Return what is typed (lower case) and our words for it."""
    text = (Path(__file__).parent / "synonyms.yaml").read_text(encoding="utf-8")
    return {str(said): tuple(ours) for said, ours in yaml.safe_load(text).items()}


def terms(find: str) -> list[tuple[str, ...]]:
    """Return what was typed as terms, each with all the writings of which one is enough: "earnest money
    bank" are two, of which the first is met by "deposit" too.  A term that nothing else is said for is met
    as typed."""
    words = find.lower().replace("’", "'").split()[: 2 * MOST_TERMS]
    known = load_synonyms()
    found: list[tuple[str, ...]] = []
    while words and len(found) < MOST_TERMS:
        length = next((n for n in (3, 2, 1) if " ".join(words[:n]) in known and n <= len(words)), 1)
        said = " ".join(words[:length])
        found.append((said, *known.get(said, ())))
        words = words[length:]
    return found


def said_for(text: str) -> str:
    """Return what people also say for something that is called ``text``; "" where there is nothing."""
    plain = text.lower()
    return " ".join(said for said, ours in load_synonyms().items() if any(our in plain for our in ours))
