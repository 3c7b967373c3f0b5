"""The states of an offer's blanks, kept as letters: so that a change looks again only at the blanks that it
reaches.

What lists show of a deal (open blanks, the map) is made of these letters and of what the forms fix.
"""

from __future__ import annotations

import re
from collections.abc import Iterable
from functools import lru_cache

from quillcore.assembly import Blank
from quillcore.assembly.blanks import state_letter
from quillcore.forms import Form

from goodquill.deals.opening import OpenDeal

WAITS = "w"
_OPEN, _FILLED, _SIGN = frozenset("oOwW"), frozenset("fF"), frozenset("sS")
_TOO_LONG = re.compile("[A-Z]")
_DIGITS = "0123456789abcdefghijklmnopqrstuvwxyz"


def letter_of(opened: OpenDeal, blank: Blank) -> str:
    """Return the blank's letter: w where what was typed for it waits for somebody."""
    letter = state_letter(blank)
    if not opened.waiting or letter in _SIGN:
        return letter
    key = opened.ledger.stored_key(blank.own_key if blank.only_here else blank.key)
    return (WAITS.upper() if blank.overflow else WAITS) if key in opened.waiting else letter


def read_states(opened: OpenDeal, blanks: Iterable[Blank]) -> None:
    """Set the letters from every blank of the package, as of the record's newest step."""
    states: dict[str, list[str]] = {d.id: [] for d in opened.package.documents}
    for blank in blanks:
        states[blank.document].append(letter_of(opened, blank))
    _keep(opened, {document: "".join(letters) for document, letters in states.items()})


def put_states(opened: OpenDeal, blanks: Iterable[Blank]) -> None:
    """Set the letters of the blanks that a step reached, and leave the others."""
    letters = {code: list(text) for code, text in letters_of(opened).items()}
    for blank in blanks:
        letters[blank.document][opened.package.place_of(blank)] = letter_of(opened, blank)
    _keep(opened, {code: "".join(text) for code, text in letters.items()})


def _keep(opened: OpenDeal, letters: dict[str, str]) -> None:
    opened.moved_letters = opened.moved_letters or letters != letters_of(opened)
    standing = {str(o.pk) for o in opened.kept.offers}
    others = {offer: said for offer, said in opened.deal.states.items() if offer in standing}
    opened.deal.states = others | {str(opened.offer.pk): {"seq": opened.record.seq, "letters": letters}}


def letters_of(opened: OpenDeal) -> dict[str, str]:
    """Return the letters of the offer at hand, by document, as they were kept last."""
    found: dict[str, str] = opened.deal.states.get(str(opened.offer.pk), {}).get("letters", {})
    return found


def are_of(opened: OpenDeal, seq: int) -> bool:
    """Return whether the letters are there for all documents, as of that step."""
    kept = opened.deal.states.get(str(opened.offer.pk), {})
    return kept.get("seq") == seq and letters_of(opened).keys() == opened.package.by_id.keys()


def overflows(letters: str) -> bool:
    """Return whether some value was too long for its blank when the letters were set."""
    return letters != letters.lower()


def overflowing(opened: OpenDeal) -> dict[str, list[int]]:
    """Return the places of the blanks whose values were too long when the letters were set, by document."""
    return {
        code: [found.start() for found in _TOO_LONG.finditer(text)]
        for code, text in letters_of(opened).items()
        if overflows(text)
    }


def count_open(opened: OpenDeal) -> dict[str, int]:
    """Return blanks that ask for something, by document: without an answer, or with one that waits for
    somebody."""
    return {code: sum(text.count(letter) for letter in _OPEN) for code, text in letters_of(opened).items()}


@lru_cache(maxsize=1024)
def count_blanks(form: Form) -> int:
    """Return blanks of a form, sign spots apart."""
    return sum(f.shape != "sign" for f in form.edition.fields)


def page_map(form: Form, states: str) -> list[str]:
    """Return a string a page, four characters a blank: left, top and width in 36ths of a letter page as one
    digit of base 36 each, then o (open) or f (filled); others have none."""
    pages = [""] * form.edition.pages
    for (page, tick), letter in zip(_ticks(form), states, strict=True):
        if letter in _OPEN or letter in _FILLED:
            pages[page - 1] += tick + ("o" if letter in _OPEN else "f")
    return pages


@lru_cache(maxsize=1024)
def _ticks(form: Form) -> tuple[tuple[int, str], ...]:
    """Return, for each field, its page and where it stands on it."""
    found = []
    for f in form.edition.fields:
        left, _, right, top = f.rect
        spots = (left / 612, 1 - top / 792, (right - left) / 612)
        found.append((f.page, "".join(_DIGITS[max(0, min(35, round(36 * s)))] for s in spots)))
    return tuple(found)
