"""An offer that goes back and forth: its terms turn by turn, another turn with its paper, and agreement.

Until a turn is agreed on, the deal's facts are what the agreement says: a counter-offer is a proposal, and
the papers that were signed before it stay true.  Agreed on, its terms are the deal's; the papers that both
sides sign go on saying what they said.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from datetime import date
from typing import TYPE_CHECKING

from quillcore.estimates import money_sheets, what_if
from quillcore.facts import Act, Entry, Source, load_catalog
from quillcore.facts.edits import reads_as
from quillcore.facts.keys import read_role
from quillcore.forms.model import Form
from quillcore.formulas import Evaluator
from quillcore.offers import Heading, answers_for, may_be_countered, moved, stated_in
from quillcore.offers.agreement import ACCEPTED
from quillcore.values import EMPTY, KINDS, Fault, Value, shown
from quillcore.values.dates import print_date

from goodquill.changelog.models import Kind
from goodquill.deals.opening import OpenDeal
from goodquill.deals.parts import made
from goodquill.deals.requests import DealRequest
from goodquill.deals.steps import DealStep, deal_change
from goodquill.http.endpoints import Refusal
from goodquill.offers.models import TURNS, Turn
from goodquill.offers.papers import form_for, put_form

if TYPE_CHECKING:
    from goodquill.http import wire

MOST_TURNS = 30
"""Of one offer: the longest negotiation that anybody told us of had eleven."""
OFFERED = "terms.offer_date"


def turns_of(opened: OpenDeal) -> list[Turn]:
    """Return the turns of the offer at hand, in order."""
    return list(Turn.objects.filter(offer=opened.offer, removed=False))


def _kind(amends: bool) -> str:
    return "amendment" if amends else "counter"


def is_binding(opened: OpenDeal) -> bool:
    """Return whether the offer was accepted, so that its terms change by amendments."""
    accepted = opened.package.sheet.held(ACCEPTED).value is not None
    return accepted or opened.offer.outcome == "accepted"


# Terms, turn by turn


def _restored(key: str, kept: str) -> Value:
    return KINDS[load_catalog()[key].kind].restore(kept) if kept else EMPTY


def _kept(key: str, value: Value | None) -> str:
    return "" if value is None or value is EMPTY else KINDS[load_catalog()[key].kind].keep(value)


def _after(turns: Sequence[Turn], n: int) -> dict[str, Value]:
    """Return what the terms that any turn states were after the first ``n`` turns, by key."""
    found: dict[str, Value] = {}
    for turn in reversed(turns):
        for key, (before, _) in turn.changes.items():
            found[key] = _restored(key, before)
    for turn in turns[:n]:
        for key, (_, after) in turn.changes.items():
            found[key] = _restored(key, after)
    return found


def proposed(turns: Iterable[Turn]) -> dict[str, Value]:
    """Return what the turns that nobody has agreed on yet make of the terms they state, by key."""
    return {
        key: _restored(key, after)
        for turn in turns
        if not turn.agreed
        for key, (_, after) in turn.changes.items()
    }


def _as_proposed(opened: OpenDeal, turns: Sequence[Turn]) -> Evaluator:
    stated = proposed(turns)
    return what_if(opened.package.sheet, stated) if stated else opened.package.sheet


def turn_by_turn(opened: OpenDeal) -> wire.Turns:
    """Return the table of an offer's turns, what may be countered, and how each term stands now."""
    catalog, turns = load_catalog(), turns_of(opened)
    sheets = [what_if(opened.package.sheet, _after(turns, n)) for n in range(len(turns) + 1)] if turns else []
    titles = {d.code: d.edition.title if d.edition else d.expected for d in opened.documents}
    now, binding = _as_proposed(opened, turns), is_binding(opened)
    form = form_for(opened, _kind(binding))
    usual = stated_in(form[1].mapping) if form else frozenset()
    stated = dict.fromkeys(key for turn in turns for key in turn.changes)
    result = money_sheets(opened.package.sheet)[0].result if turns else ""
    keys = [*stated, *([result] if result else [])]
    return {
        "binding": binding,
        "sides": [opened.side.clients, opened.side.others],
        "turns": [_told(turn, n, turns, titles) for n, turn in enumerate(turns)],
        "rows": [
            {
                "key": key,
                "label": catalog.label_of(key),
                "is_result": key == result,
                "cells": [_cell(sheet, key) for sheet in sheets],
            }
            for key in keys
        ],
        "terms": [
            {
                "key": fact.key,
                "label": fact.label,
                "kind": fact.kind,
                "options": list(fact.options),
                "now": _cell(now, fact.key),
                "usual": fact.key in usual,
            }
            for fact in may_be_countered(opened.side)
        ],
        "papers": [
            {"code": d.code, "title": titles[d.code]}
            for d in opened.documents
            if d.edition is not None and not d.edition.number
        ],
    }


def _told(turn: Turn, n: int, turns: Sequence[Turn], titles: Mapping[str, str]) -> wire.Turn:
    return {
        "id": turn.pk,
        "maker": turn.maker,
        "day": turn.day,
        "amends": turn.amends,
        "number": sum(t.amends == turn.amends for t in turns[: n + 1]),
        "agreed": turn.agreed,
        "paper": turn.paper if turn.paper in titles else "",
        "title": titles.get(turn.paper, ""),
    }


def _cell(sheet: Evaluator, key: str) -> str:
    value = sheet.held(key).value
    return "" if value is None or value is EMPTY else shown(value, load_catalog()[key].kind)


# Another turn


def take_turn(
    request: DealRequest, maker: str, day: date, terms: Sequence[Mapping[str, str]], paper: str
) -> wire.TurnTaken:
    """Record that a side puts terms otherwise.  What our client says gets its form, filled with what changes;
    of what the other side says ``paper`` names the document that it came by, "" without one."""
    done = _take_turn(request, maker, day, terms, paper)
    newest = Turn.objects.filter(offer=request.offer, removed=False).last()
    return {**done, "paper": newest.paper if newest is not None else ""}


@deal_change(Kind.OFFER)
def _take_turn(step: DealStep, maker: str, day: date, terms: Sequence[Mapping[str, str]], paper: str) -> None:
    opened = step.opened
    turns = turns_of(opened)
    if len(turns) >= MOST_TURNS:
        raise Refusal(f"An offer can have {MOST_TURNS} turns at most.", "Start another offer.", "turns")
    if maker not in (opened.side.clients, opened.side.others):
        raise Refusal("No one on that side is in this deal.", "Choose who makes it.", "maker")
    before = _as_proposed(opened, turns)
    stated = _read(opened, terms)
    after = what_if(before, stated)
    changed = moved(stated, before, after)
    if not changed:
        raise Refusal("The terms already say this.", "Change one of them.", "turn")
    amends = is_binding(opened)
    turn = Turn(offer=opened.offer, maker=maker, day=day, amends=amends, paper=paper)
    turn.changes = {
        key: [_kept(key, before.held(key).value), _kept(key, after.held(key).value)] for key in changed
    }
    number = sum(t.amends == amends for t in turns) + 1
    if maker == opened.side.clients:
        heading = _heading(opened, turns, turn, number)
        turn.paper = _make_paper(step, turn, heading, changed, before, after)
    elif paper and paper not in {d.code for d in opened.documents}:
        raise Refusal("This paper is no longer in the package.", "Choose another, or none.", "paper", 409)
    turn.save()
    step.note(TURNS, *made([turn.pk]))
    said = ", ".join(load_catalog().label_of(key) for key in changed[:3])
    more = f" and {len(changed) - 3} more" if len(changed) > 3 else ""
    step.say(f"{turn.what.capitalize()} {number} by the {maker.removesuffix('s')}: {said}{more}"[:300])


def _read(opened: OpenDeal, terms: Sequence[Mapping[str, str]]) -> dict[str, Value]:
    """Return the terms as they were typed, in the catalog's order; refused are those that can't be read, by
    name."""
    may = {fact.key: fact for fact in may_be_countered(opened.side)}
    found: dict[str, Value] = {}
    for term in terms:
        fact = may.get(term["key"])
        if fact is None:
            raise Refusal("This term can't be countered.", "Reload the page.", "unknown key")
        if not term["text"].strip():
            continue
        value = reads_as(opened.vocabulary, fact.key, term["text"])
        if isinstance(value, Fault):
            raise Refusal(f"{fact.label}: {value.message}", value.mend, value.rule)
        found[fact.key] = value
    return {key: found[key] for key in may if key in found}


def _heading(opened: OpenDeal, turns: Sequence[Turn], turn: Turn, number: int) -> Heading:
    offered = opened.package.sheet.held(OFFERED).value
    last = turns[-1].day if turns else offered if isinstance(offered, date) else None
    is_answer = bool(turns) and not turns[-1].amends
    maker = turn.maker.removesuffix("s")
    return Heading(number, maker, turn.day, "counter-offer" if is_answer else "offer", last)


def _make_paper(
    step: DealStep, turn: Turn, heading: Heading, changed: Sequence[str], before: Evaluator, after: Evaluator
) -> str:
    """Return the form of the turn, put behind the package and filled; gives its code, "" where the release
    has none."""
    opened = step.opened
    found = form_for(opened, _kind(turn.amends))
    if found is None:
        return ""
    agreement = list(opened.package.leaving)

    def section_of(key: str) -> str:
        keys = {key, load_catalog()[key].pair}
        meanings = (m for d in agreement for m in d.form.mapping.meanings)
        return next((m.section for m in meanings if m.fact in keys and m.section), "")

    answers = answers_for(
        found[1].seen_from(opened.side).mapping, heading, changed, before, after, section_of
    )
    code = put_form(step, found, f"{turn.what} {heading.number}")
    prefix = step.opened.package.by_id[code].prefix
    step.write(
        *(
            Entry(f"{prefix}{name}", Act.STATE, 0, Source.TYPED, value)
            for name, value in answers.items()
            if value is not EMPTY
        )
    )
    return code


# Agreement


@deal_change(Kind.OFFER)
def agree_on(step: DealStep, turn: int) -> None:
    """Return both sides agree on a turn, and so on those before it."""
    turns = turns_of(step.opened)
    at = next((n for n, t in enumerate(turns) if t.pk == turn), None)
    if at is None:
        raise Refusal("This turn was removed.", "Reload and try again.", "turn", 404)
    if turns[at].agreed:
        raise Refusal("This was agreed on already.", "Reload and try again.", "turn", 409)
    put_in_force(step, turns[: at + 1])
    step.say(f"Agreed on the {turns[at].what} of {print_date(turns[at].day)}")


def put_in_force(step: DealStep, turns: Sequence[Turn]) -> None:
    """Make the terms of turns the deal's own; papers that both sides sign go on saying what they say."""
    stated = proposed(turns)
    fresh = [turn for turn in turns if not turn.agreed]
    if not fresh:
        return
    opened = step.opened
    before = opened.package.sheet
    kept = _as_they_were(opened, before, what_if(before, stated))
    step.write(*(Entry(key, Act.STATE, 0, Source.TYPED, value) for key, value in stated.items()), *kept)
    step.do(TURNS, {str(turn.pk): {"agreed": True} for turn in fresh})


def _as_they_were(opened: OpenDeal, before: Evaluator, after: Evaluator) -> list[Entry]:
    """Return what would say something else on papers that both sides sign, kept there as it was."""
    signed = [d for d in opened.package.leaving if _is_signed_by_both(opened, d.form)]
    found: dict[str, Entry] = {}
    for blank in opened.package.blanks(signed):
        was = before.held(blank.key).value
        if blank.meaning.sign is None and was is not None and was != after.held(blank.key).value:
            found[blank.own_key] = Entry(blank.own_key, Act.STATE, 0, Source.TYPED, was)
    return list(found.values())


def _is_signed_by_both(opened: OpenDeal, form: Form) -> bool:
    roles = (read_role(m.role) for m in form.mapping.meanings if m.sign == "signature" and m.role)
    groups = {role.group for role in roles if role is not None}
    return {opened.side.clients, opened.side.others} <= groups
