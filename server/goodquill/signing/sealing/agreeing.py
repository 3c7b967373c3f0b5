"""Effects of a paper that everybody of both sides has signed: the day of acceptance, and terms in force."""

from __future__ import annotations

from datetime import date

from quillcore.facts.edits import Edit, Op
from quillcore.offers.agreement import ACCEPTED, accepts, turns_agreed
from quillcore.values.dates import print_date

from goodquill.deals import edits
from goodquill.deals.steps import DealStep
from goodquill.offers.agreeing import accepted_beside, put_in_force, put_offer_in_force
from goodquill.offers.turns import turns_of


def come_to_agree(step: DealStep, codes: set[str], day: date) -> list[str]:
    """Record that papers, by their documents' codes, were signed by everyone of both sides, the last one
    on ``day``: turn's terms are in force, and an offer is accepted by the rule that the last party's
    signature makes the contract, where one of them states that date and the deal has none yet.  Gives it in
    words."""
    said, opened = [], step.opened
    is_accepted_now = accepts(
        opened.package.sheet, [opened.forms[code] for code in codes if code in opened.forms]
    )
    turns = turns_of(opened)
    beside = accepted_beside(opened)
    if beside is not None and (is_accepted_now or turns):
        return [f"not put in force: {beside} is accepted already"]
    many = turns_agreed([turn.paper for turn in turns], [turn.agreed for turn in turns], codes)
    if many:
        put_in_force(step, turns[:many], f"Signed by both sides, {print_date(day)}")
        said.append("its terms are the deal's")
    if is_accepted_now:
        put_offer_in_force(step, f"Signed by both sides, {print_date(day)}")
        step.read_again()
        edits.apply(step, [Edit(Op.TYPE, ACCEPTED, day.isoformat())])
        said.append(f"accepted on {print_date(day)}")
    return said
