"""A paper's questions to one party alone, frozen with the paper: when each applies, and how an answer is
printed.

A seller's disclosure has two hundred boxes that nobody else may tick.  They are asked of whoever signs, one
question at a time, and their conditions ("if the roof leaks, explain") are those of the form.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from quillcore.assembly import Blank, Package, PackageDocument
from quillcore.assembly.added_places import FILLED_IN, What
from quillcore.assembly.people import is_there, key_of
from quillcore.facts.questions import worded
from quillcore.formulas.evaluation import Open, evaluate
from quillcore.formulas.functions import Setting
from quillcore.formulas.syntax import parse, references
from quillcore.pdf import Frame, Rect, fit
from quillcore.signing.puts import Put
from quillcore.signing.spots import PUT
from quillcore.values import KINDS, Fault, Printable

ALWAYS, NEVER = "always", "never"
_OWN = "form."
MOST_ANSWERED = 4_000
"""Letters of one answer: more than a page's lines hold."""


@dataclass(frozen=True)
class PrintedAnswer:
    """The place of a printed answer: page from 1, rectangle in points; a box is marked where the answer is
    its ``value`` ("yes" for a box that stands alone); a text ("" for its value) is set in ``lines``."""

    page: int
    rect: Rect
    value: str = ""
    is_box: bool = False
    lines: int = 1
    size: float = 10.0
    least: float = 7.0

    @property
    def frame(self) -> Frame:
        """As the fitting wants it."""
        return Frame(*self.rect, self.lines, self.size, self.least)


@dataclass(frozen=True)
class Question:
    """One question: ``key`` within its paper, ``who`` the key of the signer whose it is; ``required`` and
    ``relevant`` are conditions over other answers of the same paper, "always" or "never"."""

    key: str
    asked: str
    kind: str
    options: tuple[str, ...]
    who: str
    required: str
    relevant: str
    help: str
    printed: tuple[PrintedAnswer, ...]


@dataclass(frozen=True)
class QuestionState:
    """A question as it stands: whether it applies, whether it has to be answered, and what is wrong with the
    answer that it has."""

    question: Question
    applies: bool
    required: bool
    value: Printable | None
    fault: Fault | None

    @property
    def is_answered(self) -> bool:
        """Whether an answer counts: one that can be read, to a question that applies."""
        return self.applies and self.value is not None and self.fault is None

    @property
    def is_open(self) -> bool:
        """Whether an answer is still wanted."""
        wanted = self.applies and self.required and self.value is None
        return wanted or (self.applies and self.fault is not None)


def questions_of(package: Package, document: PackageDocument) -> list[Question]:
    """Return what a paper asks of those who are there, in its own order, and behind it what was put on it
    by hand. What can't apply, by the deal's facts, is left out."""
    return [*_of_the_form(package, document), *_put_by_hand(package, document)]


def _put_by_hand(package: Package, document: PackageDocument) -> Iterator[Question]:
    for spot in sorted(document.spots, key=lambda s: (s.page, -s.rect[3], s.rect[0])):
        if spot.what not in FILLED_IN or not is_there(package, spot.who):
            continue
        is_box = spot.what is What.CHECK
        kind = "yes_no" if is_box else "long_text" if spot.lines > 1 else "text"
        yield Question(
            f"{PUT}{spot.id}",
            spot.label or ("Should this box be checked?" if is_box else "What goes here?"),
            kind,
            (),
            spot.who,
            ALWAYS if spot.required else NEVER,
            ALWAYS,
            f"On page {spot.page}.",
            (PrintedAnswer(spot.page, spot.rect, "yes" if is_box else "", is_box, spot.lines),),
        )


def _of_the_form(package: Package, document: PackageDocument) -> list[Question]:
    if not any(m.who for m in document.form.mapping.by_id.values()):
        return []  # most papers ask nobody alone, and none of their blanks has to be set to tell
    found: dict[str, list[Blank]] = {}
    for blank in package.blanks([document]):
        if blank.meaning.who is not None and blank.meaning.fact is None:
            found.setdefault(blank.key.removeprefix(document.prefix), []).append(blank)
    asked = (_question(package, key, blanks) for key, blanks in found.items())
    return [question for question in asked if question is not None]


def _question(package: Package, key: str, blanks: list[Blank]) -> Question | None:
    first = blanks[0]
    who = key_of(package, first.meaning.who or "")
    relevant = _frozen(package, first.meaning.relevant or ALWAYS)
    if who is None or relevant == NEVER:
        return None
    options = tuple(dict.fromkeys(b.meaning.value for b in blanks if b.meaning.value)) or first.options
    return Question(
        key,
        first.meaning.ask or worded(first.label, first.kind, options),
        first.kind,
        options,
        who,
        _frozen(package, first.meaning.required),
        relevant,
        first.meaning.help,
        tuple(_printed(blank) for blank in blanks),
    )


def _printed(blank: Blank) -> PrintedAnswer:
    f, is_box = blank.field, blank.field.shape == "box"
    value = (blank.meaning.value or "yes") if is_box else ""
    return PrintedAnswer(f.page, f.rect, value, is_box, f.lines, f.size, f.least)


def _frozen(package: Package, condition: str) -> str:
    """Return a condition; where it looks at the deal's facts alone, what it comes to now."""
    if condition in (ALWAYS, NEVER):
        return condition
    tree = parse(condition)
    if isinstance(tree, Fault) or any(key.startswith(_OWN) for key in references(tree)):
        return condition
    return ALWAYS if package.sheet.test(tree) else NEVER


def read(question: Question, text: str) -> Printable | Fault | None:
    """Return an answer as it was typed or chosen; None for none at all."""
    if not text.strip():
        return None
    if len(text) > MOST_ANSWERED:
        return Fault("long", "This is too long for the paper.", "Use fewer words.")
    value = KINDS[question.kind].read(text, question.options)
    if isinstance(value, Fault):
        return value
    for one in question.printed:
        if not one.is_box and fit(KINDS[question.kind].in_blank(value), one.frame).overflow:
            return Fault(
                "long",
                "This is too long for its lines on the paper.",
                "Use fewer words, or ask the agent for another page.",
            )
    return value


def as_text(question: Question, value: Printable) -> str:
    """Return an answer as it is kept: it says the same whenever it is read, which "tomorrow" doesn't."""
    return ("yes" if value else "no") if isinstance(value, bool) else KINDS[question.kind].in_blank(value)


def standing(questions: Iterable[Question], answers: Mapping[str, str]) -> list[QuestionState]:
    """Return how the questions stand with these answers, by key."""
    every = list(questions)
    found = {q.key: read(q, answers.get(q.key, "")) for q in every}
    values = {key: value for key, value in found.items() if not isinstance(value, Fault)}
    return [
        QuestionState(
            q,
            _holds(q.relevant, values),
            _holds(q.required, values),
            values.get(q.key),
            fault if isinstance(fault := found[q.key], Fault) else None,
        )
        for q in every
    ]


def _holds(condition: str, values: Mapping[str, Printable | None]) -> bool:
    if condition in (ALWAYS, NEVER):
        return condition == ALWAYS
    tree = parse(condition)
    if isinstance(tree, Fault):
        return False

    def held(key: str) -> Any:
        value = values.get(key.removeprefix(_OWN)) if key.startswith(_OWN) else None
        return Open((key,)) if value is None else value

    return evaluate(tree, held, Setting()) is True


def answered(questions: Iterable[Question], answers: Mapping[str, str]) -> list[Put]:
    """Return what is printed of the answers; of a question that doesn't apply, nothing."""
    return printed(standing(questions, answers))


def printed(stands: Iterable[QuestionState]) -> list[Put]:
    """Return the same of questions whose standing is known."""
    return [put for one in stands if one.is_answered for put in _puts(one.question, one.value)]


def _puts(question: Question, value: Printable | None) -> list[Put]:
    assert value is not None  # it is answered
    said = as_text(question, value)
    found = []
    for one in question.printed:
        if not one.is_box:
            found.append(Put(one.page, one.rect, text=said, frame=one.frame))
        elif one.value == said:
            found.append(Put(one.page, one.rect, is_mark=True))
    return found


_PLAIN = ("key", "asked", "kind", "who", "required", "relevant", "help")
"""The parts of a question that are kept as they are."""


def as_rows(questions: Iterable[Question]) -> list[dict[str, Any]]:
    """Return the questions as they are kept beside their paper."""
    return [
        {
            **{name: getattr(q, name) for name in _PLAIN},
            "options": list(q.options),
            "printed": [
                [p.page, list(p.rect), p.value, p.is_box, p.lines, p.size, p.least] for p in q.printed
            ],
        }
        for q in questions
    ]


def from_rows(rows: Iterable[Mapping[str, Any]]) -> list[Question]:
    """Return the same, read back."""
    return [
        Question(
            **{name: row[name] for name in _PLAIN},
            options=tuple(row["options"]),
            printed=tuple(PrintedAnswer(p[0], tuple(p[1]), *p[2:]) for p in row["printed"]),
        )
        for row in rows
    ]
