"""A round that is out, followed by whoever sent it: reminded, readdressed, recalled."""

from __future__ import annotations

from datetime import timedelta
from uuid import UUID

from django.db import transaction
from django.utils import timezone
from django_tasks import task
from quillcore.signing.rounds import At, Event, Happened, RoundState

from goodquill.http.endpoints import Refusal
from goodquill.mail.addresses import check_address
from goodquill.offices.models import User
from goodquill.signing.models import Round, Signer
from goodquill.signing.rounds.making import find_round, find_signer
from goodquill.signing.rounds.transitions import happen
from goodquill.storage.locks import hold

AT_ONCE = 500
A_MINUTE = timedelta(minutes=1)


def recall(user: User, round_id: UUID, said: str) -> Round:
    """Close the links and tell who was asked."""
    row = find_round(user, round_id)
    if not said.strip():
        raise Refusal("Enter a reason.", "Signers will read it.", "reason")
    return happen(row.pk, Event(Happened.RECALLED, said=said.strip()), said={"by": user.name})


def remind(user: User, round_id: UUID, signer: UUID) -> Round:
    """Ask somebody once more, by the link that they have."""
    person = find_signer(user, round_id, signer)
    if person.reminded is not None and timezone.now() - person.reminded < A_MINUTE:
        raise Refusal(
            f"{person.name} got an e-mail less than a minute ago.", "Nothing was sent twice.", "often", 409
        )
    return happen(person.round_id, Event(Happened.REMINDED, person.key), said={"by": user.name})


def readdress(user: User, round_id: UUID, signer: UUID, email: str) -> Round:
    """Send the link to another address; the old one leads nowhere."""
    person = find_signer(user, round_id, signer)
    said = check_address(email)
    return happen(person.round_id, Event(Happened.READDRESSED, person.key, said=said), said={"by": user.name})


@task()
def by_the_clock() -> int:
    """Close rounds whose time has run out, and remind those who were asked days ago.  Gives how many rounds
    were closed."""
    now = timezone.now()
    out = Round.objects.filter(state=RoundState.OUT)
    over = list(out.filter(ends__lte=now).values_list("pk", flat=True)[:AT_ONCE])
    for round_id in over:
        happen(round_id, Event(Happened.RAN_OUT))
    for person in _waited_on_for_days():
        _remind_once(person)
    return len(over)


def _waited_on_for_days() -> list[Signer]:
    waiting = Signer.objects.filter(
        round__state=RoundState.OUT,
        round__doubt="",
        round__remind_every__gt=0,
        at__in=(At.ASKED, At.OPENED, At.AGREED),
        reminded__lte=timezone.now() - timedelta(days=1),
    )
    rows = waiting.select_related("round").order_by("reminded")[:AT_ONCE]
    now = timezone.now()
    return [s for s in rows if s.reminded and now - s.reminded >= timedelta(days=s.round.remind_every)]


@transaction.atomic
def _remind_once(person: Signer) -> None:
    """Remind somebody once: a second clock finds that it was done."""
    hold(Round, person.round_id)
    stands = Signer.objects.get(pk=person.pk)
    if stands.reminded == person.reminded and stands.at == person.at:
        happen(person.round_id, Event(Happened.REMINDED, person.key))
