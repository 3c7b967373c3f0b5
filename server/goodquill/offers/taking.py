"""Turns taken and changed: each with its paper, and both say the same until it is sent."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from datetime import date
from typing import TYPE_CHECKING, Any

from quillcore.assembly import PackageDocument
from quillcore.estimates import what_if
from quillcore.facts import Act, Entry, Source, load_catalog
from quillcore.facts.edits import reads_as
from quillcore.facts.keys import group_of, own_key
from quillcore.facts.scopes import TERMS
from quillcore.offers import Heading, may_be_countered, moved, parts_of
from quillcore.offers.rereading import TurnOnPaper, TurnPaper, reread, written
from quillcore.values import EMPTY, KINDS, Fault, Value

from goodquill.changelog.models import Kind
from goodquill.deals.hooks import sendings_of
from goodquill.deals.opening import OpenDeal
from goodquill.deals.parts import made
from goodquill.deals.requests import DealRequest
from goodquill.deals.steps import DealStep, deal_change
from goodquill.http.endpoints import Refusal
from goodquill.offers.models import TURNS, Turn
from goodquill.offers.papers import form_for, put_form, values_on
from goodquill.offers.turns import (
    as_proposed,
    have_a_line,
    is_binding,
    kept_value,
    kind_of_form,
    named_turn,
    standing_of,
    stated_by,
    turns_of,
)

if TYPE_CHECKING:
    from goodquill.http import wire

MOST_TURNS = 30
"""Of one offer: the longest negotiation that anybody told us of had eleven."""
OFFERED = "terms.offer_date"


def take_turn(request: DealRequest, maker: str, said: Mapping[str, Any]) -> wire.TurnTaken:
    """Record that a side puts terms otherwise; see ``NewTurnSerializer`` for what is said.  What our client
    says gets its form, filled with what changes; of what the other side says, the paper names the document
    that it came by, "" without one."""
    done = _take_turn(request, maker, said)
    newest = Turn.objects.filter(offer=request.offer, removed=False).last()
    return {**done, "paper": newest.paper if newest is not None else ""}


@deal_change(Kind.OFFER)
def _take_turn(step: DealStep, maker: str, said: Mapping[str, Any]) -> None:
    opened = step.opened
    turns = turns_of(opened)
    if len(turns) >= MOST_TURNS:
        raise Refusal(f"An offer can have {MOST_TURNS} turns at most.", "Start another offer.", "turns")
    if maker not in (opened.side.clients, opened.side.others):
        raise Refusal("No one on that side is in this deal.", "Choose who makes it.", "maker")
    turn = Turn(offer=opened.offer, maker=maker, amends=is_binding(opened))
    _state(step, turns, turn, said)
    if maker == opened.side.clients:
        turn.paper = _make_paper(step, turns, turn)
    turn.save()
    step.note(TURNS, *made([turn.pk]))
    step.say(_in_words(named_turn([*turns, turn], len(turns)), turn))


@deal_change(Kind.OFFER)
def change_turn(step: DealStep, turn_id: int, said: Mapping[str, Any]) -> None:
    """State a turn anew, with its paper, as long as it wasn't sent or answered."""
    turns = turns_of(step.opened)
    n = next((n for n, turn in enumerate(turns) if turn.pk == turn_id), None)
    if n is None:
        raise Refusal("This turn was removed.", "Reload and try again.", "turn", 404)
    turn, name = turns[n], named_turn(turns, n)
    if not standing_of(step.opened, turns, n, sendings_of(step.opened.deal, [turn.paper])).may_change:
        raise Refusal(
            f"{name} can no longer be changed.",
            "Nothing was changed. If it is out for signature, recall it on Signing first.",
            "turn",
            409,
        )
    _state(step, turns[:n], turn, said)
    fields = {"changes": turn.changes, **_when_and_by(turn)}
    document = step.opened.package.by_id.get(turn.paper)
    if document is not None and document.form.mapping.turn is not None:
        on_paper = _worked_out(step.opened, turns, n, document, turn.words)
        fields |= _write(step, document, on_paper)
    _keep(step, turn, fields)
    step.say(_in_words(f"Changed {name}", turn))


def _in_words(name: str, turn: Turn) -> str:
    labels = [load_catalog().label_of(key) for key in turn.changes]
    more = f" and {len(labels) - 3} more" if len(labels) > 3 else ""
    return f"{name} by the {turn.maker.removesuffix('s')}: {', '.join(labels[:3])}{more}"[:300]


def _state(step: DealStep, earlier: Sequence[Turn], turn: Turn, said: Mapping[str, Any]) -> None:
    """Set what a turn says; refuses what can't be read, or changes nothing."""
    opened = step.opened
    before = as_proposed(opened, earlier)
    stated = _read(opened, said["terms"])
    after = what_if(before, stated)
    changed = moved(stated, before, after)
    if not changed and not turn.words:
        raise Refusal("The terms already say this.", "Change one of them.", "turn")
    if said["paper"] and said["paper"] not in {d.code for d in opened.documents}:
        raise Refusal("This paper is no longer in the package.", "Choose another, or none.", "paper", 409)
    if said["expires"] is not None and said["expires"] < said["day"]:
        raise Refusal("It expires before it is made.", "Check both days; nothing was changed.", "expires")
    turn.day, turn.expires, turn.expires_at = said["day"], said["expires"], said["expires_at"]
    turn.changes = {
        key: [kept_value(key, before.held(key).value), kept_value(key, after.held(key).value)]
        for key in changed
    }
    if turn.maker != opened.side.clients:
        turn.paper = said["paper"]


def _read(opened: OpenDeal, terms: Sequence[Mapping[str, str]]) -> dict[str, Value]:
    """Return the terms as they were typed, in the catalog's order; refused are those that can't be read, by
    name."""
    may, told = {fact.key: fact for fact in may_be_countered(opened.side)}, have_a_line(opened)
    found: dict[str, Value] = {}
    for term in terms:
        fact = may.get(term["key"]) or load_catalog().find(term["key"])
        if fact is None or (fact.key not in may and fact.key not in told):
            raise Refusal("This term can't be countered.", "Reload the page.", "unknown key")
        if not term["text"].strip():
            continue
        value = reads_as(opened.vocabulary, fact.key, term["text"])
        if isinstance(value, Fault):
            raise Refusal(f"{fact.label}: {value.message}", value.mend, value.rule)
        found[fact.key] = value
    return {key: found[key] for key in [*may, *(key for key in found if key not in may)] if key in found}


# Its paper


def _heading(opened: OpenDeal, earlier: Sequence[Turn], turn: Turn) -> Heading:
    offered = opened.package.sheet.held(OFFERED).value
    last = earlier[-1].day if earlier else offered if isinstance(offered, date) else None
    is_answer = bool(earlier) and not earlier[-1].amends
    return Heading(
        sum(t.amends == turn.amends for t in earlier) + 1,
        turn.maker.removesuffix("s"),
        turn.day,
        "counter-offer" if is_answer else "offer",
        last,
        turn.expires,
        turn.expires_at,
    )


def _sections(opened: OpenDeal) -> Callable[[str], str]:
    """Return what gives the section of the agreement that a term stands in."""
    agreement = [d for d in opened.package.leaving if d.form.mapping.turn is None]

    def section_of(key: str) -> str:
        keys = {key, load_catalog()[key].pair}
        meanings = (m for d in agreement for m in d.form.mapping.meanings)
        return next((m.section for m in meanings if m.fact in keys and m.section), "")

    return section_of


def _make_paper(step: DealStep, earlier: Sequence[Turn], turn: Turn) -> str:
    """Return the form of the turn, put behind the package and filled; gives its code, "" where the release
    has none."""
    found = form_for(step.opened, kind_of_form(turn.amends))
    if found is None:
        return ""
    heading = _heading(step.opened, earlier, turn)
    code = put_form(step, found, f"{turn.what} {heading.number}")
    document = step.opened.package.by_id[code]
    on_paper = _worked_out(step.opened, [*earlier, turn], len(earlier), document, {})
    turn.words, turn.shown = _write(step, document, on_paper).values()
    return code


def _worked_out(
    opened: OpenDeal, turns: Sequence[Turn], n: int, document: PackageDocument, words: Mapping[str, str]
) -> TurnOnPaper:
    """Return what the paper of a turn says by what the turn states."""
    turn = turns[n]
    on_paper = TurnOnPaper(_heading(opened, turns[:n], turn), stated_by(turn), dict(words))
    return written(document.form.mapping, on_paper, as_proposed(opened, turns[:n]), _sections(opened))


def _write(step: DealStep, document: PackageDocument, on_paper: TurnOnPaper) -> dict[str, Any]:
    """Write on a turn's paper what it says; gives what the turn keeps of that."""
    entries, shown = [], {}
    for name in dict.fromkeys(name for _, name, _ in parts_of(document.form.mapping)):
        key, value = f"{document.prefix}{name}", on_paper.answers.get(name)
        if value is not None and value is not EMPTY:
            shown[name] = [KINDS[step.opened.kind_of(key)].keep(value), name in on_paper.typed]
        kept = step.opened.ledger.beside(key)
        own, other = Source.TYPED, Source.WORKED_OUT
        if name not in on_paper.typed:
            own, other = other, own
        gone = [source for source in ((own, other) if value is None else (other,)) if source in kept]
        entries += [Entry(key, Act.CLEAR, 0, source) for source in gone]
        if value is not None and (own not in kept or kept[own].value != value):
            entries.append(Entry(key, Act.STATE, 0, own, value))
    if entries:
        step.write(*entries)
    return {"words": on_paper.words, "shown": shown}


def _when_and_by(turn: Turn) -> dict[str, Any]:
    """Return a turn's days, hour and paper, as a step sets them."""
    return {
        "day": turn.day.isoformat(),
        "expires": turn.expires.isoformat() if turn.expires else None,
        "expires_at": turn.expires_at.isoformat() if turn.expires_at else None,
        "paper": turn.paper,
    }


def _keep(step: DealStep, turn: Turn, fields: dict[str, Any]) -> None:
    """Set what a turn says; an opened deal has no turns in it, and need not be read again."""
    was = step.stale, step.did_parts
    step.do(TURNS, {str(turn.pk): fields})
    step.stale, step.did_parts = was


# What is changed on its paper


def settle(step: DealStep) -> None:
    """Have a turn say what its paper says, where a step changed the paper or what it follows from; refuses
    what changes the paper of a turn that was sent, answered or agreed on."""
    opened = step.opened
    codes = {c for c, form in opened.forms.items() if form.mapping.turn in ("counter", "amendment")}
    on_paper = {own.document for key in step.moved if (own := own_key(key)) is not None}
    if not codes or not (on_paper & codes or any(group_of(key) in TERMS for key in step.moved)):
        return
    turns = turns_of(opened)
    written = {turn.paper for turn in turns if turn.shown} & codes
    if not written:
        return
    opened.package.sheet.refresh(step.moved)
    papers, moved_on = {code: opened.package.by_id[code] for code in written}, on_paper & written
    sendings = sendings_of(opened.deal, written)
    for n, turn in enumerate(turns):
        if turn.paper not in papers:
            continue
        stands = standing_of(opened, turns, n, sendings)
        if stands.may_change:
            _settle(step, turns, n, papers[turn.paper])
        elif turn.paper in moved_on and _says_otherwise(opened, turn, papers[turn.paper]):
            raise Refusal(
                f"{named_turn(turns, n)} can no longer be changed. {stands.words}.",
                "Nothing was changed. Recall it on Signing first, or make another turn.",
                "turn",
                409,
            )


def _paper_of(opened: OpenDeal, turn: Turn, document: PackageDocument) -> TurnPaper:
    """Return a turn's paper, with what stood on it when it was read last."""
    last = {
        name: KINDS[opened.kind_of(f"{document.prefix}{name}")].restore(kept)
        for name, (kept, _) in turn.shown.items()
    }
    typed = frozenset(name for name, (_, is_typed) in turn.shown.items() if is_typed)
    return TurnPaper(document.form.mapping, values_on(opened, document), last, typed)


def _says_otherwise(opened: OpenDeal, turn: Turn, document: PackageDocument) -> bool:
    paper = _paper_of(opened, turn, document)
    return any(paper.is_changed(name) for _, name, _ in parts_of(paper.mapping))


def _settle(step: DealStep, turns: Sequence[Turn], n: int, document: PackageDocument) -> None:
    opened, turn = step.opened, turns[n]
    before = as_proposed(opened, turns[:n])
    paper = _paper_of(opened, turn, document)
    kept = TurnOnPaper(_heading(opened, turns[:n], turn), stated_by(turn), dict(turn.words))
    found = reread(paper, kept, before, _sections(opened))
    if isinstance(found, Fault):
        raise Refusal.of(found, 409)
    heading = found.heading
    turn.day, turn.expires, turn.expires_at = heading.day, heading.expires, heading.expires_at
    changes = {
        key: [kept_value(key, before.held(key).value), kept_value(key, value)]
        for key, value in found.stated.items()
    }
    fields = {"changes": changes, **_when_and_by(turn), **_write(step, document, found)}
    now = {"changes": turn.changes, "words": turn.words, "shown": turn.shown}
    if any(fields[name] != now.get(name, fields[name]) for name in fields) or heading != kept.heading:
        _keep(step, turn, fields)
