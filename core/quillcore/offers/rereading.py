"""A turn and its paper kept alike: what somebody changes on the paper of a turn that isn't sent is what the
turn states, and what follows from it is written anew."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field, replace
from datetime import date, time

from quillcore.estimates import what_if
from quillcore.facts import load_catalog
from quillcore.forms.counteroffer_blanks import Says, TurnPart
from quillcore.forms.model import Mapping as FormMapping
from quillcore.forms.model import Meaning
from quillcore.formulas import Evaluator
from quillcore.offers.turns import Heading, answers_for, moved, parts_of, said_of
from quillcore.values import EMPTY, Fault, Value

_FOLLOWS = (Says.NUMBER, Says.MAKER, Says.ANSWERS, Says.ANSWERS_DAY, Says.FROM)
"""Parts that follow from the turns before, and can't be typed over on the paper."""
_DATED = (Says.DAY, Says.EXPIRES_DAY, Says.EXPIRES_TIME)
_IN_WORDS = ("text", "long_text")


@dataclass(frozen=True)
class TurnPaper:
    """The paper of a turn: its form's meanings, what stood on it last, which of that was typed, and what is
    typed there now, by the names of its blanks.  What the product worked out is never typed."""

    mapping: FormMapping
    now: Mapping[str, Value | None]
    last: Mapping[str, Value] = field(default_factory=dict)
    typed: frozenset[str] = frozenset()

    def is_changed(self, name: str) -> bool:
        """Return whether somebody changed what stood there."""
        return self.now.get(name) != (self.last.get(name) if name in self.typed else None)


@dataclass
class TurnOnPaper:
    """A turn as its paper states it.

    ``stated`` are the terms by key; ``words`` texts that somebody wrote in the place of the product's own, or
    behind them, by the names of the blanks: no term can be read from them.  ``answers`` are what the blanks
    say then; a blank that isn't named is empty.  ``typed`` names those that say what somebody stated; the
    others follow from it.
    """

    heading: Heading
    stated: dict[str, Value]
    words: dict[str, str] = field(default_factory=dict)
    answers: dict[str, Value] = field(default_factory=dict)
    typed: frozenset[str] = frozenset()


def reread(
    paper: TurnPaper,
    turn: TurnOnPaper,
    before: Evaluator,
    section_of: Callable[[str], str],
) -> TurnOnPaper | Fault:
    """Return what a turn states by its paper, and what that has to say then; a fault where something was
    typed over that follows from the turns before.  ``before`` are the terms before the turn, ``turn`` what it
    stated until now."""
    found = TurnOnPaper(turn.heading, dict(turn.stated), dict(turn.words))
    for m, name, part in parts_of(paper.mapping):
        if not paper.is_changed(name):
            continue
        if part.says in _FOLLOWS:
            return Fault(
                "turn",
                f"“{m.label}” follows from the turns before this one.",
                "Nothing was changed. Leave it as it is.",
                m.id,
            )
        now = paper.now.get(name)
        if part.says is Says.REST:
            _read_rest(found, name, now, paper.last.get(name))
        elif part.says in _DATED:
            found.heading = _dated(found.heading, part.says, now)
        else:
            _read_terms(found, m, name, part, now)
    return written(paper.mapping, found, before, section_of)


def written(
    mapping: FormMapping, turn: TurnOnPaper, before: Evaluator, section_of: Callable[[str], str]
) -> TurnOnPaper:
    """Return a turn with what its paper says: what follows from the stated terms is worked out, and what was
    written by hand stands beside it."""
    after = what_if(before, turn.stated)
    changed = moved(turn.stated, before, after)
    answers = answers_for(mapping, turn.heading, changed, before, after, section_of)
    words = {}
    for m, name, part in parts_of(mapping):
        ours, own = answers.get(name), turn.words.get(name)
        key = next((key for key in part.keys if key in turn.stated and _fits(key, m)), None)
        if part.says is Says.WHETHER and own is not None and not ours:
            words[name], answers[name] = own, True
        elif part.says is Says.TO and key is not None and ours is None and m.kind not in _IN_WORDS:
            answers[name] = turn.stated[key]  # typed as it was before: the paper goes on saying it
        elif part.says in (Says.TO, Says.REST) and own is not None:
            lines = (ours, own) if part.says is Says.REST else (own,)
            words[name], answers[name] = own, "\n".join(text for text in lines if isinstance(text, str))
    typed = {
        name
        for _, name, part in parts_of(mapping)
        if part.says in _DATED or name in words or _is_stated(part, turn.stated)
    }
    return replace(turn, words=words, answers=answers, typed=frozenset(typed & answers.keys()))


def _is_stated(part: TurnPart, stated: Mapping[str, Value]) -> bool:
    """Return whether a blank says a term that somebody stated, or the other half of one."""
    halves = {*stated, *(load_catalog()[key].pair for key in stated)}
    return part.says is Says.TO and not halves.isdisjoint(part.keys)


def _read_terms(turn: TurnOnPaper, m: Meaning, name: str, part: TurnPart, now: Value | None) -> None:
    """Read a blank that states terms, or whether they change."""
    says_so = now is not None and now is not EMPTY and now is not False
    turn.words.pop(name, None)
    if part.says is Says.WHETHER and says_so:
        turn.words[name] = "Yes"
        return
    _give_up(turn.stated, part.keys)
    if not says_so or part.says is not Says.TO:
        return
    if m.kind in _IN_WORDS:
        turn.words[name] = str(now)
    elif now is not None:
        turn.stated[next(key for key in part.keys if _fits(key, m))] = now


def _fits(key: str, m: Meaning) -> bool:
    return load_catalog()[key].kind == m.kind


def _dated(heading: Heading, says: Says, now: Value | None) -> Heading:
    """Return the heading with another day; one has to be stated of when the turn is made."""
    if says is Says.EXPIRES_TIME:
        return replace(heading, expires_at=now if isinstance(now, time) else None)
    day = now if isinstance(now, date) else None
    if says is Says.EXPIRES_DAY:
        return replace(heading, expires=day)
    return heading if day is None else replace(heading, day=day)


def _give_up(stated: dict[str, Value], keys: Iterable[str]) -> None:
    """Take terms out of those that are stated, and what they are the other half of."""
    for key in keys:
        pair = load_catalog()[key].pair
        for one in (key, pair, *(other for other in stated if load_catalog()[other].pair == key)):
            stated.pop(one or "", None)


def _read_rest(turn: TurnOnPaper, name: str, now: Value | None, last: Value | None) -> None:
    """Read what stands where changes are put in words: what is written behind the product's own words is
    somebody's; where these were changed, all of it is."""
    before, text = last if isinstance(last, str) else "", now if isinstance(now, str) else ""
    ours = before.removesuffix(turn.words.pop(name, "")).rstrip()
    if not text.startswith(ours):
        _give_up(turn.stated, [key for key in turn.stated if said_of(key) in ours])
        ours = ""
    if own := text[len(ours) :].strip():
        turn.words[name] = own


def further_words(paper: TurnPaper) -> list[tuple[str, Value, str]]:
    """Return what the paper says besides: label, value and kind of each of its own blanks that is filled and
    is no part of a turn."""
    found: dict[str, tuple[str, Value, str]] = {}
    for m in paper.mapping.meanings:
        name, value = m.group or m.id, paper.now.get(m.group or m.id)
        is_own = m.turn is None and m.fact is None and m.formula is None and m.sign is None
        if is_own and value is not None and value is not EMPTY and value is not False:
            found.setdefault(name, (m.label, value, m.kind or "text"))
    return list(found.values())
