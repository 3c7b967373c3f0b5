"""Effects of a paper that everybody of both sides has signed: the day of acceptance, and terms in force."""

from __future__ import annotations

from datetime import date

from quillcore.facts.edits import Edit, Op
from quillcore.values.dates import print_date

from goodquill.deals import edits
from goodquill.deals.opening import OpenDeal
from goodquill.deals.steps import DealStep
from goodquill.offers.actions import put_offer_in_force
from goodquill.offers.turns import ACCEPTED, put_in_force, turns_of


def parties_of_both(opened: OpenDeal) -> set[str]:
    """Return the keys of all parties of both sides; none where a side has nobody yet."""
    counts = {group: len(opened.ledger.parties(group)) for group in (opened.side.clients, opened.side.others)}
    if not all(counts.values()):
        return set()
    return {group.signer(n) for group, many in counts.items() for n in range(1, many + 1)}


def come_to_agree(step: DealStep, codes: set[str], day: date) -> list[str]:
    """Record that papers, by their documents' codes, were signed by everybody of both sides, the last one
    on ``day``: turn's terms are in force, and an offer is accepted by the rule that the last party's
    signature makes the contract, where one of them states that date and the deal has none yet.  Gives it in
    words."""
    said = []
    is_accepted = step.opened.package.sheet.held(ACCEPTED).value is not None
    accepts = not is_accepted and any(_states_acceptance(step.opened, code) for code in codes)
    turns = turns_of(step.opened)
    last = max((n for n, turn in enumerate(turns) if turn.paper in codes and not turn.agreed), default=None)
    if last is not None:
        put_in_force(step, turns[: last + 1])
        said.append("its terms are the deal's")
    if accepts:
        put_offer_in_force(step)
        step.read_again()
        edits.apply(step, [Edit(Op.TYPE, ACCEPTED, day.isoformat())])
        said.append(f"accepted on {print_date(day)}")
    return said


def _states_acceptance(opened: OpenDeal, code: str) -> bool:
    form = opened.forms.get(code)
    return form is not None and any(m.fact == ACCEPTED for m in form.mapping.meanings)
