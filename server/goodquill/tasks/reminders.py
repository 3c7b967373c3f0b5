"""Reminders by mail: one letter a morning with all that the day asks for, in its reader's time zone."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date, datetime, timedelta
from zoneinfo import ZoneInfo

from django.conf import settings
from django.db import transaction
from django.db.models import F, Q
from django.utils import timezone
from django_tasks import task
from quillcore.tasks import Progress
from quillcore.values.clock import day_of, zone_named

from goodquill.deals.models import Deal, Due
from goodquill.mail.sending import write
from goodquill.offices.models import MemberRole, User

MORNING = 7
"""The hour from which a reminder is written: before the first call, after nobody's night."""
MOST_AT_ONCE = 2_000
_FURTHEST = timedelta(days=1)
"""Somewhere it is tomorrow already."""


@task()
def remind() -> int:
    """Write what is to be written this hour; gives how many letters."""
    now = timezone.now()
    rows = (
        Due.objects.filter(
            Q(reminded=None) | ~Q(reminded=F("day")),
            remind_on__lte=(now + _FURTHEST).date(),
            progress=Progress.TO_DO,
            deal__removed_at=None,
            deal__template=None,
        )
        .select_related("deal__owner", "deal__office", "deal__brokerage__broker")
        .order_by("day", "pk")
    )
    letters: dict[User, list[Due]] = {}
    for due in rows[:MOST_AT_ONCE]:
        for person in responsible(due):
            if is_time(due, person, now):
                letters.setdefault(person, []).append(due)
    return sum(_write(person, dues, local_day(person, now)) for person, dues in letters.items())


def responsible(due: Due) -> Iterable[User]:
    """Return who is reminded: of what others have to do, the agent, who sees to it."""
    deal: Deal = due.deal
    if due.who == "broker" and deal.brokerage.broker is not None:
        people = [deal.brokerage.broker]
    elif due.who == "coordinator":
        found = User.objects.filter(office=deal.office_id, role=MemberRole.COORDINATOR, is_active=True)
        people = list(found) or [deal.owner]
    else:
        people = [deal.owner]
    return [person for person in people if person.is_active]


def local_day(person: User, now: datetime) -> date:
    """Return the day that it is where somebody is."""
    return day_of(now, zone_of(person))


def zone_of(person: User) -> ZoneInfo:
    """Return where somebody is: as their browser last said, else where the product runs."""
    return zone_named(person.time_zone) or ZoneInfo(settings.TIME_ZONE)


def is_time(due: Due, person: User, now: datetime) -> bool:
    """Return whether it is the morning of the reminder there, or later on that day or before the task's own
    is over: what was said too late is reminded of at once, what has passed is on the list as late."""
    local = now.astimezone(zone_of(person))
    assert due.remind_on is not None and due.day is not None
    return due.remind_on <= local.date() <= due.day and local.hour >= MORNING


@transaction.atomic
def _write(person: User, dues: list[Due], today: date) -> bool:
    """Return one letter, and the tasks that it names marked with it: both or neither."""
    rows = Due.objects.select_for_update().filter(pk__in=[due.pk for due in dues])
    fresh = {row.pk for row in rows if row.reminded != row.day and row.progress == Progress.TO_DO}
    named = [due for due in dues if due.pk in fresh]
    if not named:
        return False
    for due in named:
        Due.objects.filter(pk=due.pk).update(reminded=due.day)
    write(person.email, _subject(named), _text(person, named, today), "reminder", person.brokerage_id)
    return True


def _subject(dues: list[Due]) -> str:
    first = dues[0]
    where = first.deal.summary.get("address") or first.deal.name
    more = f", and {len(dues) - 1} more" if len(dues) > 1 else ""
    return f"{first.what}: {where}{more}"


def _text(person: User, dues: list[Due], today: date) -> str:
    lines = [f"Good morning, {person.name}.", "", "This is due soon:", ""]
    for due in dues:
        where = due.deal.summary.get("address") or due.deal.name
        lines.append(f"* {due.what}, {_when(due, today)}")
        lines.append(f"  {where}{f', {due.named}' if due.named and due.named != person.name else ''}")
        lines += [f"  {due.note}"] if due.note else []
        lines.append(f"  {settings.SITE_URL}/deals/{due.deal_id}/tasks?task={due.code}")
        lines.append("")
    lines += [
        "You get this reminder because these tasks have reminders. Change that in each deal under Tasks.",
        "",
    ]
    return "\n".join(lines)


def _when(due: Due, today: date) -> str:
    assert due.day is not None
    days = (due.day - today).days
    said = f"{due.day:%A, %B} {due.day.day}"
    return f"today, {said}" if days == 0 else f"tomorrow, {said}" if days == 1 else f"in {days} days, {said}"
