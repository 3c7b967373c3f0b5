"""Facts found by the words of the trade, and facts that ask the same question."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Iterable

from quillcore.facts.catalog import Fact
from quillcore.facts.questions import asked
from quillcore.facts.synonyms import said_for, terms

MOST_FOUND = 20
_WORD = re.compile(r"[a-z]+")
_SMALL = re.compile(
    r"\b(a|an|and|any|are|at|be|by|can|do|does|for|from|gets?|have|how|if|in|is|its?|of|on|or|per|the|there|this"
    r"|to|was|were|what|which|will|with|would)\b"
)


def find_facts(facts: Iterable[Fact], text: str) -> list[Fact]:
    """Return at most ``MOST_FOUND`` facts that all words of a text speak of, in the catalog's order, those
    whose label does first.  A word is met by label, question, key or another word of the trade for them;
    none are found for an empty text."""
    wanted = terms(text)
    if not wanted:
        return []
    found = []
    for fact in facts:
        label = fact.label.lower()
        key = fact.key.replace(".", " ").replace("_", " ")
        whole = " ".join((label, asked(fact).lower(), key, said_for(fact.label)))
        if all(any(word in whole for word in words) for words in wanted):
            found.append((not all(any(word in label for word in words) for words in wanted), fact))
    return [fact for _, fact in sorted(found, key=lambda one: one[0])][:MOST_FOUND]


def same_question(facts: Iterable[Fact]) -> list[tuple[str, ...]]:
    """Return the keys of facts whose questions have the same words but for small ones, by group: one of them
    is likely too many."""
    groups: dict[frozenset[str], list[str]] = defaultdict(list)
    for fact in facts:
        words = _SMALL.sub("", asked(fact).lower())
        groups[frozenset(_WORD.findall(words))].append(fact.key)
    return [tuple(keys) for keys in groups.values() if len(keys) > 1]
