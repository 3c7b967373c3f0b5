"""``manage.py keep_time``: every half minute what has to be looked at by the clock is queued for the
workers."""

from __future__ import annotations

import signal
import threading
from typing import Any

from django.core.management.base import BaseCommand, CommandParser
from django.db import Error, close_old_connections

from goodquill.mail.sweeping import enqueue_once, sweep
from goodquill.signing.checking import check_due
from goodquill.signing.rounds.following import by_the_clock
from goodquill.signing.sealing.filing import file_due
from goodquill.signing.sealing.finishing import finish_due
from goodquill.storage import files
from goodquill.tasks.reminders import remind

EVERY = 30.0
"""Seconds between two looks: nothing stays stuck longer than that and ``STUCK_AFTER``."""


class Command(BaseCommand):
    """Sweeps the queue and asks for what is due, until it is ended.  Several of them do no
    harm."""

    help = "Keep the queue and the reminders going; runs beside the workers"

    def add_arguments(self, parser: CommandParser) -> None:
        """Add the command's arguments."""
        parser.add_argument("--every", type=float, default=EVERY, help="seconds between two looks")
        parser.add_argument("--once", action="store_true", help="look once and end")

    def handle(self, *args: Any, every: float, once: bool, **options: Any) -> None:
        """Look, wait, look again."""
        ended = threading.Event()
        for number in (signal.SIGINT, signal.SIGTERM):
            signal.signal(number, lambda *_: ended.set())
        while not ended.is_set():
            self.look()
            if once:
                return
            ended.wait(every)

    def look(self) -> None:
        """Look once. A database that is away is tried again at the next look."""
        try:
            files.forget_parts()
            sweep()
            for job in (remind, by_the_clock, finish_due, file_due, check_due):
                enqueue_once(job)
        except Error as trouble:
            self.stderr.write(f"The database can't be reached: {trouble}")
        finally:
            close_old_connections()
