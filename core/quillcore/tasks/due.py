"""Tasks: what somebody has to do by a day, which a rule counts from the deal's key dates.

A rule gives its day as soon as its key dates are known, follows them when they move, says how it counted,
and yields to a day set by hand, beside which it is still told.
"""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from enum import StrEnum
from functools import lru_cache

from quillcore.facts import Catalog
from quillcore.facts.catalog import Fact
from quillcore.facts.keys import document_prefix, name_key
from quillcore.forms.model import Form
from quillcore.formulas import Broken, Evaluator, Open, evaluate
from quillcore.formulas.reasons import told, why
from quillcore.formulas.syntax import Ref
from quillcore.templates.model import read_date_rule
from quillcore.values import Fault, Finding
from quillcore.values.findings import FindingWeight


class Progress(StrEnum):
    """The progress of a task. ``WAITING``: its day isn't known yet."""

    TO_DO = "to do"
    WAITING = "waiting"
    DONE = "done"
    NOT_NEEDED = "not needed"


class Urgency(StrEnum):
    """The urgency of a task on some day, in the order in which lists show them."""

    LATE = "late"
    TODAY = "today"
    WEEK = "within seven days"
    LATER = "later"
    UNDATED = "no day set"
    WAITING = "waiting for a date"
    SETTLED = "settled"


def urgency(progress: Progress, day: date | None, today: date) -> Urgency:
    """Return how urgent a task is: by its day where it is still to do, else by its progress."""
    if progress in (Progress.DONE, Progress.NOT_NEEDED):
        return Urgency.SETTLED
    if day is None:
        return Urgency.WAITING if progress is Progress.WAITING else Urgency.UNDATED
    if day < today:
        return Urgency.LATE
    if day == today:
        return Urgency.TODAY
    return Urgency.WEEK if day <= today + timedelta(days=7) else Urgency.LATER


@dataclass(frozen=True)
class PlannedTask:
    """One thing to be done.

    ``who`` is one of ``RESPONSIBLE`` or "".  Its day is what ``rule`` (a date formula) counts, what the fact
    or blank of ``key`` says, or ``day`` where somebody set that by hand; without any of them it has no day.
    ``settled_by`` is a form's number, or what an expected paper is called, that settles it on arriving.
    ``remind`` is how many days before its day the responsible is reminded; None: not at all.
    """

    code: str
    what: str
    who: str = ""
    group: str = ""
    rule: str = ""
    key: str = ""
    day: date | None = None
    settled_by: str = ""
    remind: int | None = None
    note: str = ""
    done: date | None = None
    needed: bool = True


@dataclass(frozen=True)
class DueTask:
    """A task as it stands in a deal.  ``why`` says how its day was counted, or what settled it; ``ruled`` is
    the rule's day where another was set by hand; ``waits_for`` are the keys that its rule still wants.
    ``reads`` are all keys that it depends on."""

    task: PlannedTask
    progress: Progress
    day: date | None = None
    why: str = ""
    ruled: date | None = None
    waits_for: tuple[str, ...] = ()
    fault: Fault | None = None
    reads: frozenset[str] = frozenset()

    @property
    def remind_on(self) -> date | None:
        """The day of the reminder; None where there is nothing to remind of."""
        if self.task.remind is None or self.day is None or self.progress is not Progress.TO_DO:
            return None
        return self.day - timedelta(days=self.task.remind)

    def is_late(self, today: date) -> bool:
        """Return whether it should have been done before today."""
        return urgency(self.progress, self.day, today) is Urgency.LATE


def tasks_of_forms(
    documents: Iterable[tuple[str, Form]], sheet: Evaluator, catalog: Catalog
) -> list[PlannedTask]:
    """Return what a package's own papers ask for: the key dates of the catalog that a form shows or that
    are known, and the periods that a form counts itself (a date blank with a formula).  What has been
    overtaken, and what only the other side keeps, is left out."""
    forms = list(documents)
    shown = {key for _, form in forms for key in form.mapping.fact_counts}
    shared = [
        PlannedTask(fact.key, fact.due, fact.due_of, key=fact.key)
        for fact in catalog.due
        if (fact.key in shown or sheet.held(fact.key).value is not None) and not is_over(sheet, fact)
    ]
    own = [
        PlannedTask(document_prefix(code) + name, f"{label} ({number})", key=document_prefix(code) + name)
        for code, form in forms
        for name, label, number in _own_periods(form)
    ]
    return [*shared, *own]


@lru_cache(maxsize=1_024)
def _own_periods(form: Form) -> tuple[tuple[str, str, str], ...]:
    return tuple(
        (m.id, m.label or m.id.replace("-", " ").capitalize(), form.edition.number)
        for m in form.mapping.meanings
        if m.formula is not None and m.kind == "date"
    )


def is_over(sheet: Evaluator, fact: Fact) -> bool:
    """Return whether a key date has nothing to say any more in this deal, or never had."""
    if fact.own_side not in (None, sheet.ledger.side):
        return True
    return fact.until is not None and sheet.held(fact.until).value is not None


def due_list(tasks: Iterable[PlannedTask], sheet: Evaluator, arrived: Collection[str] = ()) -> list[DueTask]:
    """Return tasks as they stand, by day, those without one last.  ``arrived`` are the papers that have
    come: by a form's number, or by what was expected."""
    return in_order(work_out(task, sheet, arrived) for task in tasks)


def in_order(dues: Iterable[DueTask]) -> list[DueTask]:
    """Return them by day, those without one last."""
    return sorted(dues, key=lambda due: due.day or date.max)


def work_out(task: PlannedTask, sheet: Evaluator, arrived: Collection[str] = ()) -> DueTask:
    """Return one task as it stands."""
    found = _counted(task, sheet)
    if task.day is not None:
        found = DueTask(
            task,
            Progress.TO_DO,
            task.day,
            "Set by hand." if found.day is None else f"Set by hand. Counted: {found.why}",
            ruled=found.day,
            reads=found.reads,
        )
    if not task.needed:
        return _standing(found, Progress.NOT_NEEDED)
    if task.done is not None:
        return _standing(found, Progress.DONE)
    if task.settled_by and task.settled_by in arrived:
        return _standing(found, Progress.DONE, f"{task.settled_by} was received.")
    return found


def _standing(due: DueTask, progress: Progress, why_so: str = "") -> DueTask:
    return DueTask(due.task, progress, due.day, why_so or due.why, due.ruled, (), None, due.reads)


def _counted(task: PlannedTask, sheet: Evaluator) -> DueTask:
    """Return what the rule or key gives, whatever was set by hand."""
    if task.key:
        return _of_key(task, sheet)
    if not task.rule:
        return DueTask(task, Progress.TO_DO)
    rule = read_date_rule(task.rule, sheet.ledger.catalog)
    if isinstance(rule, Fault):
        return DueTask(task, Progress.WAITING, fault=rule)
    result = evaluate(rule.tree, sheet.result, sheet.setting)
    if isinstance(result, Open):
        return DueTask(
            task,
            Progress.WAITING,
            why=_sentence(told(sheet, rule.tree)),
            waits_for=result.missing,
            reads=rule.reads,
        )
    if isinstance(result, Broken) or not isinstance(result, date):
        fault = result.fault if isinstance(result, Broken) else Fault("due", "The rule gives no date.")
        return DueTask(task, Progress.WAITING, fault=fault, reads=rule.reads)
    said = (why(sheet, rule.tree.key) if isinstance(rule.tree, Ref) else "") or told(sheet, rule.tree)
    return DueTask(task, Progress.TO_DO, result, _sentence(said), reads=rule.reads)


def _of_key(task: PlannedTask, sheet: Evaluator) -> DueTask:
    held, reads = sheet.held(task.key), frozenset((task.key,))
    if isinstance(held.value, date):
        return DueTask(task, Progress.TO_DO, held.value, _sentence(why(sheet, task.key)), reads=reads)
    rule = sheet.rules.get(task.key)
    said = _sentence(told(sheet, rule.tree)) if rule is not None and held.fault is None else ""
    return DueTask(task, Progress.WAITING, why=said, waits_for=held.missing, fault=held.fault, reads=reads)


def _sentence(text: str) -> str:
    return f"{text[0].upper()}{text[1:]}." if text else ""


def named(who: str, sheet: Evaluator) -> str:
    """Return the name of whoever is responsible, as the deal has it; "" where it has none."""
    key = name_key(who, sheet.ledger.side)
    found = sheet.held(key).value if key is not None else None
    return found if isinstance(found, str) else ""


def late_findings(before: Mapping[str, date | None], after: Iterable[DueTask], today: date) -> list[Finding]:
    """Return what is to be said at once when a step made days known that have passed already.  ``before``
    are the days, by code, that were known."""
    return [
        Finding(
            "late",
            FindingWeight.LOOK,
            due.task.key or f"task.{due.task.code}",
            f"{due.task.what} was due on {due.day:%A, %B} {due.day.day}, which has passed.",
            "Check its starting date, or mark it done.",
        )
        for due in after
        if due.day is not None and due.is_late(today) and before.get(due.task.code) != due.day
    ]
