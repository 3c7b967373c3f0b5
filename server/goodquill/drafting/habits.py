"""What an agent answers in most deals: questions that a template leaves open and might answer itself."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable
from typing import Any, NamedTuple
from uuid import UUID

from quillcore.facts.keys import own_key
from quillcore.templates.writing import becomes_standing
from quillcore.values import KINDS, editable, shown

from goodquill.deals.models import Deal, Document
from goodquill.deals.opening import OpenDeal
from goodquill.offices.models import User
from goodquill.record.models import FactEntry

MOST_DEALS = 40
LEAST_TIMES, LEAST_SHARE = 3, 0.6
"""Twice the same may be chance; and what is answered otherwise in four deals of ten isn't a habit."""
_SOURCES = ("typed", "template")


class Habit(NamedTuple):
    """The answer that was given in ``times`` of ``of`` deals in which the question was answered: as it is
    typed, and as it is shown."""

    text: str
    shown: str
    times: int
    of: int


def habits(user: User, opened: OpenDeal, keys: Iterable[str]) -> dict[str, Habit]:
    """By key of the template's working copy.  Of the user's own newest deals of that side and kind, in three
    queries."""
    deals = _deals_like(user, opened)
    wanted = {_place(opened, key): key for key in keys if _may_stand(opened, key)}
    answers: dict[str, Counter[str]] = {}
    for place, value in _answers(deals, {key for _, key in wanted}):
        if place in wanted:
            answers.setdefault(wanted[place], Counter())[value] += 1
    return {key: habit for key, counts in answers.items() if (habit := _habit(opened, key, counts))}


def _may_stand(opened: OpenDeal, key: str) -> bool:
    return becomes_standing(key, opened.kind_of(key), opened.side)


def _place(opened: OpenDeal, key: str) -> tuple[str, str]:
    """Where a key stands whatever the deal: a form's number and field, or "" and the fact."""
    own = own_key(key)
    if own is None or own.document not in opened.forms:
        return "", key
    return opened.forms[own.document].edition.number, own.name


def _deals_like(user: User, opened: OpenDeal) -> list[UUID]:
    deals = Deal.objects.filter(owner=user, side=opened.deal.side, template=None, removed_at=None)
    template = opened.deal.template
    if template is not None and template.kinds:
        kinds = FactEntry.objects.filter(
            key="property.category", newest=True, value__in=[KINDS["choice"].keep(k) for k in template.kinds]
        )
        deals = deals.filter(pk__in=kinds.values("record"))
    return list(deals.order_by("-touched").values_list("pk", flat=True)[:MOST_DEALS])


def _answers(deals: list[UUID], names: set[str]) -> Iterable[tuple[tuple[str, str], str]]:
    """Each answered question of those deals, once a deal, with its kept value: what was typed comes before
    what stood."""
    documents = Document.objects.filter(deal__in=deals, edition__isnull=False, removed=False)
    numbers = {
        (deal, code): number
        for deal, code, number in documents.values_list("deal", "code", "edition__number")
    }
    entries = FactEntry.objects.filter(
        record__in=deals, newest=True, act="state", source__in=_SOURCES, slot__in=_SOURCES
    )
    seen: set[tuple[UUID, tuple[str, str]]] = set()
    rows = entries.values_list("record", "key", "value", "source").order_by("-source")
    for deal, key, value, _ in rows.iterator():
        own = own_key(key)
        place = ("", key) if own is None else (numbers.get((deal, own.document), "?"), own.name)
        if place[1] in names and (deal, place) not in seen:
            seen.add((deal, place))
            yield place, value


def _habit(opened: OpenDeal, key: str, counts: Counter[str]) -> Habit | None:
    [(value, times)] = counts.most_common(1)
    of = counts.total()
    if times < LEAST_TIMES or times / of < LEAST_SHARE:
        return None
    kind = opened.kind_of(key)
    read: Any = KINDS[kind].restore(value)
    return Habit(editable(read, kind), shown(read, kind), times, of)
