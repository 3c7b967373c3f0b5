"""``quill schedule``: what is due in a deal of a template, by whom, when and why."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import Any

from quillcore.assembly.tasks import package_dues
from quillcore.cli.packages import describe_sources, package_of
from quillcore.tasks import DueTask, PlannedTask


def describe(command: argparse.ArgumentParser) -> None:
    """Add the command's arguments."""
    command.add_argument("--template", type=Path, required=True, metavar="T.yaml")
    describe_sources(command, pack_needed=False, facts_needed=True)


def run(options: argparse.Namespace) -> Any:
    """Return the template's tasks and what its forms ask for, by day."""
    made = package_of(options, options.template)
    own = [
        PlannedTask(
            str(n), d.what, d.who, d.group, d.due, settled_by=d.settled_by, remind=d.remind, note=d.note
        )
        for n, d in enumerate(made.template.tasks)
    ]
    return [_row(due) for due in package_dues(made.package, own)]


def _row(due: DueTask) -> dict[str, Any]:
    return {
        "what": due.task.what,
        "who": due.task.who,
        "due": due.day.isoformat() if due.day else None,
        "why": due.fault.message if due.fault else due.why,
        "waits_for": list(due.waits_for),
    }
