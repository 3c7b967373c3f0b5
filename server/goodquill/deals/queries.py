"""Deals in lists, and how far one has come: without opening it."""

from __future__ import annotations

import re
from uuid import UUID

from django.db.models import Q
from django.http import Http404

from goodquill.deals.models import LONGEST_WORD, Deal, DealWord
from goodquill.deals.naming import words_in
from goodquill.limits import MOST_LISTED_DEALS
from goodquill.offices.access import may_see_deals, ways_to_deals
from goodquill.offices.models import User

MOST_ASKED = 8
"""Words that are looked for at once: an address has six."""
FEW = 1_000
"""A word that begins so stands in no more deals than that: then it leads to them.  One that stands in more is
common, and is met soon among the deals touched last."""
_LAST = "\U0010ffff"


def deals_touched_last(user: User, find: str = "") -> list[Deal]:
    """The deals that the user may see, those touched last first; with ``find`` those of which, for each word
    asked for, a word begins so.  Each way in which a deal can be the user's is asked by itself, since each
    has an index in that order.
    """
    conditions = [_found_by(user, word) for word in words_in(find)[:MOST_ASKED]]
    found: dict[UUID, Deal] = {}
    for way in ways_to_deals(user):
        # Owners are fetched behind, since a join would cost the order that the index has.
        rows = (
            Deal.objects.filter(way, *conditions)
            .prefetch_related("owner")
            .defer("states")
            .order_by("-touched")
        )
        found |= {deal.pk: deal for deal in rows[:MOST_LISTED_DEALS]}
    return sorted(found.values(), key=lambda deal: deal.touched, reverse=True)[:MOST_LISTED_DEALS]


def _found_by(user: User, word: str) -> Q:
    """The condition that one of a deal's words begins so."""
    begin = word[:LONGEST_WORD]
    # A range, because no index helps what the database compares as LIKE with a collation of its own.
    rows = DealWord.objects.filter(brokerage=user.brokerage_id, word__gte=begin, word__lt=begin + _LAST)
    if rows.values("pk")[: FEW + 1].count() <= FEW:
        return Q(pk__in=rows.values("deal"))
    return Q(words__regex=rf"(^|[ -]){re.escape(begin)}")


def newest_step(user: User, deal: UUID) -> int:
    """The number of the deal's newest step, for whoever may see it.  One query."""
    found = Deal.objects.filter(may_see_deals(user), pk=deal).values_list("record__seq", flat=True).first()
    if found is None:
        raise Http404
    return found
