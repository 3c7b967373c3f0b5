"""The tasks of a package: those that somebody stated, and those that its forms ask for."""

from __future__ import annotations

from collections.abc import Collection, Iterable

from quillcore.assembly.blanks import Package
from quillcore.tasks import DueTask, PlannedTask, due_list, tasks_of_forms
from quillcore.tasks.due import in_order


def tasks_asked(package: Package) -> list[PlannedTask]:
    """Return what the package's forms ask for, whether or not it applies."""
    forms = [(d.id, d.form) for d in package.leaving]
    return tasks_of_forms(forms, package.sheet, package.catalog)


def package_dues(
    package: Package,
    stated: Iterable[PlannedTask],
    arrived: Collection[str] = (),
    asked: Iterable[PlannedTask] | None = None,
) -> list[DueTask]:
    """Return all of them as they stand, by day.  What a form asks for (``asked``, where the caller has it)
    is left out where somebody stated it, or where it counts a period that doesn't apply here."""
    said = list(stated)
    known = {task.code for task in said} | {task.rule.strip() for task in said}
    of_forms = [
        task
        for task in (tasks_asked(package) if asked is None else asked)
        if task.key not in known and _applies(package, task)
    ]
    return in_order([*due_list(said, package.sheet, arrived), *due_list(of_forms, package.sheet)])


def keys_of(package: Package, dues: Iterable[DueTask], asked: Iterable[PlannedTask]) -> set[str]:
    """Return the keys on which it depends how tasks stand, and which there are: what they are counted
    from, the key dates of the catalog, and what says whether the periods that forms count have a say."""
    listed = list(dues)
    keys = {key for due in listed for key in due.reads}
    for fact in package.catalog.due:
        keys |= {fact.key, fact.until or fact.key}
    counted = {key for task in asked for key in _counted_from(package, task.key)}
    conditions = [c for key in counted for c in package.conditions_of(key) if c is not None]
    return keys | counted | {key for condition in conditions for key in condition.reads}


def _counted_from(package: Package, key: str) -> frozenset[str]:
    """Return what the day of a form's or the catalog's own task is counted from."""
    rule = package.sheet.rules.get(key)
    return rule.reads if rule is not None else frozenset()


def _applies(package: Package, task: PlannedTask) -> bool:
    """Return whether it is one in this deal: a period that no blank asks about (a financing contingency in
    a cash offer) isn't, whatever was answered before."""
    return all(package.is_asked(key) for key in _counted_from(package, task.key))
