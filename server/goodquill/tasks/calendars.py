"""Tasks as iCalendar: a file, and a feed at a secret address that can be renewed."""

from __future__ import annotations

import hmac
from collections.abc import Iterable
from datetime import date, timedelta
from typing import TYPE_CHECKING
from uuid import UUID

from django.db.models import F
from django.utils import timezone
from django.utils.crypto import salted_hmac
from icalendar import Calendar, Event

from goodquill.offices.models import User
from goodquill.tasks.models import Feed
from goodquill.tasks.queries import dues_for

if TYPE_CHECKING:
    from goodquill.http import wire

_SALT = "goodquill.schedule.feed"
_LOOKED_BACK = timedelta(days=60)
"""The time that a feed goes back: calendars show last month too."""


def as_calendar(name: str, rows: Iterable[wire.DueRow]) -> bytes:
    """Return whole-day events, one for each task that has a day.  An event keeps its id, so that a moved
    day moves it."""
    calendar = Calendar()
    calendar.add("prodid", "-//Good Quill//Tasks//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", name)
    for row in rows:
        if row["day"] is not None:
            calendar.add_component(_event(row, row["day"]))
    return bytes(calendar.to_ical())


def _event(row: wire.DueRow, day: date) -> Event:
    event = Event()
    event.add("uid", f"{row['deal']}.{row['code']}@goodquill")
    event.add("dtstamp", timezone.now())
    event.add("dtstart", day)
    event.add("dtend", day + timedelta(days=1))
    event.add("summary", f"{row['what']}: {row['address'] or row['deal_name']}")
    told = [row["named"] or row["who"], row["why"], row["note"]]
    event.add("description", "\n".join(filter(None, told)))
    event.add("transp", "TRANSPARENT")
    return event


def secret_of(feed: Feed) -> str:
    """Return the secret part of a feed's address."""
    return salted_hmac(_SALT, f"{feed.user_id}:{feed.number}", algorithm="sha256").hexdigest()


def address_of(user: User) -> str:
    """Return the path of the user's feed; "" while there is none."""
    feed = Feed.objects.filter(user=user, is_open=True).first()
    return f"/api/calendar/{user.pk}/{secret_of(feed)}.ics" if feed else ""


def renew(user: User) -> str:
    """Give the feed a new address; the old one is dead.  The first time there was none."""
    _, made = Feed.objects.get_or_create(user=user)
    if not made:
        Feed.objects.filter(user=user).update(number=F("number") + 1, is_open=True)
    return address_of(user)


def end(user: User) -> None:
    """Let nobody read it any more; an ended address never comes back."""
    Feed.objects.filter(user=user).update(is_open=False)


def read_feed(user_id: UUID, secret: str) -> bytes | None:
    """Return the calendar at a feed's address; None where there is none such."""
    feed = (
        Feed.objects.filter(user=user_id, is_open=True, user__is_active=True)
        .select_related("user__brokerage")
        .first()
    )
    if feed is None or not hmac.compare_digest(secret_of(feed), secret):
        return None
    since = timezone.localdate() - _LOOKED_BACK
    return as_calendar("Good Quill", dues_for(feed.user, since=since, progress="to do"))
