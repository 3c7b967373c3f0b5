"""Tasks as screens are told of them: one deal's whole, and those of all deals that one may see."""

from __future__ import annotations

from datetime import date
from typing import TYPE_CHECKING

from django.db.models import Q
from quillcore.facts import load_catalog
from quillcore.facts.keys import RESPONSIBLE, own_key
from quillcore.tasks import DueTask, Progress, urgency
from quillcore.tasks.due import named
from quillcore.tasks.wording import in_words, key_dates
from quillcore.values.clock import today

from goodquill.deals.models import Due, Task
from goodquill.deals.opening import OpenDeal
from goodquill.deals.tasks import dues_of, stated_tasks
from goodquill.offices.access import ways_to_tasks
from goodquill.offices.models import User

if TYPE_CHECKING:
    from goodquill.http import wire

MOST_DUES = 500
"""Tasks in one list over many deals: a busy agent has some two hundred open ones."""
_OPEN = (Progress.TO_DO, Progress.WAITING)


def tasks_of(opened: OpenDeal) -> wire.Tasks:
    """Return one deal's tasks, and what a new one may be made of."""
    stated = stated_tasks(opened.deal)
    rows = {task.code: task for task in stated}
    dues = dues_of(opened, stated)
    return {
        "tasks": [_row(opened, due, rows.get(due.task.code)) for due in dues],
        "key_dates": [{"key": f.key, "label": f.label} for f in key_dates(load_catalog(), opened.side)],
        "papers": _papers(opened),
        "who": list(RESPONSIBLE),
    }


def _row(opened: OpenDeal, due: DueTask, stated: Task | None) -> wire.Task:
    task, catalog = due.task, load_catalog()
    return {
        "code": task.code,
        "what": task.what,
        "who": task.who,
        "named": named(task.who, opened.package.sheet),
        "group": task.group,
        "own": not task.key,
        "key": task.key,
        "when": in_words(task.rule, catalog)
        or (f"{task.day:%b} {task.day.day}, {task.day.year}" if task.day else ""),
        "day": due.day,
        "by_hand": task.day is not None,
        "ruled": due.ruled,
        "why": due.why,
        "progress": due.progress,
        "urgency": urgency(due.progress, due.day, today()),
        "waits_for": [catalog.label_of(key) for key in due.waits_for if key != task.key],
        "fault": str(due.fault) if due.fault else "",
        "settled_by": task.settled_by,
        "remind": task.remind,
        "note": task.note,
        "done": task.done,
        "done_by": stated.done_by.name if stated is not None and stated.done_by is not None else "",
        "origin": stated.why if stated is not None and not task.key else _asked_by(opened, task.key),
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
    """Return tasks of all deals that the user may see, by day, those without one last.  One query for each
    way in which a deal can be the user's."""
    wanted = Q(progress=progress) if progress else Q(progress__in=_OPEN)
    if since is not None:
        wanted &= Q(day__gte=since)
    if until is not None:
        wanted &= Q(day__lte=until)
    found: dict[int, Due] = {}
    for way in ways_to_tasks(user):
        rows = Due.objects.filter(way, wanted).select_related("deal__owner").order_by("day", "pk")
        rows = rows.defer("deal__states", "deal__words")
        found |= {row.pk: row for row in rows.filter(day__isnull=False)[:MOST_DUES]}
        if until is None and since is None:
            found |= {row.pk: row for row in rows.filter(day=None)[:MOST_DUES]}
    rows_ = sorted(found.values(), key=lambda r: (r.day is None, r.day or date.max, r.pk))
    return [due_row(row) for row in rows_[:MOST_DUES]]


def due_row(row: Due) -> wire.DueRow:
    """Return one of them."""
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
        "urgency": urgency(Progress(row.progress), row.day, today()),
    }


def dues_of_deal(opened: OpenDeal) -> list[wire.DueRow]:
    """Return the open ones with a day of one deal."""
    rows = Due.objects.filter(deal=opened.deal, day__isnull=False, progress=Progress.TO_DO)
    return [due_row(row) for row in rows.select_related("deal__owner").order_by("day", "pk")]
