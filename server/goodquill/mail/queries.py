"""The states of letters."""

from __future__ import annotations

from collections.abc import Iterable
from uuid import UUID

from goodquill.mail.models import Letter, LetterState


def not_taken(letters: Iterable[UUID | None]) -> dict[UUID | None, str]:
    """Return what the mail server said against letters that it didn't take, or not yet, by letter."""
    asked = [letter for letter in letters if letter is not None]
    failed = Letter.objects.filter(pk__in=asked).exclude(said="").exclude(state=LetterState.SENT)
    return {
        pk: f"{said} We will try again." if state == LetterState.WAITING else said
        for pk, said, state in failed.values_list("pk", "said", "state")
    }
