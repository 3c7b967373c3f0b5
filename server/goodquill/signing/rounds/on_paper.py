"""Signed by pen: a paper that came back is recorded as signed, by whom and when, where ours stood."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from typing import TYPE_CHECKING

from quillcore.assembly import PackageDocument
from quillcore.assembly.people import person
from quillcore.offers.agreement import parties_of_both
from quillcore.signing.spots import spots_of
from quillcore.values import clock
from quillcore.values.dates import print_date

from goodquill.changelog.models import Kind
from goodquill.deals.opening import OpenDeal
from goodquill.deals.parts import DOCUMENTS
from goodquill.deals.steps import DealStep, deal_change
from goodquill.http.endpoints import Refusal
from goodquill.signing.sealing.agreeing import come_to_agree

if TYPE_CHECKING:
    pass


def signers_of(opened: OpenDeal, document: PackageDocument) -> dict[str, list[str]]:
    """Return who signs a paper: by key, their places for a signature, as they are called within it."""
    found: dict[str, list[str]] = {}
    for spot in spots_of(opened.package, document):
        if spot.sign == "signature":
            found.setdefault(spot.who, []).append(spot.id.removeprefix(f"{document.id}/"))
    return found


def refuse_day_to_come(day: date) -> None:
    """Refuse a day on which nobody can have signed yet."""
    if day > clock.today():
        raise Refusal("This day is in the future.", "Enter the day it was signed.", "day")


@deal_change(Kind.DOCUMENTS)
def record_signed(step: DealStep, code: str, ours: str, who: Sequence[str], day: date) -> None:
    """Return a paper that came is ``ours`` (a document's code), signed by pen by these people (by key), the
    last of them on ``day``.  It stands where ours stood, which is set aside; undo takes that back."""
    opened = step.opened
    rows = {d.code: d for d in opened.documents}
    form = opened.package.by_id.get(ours)
    if code not in rows or form is None or code == ours:
        raise Refusal(
            "This paper is no longer in the package.", "Reload the package and try again.", "document", 409
        )
    may = signers_of(opened, form)
    strangers = [key for key in who if key not in may]
    if strangers or not who:
        raise Refusal("None of these people signs this paper.", "Choose who signed it.", "signer")
    refuse_day_to_come(day)
    people = [person(opened.package, key) for key in who]
    names = [one.called for one in people]
    said = f"signed on paper by {' and '.join(names)}, {print_date(day)}"
    place = rows[ours]
    moved = {"why": said[:200], "section": place.section, "position": place.position}
    step.do(DOCUMENTS, {code: moved, ours: {"set_aside": True}})
    parties = parties_of_both(opened.ledger)
    by_everybody = {ours} if parties and parties <= {*who} else set()
    follows = come_to_agree(step, by_everybody, day)
    step.say(". ".join([f"{form.form.edition.named} was {said}", *follows])[:300])
