"""The papers of a negotiation: found in the deal's release by what they say they are."""

from __future__ import annotations

from quillcore.assembly import PackageDocument
from quillcore.facts import Source
from quillcore.forms.model import Form
from quillcore.values import Value

from goodquill.deals.actions import form_copy
from goodquill.deals.opening import OpenDeal
from goodquill.deals.steps import DealStep
from goodquill.forms.models import ReleaseForm
from goodquill.forms.queries import forms_of

Found = tuple[ReleaseForm, Form]


def form_for(opened: OpenDeal, kind: str) -> Found | None:
    """Return the form that is of that ``kind`` in a negotiation (see ``Mapping.turn``); None where there is
    none."""
    rows = list(ReleaseForm.objects.filter(release=opened.deal.release_id))
    forms = forms_of(rows)
    found = [(row, forms[row.number]) for row in rows if forms[row.number].mapping.turn == kind]
    return next((one for one in found if opened.side in one[1].edition.sides), None)


def put_form(step: DealStep, found: Found, why: str) -> str:
    """Put a copy of a form behind the package, for the offer at hand; gives its code."""
    opened, (row, _) = step.opened, found
    made = form_copy(opened, row, opened.next_position, opened.offer, why)
    step.add_documents([made])
    return made.code


def values_on(opened: OpenDeal, document: PackageDocument) -> dict[str, Value | None]:
    """Return what was said in the blanks of a paper that are its own, by their names; what was worked out is
    left out."""
    prefix, ledger = document.prefix, opened.ledger
    return {
        key.removeprefix(prefix): stated.value
        for key in list(ledger.keys())
        if key.startswith(prefix)
        and (stated := ledger.in_force(key)) is not None
        and stated.source is not Source.WORKED_OUT
    }


def put_once(step: DealStep, kind: str, why: str) -> None:
    """Do the same, unless the offer has one of that kind that is in use."""
    opened = step.opened
    here = {d.code for d in opened.documents if d.offer_id == opened.offer.pk and not d.set_aside}
    if any(opened.forms[code].mapping.turn == kind for code in here if code in opened.forms):
        return
    if found := form_for(opened, kind):
        put_form(step, found, why)
