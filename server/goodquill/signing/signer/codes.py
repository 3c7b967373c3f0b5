"""The second step of a signer: six digits that are sent to the address of the link when it is opened, or the
answer to a question that the sender told them.

A code is good for a quarter of an hour and a few tries, a question for a few tries an hour; only hashes are
kept.
"""

from __future__ import annotations

import secrets
from datetime import timedelta

from django.db import transaction
from django.utils import timezone
from django.utils.crypto import constant_time_compare, salted_hmac

from goodquill.http.endpoints import Refusal
from goodquill.mail.models import Letter
from goodquill.mail.sending import write
from goodquill.signing import letters
from goodquill.signing.models import Signer
from goodquill.signing.question import hash_of_answer
from goodquill.storage.locks import hold

GOOD_FOR = timedelta(minutes=15)
"""A letter comes within a minute or two, and a mailbox is opened on another device."""
MOST_TRIES = 5
"""Of one code: five of a million leave a guesser one chance in two hundred thousand."""
MOST_AN_HOUR = 6
_A_MINUTE, _AN_HOUR = timedelta(minutes=1), timedelta(hours=1)


@transaction.atomic
def send_code(signer: Signer, anew: bool = False) -> None:
    """Send a code, unless one that still counts was sent; ``anew`` another one, once a minute at most."""
    row = _locked(signer)
    now = timezone.now()
    wait = _A_MINUTE if anew else GOOD_FOR
    if row.code_made is not None and now - row.code_made < wait:
        return
    sent = Letter.objects.filter(to=row.email, about="code", made__gte=now - _AN_HOUR)
    if sent.count() >= MOST_AN_HOUR:
        raise Refusal(
            "Too many codes were sent this hour.", "Wait an hour and open the link again.", "often", 429
        )
    digits = f"{secrets.randbelow(1_000_000):06}"
    row.code_hash, row.code_made, row.code_tries = _hash(row, digits), now, 0
    row.save(update_fields=["code_hash", "code_made", "code_tries"])
    write(row.email, *letters.code(row, digits), "code", row.round.deal.brokerage_id)


def check_step(signer: Signer, said: str) -> None:
    """Refuse what isn't the code, or the answer, with how many tries are left."""
    asks = signer.round.question
    wrong = _wrong_answer(signer, said) if asks else _wrong(signer, "".join(said.split()))
    if wrong is not None:
        raise wrong


@transaction.atomic
def _wrong_answer(signer: Signer, said: str) -> Refusal | None:
    row = _locked(signer)
    now = timezone.now()
    if row.code_made is None or now - row.code_made > _AN_HOUR:
        row.code_made, row.code_tries = now, 0
    if row.code_tries >= MOST_TRIES:
        return Refusal("Too many attempts.", "Wait an hour, or ask the sender.", "code", 429)
    kept = row.round.answer
    if kept and constant_time_compare(hash_of_answer(row.round.question, said), kept):
        row.code_tries = 0
        row.save(update_fields=["code_made", "code_tries"])
        return None
    row.code_tries += 1
    row.save(update_fields=["code_made", "code_tries"])
    told = f"Wrong answer. {_tries_left(row)}"
    return Refusal(told, "Enter the answer that the sender told you.", "code")


@transaction.atomic
def _wrong(signer: Signer, digits: str) -> Refusal | None:
    row = _locked(signer)
    if row.code_made is None or timezone.now() - row.code_made > GOOD_FOR:
        return Refusal("This code has expired.", "Ask for a new one.", "code")
    if row.code_tries >= MOST_TRIES:
        return Refusal("Too many attempts.", "Ask for a new code.", "code")
    if constant_time_compare(_hash(row, digits), row.code_hash):
        row.code_made = None  # used once
        row.save(update_fields=["code_made"])
        return None
    row.code_tries += 1
    row.save(update_fields=["code_tries"])
    told = f"Wrong code. {_tries_left(row)}"
    return Refusal(told, "Check the code in the newest e-mail.", "code")


def _tries_left(row: Signer) -> str:
    left = MOST_TRIES - row.code_tries
    return "One attempt left." if left == 1 else f"{left} attempts left." if left else "No attempts left."


def _locked(signer: Signer) -> Signer:
    hold(Signer, signer.pk)
    return Signer.objects.select_related("round__deal", "round__by__brokerage").get(pk=signer.pk)


def _hash(signer: Signer, digits: str) -> str:
    named = f"{signer.pk}:{signer.link}:{digits}"
    return salted_hmac("goodquill.signing.code", named, algorithm="sha256").hexdigest()
