"""Earlier answers in an agent's own deals, wherever the same is asked."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from typing import TYPE_CHECKING, Any
from uuid import UUID

from quillcore.facts.keys import own_key
from quillcore.templates.earlier import Earlier, may_be_offered, offered
from quillcore.values import KINDS, editable, shown

from goodquill.changelog.models import FactEntry
from goodquill.deals.models import Deal, Document
from goodquill.deals.opening import OpenDeal
from goodquill.offices.access import may_see_deals
from goodquill.offices.models import User

if TYPE_CHECKING:
    from goodquill.http import wire

MOST_DEALS = 40
_SOURCES = ("typed", "template")
Place = tuple[str, str]
"""The place of a question in any deal: a form's number and a blank of its own, or "" and the fact."""


def place_in_any(opened: OpenDeal, key: str) -> Place:
    """Return where a key of this deal stands in any."""
    own = own_key(key)
    if own is None or own.document not in opened.forms:
        return "", key
    return opened.forms[own.document].edition.number, own.name


def answers_of(deals: Sequence[UUID], places: Iterable[Place]) -> Iterator[tuple[Place, str]]:
    """Yield each answered question of those deals, once a deal, with its kept value: of the newest deal
    first, and within one what was typed before what stood.  Two queries."""
    wanted = set(places)
    names = {name for _, name in wanted}
    documents = Document.objects.filter(
        deal__in=deals,
        edition__isnull=False,
        removed=False,
        edition__number__in={number for number, _ in wanted if number},
    )
    numbers = {
        (deal, code): number
        for deal, code, number in documents.values_list("deal", "code", "edition__number")
    }
    kept = FactEntry.objects.filter(
        record__in=deals, newest=True, act="state", source__in=_SOURCES, slot__in=_SOURCES
    )
    rows = kept.values_list("record", "key", "value").order_by("-source", "-pk")
    newest_first = {deal: n for n, deal in enumerate(deals)}
    seen: set[tuple[UUID, Place]] = set()
    found: list[tuple[int, Place, str]] = []
    for deal, key, value in rows.iterator():
        own = own_key(key)
        place = ("", key) if own is None else (numbers.get((deal, own.document), "?"), own.name)
        if place[1] in names and place in wanted and (deal, place) not in seen:
            seen.add((deal, place))
            found.append((newest_first[deal], place, value))
    for _, place, value in sorted(found):
        yield place, value


def earlier(user: User, opened: OpenDeal) -> list[wire.Earlier]:
    """Return, for each question of the package, what the deal's agent answered to it in other deals that the
    user may see: only what is nobody else's business, in three queries."""
    theirs = Deal.objects.filter(
        may_see_deals(user), owner=opened.deal.owner, template=None, removed_at=None
    ).exclude(pk=opened.deal.pk)
    deals = list(theirs.order_by("-touched").values_list("pk", flat=True)[:MOST_DEALS])
    asked = _asked(opened)
    answers: dict[Place, list[str]] = {}
    for place, value in answers_of(deals, asked):
        answers.setdefault(place, []).append(value)
    return [
        {"key": key, "answers": _rows(opened.kind_of(key), offered(answers[place]))}
        for place, keys in asked.items()
        if place in answers
        for key in keys
    ]


def _asked(opened: OpenDeal) -> dict[Place, list[str]]:
    """Return the keys whose earlier answers may be offered, by where they stand: a form that is there twice
    asks twice."""
    found: dict[Place, list[str]] = {}
    for key in dict.fromkeys(key for d in opened.package.documents for key in opened.package.keys_of(d)):
        stored = opened.ledger.stored_key(key)
        if stored == key and may_be_offered(key, opened.kind_of(key), opened.side):
            found.setdefault(place_in_any(opened, key), []).append(key)
    return found


def _rows(kind: str, said: Iterable[Earlier]) -> list[wire.EarlierAnswer]:
    rows: list[wire.EarlierAnswer] = []
    for one in said:
        read: Any = KINDS[kind].restore(one.value)
        rows.append({"text": editable(read, kind), "shown": shown(read, kind), "times": one.times})
    return rows
