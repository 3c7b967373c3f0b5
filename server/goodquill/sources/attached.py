"""Papers attached to a listing: fetched, read with care, and put where the package waits for them."""

from __future__ import annotations

import uuid

from quillcore.forms.printed import Printed
from quillcore.papers.received import Received, paper_form, place_for, read_paper
from quillcore.values import Fault, clock

from goodquill.deals.models import Document
from goodquill.deals.opening import OpenDeal
from goodquill.deals.parts import DOCUMENTS
from goodquill.deals.steps import Step
from goodquill.forms.actions import keep_form
from goodquill.record.parts import Fields
from goodquill.services import Trouble
from goodquill.sources import clients

Paper = tuple[str, Received]
"""A title, and what was read."""


def came_with(listing: str) -> str:
    """Why such a paper is in the package."""
    return f"attached to listing {listing}"


def fetch_papers(offered: list[dict[str, str]], wanted: list[str]) -> tuple[list[Paper], list[str]]:
    """The wanted ones of those that a listing offers, and a sentence for each that can't be had."""
    papers, troubles = [], []
    for paper in offered:
        if paper["key"] not in wanted:
            continue
        content = clients.fetch_paper(paper["url"])
        read = read_paper(content) if isinstance(content, bytes) else content
        if isinstance(read, (Fault, Trouble)):
            troubles.append(f"{paper['title']}: {read.message}")
        else:
            papers.append((paper["title"], read))
    return papers, troubles


def waiting_places(opened: OpenDeal) -> list[tuple[str, str]]:
    """Items of the package that a paper can take the place of: what is expected, and forms that the other
    side fills in."""
    places = []
    for d in opened.documents:
        form = opened.forms.get(d.code)
        if form is None:
            places.append((d.code, d.expected))
        elif not form.edition.is_ours(opened.side) and not d.set_aside:
            places.append((d.code, form.edition.title))
    return places


def put_in_package(step: Step, papers: list[Paper], why: str) -> list[str]:
    """Put papers where the package waits for them, others at its end; gives a sentence for each."""
    opened = step.opened
    added: list[Document] = []
    changed: dict[str, Fields] = {}
    waiting = dict(waiting_places(opened))
    there = {d.edition_id for d in opened.documents}
    by_code, last = {d.code: d for d in opened.documents}, opened.deal.next_position()
    said = []
    for title, paper in papers:
        edition, mapping = keep_form(
            paper_form(title, paper, clock.today()), Printed(paper.words), foreign=True
        )
        if edition.pk in there:
            said.append(f"{title} is in the package already")
            continue
        place = by_code.get(place_for(title, paper.words, waiting.items()) or "")
        if place is not None and place.edition_id is None:
            changed[place.code] = {"edition_id": edition.pk, "mapping_id": mapping.pk, "why": why}
        else:
            made = Document(
                deal=opened.deal,
                offer_id=place.offer_id if place else None,
                code=uuid.uuid4().hex[:12],
                edition=edition,
                mapping=mapping,
                why=why,
                stands_for=opened.forms[place.code].edition.number if place else "",
                position=place.position if place else last + len(added),
                section=place.section if place else "From others",
            )
            added.append(made)
            if place is not None:
                changed[place.code] = {"set_aside": True}
        if place is not None:
            waiting.pop(place.code)
            said.append(
                f"{title} took the place of"
                f" {opened.forms[place.code].edition.title if place.code in opened.forms else place.expected}"
            )
        else:
            said.append(f"{title} was added")
    step.add_documents(added)
    step.do(DOCUMENTS, changed)
    return said
