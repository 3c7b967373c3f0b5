"""Signing on a member's own device: the member's own places, or a client's who is in the room."""

from __future__ import annotations

from uuid import UUID

from quillcore.signing.rounds import Event, Happened

from goodquill.http.endpoints import Refusal
from goodquill.offices.models import User, normal_email
from goodquill.signing.links import address_of
from goodquill.signing.models import Signer
from goodquill.signing.rounds.making import find_signer
from goodquill.signing.rounds.transitions import happen


def own_link(user: User, round_id: UUID, signer: UUID) -> tuple[Signer, str]:
    """Return the member's own link: of the one who signs at the member's own address, and of nobody else."""
    person = find_signer(user, round_id, signer)
    if normal_email(person.email) != normal_email(user.email):
        raise Refusal(
            f"{person.name} signs with their own link.",
            "Hand over your device if they are with you.",
            "signer",
            403,
        )
    return person, address_of(person)


def hand_over(user: User, round_id: UUID, signer: UUID) -> tuple[Signer, str]:
    """Return the link of somebody who is handed this device, which goes on record."""
    person = find_signer(user, round_id, signer)
    happen(person.round_id, Event(Happened.IN_PERSON, person.key), said={"by": user.name})
    return person, address_of(person)
