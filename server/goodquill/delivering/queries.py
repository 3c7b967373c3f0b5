"""The papers that can be delivered, the possible recipients, and the deliveries so far."""

from __future__ import annotations

from typing import TYPE_CHECKING
from uuid import UUID

from quillcore.assembly import PackageDocument
from quillcore.assembly.recipients import may_leave, outside_audience, recipients, usually_for

from goodquill.deals.opening import OpenDeal
from goodquill.delivering.models import Delivery, Recipient
from goodquill.mail.queries import not_taken
from goodquill.signing.letters import sender_of

if TYPE_CHECKING:
    from goodquill.http import wire

MOST_LISTED = 100


def proposed(opened: OpenDeal) -> wire.Deliveries:
    """Return the papers that may leave, with whom each concerns, and the people of the deal who have an
    e-mail."""
    return {
        "papers": [_paper(d) for d in opened.package.leaving if may_leave(d)],
        "people": _people(opened),
        "sent": delivered(opened.deal.pk),
    }


def _paper(document: PackageDocument) -> wire.MayLeaveShape:
    edition, audience = document.form.edition, outside_audience(document)
    return {
        "document": document.id,
        "title": edition.named,
        "pages": edition.pages,
        "audience": audience,
        "usually_for": usually_for(audience),
    }


def _people(opened: OpenDeal) -> list[wire.AddresseeShape]:
    return [
        {"name": who.name, "email": who.email, "role": who.role, "concerns": concerns}
        for who, concerns in recipients(opened.package)
    ]


def delivered(deal: UUID) -> list[wire.Delivered]:
    """Return what was delivered of a deal, the newest first; as many queries however much."""
    rows = Delivery.objects.filter(deal=deal).select_related("by").prefetch_related("files", "recipients")
    every = list(rows[:MOST_LISTED])
    refused = not_taken(p.letter for row in every for p in row.recipients.all())
    return [_row(row, refused) for row in every]


def _row(row: Delivery, refused: dict[UUID | None, str]) -> wire.Delivered:
    return {
        "id": row.pk,
        "made": row.made,
        "by": row.by.name,
        "how": row.how,
        "subject": row.subject,
        "ends": row.ends,
        "files": [{"name": f.name, "hash": f.content, "size": f.size} for f in row.files.all()],
        "to": [
            {
                "name": p.name,
                "email": p.email,
                "opened": p.opened,
                "refused": refused.get(p.letter, ""),
            }
            for p in row.recipients.all()
        ],
    }


def seen_by(person: Recipient) -> wire.ForYou:
    """Return a delivery as its recipient sees it."""
    row = person.delivery
    return {
        "name": person.name,
        "subject": row.subject,
        "message": row.message,
        "sender": sender_of(row.by),
        "ends": row.ends,
        "files": [{"id": f.pk, "name": f.name, "size": f.size} for f in row.files.all()],
    }
