"""Changes of deals as they were requested: by whom, of which deal, under which id, in view of which offer."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any
from uuid import UUID

from goodquill.deals.shapes import offer_at_hand
from goodquill.http.endpoints import Sent, sent_with
from goodquill.offices.models import User
from goodquill.offices.requests import MemberRequest


@dataclass(frozen=True)
class DealRequest:
    """A change of a deal, as it was requested.  ``offer`` is the offer that the sender looks at; None for the
    one in force."""

    user: User
    deal: UUID
    sent: Sent
    offer: int | None = None

    @classmethod
    def own(cls, user: User, deal: UUID, offer: int | None = None) -> DealRequest:
        """Return one that the server makes by itself, under an id that nobody repeats."""
        return cls(user, deal, Sent.new(), offer)


def deal_request(request: MemberRequest, deal: UUID, given: dict[str, Any]) -> DealRequest:
    """Return the change that a request asks for; ``given`` is its checked body, which names the change's id.
    The offer is the one of its query."""
    return offer_request(request, deal, given, offer_at_hand(request))


def offer_request(
    request: MemberRequest, deal: UUID, given: dict[str, Any], offer: int | None
) -> DealRequest:
    """Return the change of an offer that a request names by itself."""
    return DealRequest(request.user, deal, sent_with(request, given), offer)
