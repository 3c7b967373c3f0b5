"""Sending letters: tried until they are taken, with growing pauses, each under one Message-ID.

A worker may die at any moment.  A letter is held by its row's lock while it is sent, so that no two workers
send it; a worker that dies lets go of it, and it waits again.  Only one that dies between the mail server's
yes and the end of its transaction sends twice, under the same Message-ID.
"""

from __future__ import annotations

import smtplib
from collections.abc import Sequence
from datetime import timedelta
from uuid import UUID

from django.core.mail import EmailMessage, get_connection
from django.db import transaction
from django.utils import timezone
from django_tasks import task

from goodquill.mail.models import Letter, LetterState
from goodquill.storage import files

FIRST_PAUSE, LONGEST_PAUSE = timedelta(seconds=20), timedelta(hours=4)
"""A mail server that is restarted is away for seconds; one that asks to come again ("greylisting") for a
quarter of an hour; one whose machine has to be mended for a night."""
GIVEN_UP_AFTER = timedelta(days=3)
"""Other mail programs give up after four or five days; a reminder of last week helps nobody."""
AT_ONCE = 100
"""Letters that one task sends before another may run."""


def write(
    to: str,
    subject: str,
    text: str,
    about: str,
    brokerage: UUID | None,
    attached: Sequence[Sequence[str]] = (),
) -> Letter:
    """Return a letter, ``attached`` files by SHA-256 and name; sent once the transaction that it is written
    in has ended well."""
    letter = Letter.objects.create(
        to=to,
        subject=" ".join(subject.split())[:200],
        text=text,
        about=about,
        brokerage=brokerage,
        attached=attached,
    )
    deliver.enqueue(str(letter.pk))
    return letter


@task()
def deliver(letter: str) -> str:
    """Send one letter, if it still waits and its time has come; gives what it is then."""
    return _send(UUID(letter))


@task()
def deliver_due() -> int:
    """Send all whose time has come: those that were tried before, and those whose worker died.  Gives how
    many were looked at."""
    due = Letter.objects.filter(state=LetterState.WAITING, next_try__lte=timezone.now())
    waiting = list(due.order_by("next_try").values_list("pk", flat=True)[:AT_ONCE])
    for letter in waiting:
        _send(letter)
    return len(waiting)


def _send(letter_id: UUID) -> str:
    with transaction.atomic():
        rows = Letter.objects.select_for_update(skip_locked=True)
        letter = rows.filter(pk=letter_id, state=LetterState.WAITING, next_try__lte=timezone.now()).first()
        if letter is None:
            return "not now"
        letter.tries += 1
        try:
            _hand_over(letter)
        except smtplib.SMTPRecipientsRefused as refused:
            code, words = next(iter(refused.recipients.values()))
            _not_taken(letter, code, _text(words))
        except smtplib.SMTPResponseException as refused:
            _not_taken(letter, refused.smtp_code, _text(refused.smtp_error))
        except ValueError as wrong:  # a line break where an address or a subject is
            _not_taken(letter, 550, f"The e-mail can’t be written: {wrong}")
        except (smtplib.SMTPException, OSError) as trouble:
            _not_taken(letter, 0, f"The mail server can’t be reached: {trouble}")
        else:
            letter.state, letter.sent, letter.said = LetterState.SENT, timezone.now(), ""
        letter.save()
        return str(letter.state)


def _hand_over(letter: Letter) -> None:
    message = EmailMessage(
        letter.subject, letter.text, to=[letter.to], headers={"Message-ID": letter.message_id}
    )
    for content, name in letter.attached:
        message.attach(name, files.fetch(content), "application/pdf")
    message.connection = get_connection(fail_silently=False)
    message.send()


def _text(words: bytes | str) -> str:
    said = words.decode("utf-8", "replace") if isinstance(words, bytes) else words
    return " ".join(said.split())


def _not_taken(letter: Letter, code: int, said: str) -> None:
    """Record that a letter was refused for good (a code of 500 and more), or is to be tried again later."""
    letter.said = said[:300]
    now = timezone.now()
    if code >= 500:
        letter.state = LetterState.REFUSED
    elif now - letter.made > GIVEN_UP_AFTER:
        letter.state = LetterState.GIVEN_UP
    else:
        letter.next_try = now + pause_after(letter.tries)


def pause_after(tries: int) -> timedelta:
    """Return how long to wait after so many tries: twice as long each time."""
    doubled: timedelta = FIRST_PAUSE * 2 ** min(tries - 1, 20)
    return min(doubled, LONGEST_PAUSE)


def send_again(letter: Letter) -> None:
    """Try a letter anew that was refused or given up, as if it had just been written."""
    now = timezone.now()
    letter.state, letter.next_try, letter.made, letter.tries = LetterState.WAITING, now, now, 0
    letter.save(update_fields=["state", "next_try", "made", "tries"])
    deliver.enqueue(str(letter.pk))
