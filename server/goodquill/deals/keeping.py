"""A deal as a whole: its name, throwing it away and finding it again, and the record of who looked at it."""

from __future__ import annotations

from datetime import timedelta
from typing import TYPE_CHECKING, Any
from uuid import UUID

from django.db import transaction
from django.db.models import ProtectedError
from django.shortcuts import get_object_or_404
from django.utils import timezone

from goodquill.changelog.models import Kind, Record
from goodquill.deals.hooks import STILL_NEEDED
from goodquill.deals.models import Deal, Looked
from goodquill.deals.opening import find_deal, only_a_deal
from goodquill.deals.parts import DEAL
from goodquill.deals.steps import DealStep, deal_change
from goodquill.http.endpoints import Refusal
from goodquill.offices.access import may_read_the_record, may_throw_away_deals
from goodquill.offices.models import User
from goodquill.storage.prepared import insert

if TYPE_CHECKING:
    from goodquill.http import wire

FOUND_FOR = timedelta(days=30)
MOST_LOOKS = 200


@deal_change(Kind.NAME)
def name_deal(step: DealStep, name: str) -> None:
    """Give the deal a name that stays; an empty one lets it follow address and surname again."""
    deal, typed = step.opened.deal, name.strip()
    before = deal.name
    step.do(DEAL, {str(deal.pk): {"name": typed or before, "name_typed": bool(typed)}})
    step.say(
        f"{before} is now called {typed}" if typed else f"{before} is named by address and surname again"
    )


@transaction.atomic
def throw_away(user: User, deal_id: UUID) -> None:
    """Take a deal off all lists; its owner and the broker find it again for thirty days."""
    deal = find_deal(user, deal_id, lock=True)
    only_a_deal(deal)
    if not Deal.objects.filter(may_throw_away_deals(user), pk=deal.pk).exists():
        raise Refusal(
            "Only the deal's agent or the broker can delete it.",
            "Ask one of them; nothing was changed.",
            "role",
            403,
        )
    for still_needed in STILL_NEEDED:
        if refusal := still_needed(deal):
            raise refusal
    Deal.objects.filter(pk=deal.pk).update(removed_at=timezone.now())


def bring_back(user: User, deal_id: UUID) -> Deal:
    """Put a deal back that was thrown away."""
    deal = get_object_or_404(thrown_away(user), pk=deal_id)
    deal.removed_at = None
    deal.save(update_fields=["removed_at"])
    return deal


def thrown_away(user: User) -> Any:
    """Return the deals that the user can still bring back, the last first."""
    since = timezone.now() - FOUND_FOR
    return (
        Deal.objects.filter(may_throw_away_deals(user), removed_at__gte=since)
        .select_related("owner")
        .order_by("-removed_at")
    )


def sweep() -> int:
    """Delete for good what nobody can find any more; gives how many deals.  One whose papers were sent for
    signature is kept: what was signed has to be shown for years."""
    gone = Record.objects.filter(deal__removed_at__lt=timezone.now() - FOUND_FOR)
    return sum(_delete(record) for record in gone.iterator(chunk_size=100))


def _delete(record: Record) -> bool:
    try:
        return record.delete()[0] > 0
    except ProtectedError:
        return False


def note(user: User, deal: Deal, what: str, document: str = "", how: str = "", digest: str = "") -> None:
    """Write down that somebody opened or took something of the deal; of a file its SHA-256."""
    looked = Looked(
        brokerage_id=deal.brokerage_id,
        deal=deal.pk,
        deal_name=deal.name,
        by=user,
        what=what,
        document=document[:250],
        how=how,
        content=digest,
    )
    insert([looked])


def looks(user: User, deal_id: UUID) -> list[wire.Looked]:
    """Return who opened and took what, the last first; for the broker."""
    deal = find_deal(user, deal_id)
    if not may_read_the_record(user):
        raise Refusal(
            "Only the managing broker can see who opened and downloaded documents.", "", "role", 403
        )
    rows = Looked.objects.filter(deal=deal.pk).select_related("by").order_by("-pk")[:MOST_LOOKS]
    return [
        {
            "at": r.at,
            "by": r.by.name,
            "what": r.what,
            "document": r.document,
            "how": r.how,
            "content": r.content,
        }
        for r in rows
    ]
