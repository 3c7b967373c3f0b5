"""The queue kept going: what a worker left that was killed, what is to be tried again, what is long done."""

from __future__ import annotations

from datetime import timedelta

from django.db.models import Q
from django.utils import timezone
from django_tasks import TaskResultStatus
from django_tasks.base import Task
from django_tasks_db.models import DBTaskResult

from goodquill.mail.models import Letter, LetterState
from goodquill.mail.sending import deliver_due

STUCK_AFTER = timedelta(minutes=5)
"""Seconds that a task takes are few; one that runs for minutes has lost its worker."""
KEPT = {TaskResultStatus.SUCCESSFUL: timedelta(hours=6), TaskResultStatus.FAILED: timedelta(days=14)}
LETTERS_KEPT = timedelta(days=90)
FRESH = timedelta(seconds=30)
"""The time for which a running task is believed to be at work: beyond it another is queued beside it, which
does no harm, and a killed one holds nothing up."""


def sweep() -> None:
    """Put right what is stuck.  Every task is made so that doing it twice does no harm: one that lost its
    worker is forgotten, and what it was about is found again by what still waits."""
    now = timezone.now()
    DBTaskResult.objects.filter(status=TaskResultStatus.RUNNING, started_at__lt=now - STUCK_AFTER).delete()
    for status, kept in KEPT.items():
        DBTaskResult.objects.filter(status=status, finished_at__lt=now - kept).delete()
    Letter.objects.filter(made__lt=now - LETTERS_KEPT).exclude(state=LetterState.WAITING).delete()
    if Letter.objects.filter(state=LetterState.WAITING, next_try__lte=now).exists():
        enqueue_once(deliver_due)


def enqueue_once(job: Task) -> None:
    """Queue a task, unless it is queued or at work already."""
    at_work = Q(status=TaskResultStatus.RUNNING, started_at__gte=timezone.now() - FRESH)
    left = Q(status=TaskResultStatus.READY) | at_work
    if not DBTaskResult.objects.filter(left, task_path=job.module_path).exists():
        job.enqueue()
