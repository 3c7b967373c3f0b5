"""An offer that goes back and forth: its turns, and its terms turn by turn.

Until a turn is agreed on, the deal's facts are what the agreement says: a counter-offer is a proposal, and
the papers that were signed before it stay true.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from datetime import datetime
from typing import TYPE_CHECKING
from zoneinfo import ZoneInfo

from quillcore.estimates import money_sheets, what_if
from quillcore.facts import load_catalog
from quillcore.forms.counteroffer_blanks import Says
from quillcore.formulas import Evaluator
from quillcore.offers import may_be_countered, moved, parts_of, stated_in
from quillcore.offers.agreement import ACCEPTED
from quillcore.offers.rereading import TurnPaper, further_words
from quillcore.offers.status import TurnStands, turn_stands
from quillcore.signing.sendings import Sending
from quillcore.values import EMPTY, KINDS, Value, editable, shown

from goodquill.deals.hooks import sendings_of
from goodquill.deals.opening import OpenDeal
from goodquill.forms.queries import setting_of
from goodquill.offers.models import Turn
from goodquill.offers.papers import form_for, values_on

if TYPE_CHECKING:
    from goodquill.http import wire


def turns_of(opened: OpenDeal) -> list[Turn]:
    """Return the turns of the offer at hand, in order."""
    return list(Turn.objects.filter(offer=opened.offer, removed=False))


def kind_of_form(amends: bool) -> str:
    """Return what the form of a turn is in a negotiation (see ``Mapping.turn``)."""
    return "amendment" if amends else "counter"


def is_binding(opened: OpenDeal) -> bool:
    """Return whether the offer was accepted, so that its terms change by amendments."""
    accepted = opened.package.sheet.held(ACCEPTED).value is not None
    return accepted or opened.offer.outcome == "accepted"


def restored(key: str, kept: str) -> Value:
    """Return the value of a term as a turn keeps it."""
    return KINDS[load_catalog()[key].kind].restore(kept) if kept else EMPTY


def kept_value(key: str, value: Value | None) -> str:
    """Return the value of a term as a turn keeps it; "" for nothing stated."""
    return "" if value is None or value is EMPTY else KINDS[load_catalog()[key].kind].keep(value)


def stated_by(turn: Turn) -> dict[str, Value]:
    """Return the terms that a turn states, by key."""
    return {key: restored(key, after) for key, (_, after) in turn.changes.items()}


def _after(turns: Sequence[Turn], n: int) -> dict[str, Value]:
    """Return what the terms that any turn states were after the first ``n`` turns, by key."""
    found: dict[str, Value] = {}
    for turn in reversed(turns):
        for key, (before, _) in turn.changes.items():
            found[key] = restored(key, before)
    for turn in turns[:n]:
        found |= stated_by(turn)
    return found


def proposed(turns: Iterable[Turn]) -> dict[str, Value]:
    """Return what the turns that nobody has agreed on yet make of the terms they state, by key."""
    return {key: value for turn in turns if not turn.agreed for key, value in stated_by(turn).items()}


def as_proposed(opened: OpenDeal, turns: Sequence[Turn]) -> Evaluator:
    """Return the terms as they would be if these turns were agreed on."""
    stated = proposed(turns)
    return what_if(opened.package.sheet, stated) if stated else opened.package.sheet


def turn_by_turn(opened: OpenDeal) -> wire.Turns:
    """Return the table of an offer's turns, what may be countered, and how each term stands now."""
    turns = turns_of(opened)
    titles = {d.code: d.edition.title if d.edition else d.expected for d in opened.documents}
    now, usual = as_proposed(opened, turns), have_a_line(opened)
    sendings = sendings_of(opened.deal, [turn.paper for turn in turns if turn.paper])
    return {
        "binding": is_binding(opened),
        "sides": [opened.side.clients, opened.side.others],
        "turns": [_told(opened, turns, n, titles, sendings) for n in range(len(turns))],
        "rows": _rows(opened, turns),
        "terms": [
            {
                "key": fact.key,
                "label": fact.label,
                "kind": fact.kind,
                "options": list(fact.options),
                "now": term_cell(now, fact.key),
                "usual": fact.key in usual,
            }
            for fact in may_be_countered(opened.side)
        ],
        "papers": papers_that_came(opened),
    }


def have_a_line(opened: OpenDeal) -> frozenset[str]:
    """Return the terms that have a line of their own on the paper of the next turn."""
    form = form_for(opened, kind_of_form(is_binding(opened)))
    return stated_in(form[1].mapping) if form else frozenset()


def papers_that_came(opened: OpenDeal) -> list[wire.TurnPaper]:
    """Return the papers of the package that came from elsewhere, as they are chosen from."""
    return [
        {"code": d.code, "title": d.edition.title}
        for d in opened.documents
        if d.edition is not None and not d.edition.number and not d.set_aside
    ]


def _rows(opened: OpenDeal, turns: Sequence[Turn]) -> list[wire.TurnRow]:
    """Return what any turn says, one row each: terms, words of its own, and what it comes to."""
    if not turns:
        return []
    catalog = load_catalog()
    sheets = [what_if(opened.package.sheet, _after(turns, n)) for n in range(len(turns) + 1)]

    def row(key: str, is_result: bool = False) -> wire.TurnRow:
        cells = [term_cell(sheet, key) for sheet in sheets]
        return {
            "key": key,
            "label": catalog.label_of(key),
            "is_result": is_result,
            "is_words": False,
            "cells": cells,
        }

    words: dict[str, list[str]] = {}
    for n, turn in enumerate(turns, 1):
        for label, text in words_of(opened, turn):
            words.setdefault(label, [""] * len(sheets))[n] = text
    result = money_sheets(opened.package.sheet)[0].result
    said = [key for n, turn in enumerate(turns) for key in _said_on(opened, turn, sheets[n], sheets[n + 1])]
    return [
        *map(row, dict.fromkeys(said)),
        *(_row_of_words(label, cells) for label, cells in words.items()),
        row(result, is_result=True),
    ]


def _said_on(opened: OpenDeal, turn: Turn, before: Evaluator, after: Evaluator) -> list[str]:
    """Return the terms that a turn states, and those that its paper says besides since they follow."""
    document = opened.package.by_id.get(turn.paper)
    follow: list[str] = []
    if document is not None and turn.shown:
        parts = parts_of(document.form.mapping)
        there = [part for _, name, part in parts if part.says is Says.TO and name in turn.shown]
        told = [key for part in there for key in part.keys]
        follow = moved(told, before, after)
    return [*turn.changes, *follow]


def _row_of_words(label: str, cells: list[str]) -> wire.TurnRow:
    return {"key": label, "label": label, "is_result": False, "is_words": True, "cells": cells}


def words_of(opened: OpenDeal, turn: Turn) -> list[tuple[str, str]]:
    """Return what a turn's paper says beside terms, by label: words in the place of terms, and its own
    blanks."""
    document = opened.package.by_id.get(turn.paper)
    if document is None or document.form.mapping.turn is None:
        return []
    paper = TurnPaper(document.form.mapping, values_on(opened, document))
    labels = {m.group or m.id: m.label for m in document.form.mapping.meanings}
    own = [(labels.get(name, name), text) for name, text in turn.words.items()]
    return own + [(label, shown(value, kind)) for label, value, kind in further_words(paper)]


def standing_of(
    opened: OpenDeal, turns: Sequence[Turn], n: int, sendings: Mapping[str, Sending]
) -> TurnStands:
    """Return how a turn stands, and what may be done with it."""
    turn = turns[n]
    return turn_stands(
        ours=turn.maker == opened.side.clients,
        other=(opened.side.others if turn.maker == opened.side.clients else opened.side.clients).one,
        paper=turn.paper,
        sending=sendings.get(turn.paper),
        agreed=turn.came if turn.agreed else None,
        following=_followed(turns, n) if n + 1 < len(turns) else None,
        expires=(turn.expires, turn.expires_at),
        now=datetime.now(ZoneInfo(setting_of(opened.deal.release).zone)),
    )


def _followed(turns: Sequence[Turn], n: int) -> str:
    """Return how a turn was followed: answered by the other side, or replaced by its own maker."""
    how = "Replaced" if turns[n].maker == turns[n + 1].maker else "Answered"
    return f"{how} by {named_turn(turns, n + 1)}"


def named_turn(turns: Sequence[Turn], n: int) -> str:
    """Return what a turn is called: "Counter-offer 2"."""
    number = sum(turn.amends == turns[n].amends for turn in turns[: n + 1])
    return f"{turns[n].what.capitalize()} {number}"


def _told(
    opened: OpenDeal,
    turns: Sequence[Turn],
    n: int,
    titles: Mapping[str, str],
    sendings: Mapping[str, Sending],
) -> wire.Turn:
    turn, stands = turns[n], standing_of(opened, turns, n, sendings)
    return {
        "id": turn.pk,
        "maker": turn.maker,
        "day": turn.day,
        "amends": turn.amends,
        "name": named_turn(turns, n),
        "agreed": turn.agreed,
        "paper": turn.paper if turn.paper in titles else "",
        "title": titles.get(turn.paper, ""),
        "status": stands.words,
        "may_change": stands.may_change,
        "may_send": stands.may_send,
        "may_agree": stands.may_agree,
        "expires": turn.expires,
        "expires_at": turn.expires_at.strftime("%H:%M") if turn.expires_at else "",
        "said": [_stated(key, before, after) for key, (before, after) in turn.changes.items()],
    }


def _stated(key: str, before: str, after: str) -> wire.StatedTerm:
    kind = load_catalog()[key].kind
    was = restored(key, before)
    return {
        "key": key,
        "text": editable(restored(key, after), kind),
        "before": "" if was is EMPTY else shown(was, kind),
    }


def term_cell(sheet: Evaluator, key: str) -> str:
    """Return a term as a table shows it: a day that can't be told yet by its period (so many days after an
    acceptance to come); "" where nothing is stated."""
    fact, value = load_catalog()[key], sheet.held(key).value
    if value is None and fact.kind == "date" and fact.pair is not None:
        pair, half = load_catalog()[fact.pair], sheet.held(fact.pair).value
        return "" if half is None or half is EMPTY else f"{pair.label}: {shown(half, pair.kind)}"
    return "" if value is None or value is EMPTY else shown(value, fact.kind)
