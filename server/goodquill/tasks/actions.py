"""Changing a deal's tasks, each change one undoable step."""

from __future__ import annotations

import uuid
from typing import TYPE_CHECKING, Any

from quillcore.facts import Side, load_catalog
from quillcore.tasks.wording import read_when
from quillcore.templates.model import MOST_TASKS
from quillcore.values import Fault
from quillcore.values.clock import today

from goodquill.changelog.models import Kind
from goodquill.deals.models import Task
from goodquill.deals.opening import only_a_deal
from goodquill.deals.parts import TASKS
from goodquill.deals.steps import DealStep, deal_change
from goodquill.deals.tasks import dues_of, stated_tasks
from goodquill.http.endpoints import Refusal
from goodquill.offices.models import User

if TYPE_CHECKING:
    pass

_SAID = ("what", "who", "group", "when", "settled_by", "remind", "note")
_SAID_OF_FORMS = ("who", "remind", "note")
"""The editable fields of a task that a form asks for: its words and its day are the form's."""
_SETTLES = ("done", "not done", "not needed", "needed")


@deal_change(Kind.TASK)
def change_task(step: DealStep, given: dict[str, Any]) -> None:
    """Carry out one change; see ``TaskOpSerializer`` for what is given."""
    if given["op"] in _SETTLES:
        only_a_deal(step.opened.deal)
    _add(step, given) if given["op"] == "add" else _change(step, given)


def _add(step: DealStep, given: dict[str, Any]) -> None:
    said = _checked({name: given[name] for name in _SAID if name in given}, step.opened.side)
    if not said.get("what"):
        raise Refusal("Enter what needs to be done.", "Nothing was added.", "what")
    if step.opened.deal.tasks.filter(removed=False).count() >= MOST_TASKS:
        raise Refusal(
            f"A deal can have {MOST_TASKS} tasks.",
            "Nothing was added. Remove a task first.",
            "many",
            409,
        )
    why = f"added by {step.user.name}"
    step.add_tasks([Task(deal=step.opened.deal, code=uuid.uuid4().hex[:12], why=why[:200], **said)])
    step.say(said["what"])


def _checked(given: dict[str, Any], side: Side) -> dict[str, Any]:
    """Return the fields as they are kept; refuses what can't be read."""
    said = dict(given)
    if "what" in said:
        said["what"] = said["what"].strip()
        if not said["what"]:
            raise Refusal("Enter what needs to be done.", "Nothing was changed.", "what")
    if "when" in said:
        read = read_when(said.pop("when"), load_catalog(), side)
        if isinstance(read, Fault):
            raise Refusal.of(read)
        said |= {"rule": read.rule, "day": read.day}
    return said


def _change(step: DealStep, given: dict[str, Any]) -> None:
    op = given["op"]
    task = _stated(step, given["code"], bringing_back=op == "bring back")
    if op == "remove" and task.is_of_a_form:
        raise Refusal(
            "A form requires this task. It can't be removed.",
            "Mark it as not needed.",
            "of a form",
            409,
        )
    wanted = _said(task, given) if op == "set" else _fields_of(op, step.user)
    step.do(TASKS, {task.code: wanted} if wanted else {})
    step.say(f"{task.what}: {'changed' if op == 'set' else op}")


def _fields_of(op: str, user: User) -> dict[str, Any]:
    """Return what an operation that takes no words sets."""
    fields: dict[str, dict[str, Any]] = {
        "done": {"done": today().isoformat(), "done_by_id": str(user.pk), "needed": True},
        "not done": {"done": None, "done_by_id": None},
        "not needed": {"needed": False, "done": None, "done_by_id": None},
        "needed": {"needed": True},
        "give back": {"day": None},
        "remove": {"removed": True},
        "bring back": {"removed": False},
    }
    return fields[op]


def _said(task: Task, given: dict[str, Any]) -> dict[str, Any]:
    named = {name: given[name] for name in _SAID if name in given}
    stranger = set(named) - set(_SAID_OF_FORMS) if task.is_of_a_form else set()
    if stranger:
        raise Refusal(
            "The form sets this task's name and date.",
            "Change the date on the form; nothing was changed.",
            "of a form",
            409,
        )
    said = _checked(named, task.deal.on)
    if said.get("day") is not None:
        # A day beside a rule is set by hand: the rule stays, and is given back to.
        said |= {"rule": task.rule, "day": said["day"].isoformat()}
    return {name: value for name, value in said.items() if _now(task, name) != value}


def _now(task: Task, name: str) -> Any:
    value = getattr(task, name)
    return value.isoformat() if name == "day" and value is not None else value


def _stated(step: DealStep, code: str, bringing_back: bool) -> Task:
    """Return the task of that code; one that a form asks for gets its row now that something is said of
    it."""
    deal = step.opened.deal
    found = Task.objects.filter(deal=deal, code=code).first()
    if found is not None and found.removed == bringing_back:
        return found
    if found is None and "." in code:
        dues = dues_of(step.opened, stated_tasks(deal))
        due = next((due.task for due in dues if due.task.code == code), None)
        if due is not None:
            if deal.template_id is not None:
                raise Refusal(
                    "A form adds this task to every deal.",
                    "Add your own task with the same date instead.",
                    "of a form",
                    409,
                )
            made = Task(deal=deal, code=code, what=due.what[:200], who=due.who, why="required by a form")
            step.add_tasks([made])
            return made
    raise Refusal("This task was removed.", "Nothing was changed. Reload and try again.", "task", 404)
