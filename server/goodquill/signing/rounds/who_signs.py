"""The people who sign a deal's package, their places, and what stands against sending it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from typing import TYPE_CHECKING, TypedDict

from quillcore.assembly import PackageDocument
from quillcore.assembly.continuation_pages import groups_that_sign
from quillcore.assembly.people import Person, person
from quillcore.facts.keys import Group, place_key
from quillcore.facts.parties import joined
from quillcore.signing.rounds import against_sending
from quillcore.signing.spots import Spot, signers, spots_of
from quillcore.values import Fault

from goodquill.deals.opening import OpenDeal

if TYPE_CHECKING:
    from goodquill.http import wire


def who_signs(opened: OpenDeal) -> wire.WhoSigns:
    """Return, by person, the papers with how many places, and what would keep the package from being sent; no
    query beyond opening."""
    leaving = opened.package.leaving
    by_paper = {d.id: spots_of(opened.package, d) for d in leaving}
    every = [spot for spots in by_paper.values() for spot in spots]
    people = [person(opened.package, key) for key in dict.fromkeys(spot.who for spot in every)]
    people.sort(key=lambda p: (place_key(f"{p.key}.name") is None, p.key))
    faults = against_sending(signers(people, every, {})) if leaving else ()
    against = [_unnamed(group, papers) for group, papers in _waiting_for(opened, leaving).items()]
    return {
        "people": [_person(p, leaving, by_paper) for p in people],
        "unsigned": [paper_of(d) for d in leaving if not by_paper[d.id]],
        "against": against + [with_place(fault, {p.key: p for p in people}) for fault in faults],
    }


def _waiting_for(opened: OpenDeal, papers: Iterable[PackageDocument]) -> dict[Group, list[str]]:
    """Return the groups that papers have lines for and of which nobody is named; with what the papers are
    called."""
    found: dict[Group, list[str]] = {}
    for document in papers:
        edition = document.form.edition
        for group in groups_that_sign(document.form):
            if not opened.ledger.parties(group):
                found.setdefault(group, []).append(edition.number or edition.title)
    return found


def _unnamed(group: Group, papers: Sequence[str]) -> wire.Against:
    have = "has" if len(papers) == 1 else "have"
    said = f"No {group.one} is named yet, and {joined(papers)} {have} lines for one."
    return {"message": said, "mend": f"Name the {group.one}.", "who": "", "place": group.value}


def _person(p: Person, papers: Iterable[PackageDocument], by_paper: dict[str, list[Spot]]) -> wire.Signer:
    own = {d.id: [spot for spot in by_paper[d.id] if spot.who == p.key] for d in papers}
    return {
        "key": p.key,
        "name": p.name,
        "signs_as": p.signs_as,
        "role": p.role,
        "email": p.email,
        "papers": [{**paper_of(d), **counted(own[d.id])} for d in papers if own[d.id]],
    }


def paper_of(document: PackageDocument) -> wire.UnsignedPaper:
    """Return a paper of the package."""
    edition = document.form.edition
    return {"document": document.id, "number": edition.number, "title": edition.title}


class Counted(TypedDict):
    """Places of each kind on a paper, and its pages that have one."""

    signatures: int
    initials: int
    dates: int
    pages: list[int]


def counted(spots: list[Spot]) -> Counted:
    """Return how many places of each kind, and on which pages."""
    signs = [spot.sign for spot in spots]
    return {
        "signatures": signs.count("signature"),
        "initials": signs.count("initials"),
        "dates": signs.count("date"),
        "pages": sorted({spot.page for spot in spots}),
    }


def with_place(fault: Fault, people: Mapping[str, Person]) -> wire.Against:
    """Return a fault with the fact that would mend it."""
    about = people.get(fault.place)
    place = "" if about is None else about.email_key if fault.rule == "email" else about.name_key
    return {"message": fault.message, "mend": fault.mend, "who": fault.place, "place": place}
