"""Keeping clauses."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from django.db import transaction
from django.shortcuts import get_object_or_404
from quillcore.facts import load_catalog
from quillcore.facts.wording import read_wording, written
from quillcore.values import Fault
from quillcore.values.clock import today

from goodquill.clauses.models import Clause, ClauseReach, ClauseVersion
from goodquill.clauses.queries import find_clause
from goodquill.http.endpoints import Refusal
from goodquill.http.limits import MOST_CLAUSES
from goodquill.offices.access import may_approve_clauses, may_publish, may_write_clauses
from goodquill.offices.models import User


@transaction.atomic
def add(user: User, given: dict[str, Any]) -> Clause:
    """Keep a new one."""
    if user.clauses.filter(removed=False).count() >= MOST_CLAUSES:
        raise Refusal(f"{MOST_CLAUSES} clauses is the limit.", "Delete one that isn't used.", "clauses", 409)
    clause = Clause(brokerage=user.brokerage, owner=user, number=0)
    _say(user, clause, given)
    return clause


@transaction.atomic
def change(user: User, clause_id: UUID, given: dict[str, Any]) -> Clause:
    """Change it.  What was written over a version that somebody changed meanwhile is refused."""
    clause = find_clause(user, clause_id, writing=True)
    if given["based_on"] != clause.number:
        raise Refusal(
            "Someone changed this clause.",
            "Your text is still here. Review the new wording and save again.",
            "changed",
            409,
        )
    _say(user, clause, given)
    return clause


def _say(user: User, clause: Clause, given: dict[str, Any]) -> None:
    parts = read_wording(given["wording"], load_catalog())
    if isinstance(parts, Fault):
        raise Refusal.of(parts, 400)
    reach = ClauseReach(given["reach"])
    if reach is not ClauseReach.MINE and not may_publish(user):
        raise Refusal(
            "Only a broker can save clauses for others.", "Save it as your own and propose it.", "reach", 403
        )
    if given["approved"] and not may_approve_clauses(user):
        raise Refusal("Only the managing broker can approve clauses.", "Ask for it.", "approve", 403)
    says, name = written(parts), given["name"].strip()
    is_new = (clause.wording, clause.name) != (says, name)
    clause.name, clause.wording, clause.reach = name, says, reach
    clause.office = user.office if reach is ClauseReach.OFFICE and clause.office is None else clause.office
    clause.office = clause.office if reach is ClauseReach.OFFICE else None
    stands_approved = given["approved"] and clause.approved_by is not None and not is_new
    if not stands_approved:
        clause.approved_by = user if given["approved"] else None
        clause.approved_on = today() if given["approved"] else None
    clause.number += is_new
    clause.save()
    if is_new:
        ClauseVersion.objects.create(clause=clause, number=clause.number, name=name, wording=says, by=user)


@transaction.atomic
def remove(user: User, clause_id: UUID, *, removed: bool) -> None:
    """Take it off the list, or put it back; where it stands it goes on standing."""
    rows = Clause.objects.filter(may_write_clauses(user)).select_for_update()
    clause = get_object_or_404(rows if not removed else rows.filter(removed=False), pk=clause_id)
    clause.removed = removed
    clause.save(update_fields=["removed"])
