"""Rounds compared with their chains: before anything is sealed, and once a day.

What differs was changed past the product.  Nothing of such a round is sealed any more, and the broker is
told once.
"""

from __future__ import annotations

from collections.abc import Iterator
from datetime import timedelta
from uuid import UUID

from django.db import transaction
from django.db.models import Q
from django.utils import timezone
from django_tasks import task
from quillcore.signing.record_check import differences
from quillcore.signing.rounds import RoundState

from goodquill.mail.sending import write
from goodquill.signing import letters
from goodquill.signing.chain import checked_links
from goodquill.signing.kept import RoundRows
from goodquill.signing.models import Round
from goodquill.storage import files
from goodquill.storage.locks import hold

A_DAY = timedelta(days=1)
AT_ONCE = 50
"""Rounds that one task compares: each half minute there is another, 144,000 a day."""


def doubts_about(row: Round) -> Iterator[str]:
    """Yield how a round that was sent differs from its chain, as sentences."""
    links, forged = checked_links(row)
    if forged is not None:
        yield f"Event {forged} of the record was not written by Good Quill."
    rows = RoundRows.of(row)
    yield from differences(links, rows.as_kept())
    scans = (
        (s.name, content) for s in rows.people.values() for content in s.by_pen.get("scans", {}).values()
    )
    kept = [(p.named, content) for p in rows.papers for content in (p.frozen, p.finished) if content]
    for named, content in [*kept, *scans]:
        try:
            files.fetch(content)
        except (files.Corrupt, OSError):
            yield f"A stored file of {named} is damaged or missing."


def holds(row: Round) -> bool:
    """Return whether a round is as its chain says.  The first time that it isn't, the broker is told; locks
    nothing, so whoever calls holds the round."""
    found = " ".join(doubts_about(row))[:500]
    row.checked = timezone.now()
    is_new = bool(found) and not row.doubt
    row.doubt = found
    row.save(update_fields=["checked", "doubt"])
    if is_new:
        broker = row.by.brokerage.broker or row.by
        for to in {broker.email, row.by.email}:
            write(to, *letters.in_doubt(row), "signing", row.deal.brokerage_id)
    return not found


@transaction.atomic
def check(round_id: UUID) -> bool:
    """Compare one round, and return whether it holds."""
    hold(Round, round_id)
    return holds(Round.objects.select_related("by__brokerage__broker", "deal").get(pk=round_id))


@task()
def check_due() -> int:
    """Compare the rounds that weren't compared for a day; return how many no longer hold."""
    sent = Round.objects.exclude(state=RoundState.MAKING)
    due = sent.filter(Q(checked=None) | Q(checked__lt=timezone.now() - A_DAY))
    return sum(not check(pk) for pk in list(due.order_by("checked").values_list("pk", flat=True)[:AT_ONCE]))
