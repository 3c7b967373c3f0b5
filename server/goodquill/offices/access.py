"""Access: the one place that decides who may see and do what.

Every query for something of a brokerage's starts from one of these conditions.  They speak of field
paths only, so that this room need not know the others.
"""

from __future__ import annotations

from typing import Any
from uuid import UUID

from django.db import DEFAULT_DB_ALIAS
from django.db.models import Q, QuerySet
from quillcore.values import clock

from goodquill.offices.models import MemberRole, Office, User

_SHARED = ("members", "offices", "brokerage")
"""Reaches of a template that isn't its owner's alone."""


def known_of(user: User) -> tuple[UUID, UUID, UUID]:
    """Return what ``whoever`` is told of somebody, beside the role."""
    return user.pk, user.brokerage_id, user.office_id


def whoever(pk: Any, brokerage: Any, office: Any, role: str, licence: Any = "") -> User:
    """Return a user of whom a condition is told no more than this, for queries that are prepared for
    everybody who is alike in role: one that asks for more is refused by the database, which knows no such
    user."""
    said = {"id": pk, "brokerage_id": brokerage, "office_id": office, "role": role, "licence": licence}
    names = [field.attname for field in User._meta.concrete_fields if field.attname in said]
    user = User.from_db(DEFAULT_DB_ALIAS, names, [said[name] for name in names])
    user.office = Office.from_db(DEFAULT_DB_ALIAS, ["id"], [office])
    return user


def _in_team_of(user: User) -> QuerySet[Any]:
    """Return the deals in whose team the user is, from the table that joins the two alone."""
    return user.team_deals.through.objects.filter(user=user.pk).values("deal")


def may_see_deals(user: User, path: str = "") -> Q:
    """Return deals a user may open.  ``path`` leads from the queried model to the deal ("deal__").

    The whole brokerage for its broker; the own office for a coordinator; for an agent the own ones
    and those in whose team the agent is.  A template that somebody writes for themselves alone is theirs
    alone.
    """
    is_open = Q(**{f"{path}template": None}) | Q(**{f"{path}template__reach__in": _SHARED})
    within = Q(**{f"{path}brokerage": user.brokerage_id, f"{path}removed_at": None})
    within &= is_open | Q(**{f"{path}owner": user.pk})
    if user.role == MemberRole.BROKER:
        return within
    # The team by subquery, not by join: a join would double rows and cost every list a sort.
    own = Q(**{f"{path}owner": user.pk}) | Q(**{f"{path}pk__in": _in_team_of(user)})
    if user.role == MemberRole.COORDINATOR:
        own |= Q(**{f"{path}office": user.office_id})
    return within & own


def ways_to_deals(user: User) -> list[Q]:
    """Return the same, each way in which a deal can be open to the user by itself: lists ask them one after
    the other, since one index leads along each, and none along all."""
    within = Q(brokerage=user.brokerage_id, removed_at=None, template=None)
    if user.role == MemberRole.BROKER:
        return [within]
    ways = [Q(owner=user.pk), Q(pk__in=_in_team_of(user))]
    if user.role == MemberRole.COORDINATOR:
        ways.append(Q(office=user.office_id))
    return [within & way for way in ways]


def ways_to_tasks(user: User) -> list[Q]:
    """Return the same for tasks: in the deals that are the user's own or their team's, and a coordinator's
    office.  A broker's list is the broker's own deals: others' tasks are others' to do, and each stands in
    its deal."""
    within = Q(deal__brokerage=user.brokerage_id, deal__removed_at=None, deal__template=None)
    ways = [Q(deal__owner=user.pk), Q(deal__in=_in_team_of(user))]
    if user.role == MemberRole.COORDINATOR:
        ways.append(Q(deal__office=user.office_id))
    return [within & way for way in ways]


def may_start_for(user: User) -> Q:
    """Return members for whom a user may start a deal: the broker for everybody of the brokerage, a
    coordinator for those of the own office, an agent for nobody else."""
    within = Q(brokerage=user.brokerage_id, is_active=True) & ~Q(role=MemberRole.COORDINATOR)
    if user.role == MemberRole.BROKER:
        return within
    return within & Q(office=user.office_id) if user.role == MemberRole.COORDINATOR else Q(pk=user.pk)


def may_throw_away_deals(user: User) -> Q:
    """Return deals that a user may throw away, and find again for a while: the own ones; the broker all of
    the brokerage's."""
    within = Q(brokerage=user.brokerage_id)
    return within if user.role == MemberRole.BROKER else within & Q(owner=user.pk)


def may_read_the_record(user: User) -> bool:
    """Return whether the user may read who opened and downloaded what."""
    return user.role == MemberRole.BROKER


def may_use_releases(user: User, path: str = "") -> Q:
    """Return packs open to a user: those of the associations whose active member the user is (whoever
    brought them in, but never another brokerage), and the own brokerage's papers.  A membership counts for
    the license that the registry was asked about.
    """
    member_of = user.memberships.filter(active=True, expires__gte=clock.today(), licence=user.licence).values(
        "association"
    )
    of_associations = Q(**{f"{path}own_papers": False, f"{path}association__in": member_of})
    open_to_us = Q(**{f"{path}brokerage": None}) | Q(**{f"{path}brokerage": user.brokerage_id})
    return (of_associations & open_to_us) | Q(
        **{f"{path}own_papers": True, f"{path}brokerage": user.brokerage_id}
    )


def may_use_templates(user: User, path: str = "") -> Q:
    """Return templates that a user may start deals with: the own ones; those published to the user, to the
    user's office, or to the whole brokerage; and those that came with a pack that the user may use."""
    ours = Q(**{f"{path}brokerage": user.brokerage_id})
    published = ours & Q(**{f"{path}version__gt": 0})
    to_us = (
        Q(**{f"{path}reach": "brokerage"})
        | Q(**{f"{path}reach": "members", f"{path}pk__in": user.templates_shared.values("pk")})
        | Q(**{f"{path}reach": "offices", f"{path}pk__in": user.office.templates_shared.values("pk")})
    )
    of_packs = Q(**{f"{path}reach": "association"}) & may_use_releases(user, f"{path}release__")
    return of_packs | (ours & Q(**{f"{path}owner": user.pk})) | (published & to_us)


def may_write_templates(user: User) -> Q:
    """Return templates that a user may change: those whose working copies are open to the user, as deals
    are."""
    return may_see_deals(user, "working_copy__")


def may_publish(user: User) -> bool:
    """Return whether the user may publish templates to offices and to the whole brokerage: whoever may put
    papers to use for all of it."""
    return may_save_papers(user)


def may_lock_answers(user: User) -> bool:
    """Return whether the user may lock standing answers, so that deals can't change them."""
    return user.role == MemberRole.BROKER


def may_see_clauses(user: User, path: str = "") -> Q:
    """Return clauses open to a user: the own ones, those of the own office, and the brokerage's; the broker
    sees every office's."""
    kept_for_us = Q(**{f"{path}reach": "brokerage"})
    of_offices = Q(**{f"{path}reach": "office"})
    if user.role != MemberRole.BROKER:
        of_offices &= Q(**{f"{path}office": user.office_id})
    within = Q(**{f"{path}brokerage": user.brokerage_id})
    return within & (kept_for_us | of_offices | Q(**{f"{path}owner": user.pk}))


def may_write_clauses(user: User) -> Q:
    """Return clauses that a user may change: of those open to the user the own ones that are nobody else's,
    and the office's and brokerage's for whoever keeps such."""
    own = Q(owner=user.pk, reach="mine")
    return may_see_clauses(user) & (own | ~Q(reach="mine") if may_publish(user) else own)


def may_approve_clauses(user: User) -> bool:
    """Return whether the user may approve a wording for all who use it."""
    return user.role == MemberRole.BROKER


def may_save_papers(user: User) -> bool:
    """Return whether the user may put an office paper to use for the whole brokerage; others propose it."""
    return user.role == MemberRole.BROKER or user.saves_papers


def may_see_papers_in_work(user: User) -> Q:
    """Return papers in work that a user may open: the own ones, those that are shared, and for whoever puts
    papers to use those that are proposed."""
    open_to = Q(by=user.pk) | Q(shared=True)
    if may_save_papers(user):
        open_to |= ~Q(proposed_by=None)
    return Q(brokerage=user.brokerage_id) & open_to


def may_drop_papers(user: User) -> Q:
    """Return papers in work that a user may throw away: the own ones, and all that they see for those who
    may put papers to use."""
    seen = may_see_papers_in_work(user)
    return seen if may_save_papers(user) else seen & Q(by=user.pk)


def may_take_in_releases(user: User) -> bool:
    """Return whether the user may have the brokerage use a new release of a pack."""
    return user.role == MemberRole.BROKER


def may_manage_members(user: User) -> bool:
    """Return whether the user confirms members' licenses, lets them save papers, and ends their access."""
    return user.role == MemberRole.BROKER


def may_see_contacts(user: User) -> Q:
    """Return contacts open to a user: the own ones, and those shared in the brokerage; its broker sees all
    of them, a coordinator those of the own office's agents."""
    within, open_to = Q(brokerage=user.brokerage_id), Q(owner=user.pk) | Q(shared=True)
    if user.role == MemberRole.COORDINATOR:
        open_to |= Q(owner__office=user.office_id)
    return within if user.role == MemberRole.BROKER else within & open_to


def may_merge_contacts(user: User) -> Q:
    """Return contacts that a user may merge, part or take off the list: the own ones, and those of the
    brokerage for its broker."""
    within = Q(brokerage=user.brokerage_id)
    return within if user.role == MemberRole.BROKER else within & Q(owner=user.pk)


def may_change_brokerage(user: User) -> bool:
    """Return whether the user may change what forms print of the brokerage and its offices."""
    return user.role == MemberRole.BROKER
