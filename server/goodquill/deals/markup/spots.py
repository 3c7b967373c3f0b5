"""Places put on a document's pages for those who sign it, and remembered for the paper."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING, Any
from uuid import UUID

from quillcore.assembly.added_places import MOST_SPOTS, HandSpot, in_the_way, read_spot
from quillcore.assembly.people import everybody
from quillcore.facts.parties import initials_of
from quillcore.forms import Form
from quillcore.values import Fault

from goodquill.changelog.models import Kind
from goodquill.deals.document_payload import spot_row
from goodquill.deals.models import Document, RememberedSpots
from goodquill.deals.opening import only_a_deal, open_deal
from goodquill.deals.parts import DOCUMENTS
from goodquill.deals.steps import DealStep, deal_change
from goodquill.http.endpoints import Refusal
from goodquill.offices.models import User

if TYPE_CHECKING:
    from goodquill.http import wire


def spots_for(user: User, deal_id: UUID, code: str, offer: int | None) -> wire.Spots:
    """Return who could sign a document, and the places that were put on the same paper before, in whichever
    deal of the brokerage: those of them that can stand on it now."""
    opened = open_deal(user, deal_id, offer)
    document = opened.document(code)
    people: list[wire.MaySign] = [
        {"key": p.key, "name": p.name, "initials": initials_of(p.called), "role": p.role}
        for p in everybody(opened.package)
    ]
    return {"people": people, "remembered": _remembered(user, document, opened.forms[code])}


def _remembered(user: User, document: Document, form: Form) -> wire.RememberedSpots | None:
    if document.spots:
        return None
    rows = RememberedSpots.objects.filter(brokerage=user.brokerage_id, content=form.edition.page_content)
    found = rows.select_related("by").first()
    if found is None:
        return None
    standing: list[HandSpot] = []
    for row in found.spots:
        spot = read_spot(row, form.edition)
        if isinstance(spot, HandSpot) and in_the_way([spot], standing, form.edition) is None:
            standing.append(spot)
    if not standing:
        return None
    by = found.by.name if found.by is not None else ""
    return {"spots": [spot_row(s) for s in standing], "by": by, "at": found.at}


@deal_change(Kind.DOCUMENTS)
def change_spots(step: DealStep, code: str, given: dict[str, Any]) -> None:
    """Put places on a document's pages, or take some out, as one undoable step."""
    only_a_deal(step.opened.deal)
    document = step.opened.document(code)
    form = step.opened.forms[code]
    if given["op"] == "remove":
        left = _without(document, given.get("ids", []))
    else:
        left = _with(document, form, given.get("spots", []))
    step.do(DOCUMENTS, {code: {"spots": left}})
    step.say(_said(document, given, form))
    _remember(step.user, form, left)


def _without(document: Document, ids: Sequence[str]) -> list[dict[str, Any]]:
    left = [row for row in document.spots if row["id"] not in ids]
    if len(left) == len(document.spots):
        raise Refusal("These places were removed.", "Reload the paper and try again.", "spot", 404)
    return left


def _with(document: Document, form: Form, rows: Sequence[dict[str, Any]]) -> list[dict[str, Any]]:
    """Return the places with further ones; one whose id is there already stands as it is sent now."""
    read = [read_spot(row, form.edition) for row in rows]
    new: list[HandSpot] = []
    for found in read:
        if isinstance(found, Fault):
            raise Refusal.of(found, 400)
        new.append(found)
    if not new:
        raise Refusal("No place was sent.", "Nothing was changed.", "spot")
    ids = {spot.id for spot in new}
    if len(ids) < len(new):
        raise Refusal("Two places have the same name.", "Nothing was changed. Reload the page.", "spot")
    stay = [row for row in document.spots if row["id"] not in ids]
    if len(stay) + len(new) > MOST_SPOTS:
        raise Refusal(
            f"{MOST_SPOTS} places on one paper is the limit.",
            "Remove some; nothing was changed.",
            "spot",
            409,
        )
    standing = [spot for row in stay if isinstance(spot := read_spot(row, form.edition), HandSpot)]
    fault = in_the_way(new, standing, form.edition)
    if fault is not None:
        raise Refusal.of(fault, 409)
    return stay + [spot_row(spot) for spot in new]


def _said(document: Document, given: dict[str, Any], form: Form) -> str:
    ids = given.get("ids") or [row["id"] for row in given.get("spots", [])]
    places = "a place" if len(ids) == 1 else f"{len(ids)} places"
    if given["op"] == "remove":
        return f"Removed {places} to sign from {form.edition.named}"
    is_new = not {row["id"] for row in document.spots}.issuperset(ids)
    return f"{'Put' if is_new else 'Changed'} {places} to sign on {form.edition.named}"


def _remember(user: User, form: Form, spots: list[dict[str, Any]]) -> None:
    """Remember a paper's places, to offer them when it comes again; a paper that was cleared is remembered as
    it was before."""
    if spots:
        RememberedSpots.objects.update_or_create(
            brokerage_id=user.brokerage_id,
            content=form.edition.page_content,
            defaults={"spots": spots, "by": user},
        )
