"""Wording with facts in it: "…within {terms.inspection_days} days of acceptance…".

A clause is kept as such text.  Put into a blank it becomes a formula, ``says("…")``, whose facts stay live
while its words stay as they were.  Typed over, the facts that the typing left alone go on following.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass

from quillcore.facts.catalog import Catalog
from quillcore.facts.ledger import Stated
from quillcore.values import Fault, Value, shown
from quillcore.values.scripts import tidy, unsettable

GAP = "__________"
"""The text for a fact that nobody knows yet: a line to be written on."""

MOST_WORDING = 6_000
"""Characters of one wording: the longest addendum of a page has 4,500."""
MOST_FACTS = 60
"""Facts in one wording: a page has some forty lines."""
TEXTS = ("text", "long_text")
"""Kinds of value in which a wording can stand."""

_SAYS, _END = 'says("', '")'
_BRACED = re.compile(r"\{([^{}]*)\}")
_KEY = re.compile(r"[a-z][a-z0-9_]*(\.[a-z0-9_]+)+")


@dataclass(frozen=True)
class WordingPart:
    """Some words, or a fact by its key."""

    words: str = ""
    key: str = ""


Parts = tuple[WordingPart, ...]
Read = Sequence[tuple[WordingPart, str]]
"""Parts, each with how it reads now."""
Says = Callable[[str], Value | None]
"""The current value of a shown key; None where it isn't known."""


def read_wording(text: str, catalog: Catalog) -> Parts | Fault:
    """Return the parts of a wording, or what is wrong with it."""
    if len(text) > MOST_WORDING:
        return Fault(
            "wording", f"It has {len(text):,} characters; {MOST_WORDING:,} are the most.", "Split it in two."
        )
    clean = tidy(text)
    if (unprintable := unsettable(clean)) is not None:
        return unprintable
    if clean.strip() == "":
        return Fault("wording", "It has no text.", "Enter the text.")
    parts = tuple(_parts(clean))
    facts = [part.key for part in parts if part.key or not part.words]
    if len(facts) > MOST_FACTS:
        return Fault(
            "wording", f"It names {len(facts)} facts; {MOST_FACTS} are the most.", "Split it in two."
        )
    for key in facts:
        if _KEY.fullmatch(key) is None or catalog.find(key) is None:
            return Fault(
                "wording",
                f"“{{{key}}}” is not a fact.",
                "Choose the fact from the list, or write the words without braces.",
            )
    stray = next((sign for part in parts for sign in "{}" if sign in part.words), None)
    if stray is not None:
        return Fault("wording", f"A “{stray}” stands alone.", "Write a fact as {its.key}.")
    return parts


def _parts(text: str) -> Iterator[WordingPart]:
    at = 0
    for found in _BRACED.finditer(text):
        if found.start() > at:
            yield WordingPart(text[at : found.start()])
        yield WordingPart(key=found[1].strip())
        at = found.end()
    if at < len(text):
        yield WordingPart(text[at:])


def written(parts: Iterable[WordingPart]) -> str:
    """Return the wording of some parts."""
    return "".join(f"{{{part.key}}}" if part.key else part.words for part in parts)


def formula_of(parts: Iterable[WordingPart]) -> str:
    """Return the formula that says a wording."""
    plain = written(parts).replace("\\", "\\\\").replace('"', '\\"')
    return f"{_SAYS}{plain}{_END}"


def wording_in(formula: str) -> Parts:
    """Return the parts of the wording that a formula says; none of any other formula."""
    if not (formula.startswith(_SAYS) and formula.endswith(_END)):
        return ()
    return tuple(_parts(re.sub(r"\\(.)", r"\1", formula[len(_SAYS) : -len(_END)])))


def wording_of(stated: Stated | None) -> Parts:
    """Return the same of what is stated, where that is a wording."""
    return wording_in(stated.formula or "") if stated is not None else ()


def said(part: WordingPart, says: Says, catalog: Catalog) -> str:
    """Return a part as it reads now."""
    if not part.key:
        return part.words
    fact = catalog.find(part.key)
    value = says(part.key)
    return GAP if value is None or fact is None else shown(value, fact.kind)


def labelled(parts: Iterable[WordingPart], catalog: Catalog) -> str:
    """Return the wording with what its facts are called in place of them."""
    return "".join(f"[{catalog.label_of(part.key)}]" if part.key else part.words for part in parts)


def typed_over(parts: Read, text: str) -> Parts:
    """Return the parts of a text that was made of another by typing in one place.  A fact that the typing
    left alone stays; one that it changed is words from now on."""
    before = "".join(reads for _, reads in parts)
    begin = _alike(before, text)
    end = len(before) - _alike(before[begin:][::-1], text[begin:][::-1])
    shift = len(text) - len(before)
    made: list[WordingPart] = []
    at = done = 0
    for part, reads in parts:
        first, at = at, at + len(reads)
        moved = 0 if at <= begin else shift
        is_left_alone = at <= begin or first >= end
        if part.key and is_left_alone:
            made += WordingPart(text[done : first + moved]), part
            done = at + moved
    made.append(WordingPart(text[done:]))
    return tuple(part for part in made if part.words or part.key)


def _alike(one: str, other: str) -> int:
    """Return how many characters two texts have alike from their beginning."""
    most = min(len(one), len(other))
    return next((n for n in range(most) if one[n] != other[n]), most)


def put_between(parts: Read, at: int, more: Parts) -> Parts:
    """Return some parts with others put where ``at`` characters stand before; a fact isn't parted."""
    before: list[WordingPart] = []
    behind: list[WordingPart] = []
    passed = 0
    for part, reads in parts:
        first, passed = passed, passed + len(reads)
        if passed <= at:
            before.append(part)
        elif first >= at or part.key:
            behind.append(part)
        else:
            before.append(WordingPart(part.words[: at - first]))
            behind.append(WordingPart(part.words[at - first :]))
    return (*before, *more, *behind)


def set_apart(before: str, behind: str, sign: str) -> tuple[str, str]:
    """Return texts into which what is put between them doesn't run."""
    runs_in = before != "" and not before[-1].isspace()
    runs_on = behind != "" and not behind[0].isspace() and behind[0] not in ".,;:)"
    return before + sign * runs_in, sign * runs_on + behind


def origin_with(origin: str, clause: str) -> str:
    """Return the clauses that a wording is of, by ``id.version``, with a further one or another version of
    one."""
    others = [ref for ref in origin.split() if ref.rpartition(".")[0] != clause.rpartition(".")[0]]
    return " ".join(filter(None, (*others, clause)))
