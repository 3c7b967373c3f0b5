"""``manage.py check_records``: every round that was sent, compared with its chain."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand, CommandError
from quillcore.signing.rounds import RoundState

from goodquill.signing.checking import check
from goodquill.signing.models import Round


class Command(BaseCommand):
    """Compares all of them now.  The timekeeper does the same, each once a day."""

    help = "Compare every signing round with its chain of events; fails where one was changed"

    def handle(self, *args: Any, **options: Any) -> None:
        """Print each round that differs, and how."""
        wrong = 0
        rounds = Round.objects.exclude(state=RoundState.MAKING).order_by("sent")
        keys = list(rounds.values_list("pk", flat=True))
        for round_id in keys:
            if not check(round_id):
                wrong += 1
                row = Round.objects.select_related("deal").get(pk=round_id)
                self.stdout.write(f"{round_id} · {row.deal.name} · {row.subject}: {row.doubt}")
        if wrong:
            raise CommandError(
                f"{wrong} of {len(keys)} rounds differ from their record. Their brokers were told."
            )
        self.stdout.write(f"{len(keys)} rounds are as their records say.")
