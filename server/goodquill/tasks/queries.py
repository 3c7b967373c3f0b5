"""Duties as screens are told of them: one deal's whole, and those of all deals that one may see."""

from __future__ import annotations

from datetime import date
from typing import TYPE_CHECKING

from django.db.models import Q
from quillcore.facts import load_catalog
from quillcore.facts.keys import RESPONSIBLE, own_key
from quillcore.tasks import DueTask, Progress
from quillcore.tasks.due import named
from quillcore.tasks.wording import in_words, key_dates
from quillcore.values.clock import today

from goodquill.deals.duties import dues_of, stated_duties
from goodquill.deals.models import Due, Duty
from goodquill.deals.opening import OpenDeal
from goodquill.offices.access import ways_to_duties
from goodquill.offices.models import User

if TYPE_CHECKING:
    from goodquill.http import wire

MOST_DUES = 500
"""Duties in one list over many deals: a busy agent has some two hundred open ones."""
_OPEN = (Progress.TO_DO, Progress.WAITING)


def duties_of(opened: OpenDeal) -> wire.Duties:
    """Return one deal's duties, and what a new one may be made of."""
    stated = stated_duties(opened.deal)
    rows = {duty.code: duty for duty in stated}
    dues = dues_of(opened, stated)
    return {
        "duties": [_row(opened, due, rows.get(due.duty.code)) for due in dues],
        "key_dates": [{"key": f.key, "label": f.label} for f in key_dates(load_catalog(), opened.side)],
        "papers": _papers(opened),
        "who": list(RESPONSIBLE),
    }


def _row(opened: OpenDeal, due: DueTask, stated: Duty | None) -> wire.Duty:
    duty, catalog = due.duty, load_catalog()
    return {
        "code": duty.code,
        "what": duty.what,
        "who": duty.who,
        "named": named(duty.who, opened.package.sheet),
        "group": duty.group,
        "own": not duty.key,
        "key": duty.key,
        "when": in_words(duty.rule, catalog)
        or (f"{duty.day:%b} {duty.day.day}, {duty.day.year}" if duty.day else ""),
        "day": due.day,
        "by_hand": duty.day is not None,
        "ruled": due.ruled,
        "why": due.why,
        "progress": due.progress,
        "late": due.is_late(today()),
        "waits_for": [catalog.label_of(key) for key in due.waits_for if key != duty.key],
        "fault": str(due.fault) if due.fault else "",
        "settled_by": duty.settled_by,
        "remind": duty.remind,
        "note": duty.note,
        "done": duty.done,
        "done_by": stated.done_by.name if stated is not None and stated.done_by is not None else "",
        "origin": stated.why if stated is not None and not duty.key else _asked_by(opened, duty.key),
    }


def _asked_by(opened: OpenDeal, key: str) -> str:
    """Return which forms ask for it."""
    own = own_key(key)
    forms = opened.forms
    if own is not None:
        return f"from {forms[own.document].edition.number}" if own.document in forms else ""
    numbers = [form.edition.number for form in forms.values() if key in form.mapping.fact_counts]
    return f"from {', '.join(dict.fromkeys(numbers))}" if numbers else ""


def _papers(opened: OpenDeal) -> list[wire.SettlingPaper]:
    papers: list[wire.SettlingPaper] = []
    for d in opened.documents:
        form = opened.forms.get(d.code)
        if d.expected:
            papers.append({"name": d.expected, "title": d.expected})
        elif form is not None and form.edition.number:
            edition = form.edition
            papers.append({"name": edition.number, "title": f"{edition.number} {edition.title}"})
    return list({paper["name"]: paper for paper in papers}.values())


def dues_for(
    user: User, since: date | None = None, until: date | None = None, progress: str = ""
) -> list[wire.DueRow]:
    """Return duties of all deals that the user may see, by day, those without one last.  One query for each
    way in which a deal can be the user's."""
    wanted = Q(progress=progress) if progress else Q(progress__in=_OPEN)
    if since is not None:
        wanted &= Q(day__gte=since)
    if until is not None:
        wanted &= Q(day__lte=until)
    found: dict[int, Due] = {}
    for way in ways_to_duties(user):
        rows = Due.objects.filter(way, wanted).select_related("deal__owner").order_by("day", "pk")
        rows = rows.defer("deal__states", "deal__words")
        found |= {row.pk: row for row in rows.filter(day__isnull=False)[:MOST_DUES]}
        if until is None and since is None:
            found |= {row.pk: row for row in rows.filter(day=None)[:MOST_DUES]}
    rows_ = sorted(found.values(), key=lambda r: (r.day is None, r.day or date.max, r.pk))
    return [due_row(row) for row in rows_[:MOST_DUES]]


def due_row(row: Due) -> wire.DueRow:
    """Return one of them."""
    is_open = row.progress == Progress.TO_DO
    return {
        "deal": row.deal_id,
        "deal_name": row.deal.name,
        "address": row.deal.summary.get("address", ""),
        "agent": row.deal.owner.name,
        "code": row.code,
        "what": row.what,
        "who": row.who,
        "named": row.named,
        "day": row.day,
        "why": row.why,
        "note": row.note,
        "progress": row.progress,
        "late": is_open and row.day is not None and row.day < today(),
    }


def dues_of_deal(opened: OpenDeal) -> list[wire.DueRow]:
    """Return the open ones with a day of one deal."""
    rows = Due.objects.filter(deal=opened.deal, day__isnull=False, progress=Progress.TO_DO)
    return [due_row(row) for row in rows.select_related("deal__owner").order_by("day", "pk")]
