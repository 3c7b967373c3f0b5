"""Scopes of facts: the deal, or one offer within it.

A deal is one client's business on one property, so the property and the client's side are the deal's;
the terms and the other side are an offer's.
"""

from __future__ import annotations

from quillcore.facts.keys import Side, group_of

TERMS = ("terms", "lease")
"""The groups of facts that are one offer's own on every side."""

_OF_THE_HOME = (
    "property",
    "tax",
    "listing",
    "association_manager",
    "title",
    "warranty",
    "estimate",
    "commission",
)
_STILL_HOLDS = ("choice", "yes_no", "integer", "percent", "number", "address")
_OF_ONE_OFFER = (
    "terms.backup",
    "terms.backup_position",
    *(f"lease.{name}" for name in ("keys", "mail_keys", "remotes")),
    *(f"lease.meter_{name}" for name in ("electric", "gas", "water")),
)


def carries_over(key: str, kind: str, side: Side) -> bool:
    """Return whether what was stated under a key still holds on the client's next home: who the client is,
    representation, lender and the like, and how they buy (loan, periods, who pays what), but no price, no
    date, no wording, nobody from the other side and nothing of this home.  For parties give the key with
    their group (``buyers.1.email``)."""
    group = group_of(key)
    if group in (*_OF_THE_HOME, side.others, side.other_agent, "doc"):
        return False
    if group in TERMS:
        return kind in _STILL_HOLDS and key not in _OF_ONE_OFFER
    return key != "deal.agreement_date"


def belongs_to_offer(key: str, side: Side) -> bool:
    """Return whether the key's entries are an offer's.  For a document's own keys the document decides, not
    this."""
    return group_of(key) in (*TERMS, side.others, side.other_agent)
