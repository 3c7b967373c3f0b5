"""A member who leaves: access ends, and what they worked on passes to somebody."""

from __future__ import annotations

import uuid
from uuid import UUID

from django.db import transaction
from django.db.models import F
from django.shortcuts import get_object_or_404
from quillcore.facts.keys import OWN_AGENT, RESPONSIBLE

from goodquill.changelog.models import Change, Kind, Record
from goodquill.contacts.models import Contact
from goodquill.deals.models import Deal, Due
from goodquill.http.endpoints import Refusal
from goodquill.offices.access import may_manage_members
from goodquill.offices.models import User
from goodquill.templates.models import Template

_OF_THE_AGENT = [who for who, group in RESPONSIBLE.items() if group == OWN_AGENT]


@transaction.atomic
def end_access(broker: User, member_id: UUID, to: UUID | None) -> int:
    """End a member's access and sessions at once; deals, contacts and templates pass to ``to``, which has to
    be named where there are any.  Gives how many deals passed."""
    if not may_manage_members(broker):
        raise Refusal(
            "Only the managing broker can end a member's access.",
            "Ask your broker; nothing was changed.",
            "role",
            403,
        )
    ours = User.objects.filter(brokerage=broker.brokerage_id)
    member = get_object_or_404(ours.select_for_update(), pk=member_id)
    if member.pk == broker.pk:
        raise Refusal("You can't end your own access.", "Ask another broker of the firm.", "own", 409)
    heir = get_object_or_404(ours.filter(is_active=True).exclude(pk=member.pk), pk=to) if to else None
    passed = _pass_on(broker, member, heir)
    member.is_active, member.invited = False, None
    member.save(update_fields=["is_active", "invited"])
    member.sessions.all().delete()
    return passed


def _pass_on(broker: User, member: User, heir: User | None) -> int:
    deals = list(Deal.objects.filter(owner=member).values_list("pk", flat=True))
    has_more = Contact.objects.filter(owner=member).exists() or Template.objects.filter(owner=member).exists()
    if heir is None:
        if deals or has_more:
            raise Refusal(
                f"{member.name} has deals, contacts or templates.",
                "Choose who takes them over; nothing was changed.",
                "heir",
                409,
            )
        return 0
    Deal.objects.filter(pk__in=deals).update(owner=heir, office=heir.office_id)
    Contact.objects.filter(owner=member).update(owner=heir)
    Template.objects.filter(owner=member).update(owner=heir)
    Due.objects.filter(deal__in=deals, who__in=_OF_THE_AGENT).update(named=heir.name)
    _note(broker, deals, f"{member.name} passed it to {heir.name}")
    return Deal.objects.filter(pk__in=deals, template=None).count()


def _note(broker: User, deals: list[UUID], said: str) -> None:
    """Write a line in each deal's history; nothing that undo could take back."""
    Record.objects.filter(pk__in=deals).update(seq=F("seq") + 1)
    numbers = Record.objects.filter(pk__in=deals).values_list("pk", "seq")
    Change.objects.bulk_create(
        [
            Change(pk=uuid.uuid4(), record_id=record, seq=seq, by=broker, kind=Kind.PASSED, said=said[:300])
            for record, seq in numbers
        ]
    )
