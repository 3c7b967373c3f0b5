"""An agent's usual answers: to questions that a template leaves unanswered and might answer itself."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from typing import Any, NamedTuple
from uuid import UUID

from quillcore.templates.writing import becomes_standing
from quillcore.values import KINDS, editable, shown

from goodquill.changelog.models import FactEntry
from goodquill.deals.earlier import MOST_DEALS, answers_of, place_in_any
from goodquill.deals.models import Deal
from goodquill.deals.opening import OpenDeal
from goodquill.offices.models import User

LEAST_TIMES, LEAST_SHARE = 3, 0.6
"""Twice the same may be chance; and what is answered otherwise in four deals of ten isn't a habit."""


class Habit(NamedTuple):
    """The answer that was given in ``times`` of ``of`` deals in which the question was answered: as it is
    typed, and as it is shown."""

    text: str
    shown: str
    times: int
    of: int


def habits(user: User, opened: OpenDeal, keys: Iterable[str]) -> dict[str, Habit]:
    """Return habits by key of the template's working copy. Of the user's own newest deals of that side and
    kind, in three queries."""
    deals = _deals_like(user, opened)
    wanted = {place_in_any(opened, key): key for key in keys if _may_stand(opened, key)}
    answers: dict[str, Counter[str]] = {}
    for place, value in answers_of(deals, wanted):
        answers.setdefault(wanted[place], Counter())[value] += 1
    return {key: habit for key, counts in answers.items() if (habit := _habit(opened, key, counts))}


def _may_stand(opened: OpenDeal, key: str) -> bool:
    return becomes_standing(key, opened.kind_of(key), opened.side)


def _deals_like(user: User, opened: OpenDeal) -> list[UUID]:
    deals = Deal.objects.filter(owner=user, side=opened.deal.side, template=None, removed_at=None)
    template = opened.deal.template
    if template is not None and template.kinds:
        kinds = FactEntry.objects.filter(
            key="property.category", newest=True, value__in=[KINDS["choice"].keep(k) for k in template.kinds]
        )
        deals = deals.filter(pk__in=kinds.values("record"))
    return list(deals.order_by("-touched").values_list("pk", flat=True)[:MOST_DEALS])


def _habit(opened: OpenDeal, key: str, counts: Counter[str]) -> Habit | None:
    [(value, times)] = counts.most_common(1)
    of = counts.total()
    if times < LEAST_TIMES or times / of < LEAST_SHARE:
        return None
    kind = opened.kind_of(key)
    read: Any = KINDS[kind].restore(value)
    return Habit(editable(read, kind), shown(read, kind), times, of)
