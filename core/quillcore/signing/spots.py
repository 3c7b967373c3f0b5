"""Signers and their places: the places of a package's papers, and the people in whose places they are."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from quillcore.assembly import Package, PackageDocument, drawn
from quillcore.assembly.added_places import SIGNED
from quillcore.assembly.continuation_pages import continuation, groups_that_sign
from quillcore.assembly.people import Person, is_there, key_of, person
from quillcore.pdf import Rect
from quillcore.signing.rounds import RoundSigner


@dataclass(frozen=True)
class Spot:
    """A place to be signed: ``id`` names it in a round, ``page`` counts in its own paper from 1, ``rect`` in
    points; ``sign`` is signature, initials or date; ``who`` is the key of the signer."""

    id: str
    document: str
    page: int
    rect: Rect
    sign: str
    who: str


def spots_of(package: Package, document: PackageDocument) -> list[Spot]:
    """Return a paper's places in reading order, for those who are there: a second buyer's lines are none
    while there is one buyer.  The form's own, those on continuation pages, initials beside changes by hand,
    and those put by hand."""
    found = [
        Spot(f"{document.id}/{field.id}", document.id, field.page, field.rect, meaning.sign, who)
        for field in document.form.edition.fields
        if (meaning := document.form.mapping.by_id[field.id]).sign is not None
        and (who := key_of(package, meaning.role or "")) is not None
    ]
    found += _beside_changes(package, document)
    found += _put_by_hand(package, document)
    over = [blank for blank in package.blanks([document]) if blank.overflow]
    _, further = continuation(package, document, over, document.form.edition.pages)
    for n, spot in enumerate(further):
        who = key_of(package, spot.role)
        if who is not None:
            place = f"{document.id}/further-{n + 1}"
            found.append(Spot(place, document.id, spot.page, spot.rect, spot.sign, who))
    return sorted(found, key=lambda spot: (spot.page, -spot.rect[3], spot.rect[0]))


def _beside_changes(package: Package, document: PackageDocument) -> list[Spot]:
    return [
        Spot(
            f"{document.id}/{change.change.id}-{spot.group}.{spot.position}",
            document.id,
            change.change.page,
            spot.rect,
            "initials",
            f"{spot.group}.{spot.position}",
        )
        for change in drawn(package, document)
        for spot in change.initials
    ]


def _put_by_hand(package: Package, document: PackageDocument) -> list[Spot]:
    return [
        Spot(f"{document.id}/{PUT}{spot.id}", document.id, spot.page, spot.rect, spot.what.value, spot.who)
        for spot in document.spots
        if spot.what in SIGNED and is_there(package, spot.who)
    ]


PUT = "put-"
"""The prefix of places put by hand, among the names of those of their paper."""


def signers(
    people: Iterable[Person], spots: Iterable[Spot], turns: dict[str, int]
) -> tuple[RoundSigner, ...]:
    """Return the signers of a round: each person with their places; ``turns`` by key, 1 where nothing is
    said."""
    every = list(spots)
    found = [
        RoundSigner(
            p.key,
            p.name,
            p.email,
            turns.get(p.key, 1),
            frozenset(s.id for s in every if s.who == p.key and s.sign != "date"),
        )
        for p in people
    ]
    return tuple(sorted(found, key=lambda signer: signer.turn))


def needed_signatures(package: Package, document: PackageDocument) -> list[tuple[str, str]]:
    """Return everybody whose signature a paper needs, with what they are called: those who have places to
    sign on it, optional ones left out, and a side for which it has lines and in which nobody is named
    yet."""
    optional = {
        f"{document.id}/{m.id}" for m in document.form.mapping.meanings if m.sign and m.required == "never"
    }
    spots = [s for s in spots_of(package, document) if s.sign == "signature" and s.id not in optional]
    found = {who: person(package, who).called for who in dict.fromkeys(spot.who for spot in spots)}
    for group in groups_that_sign(document.form):
        if not package.sheet.ledger.parties(group):
            found[str(group)] = f"the {group.one}"
    return list(found.items())
