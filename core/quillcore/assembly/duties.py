"""The duties of a package: those that somebody stated, and those that its forms ask for."""

from __future__ import annotations

from collections.abc import Collection, Iterable

from quillcore.assembly.blanks import Package
from quillcore.schedule import Due, Duty, Progress, due_list, duties_of_forms


def package_dues(package: Package, stated: Iterable[Duty], arrived: Collection[str] = ()) -> list[Due]:
    """All of them as they stand, by day.  What a form asks for is left out where somebody stated it, or where
    its day waits for a blank that doesn't apply here."""
    said = list(stated)
    known = {duty.code for duty in said} | {duty.rule.strip() for duty in said}
    documents = [(d.id, d.form) for d in package.documents if not d.set_aside]
    asked = [
        duty for duty in duties_of_forms(documents, package.sheet, package.catalog) if duty.key not in known
    ]
    of_forms = [due for due in due_list(asked, package.sheet) if _applies(package, due)]
    everything = [*due_list(said, package.sheet, arrived), *of_forms]
    return sorted(everything, key=lambda due: (due.day is None, due.day and due.day.toordinal()))


def _applies(package: Package, due: Due) -> bool:
    """Whether it may still get a day: of what it waits for no blank says that it isn't asked."""
    if due.progress is not Progress.WAITING:
        return True
    for key in due.waits_for:
        shown = [blank for blank in package.affected({key}) if blank.key == key]
        if shown and all(blank.state == "idle" for blank in shown):
            return False
    return True
