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


def belongs_to_offer(key: str, side: str) -> bool:
    """Whether the key's entries are an offer's.  For ``doc.…`` keys the document decides, not this."""
    _, other, _, other_agent = SIDES[side]
    group = key.split(".", 1)[0]
    return group in (*TERMS, other, other_agent)
