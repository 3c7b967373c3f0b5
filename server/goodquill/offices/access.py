"""Who may see and do what: the one place that decides.

Every query for something of a brokerage's starts from one of these conditions.  They speak of field
paths only, so that this room need not know the others.
"""

from __future__ import annotations

from django.db.models import Q

from goodquill.offices.models import Role, User


def may_see_deals(user: User, path: str = "") -> Q:
    """Deals a user may open.  ``path`` leads from the queried model to the deal ("deal__").

    The whole brokerage for its broker; the own office for a coordinator; for an agent the own ones
    and those in whose team the agent is.
    """
    within = Q(**{f"{path}brokerage": user.brokerage_id})
    if user.role == Role.BROKER:
        return within
    # The team by subquery, not by join: a join would double rows and cost every list a sort.
    own = Q(**{f"{path}owner": user.pk}) | Q(**{f"{path}pk__in": user.team_deals.values("pk")})
    if user.role == Role.COORDINATOR:
        own |= Q(**{f"{path}office": user.office_id})
    return within & own


def may_use_releases(user: User, path: str = "") -> Q:
    """Packs open to a user: the association's, and the own brokerage's papers."""
    return Q(**{f"{path}brokerage": None}) | Q(**{f"{path}brokerage": user.brokerage_id})
