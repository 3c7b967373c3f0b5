"""Which facts belong to the deal and which to one offer within it.

A deal is one client's business on one property, so the property and the client's side are the deal's;
the terms and the other side are an offer's.
"""

from __future__ import annotations

TERMS = ("terms", "lease")
"""The groups of facts that are one offer's own on every side."""

SIDES = {
    "listing": ("sellers", "buyers", "listing_agent", "buyer_agent"),
    "buying": ("buyers", "sellers", "buyer_agent", "listing_agent"),
    "leasing out": ("landlords", "tenants", "listing_agent", "buyer_agent"),
    "renting": ("tenants", "landlords", "buyer_agent", "listing_agent"),
}


def client_group(side: str) -> str:
    """The party group that is the client: ``buyers`` when buying."""
    return SIDES[side][0]


def own_agent(side: str) -> str:
    """The agent group that is the deal's own agent."""
    return SIDES[side][2]


_OF_THE_HOME = ("property", "tax", "listing", "association_manager", "title", "warranty", "estimate", "commission")
_STILL_HOLDS = ("choice", "yes_no", "integer", "percent", "number", "address")


def carries_over(key: str, kind: str, side: str) -> bool:
    """Whether what was stated under a key still holds on the client's next home: who the client is, representation, lender
    and the like, and how they buy (loan, periods, who pays what), but no price, no date, no wording, nobody from the other
    side and nothing of this home.  For parties give the key with their group (``buyers.1.email``)."""
    _, other, _, other_agent = SIDES[side]
    group = key.split(".", 1)[0]
    if group in (*_OF_THE_HOME, other, other_agent, "doc"):
        return False
    if group in TERMS:
        return kind in _STILL_HOLDS and key not in ("terms.backup", "terms.backup_position")
    return key != "deal.agreement_date"


def belongs_to_offer(key: str, side: str) -> bool:
    """Whether the key's entries are an offer's.  For ``doc.…`` keys the document decides, not this."""
    _, other, _, other_agent = SIDES[side]
    group = key.split(".", 1)[0]
    return group in (*TERMS, other, other_agent)
