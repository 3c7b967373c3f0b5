"""A deal's duties: read with what its forms ask for, added, and kept as they stand for lists."""

from __future__ import annotations

import uuid
from collections.abc import Iterable
from typing import Any

from quillcore.assembly.duties import duties_asked, keys_of, package_dues
from quillcore.tasks import DueTask, PlannedTask, Progress
from quillcore.tasks.due import late_findings, named
from quillcore.templates import TemplateDuty
from quillcore.values import Finding
from quillcore.values.clock import today

from goodquill.deals.models import Deal, Due, Duty
from goodquill.deals.opening import OpenDeal
from goodquill.storage.prepared import Prepared, insert

_DUTIES = Prepared(lambda deal: Duty.objects.filter(deal=deal, removed=False).select_related("done_by"))
_DUES = Prepared(lambda deal: Due.objects.filter(deal=deal))
_KEPT = ("what", "who", "named", "progress", "day", "why", "note", "remind_on")


def stated_duties(deal: Deal) -> list[Duty]:
    """Return what somebody or a template said of duties, in the order in which they did."""
    return _DUTIES.rows(deal.pk)


def dues_of(opened: OpenDeal, stated: Iterable[Duty]) -> list[DueTask]:
    """Return all duties as they stand, by day; in a deal that is over nothing is to be done any more."""
    return [] if opened.deal.is_over else _every_due(opened, stated)


def _every_due(
    opened: OpenDeal, stated: Iterable[Duty], asked: Iterable[PlannedTask] | None = None
) -> list[DueTask]:
    """Return the same whatever became of the deal."""
    return package_dues(opened.package, [as_core(duty) for duty in stated], arrived(opened), asked)


def as_core(duty: Duty) -> PlannedTask:
    """Return the same as the core knows it."""
    return PlannedTask(
        duty.code,
        duty.what,
        duty.who,
        duty.group,
        duty.rule,
        duty.code if duty.is_of_a_form else "",
        duty.day,
        duty.settled_by,
        duty.remind,
        duty.note,
        duty.done,
        duty.needed,
    )


def as_template(duty: Duty) -> TemplateDuty:
    """Return the same as a template says it: without a day set by hand, which was for one deal."""
    return TemplateDuty(
        what=duty.what,
        who=duty.who,
        group=duty.group,
        due=duty.rule,
        settled_by=duty.settled_by,
        remind=duty.remind,
        note=duty.note,
    )


def as_templates(deal: Deal) -> list[TemplateDuty]:
    """Return what of a deal's duties, or of a working copy's, a template says: all but those that its forms
    ask for by themselves."""
    return [as_template(duty) for duty in stated_duties(deal) if not duty.is_of_a_form]


def arrived(opened: OpenDeal) -> set[str]:
    """Return the papers that have come, by number or by what was expected."""
    came = {d.expected for d in opened.documents if d.expected and d.edition_id is not None}
    return came | {d.stands_for for d in opened.documents if d.stands_for}


def made_of(deal: Deal, duties: Iterable[TemplateDuty], why: str) -> list[Duty]:
    """Return rows for a template's duties, still to be written."""
    return [
        Duty(
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
        for d in duties
    ]


def keep_dues(opened: OpenDeal, stated: Iterable[Duty] | None = None) -> list[Finding]:
    """Store how duties stand, for lists, and give what is to be said at once.  Only rows that say something
    else now are written; the caller saves the deal, and gives what is ``stated`` where it is known."""
    deal = opened.deal
    asked = duties_asked(opened.package)
    everything = _every_due(opened, stated_duties(deal) if stated is None else stated, asked)
    dues = [] if deal.is_over else everything
    there = {row.code: row for row in _DUES.rows(deal.pk)}
    late = late_findings({code: row.day for code, row in there.items()}, dues, today())
    wanted = {due.duty.code: _row(deal, due, named(due.duty.who, opened.package.sheet)) for due in dues}
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
            [due.day.isoformat(), due.duty.what]
            for due in dues
            if due.day is not None and due.progress is Progress.TO_DO
        ],
        "due_keys": sorted(keys_of(opened.package, everything, asked)),
    }
    return late


def may_move(deal: Deal, reached: Iterable[str]) -> bool:
    """Return whether duties can stand otherwise, now that those keys say something else.  Of a deal without
    any step that asked, they can."""
    known = deal.summary.get("due_keys")
    return known is None or not set(known).isdisjoint(reached)


def _row(deal: Deal, due: DueTask, who: str) -> Due:
    return Due(
        deal_id=deal.pk,
        code=due.duty.code,
        what=due.duty.what,
        who=due.duty.who,
        named=who[:200],
        progress=due.progress.value,
        day=due.day,
        why=due.why[:500],
        note=due.duty.note,
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
