"""Tasks of a deal: what, by whom and when."""

from quillcore.tasks.dates import KeyDate, next_date
from quillcore.tasks.due import DueTask, PlannedTask, Progress, due_list, tasks_of_forms, work_out

__all__ = [
    "DueTask",
    "KeyDate",
    "PlannedTask",
    "Progress",
    "due_list",
    "next_date",
    "tasks_of_forms",
    "work_out",
]
