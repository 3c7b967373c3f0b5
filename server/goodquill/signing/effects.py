"""Effects of a round's events on those who take part: letters, and links that die."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from django.utils import timezone
from quillcore.signing.rounds import Do, Effect, RoundState

from goodquill.mail.sending import write
from goodquill.signing import letters
from goodquill.signing.models import Round, Signer


def carry_out(row: Round, people: Mapping[str, Signer], effects: Iterable[Effect]) -> None:
    """Write the letters that an event asks for, in its own transaction: each is a row that waits to be
    sent."""
    for effect in effects:
        signer = people.get(effect.who)
        if effect.do is Do.TELL_AGENT:
            if effect.about != RoundState.FINISHED:  # that is told once the papers are sealed
                _tell_agent(row, effect.about, signer)
        elif signer is not None:
            _to_signer(row, effect, signer)


def _to_signer(row: Round, effect: Effect, signer: Signer) -> None:
    now = timezone.now()
    if effect.do is Do.TELL_SIGNER:
        send(row, signer, letters.no_longer(row, signer, effect.about))
        return
    if effect.do is Do.NEW_LINK:
        signer.link += 1
    signer.reminded = now
    signer.asked = signer.asked or now
    send(row, signer, letters.please_sign(row, signer, effect.about))


def send(row: Round, signer: Signer, letter: letters.Text) -> None:
    """Send a letter to somebody who signs or gets a copy."""
    signer.letter = write(signer.email, *letter, "signing", row.deal.brokerage_id).pk
    signer.save(update_fields=["link", "asked", "reminded", "letter"])


def _tell_agent(row: Round, about: str, signer: Signer | None) -> None:
    if about not in row.by.not_told:
        write(row.by.email, *letters.to_agent(row, about, signer), "signing", row.deal.brokerage_id)
