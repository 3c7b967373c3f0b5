"""Tasks of a deal: what, by whom and when."""

from quillcore.tasks.dates import KeyDate, next_date
from quillcore.tasks.due import (
    DueTask,
    PlannedTask,
    Progress,
    Urgency,
    due_list,
    tasks_of_forms,
    urgency,
    work_out,
)

__all__ = [
    "DueTask",
    "KeyDate",
    "PlannedTask",
    "Progress",
    "Urgency",
    "due_list",
    "next_date",
    "tasks_of_forms",
    "urgency",
    "work_out",
]
