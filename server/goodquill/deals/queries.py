"""Deals in lists, and how far one has come: without opening it."""

from __future__ import annotations

import re
from datetime import datetime
from uuid import UUID

from django.db.models import Q, QuerySet

from goodquill.deals.models import LONGEST_WORD, Deal, DealWord
from goodquill.deals.naming import words_in
from goodquill.http.limits import MOST_LISTED_DEALS
from goodquill.offices.access import known_of, may_see_deals, ways_to_deals, whoever
from goodquill.offices.models import User
from goodquill.storage.prepared import Prepared

MOST_ASKED = 8
"""Words that are looked for at once: an address has six."""
FEW = 1_000
"""A word that begins so stands in no more deals than that: then it leads to them.  One that stands in more is
common, and is met soon among the deals touched last."""
_LAST = "\U0010ffff"


def deals_touched_last(
    user: User, find: str = "", agent: UUID | None = None, before: datetime | None = None
) -> list[Deal]:
    """Return the deals that the user may see, those touched last first; with ``find`` those of which, for
    each word asked for, a word begins so.  Each way in which a deal can be the user's is asked by itself,
    since each has an index in that order.  ``agent`` leaves one owner's, ``before`` those touched earlier:
    the next part of the list.
    """
    conditions = [_found_by(user, word) for word in words_in(find)[:MOST_ASKED]]
    if agent is not None:
        conditions.append(Q(owner=agent))
    if before is not None:
        conditions.append(Q(touched__lt=before))
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
    """Return the condition that one of a deal's words begins so."""
    begin = word[:LONGEST_WORD]
    # A range, because no index helps what the database compares as LIKE with a collation of its own.
    rows = DealWord.objects.filter(brokerage=user.brokerage_id, word__gte=begin, word__lt=begin + _LAST)
    if rows.values("pk")[: FEW + 1].count() <= FEW:
        return Q(pk__in=rows.values("deal"))
    return Q(words__regex=rf"(^|[ -]){re.escape(begin)}")


def newest_step(user: User, deal: UUID) -> int:
    """Return the number of the deal's newest step, for whoever may see it.  One query, which each open
    window asks every few seconds."""
    return _NEWEST.first_or_404(*known_of(user), deal, shape=(user.role,))[0]


def _newest(user: UUID, brokerage: UUID, office: UUID, deal: UUID, role: str) -> QuerySet[Deal, tuple[int]]:
    rows = Deal.objects.filter(may_see_deals(whoever(user, brokerage, office, role)), pk=deal)
    return rows.values_list("record__seq")


_NEWEST = Prepared(_newest)
