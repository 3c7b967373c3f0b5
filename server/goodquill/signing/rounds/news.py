"""Recent events in the rounds that somebody sent, shown in the product while they work."""

from __future__ import annotations

from datetime import timedelta
from typing import TYPE_CHECKING
from uuid import UUID

from django.db.models import Max, Q
from django.utils import timezone
from quillcore.signing.rounds import Happened, RoundState

from goodquill.offices.access import may_see_deals
from goodquill.offices.models import User
from goodquill.signing.models import Happening, Round

if TYPE_CHECKING:
    from goodquill.http import wire

LATELY = timedelta(days=2)
"""For which a round that has ended is still looked at: whoever was away longer reads it on Today."""
MOST, MOST_READ = 5, 60
"""Told at once, since more would be read by nobody; and looked at for it: one who signs thirty places leaves
as many events."""
_SAID = {
    Happened.DONE: "{name} has signed “{subject}”.",
    Happened.DECLINED: "{name} declined to sign “{subject}”. The reason given: {said}",
    Happened.WANTS_PAPER: "{name} asks for “{subject}” on paper.",
    Happened.RAN_OUT: "Time has run out for “{subject}”; not everybody has signed.",
}
_EVERYBODY = "Everyone who was asked has signed “{subject}”."


def news_for(user: User, after: int | None) -> wire.NewsShape:
    """Return what happened after the event ``after``, the last thing last; nothing yet without one, since
    whoever has just come reads Today.  ``upto`` is the event to ask after the next time."""
    kept = Q(round__ended=None) | Q(round__ended__gte=timezone.now() - LATELY)
    rows = Happening.objects.filter(may_see_deals(user, "round__deal__"), kept, round__by=user)
    if after is None:
        return {"upto": rows.aggregate(last=Max("pk"))["last"] or 0, "news": []}
    later = rows.filter(pk__gt=after).order_by("-pk").select_related("round__deal")
    found = list(later.prefetch_related("round__signers")[:MOST_READ])
    told = [link for link in found if link.kind in tuple(_SAID) and not _is_own(link, user)]
    last: dict[UUID, int] = {}
    for link in told:
        last.setdefault(link.round_id, link.pk)
    return {
        "upto": max((link.pk for link in found), default=after),
        "news": [
            {
                "id": link.pk,
                "deal": link.round.deal_id,
                "round": link.round_id,
                "wrong": link.kind != Happened.DONE,
                "said": f"{link.round.deal.name}: {_in_words(link, last[link.round_id] == link.pk)}",
            }
            for link in reversed(told[:MOST])
        ],
    }


def _is_own(link: Happening, user: User) -> bool:
    """Return whether it is the user's own signature, in a round that others have still to sign."""
    is_theirs = any(s.key == link.who and s.email == user.email for s in link.round.signers.all())
    return is_theirs and link.round.state == RoundState.OUT


def _in_words(link: Happening, is_last: bool) -> str:
    row: Round = link.round
    by_everybody = is_last and row.state == RoundState.FINISHED
    name = next((s.name for s in row.signers.all() if s.key == link.who), "Somebody")
    said = _EVERYBODY if by_everybody else _SAID[Happened(link.kind)]
    return said.format(name=name, subject=row.subject, said=link.said.get("said", ""))
