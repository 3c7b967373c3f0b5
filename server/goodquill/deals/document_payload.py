"""The documents of a deal as screens get them."""

from __future__ import annotations

from typing import TYPE_CHECKING

from quillcore.assembly import drawn, has_continuation
from quillcore.assembly.added_places import HandSpot
from quillcore.assembly.spotted import spotted
from quillcore.facts.keys import document_prefix
from quillcore.facts.parties import initials_of

from goodquill.deals import blank_status
from goodquill.deals.models import Document
from goodquill.deals.opening import OpenDeal

if TYPE_CHECKING:
    from goodquill.http import wire


def documents_of(opened: OpenDeal) -> list[wire.Document]:
    """Return the package in order, expected papers included."""
    open_by, letters = blank_status.count_open(opened), blank_status.letters_of(opened)
    return [
        document_row(opened, d, open_by.get(d.code, 0), letters.get(d.code, "")) for d in opened.documents
    ]


def document_row(opened: OpenDeal, document: Document, open_count: int, letters: str) -> wire.Document:
    """Return one item of the package."""
    row: wire.Document = {
        "id": document.code,
        "number": "",
        "title": document.expected,
        "section": document.section,
        "pages": 0,
        "open": 0,
        "blanks": 0,
        "edition": "",
        "mapping": "",
        "prefix": document_prefix(document.code),
        "states": letters,
        "released": "",
        "why": document.why,
        "expected_from": document.expected_from,
        "set_aside": document.set_aside,
        "ours": True,
        "clients_own": False,
        "audience": [],
        "sizes": [],
        "continued": False,
        "by_hand": [],
        "spots": [],
    }
    form = opened.forms.get(document.code)
    if form is None:
        return row
    e = form.edition
    return {
        **row,
        "number": e.number,
        "title": e.title,
        "pages": e.pages,
        "open": open_count,
        "blanks": blank_status.count_blanks(form),
        "edition": form.edition_hash,
        "mapping": document.mapping_id or "",
        "released": e.released.isoformat(),
        "ours": e.is_ours(opened.side),
        "clients_own": e.is_the_clients_own,
        "audience": list(e.audience),
        "sizes": [list(s) for s in e.sizes],
        "continued": has_continuation(
            opened.package, opened.package.by_id[document.code], blank_status.overflows(letters)
        ),
        "by_hand": hand_rows(opened, document.code) if document.by_hand else [],
        "spots": spotted_rows(opened, document.code) if document.spots else [],
    }


def spot_row(spot: HandSpot) -> wire.HandSpot:
    """Return a place put by hand, as it is kept and drawn."""
    return {
        "id": spot.id,
        "page": spot.page,
        "rect": spot.rect,
        "what": spot.what,
        "who": spot.who,
        "label": spot.label,
        "required": spot.required,
    }


def spotted_rows(opened: OpenDeal, code: str) -> list[wire.Spotted]:
    """Return the places put on a document by hand, with whose they are and a printed name as it is set."""
    return [
        {
            **spot_row(one.spot),
            "name": one.who.called if one.who is not None else "",
            "initials": initials_of(one.who.called) if one.who is not None else "",
            "is_there": one.who is not None,
            "size": one.name.size if one.name is not None else 0,
            "lines": [[line.x, line.y, line.text] for line in one.name.lines] if one.name is not None else [],
        }
        for one in spotted(opened.package, opened.package.by_id[code])
    ]


def hand_rows(opened: OpenDeal, code: str) -> list[wire.HandChange]:
    """Return what was changed on a document's pages by hand, as it is drawn."""
    return [
        {
            "id": d.change.id,
            "page": d.change.page,
            "words": d.change.words,
            "text": d.change.text,
            "rules": [list(rule) for rule in d.rules],
            "size": d.text.size if d.text is not None else 0,
            "lines": [[line.x, line.y, line.text] for line in d.text.lines] if d.text is not None else [],
            "initials": [{"name": spot.name, "rect": list(spot.rect)} for spot in d.initials],
        }
        for d in drawn(opened.package, opened.package.by_id[code])
    ]
