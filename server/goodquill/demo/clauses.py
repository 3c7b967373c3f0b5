"""Clauses of the demo's first brokerage, written for it."""

from __future__ import annotations

from dataclasses import dataclass

BROKER, AGENT = "rosalind@marrowfinch.example", "ines@marrowfinch.example"
OTHER = "bertil@marrowfinch.example"


@dataclass(frozen=True)
class DemoClause:
    """One of them, as it is kept."""

    name: str
    wording: str
    owner: str = BROKER
    reach: str = "brokerage"
    approved: bool = False


CLAUSES = (
    DemoClause(
        "Appraisal below the price",
        "If the appraisal is below {terms.purchase_price}, Buyer may within {terms.appraisal_days} days of"
        " acceptance ask Seller in writing to lower the price to the appraised value. Where they agree on no"
        " price within three business days, either may end this agreement and Buyer’s deposit of"
        " {terms.deposit_amount} is returned.",
        approved=True,
    ),
    DemoClause(
        "As it stands",
        "Buyer takes the Property as it stands and will ask for no repairs. Buyer keeps the right to end this"
        " agreement within the inspection period, which ends on {terms.inspection_date}.",
        approved=True,
    ),
    DemoClause(
        "Repairs by a licensed trade",
        "Repairs that Seller agrees to are done by licensed tradespeople before {terms.closing_date}, and"
        " Seller gives Buyer their paid invoices at the last walk-through.",
        approved=True,
    ),
    DemoClause(
        "Radon test",
        "Buyer may have the air tested for radon within the inspection period. Where the result is 4.0"
        " picocuries per liter or more, Seller pays up to $1,500 for a mitigation system.",
        reach="office",
    ),
    DemoClause(
        "Seller leaves it clean",
        "Seller hands the Property over broom-clean and free of personal things and rubbish at"
        " {terms.possession_time} on the day of possession.",
        reach="brokerage",
    ),
    DemoClause(
        "Septic inspection",
        "Seller has the septic tank pumped and inspected by a licensed firm before {terms.inspection_date}"
        " and pays for it.",
        reach="office",
    ),
    DemoClause(
        "Love seat and swing stay",
        "The porch swing and the garden bench stay with the Property at no further price.",
        AGENT,
        "mine",
    ),
    DemoClause(
        "Wire by the bank’s own number",
        "{buyers.names} will confirm wire instructions by calling {title.company} at a number known before.",
        AGENT,
        "mine",
    ),
    DemoClause("Chimney swept", "Seller has the chimney swept before closing.", OTHER, "mine"),
)
