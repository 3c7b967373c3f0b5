"""Agreement: on an offer or on a turn of it, recorded with when and how.  Its terms are then the deal's, and
the papers that both sides sign go on saying what they said."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import UTC, datetime, time
from typing import TYPE_CHECKING, Any

from quillcore.estimates import what_if
from quillcore.facts import Act, Entry, Source, load_catalog
from quillcore.facts.keys import read_role
from quillcore.forms.model import Form
from quillcore.formulas import Evaluator
from quillcore.offers import may_be_countered
from quillcore.offers.agreement import ACCEPTED, against_accepting
from quillcore.offers.status import expired_by
from quillcore.values import Fault
from quillcore.values.dates import print_date, print_time

from goodquill.changelog.models import Kind
from goodquill.deals.opening import OpenDeal
from goodquill.deals.parts import OFFERS
from goodquill.deals.steps import DealStep, deal_change
from goodquill.http.endpoints import Refusal
from goodquill.offers.models import TURNS, Turn
from goodquill.offers.turns import (
    as_proposed,
    named_turn,
    papers_that_came,
    proposed,
    term_cell,
    turns_of,
    words_of,
)

if TYPE_CHECKING:
    from goodquill.http import wire


def acceptance(opened: OpenDeal) -> wire.Acceptance:
    """Return the terms that will be in force once the offer at hand is agreed on as it stands, line by line,
    and what stands against it."""
    turns = turns_of(opened)
    after, catalog = as_proposed(opened, turns), load_catalog()
    rows: list[wire.AcceptedTerm] = []
    for fact in may_be_countered(opened.side):
        now, then = (term_cell(sheet, fact.key) for sheet in (opened.package.sheet, after))
        if now or then:
            rows.append(
                {"label": catalog.label_of(fact.key), "now": now, "then": then, "differs": now != then}
            )
    fault = _against(opened, turns, has_paper=True, how="")
    without_paper = _against(opened, turns, has_paper=False, how="told")
    return {
        "against": fault.message if fault is not None else "",
        "mend": fault.mend if fault is not None else "",
        "needs_paper": without_paper.message if fault is None and without_paper is not None else "",
        "rows": sorted(rows, key=lambda row: not row["differs"]),
        "words": [
            {"label": f"{label} ({named_turn(turns, n)})", "text": text}
            for n, turn in enumerate(turns)
            if not turn.agreed
            for label, text in words_of(opened, turn)
        ],
        "papers": papers_that_came(opened),
    }


def _unanswered(opened: OpenDeal, turns: Sequence[Turn]) -> str | None:
    """Return the name of our own newest turn while nobody has answered it."""
    last = turns[-1] if turns else None
    is_ours = last is not None and not last.agreed and last.maker == opened.side.clients
    return named_turn(turns, len(turns) - 1) if is_ours else None


def _against(
    opened: OpenDeal, turns: Sequence[Turn], has_paper: bool, how: str, expired: str = ""
) -> Fault | None:
    return against_accepting(
        accepted=accepted_beside(opened),
        unanswered=_unanswered(opened, turns),
        has_paper=has_paper,
        how=how,
        expired=expired or None,
    )


def accepted_beside(opened: OpenDeal) -> str | None:
    """Return the name of another offer of the deal that is accepted."""
    others = (o for o in opened.kept.offers if o.pk != opened.offer.pk and o.outcome == "accepted")
    return next((other.name for other in others), None)


@deal_change(Kind.OFFER)
def accept(step: DealStep, said: Mapping[str, Any]) -> None:
    """Record that the offer at hand was accepted, with all of its turns; see ``AcceptOfferSerializer``."""
    opened, turns = step.opened, turns_of(step.opened)
    came = _recorded(step, turns, said, "Accepted")
    others = [o for o in opened.kept.offers if o.outcome == "open" and o.pk != opened.offer.pk]
    put_offer_in_force(step, came)
    in_words = f"Accepted {opened.offer.name}: its terms are in force"
    if said["decline_others"] and others:
        step.do(OFFERS, {str(o.pk): {"outcome": "declined"} for o in others})
        in_words += f"; {' and '.join(o.name for o in others)} declined"
    put_in_force(step, turns, came)
    step.write(Entry(ACCEPTED, Act.STATE, 0, Source.TYPED, said["day"]))
    step.say(in_words)


@deal_change(Kind.OFFER)
def agree_on(step: DealStep, turn: int, said: Mapping[str, Any]) -> None:
    """Record that both sides agree on a turn, and so on those before it; see ``AgreedSerializer``."""
    turns = turns_of(step.opened)
    at = next((n for n, t in enumerate(turns) if t.pk == turn), None)
    if at is None:
        raise Refusal("This turn was removed.", "Reload and try again.", "turn", 404)
    if turns[at].agreed:
        raise Refusal("This was agreed on already.", "Reload and try again.", "turn", 409)
    if at + 1 < len(turns):
        raise Refusal(
            f"{named_turn(turns, at)} was answered by {named_turn(turns, at + 1)}.",
            "Nothing was changed. Agree on the newest turn, or make another.",
            "turn",
            409,
        )
    put_in_force(step, turns, _recorded(step, turns, said, "Agreed"))
    step.say(f"Agreed on {named_turn(turns, at)} of {print_date(turns[at].day)}")


def _recorded(step: DealStep, turns: Sequence[Turn], said: Mapping[str, Any], what: str) -> str:
    """Return an agreement in words, with when, how, and who recorded it; refuses one that can't be."""
    opened = step.opened
    titles = {paper["code"]: paper["title"] for paper in papers_that_came(opened)}
    if said["paper"] and said["paper"] not in titles:
        raise Refusal("This paper is no longer in the package.", "Choose another, or none.", "paper", 409)
    how = said["how"].strip()
    at_hour = datetime.combine(said["day"], said["hour"] or time(0), UTC)
    last = turns[-1] if turns and not turns[-1].agreed else None
    expired = expired_by((last.expires, last.expires_at), at_hour) if last is not None else ""
    fault = _against(opened, turns, has_paper=bool(said["paper"]), how=how, expired=expired)
    if fault is not None:
        raise Refusal.of(fault, 409)
    at = f", {print_time(said['hour'])}" if said["hour"] is not None else ""
    shows = " · ".join(filter(None, (titles.get(said["paper"], ""), how)))
    return f"{what} {print_date(said['day'])}{at}. {shows}. Recorded by {step.user.name}"[:300]


def put_offer_in_force(step: DealStep, came: str) -> None:
    """Accept the offer at hand, and put it in force; ``came`` is how that came about."""
    offers, offer = step.opened.kept.offers, step.opened.offer
    wanted: dict[str, dict[str, Any]] = {
        str(o.pk): {"in_force": False} for o in offers if o.in_force and o.pk != offer.pk
    }
    wanted[str(offer.pk)] = {"in_force": True, "outcome": "accepted", "came": came[:300]}
    step.do(OFFERS, wanted)


def put_in_force(step: DealStep, turns: Sequence[Turn], came: str) -> None:
    """Make the terms of turns the deal's own; papers that both sides sign go on saying what they say.
    ``came`` is how the agreement came about."""
    stated = proposed(turns)
    fresh = [turn for turn in turns if not turn.agreed]
    if not fresh:
        return
    opened = step.opened
    before = opened.package.sheet
    kept = _as_they_were(opened, before, what_if(before, stated))
    step.do(TURNS, {str(turn.pk): {"agreed": True, "came": came[:300]} for turn in fresh})
    step.write(*(Entry(key, Act.STATE, 0, Source.TYPED, value) for key, value in stated.items()), *kept)


def _as_they_were(opened: OpenDeal, before: Evaluator, after: Evaluator) -> list[Entry]:
    """Return what would say something else on papers that both sides sign, kept there as it was."""
    signed = [d for d in opened.package.leaving if _is_signed_by_both(opened, d.form)]
    found: dict[str, Entry] = {}
    for blank in opened.package.blanks(signed):
        was = before.held(blank.key).value
        is_told = blank.meaning.sign is None and not blank.only_here
        if is_told and was is not None and was != after.held(blank.key).value:
            found[blank.own_key] = Entry(blank.own_key, Act.STATE, 0, Source.TYPED, was)
    return list(found.values())


def _is_signed_by_both(opened: OpenDeal, form: Form) -> bool:
    roles = (read_role(m.role) for m in form.mapping.meanings if m.sign == "signature" and m.role)
    groups = {role.group for role in roles if role is not None}
    return {opened.side.clients, opened.side.others} <= groups
