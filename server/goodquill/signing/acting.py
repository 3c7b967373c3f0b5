"""What a signer does by the own link: each kept as it is done."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from django.db import transaction
from quillcore.signing.marks import adopted, as_svg, typed
from quillcore.signing.rounds import Event, Happened
from quillcore.signing.script_faces import FACES
from quillcore.values import Fault

from goodquill.api import Refusal
from goodquill.signing.models import Paper, Signer
from goodquill.signing.turning import happen

DRAWN = 200_000
"""Bytes of a drawn mark: 4,000 points of two numbers."""


def act(signer: Signer, kind: Happened, source: str, said: str = "") -> None:
    """One event of the signer's own."""
    if signer.is_copied:
        raise Refusal(
            "You get a copy of these papers, and sign nothing.",
            "There is nothing to do for you.",
            "copy",
            409,
        )
    happen(signer.round_id, Event(kind, signer.key, said=said), **{"from": source})


def adopt(signer: Signer, given: dict[str, Any]) -> None:
    """Keep the signature or the initials that the signer signs with from now on."""
    drawing = adopted(given["mark"])
    if isinstance(drawing, Fault):
        raise Refusal.of(drawing)
    with transaction.atomic():
        row = Signer.objects.select_for_update().get(pk=signer.pk)
        if row.put:
            raise Refusal(
                "You have signed with the other one already.",
                "It stays as it is in these papers.",
                "mark",
                409,
            )
        setattr(row, given["sign"], given["mark"])
        row.save(update_fields=[given["sign"]])


def put(signer: Signer, places: list[str], source: str) -> None:
    """Sign places, all or none, with the marks that were adopted."""
    wanted = {sign for sign in _signs(signer, set(places)) if getattr(signer, sign) is None}
    if wanted:
        raise Refusal(
            f"There is no {' and no '.join(sorted(wanted))} of yours to sign with yet.",
            "Make it first.",
            "mark",
            409,
        )
    happen(signer.round_id, *(Event(Happened.PUT, signer.key, spot=id) for id in places), **{"from": source})


def _signs(signer: Signer, places: set[str]) -> set[str]:
    papers = Paper.objects.filter(round=signer.round_id)
    return {
        place["sign"]
        for paper in papers
        for place in paper.places
        if place["id"] in places and place["sign"] in ("signature", "initials")
    }


def faces_of(name: str, initials: str) -> list[dict[str, Any]]:
    """A name and initials in every script face, to choose from; a face that can't set them says why."""
    return [_in_face(face, name, initials) for face in FACES]


def _in_face(face: str, name: str, initials: str) -> dict[str, Any]:
    found = [typed(text, face) for text in (name, initials)]
    fault = next((f for f in found if isinstance(f, Fault)), None)
    shown = [None if isinstance(f, Fault) else as_svg(f) for f in found]
    return {
        "face": face,
        "signature": shown[0],
        "initials": shown[1],
        "trouble": "" if fault is None else f"{fault.message} {fault.mend}",
    }


@transaction.atomic
def has_opened(signer: Signer, paper: UUID) -> None:
    """Note that the signer has a paper before the eyes."""
    row = Signer.objects.select_for_update().get(pk=signer.pk)
    if str(paper) not in row.read:
        row.read = [*row.read, str(paper)]
        row.save(update_fields=["read"])
