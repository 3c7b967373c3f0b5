"""A deal's tasks: read with what its forms ask for, added, and kept as they stand for lists."""

from __future__ import annotations

import uuid
from collections.abc import Iterable
from typing import Any

from quillcore.assembly.tasks import keys_of, package_dues, tasks_asked
from quillcore.tasks import DueTask, PlannedTask, Progress
from quillcore.tasks.due import late_findings, named
from quillcore.templates import TemplateTask
from quillcore.values import Finding
from quillcore.values.clock import today

from goodquill.deals.models import Deal, Due, Task
from goodquill.deals.opening import OpenDeal
from goodquill.storage.prepared import Prepared, insert

_TASKS = Prepared(lambda deal: Task.objects.filter(deal=deal, removed=False).select_related("done_by"))
_DUES = Prepared(lambda deal: Due.objects.filter(deal=deal))
_KEPT = ("what", "who", "named", "progress", "day", "why", "note", "remind_on")


def stated_tasks(deal: Deal) -> list[Task]:
    """Return what somebody or a template said of tasks, in the order in which they did."""
    return _TASKS.rows(deal.pk)


def dues_of(opened: OpenDeal, stated: Iterable[Task]) -> list[DueTask]:
    """Return all tasks as they stand, by day; in a deal that is over nothing is to be done any more."""
    return [] if opened.deal.is_over else _every_due(opened, stated)


def _every_due(
    opened: OpenDeal, stated: Iterable[Task], asked: Iterable[PlannedTask] | None = None
) -> list[DueTask]:
    """Return the same whatever became of the deal."""
    return package_dues(opened.package, [as_core(task) for task in stated], arrived(opened), asked)


def as_core(task: Task) -> PlannedTask:
    """Return the same as the core knows it."""
    return PlannedTask(
        task.code,
        task.what,
        task.who,
        task.group,
        task.rule,
        task.code if task.is_of_a_form else "",
        task.day,
        task.settled_by,
        task.remind,
        task.note,
        task.done,
        task.needed,
    )


def as_template(task: Task) -> TemplateTask:
    """Return the same as a template says it: without a day set by hand, which was for one deal."""
    return TemplateTask(
        what=task.what,
        who=task.who,
        group=task.group,
        due=task.rule,
        settled_by=task.settled_by,
        remind=task.remind,
        note=task.note,
    )


def as_templates(deal: Deal) -> list[TemplateTask]:
    """Return what of a deal's tasks, or of a working copy's, a template says: all but those that its forms
    ask for by themselves."""
    return [as_template(task) for task in stated_tasks(deal) if not task.is_of_a_form]


def arrived(opened: OpenDeal) -> set[str]:
    """Return the papers that have come, by number or by what was expected."""
    came = {d.expected for d in opened.documents if d.expected and d.edition_id is not None}
    return came | {d.stands_for for d in opened.documents if d.stands_for}


def made_of(deal: Deal, tasks: Iterable[TemplateTask], why: str) -> list[Task]:
    """Return rows for a template's tasks, still to be written."""
    return [
        Task(
            deal_id=deal.pk,
            code=uuid.uuid4().hex[:12],
            what=d.what,
            who=d.who,
            group=d.group,
            rule=d.due,
            settled_by=d.settled_by,
            remind=d.remind,
            note=d.note,
            why=why[:200],
        )
        for d in tasks
    ]


def keep_dues(opened: OpenDeal, stated: Iterable[Task] | None = None) -> list[Finding]:
    """Store how tasks stand, for lists, and give what is to be said at once.  Only rows that say something
    else now are written; the caller saves the deal, and gives what is ``stated`` where it is known."""
    deal = opened.deal
    asked = tasks_asked(opened.package)
    everything = _every_due(opened, stated_tasks(deal) if stated is None else stated, asked)
    dues = [] if deal.is_over else everything
    there = {row.code: row for row in _DUES.rows(deal.pk)}
    late = late_findings({code: row.day for code, row in there.items()}, dues, today())
    wanted = {due.task.code: _row(deal, due, named(due.task.who, opened.package.sheet)) for due in dues}
    gone = [row.pk for code, row in there.items() if code not in wanted]
    if gone:
        Due.objects.filter(pk__in=gone).delete()
    insert([row for code, row in wanted.items() if code not in there])
    changed = [_put(there[code], row) for code, row in wanted.items() if code in there]
    moved = [row for row in changed if row is not None]
    if moved:
        Due.objects.bulk_update(moved, _KEPT)
    deal.summary = deal.summary | {
        "dates": [
            [due.day.isoformat(), due.task.what]
            for due in dues
            if due.day is not None and due.progress is Progress.TO_DO
        ],
        "due_keys": sorted(keys_of(opened.package, everything, asked)),
    }
    return late


def may_move(deal: Deal, reached: Iterable[str]) -> bool:
    """Return whether tasks can stand otherwise, now that those keys say something else.  Of a deal without
    any step that asked, they can."""
    known = deal.summary.get("due_keys")
    return known is None or not set(known).isdisjoint(reached)


def _row(deal: Deal, due: DueTask, who: str) -> Due:
    return Due(
        deal_id=deal.pk,
        code=due.task.code,
        what=due.task.what,
        who=due.task.who,
        named=who[:200],
        progress=due.progress.value,
        day=due.day,
        why=due.why[:500],
        note=due.task.note,
        remind_on=due.remind_on,
    )


def _put(kept: Due, now: Due) -> Due | None:
    """Return the kept row, saying what holds now; None where it does already."""
    said: dict[str, Any] = {name: getattr(now, name) for name in _KEPT}
    if all(getattr(kept, name) == value for name, value in said.items()):
        return None
    for name, value in said.items():
        setattr(kept, name, value)
    return kept
