"""Papers that come from elsewhere: read with care, and put where the package waits for them."""

from __future__ import annotations

import uuid
from typing import Any

from quillcore.forms.model import AUDIENCE
from quillcore.forms.printed import PrintedWords
from quillcore.papers.received import Received, paper_form, place_for
from quillcore.values import clock

from goodquill.changelog.parts import Fields
from goodquill.deals.models import Document
from goodquill.deals.opening import OpenDeal
from goodquill.deals.parts import DOCUMENTS
from goodquill.deals.steps import DealStep
from goodquill.forms.actions import keep_form

Paper = tuple[str, Received]
"""A title, and what was read."""


def waiting_places(opened: OpenDeal) -> list[tuple[str, str]]:
    """Return items of the package that a paper can take the place of: what is expected, and forms that the
    other side fills in."""
    places = []
    for d in opened.documents:
        form = opened.forms.get(d.code)
        if form is None:
            places.append((d.code, d.expected))
        elif not form.edition.is_ours(opened.side) and not d.set_aside:
            places.append((d.code, form.edition.title))
    return places


def _placed(opened: OpenDeal, place: Document | None, end: int, section: str) -> Document:
    """Return a new document in the place of another one, or at the package's end."""
    return Document(
        deal=opened.deal,
        offer_id=place.offer_id if place else None,
        code=uuid.uuid4().hex[:12],
        stands_for=opened.forms[place.code].edition.number if place else "",
        position=place.position if place else end,
        section=section or (place.section if place else "From others"),
    )


def put_in_package(
    step: DealStep,
    papers: list[Paper],
    why: str,
    wanted: str | None = None,
    section: str = "",
    came: dict[str, Any] | None = None,
    audience: tuple[str, ...] = AUDIENCE,
) -> list[str]:
    """Put papers where the package waits for them, others at its end; gives a sentence for each.  ``wanted``
    is the code of the place that somebody chose, "" for the end; ``section`` the heading there; ``came`` what
    is known of a form that came filled in; ``audience`` who may see it."""
    opened = step.opened
    added: list[Document] = []
    changed: dict[str, Fields] = {}
    waiting = dict(waiting_places(opened))
    there = {d.edition_id for d in opened.documents}
    by_code, last = {d.code: d for d in opened.documents}, opened.next_position
    said = []
    for title, paper in papers:
        edition, mapping = keep_form(
            paper_form(title, paper, clock.today(), audience), PrintedWords(paper.words), foreign=True
        )
        if edition.pk in there:
            said.append(f"{title} is already in the package")
            continue
        found = place_for(title, paper.words, waiting.items()) if wanted is None else wanted
        place = by_code.get(found or "")
        if place is not None and place.edition_id is None:
            changed[place.code] = {
                "edition_id": edition.pk,
                "mapping_id": mapping.pk,
                "why": why,
                "came": came or {},
            }
        else:
            made = _placed(opened, place, last + len(added), section)
            made.edition, made.mapping, made.why, made.came = edition, mapping, why, came or {}
            added.append(made)
            if place is not None:
                changed[place.code] = {"set_aside": True}
        if place is not None:
            waiting.pop(place.code, None)
            said.append(
                f"{title} took the place of"
                f" {opened.forms[place.code].edition.title if place.code in opened.forms else place.expected}"
            )
        else:
            said.append(f"{title} was added")
    step.add_documents(added)
    step.do(DOCUMENTS, changed)
    return said
