"""The papers that can be delivered, the possible recipients, and the deliveries so far."""

from __future__ import annotations

from typing import TYPE_CHECKING
from uuid import UUID

from quillcore.assembly import PackageDocument
from quillcore.assembly.people import person

from goodquill.deals.opening import OpenDeal
from goodquill.delivering.models import Delivery, Recipient
from goodquill.mail.queries import not_taken
from goodquill.signing.letters import sender_of

if TYPE_CHECKING:
    from goodquill.http import wire

OUTSIDE = ("client", "other side")
OTHERS = "others"
"""The firms that serve the deal: the lender, the title company, an attorney."""
MOST_LISTED = 100


def may_leave(document: PackageDocument) -> bool:
    """Return whether a paper concerns anybody outside: the broker's own file concerns nobody."""
    return any(who in document.form.edition.audience for who in OUTSIDE)


def usually_for(audience: list[str]) -> list[str]:
    """Return to whom a paper usually goes.  What one side keeps to itself is nothing to a lender or a title
    company: they get what both have."""
    return [*audience, OTHERS] if set(OUTSIDE) <= set(audience) else audience


def proposed(opened: OpenDeal) -> wire.Deliveries:
    """Return the papers that may leave, with whom each concerns, and the people of the deal who have an
    e-mail."""
    return {
        "papers": [_paper(d) for d in opened.package.leaving if may_leave(d)],
        "people": _people(opened),
        "sent": delivered(opened.deal.pk),
    }


def _paper(document: PackageDocument) -> wire.MayLeaveShape:
    edition = document.form.edition
    audience = [who for who in edition.audience if who in OUTSIDE]
    return {
        "document": document.id,
        "title": edition.named,
        "pages": edition.pages,
        "audience": audience,
        "usually_for": usually_for(audience),
    }


def _people(opened: OpenDeal) -> list[wire.AddresseeShape]:
    side = opened.side
    parties = [
        (group.signer(n), "client" if group == side.clients else "other side")
        for group in (side.clients, side.others)
        for n in range(1, len(opened.ledger.parties(group)) + 1)
    ]
    found: list[wire.AddresseeShape] = []
    for key, concerns in [*parties, (side.other_agent, "other side")]:
        who = person(opened.package, key)
        if who.name and who.email:
            found.append({"name": who.name, "email": who.email, "role": who.role, "concerns": concerns})
    return found


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
