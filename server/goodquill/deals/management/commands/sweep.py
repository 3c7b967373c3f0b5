"""``manage.py sweep``: what has had its time.  To be run once a day."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand
from django.utils import timezone

from goodquill.deals.keeping import sweep
from goodquill.offices.models import Session
from goodquill.offices.once import forget_old


class Command(BaseCommand):
    """Deletes deals thrown away more than thirty days ago, sessions that have ended, and keys of requests
    long done."""

    help = "Delete what has had its time; run it once a day"

    def handle(self, *args: Any, **options: Any) -> None:
        """Sweep and say so."""
        sessions = Session.objects.filter(expire_date__lt=timezone.now()).delete()[0]
        self.stdout.write(f"{sweep()} deals, {sessions} sessions, {forget_old()} keys")
