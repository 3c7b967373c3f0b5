"""Papers attached to a listing: fetched, read with care, and put where the package waits for them."""

from __future__ import annotations

import uuid
from datetime import date
from typing import Any

from quillcore.forms.printed import Printed
from quillcore.forms.received import Received, paper_form, place_for, read_paper
from quillcore.values import Fault

from goodquill.deals.changing import Step
from goodquill.deals.models import Document
from goodquill.deals.opening import OpenDeal
from goodquill.forms.actions import keep_form
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
    """Items of the package that a paper can take the place of: what is expected, and forms that the other side fills in."""
    places = []
    for d in opened.documents:
        form = opened.forms.get(d.code)
        if form is None:
            places.append((d.code, d.expected))
        elif not form.edition.is_ours(opened.deal.side) and not d.set_aside:
            places.append((d.code, form.edition.title))
    return places


def put_in_package(step: Step, papers: list[Paper], why: str) -> list[str]:
    """Put papers where the package waits for them, others at its end; gives a sentence for each.  The caller reopens the deal."""
    opened = step.opened
    did: dict[str, Any] = {"added": [], "came": {}, "aside": {}}
    waiting = dict(waiting_places(opened))
    there = {d.edition_id for d in opened.documents}
    by_code = {d.code: d for d in opened.documents}
    said = []
    for title, paper in papers:
        edition, mapping = keep_form(paper_form(title, paper, date.today()), Printed(paper.words), foreign=True)
        if edition.pk in there:
            said.append(f"{title} is in the package already")
            continue
        place = by_code.get(place_for(title, paper.words, waiting.items()) or "")
        if place is not None and place.edition_id is None:
            did["came"][place.code] = [None, None]
            Document.objects.filter(pk=place.pk).update(edition=edition, mapping=mapping, why=why)
        else:
            made = Document.objects.create(
                deal=opened.deal, offer_id=place.offer_id if place else None, code=uuid.uuid4().hex[:12], edition=edition, mapping=mapping, why=why,
                position=place.position if place else opened.deal.next_position(), section=place.section if place else "From others",
            )  # fmt: skip
            did["added"].append(made.code)
            if place is not None:
                did["aside"][place.code] = place.set_aside
                Document.objects.filter(pk=place.pk).update(set_aside=True)
        if place is not None:
            waiting.pop(place.code)
            said.append(f"{title} took the place of {opened.forms[place.code].edition.title if place.code in opened.forms else place.expected}")
        else:
            said.append(f"{title} was added")
    step.change.documents = {name: what for name, what in did.items() if what}
    step.documents_moved = step.documents_moved or bool(step.change.documents)
    return said
