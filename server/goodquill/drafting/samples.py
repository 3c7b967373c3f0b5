"""A template tried on a deal that there is: its package as paper, and what its formulas come to."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any
from uuid import UUID

from quillcore.assembly import Package, PackageDocument, assemble
from quillcore.facts import load_catalog
from quillcore.templates import merge, read_template
from quillcore.values import shown

from goodquill.deals.models import Deal
from goodquill.deals.opening import OpenDeal, find_deal
from goodquill.deals.queries import deals_touched_last
from goodquill.forms.queries import setting_of
from goodquill.http.endpoints import Refusal
from goodquill.offices.models import User
from goodquill.templates.models import Template
from goodquill.templates.queries import forms_for

if TYPE_CHECKING:
    from goodquill.http import wire

MOST_OFFERED = 20


@dataclass(frozen=True)
class Sample:
    """The template's result for ``deal``."""

    deal: Deal
    package: Package
    formulas: tuple[str, ...]


def try_on(user: User, template: Template, data: dict[str, Any], deal_id: UUID | None) -> Sample:
    """Return the template over a deal's facts, without its papers: nothing is written.  Without ``deal_id``
    it is the newest of that side."""
    deal = find_deal(user, deal_id) if deal_id else newest_like(user, template)
    if deal is None:
        raise Refusal(
            f"You have no deal yet where you act {_acting(template.side)}.",
            "Start a deal with this template first.",
            "sample",
            404,
        )
    opened = OpenDeal(deal, reader=user)
    forms = forms_for(template)
    sheet = read_template(data, forms, load_catalog(), template.name)
    if isinstance(sheet, list):
        raise Refusal(f"It can’t be tested: {sheet[0]}", "Fix it first.", "template")
    merged = merge(sheet, opened.ledger, forms, {}, 10**9)
    for entry in merged.entries:
        opened.ledger.add(entry)
    documents = [
        PackageDocument(code, forms[d.form].seen_from(opened.side), d.section, d.reserve)
        for code, d in merged.documents
        if d.form
    ]
    expected = [d.expected for _, d in merged.documents if d.expected]
    package = Package(documents, opened.ledger, setting_of(template.release), expected)
    formulas = tuple(key for key, text in sheet.answers.items() if text.startswith("="))
    return Sample(deal, package, formulas)


def _acting(side: str) -> str:
    return {"buying": "for a buyer", "listing": "for a seller", "leasing out": "for a landlord"}.get(
        side, "for a tenant"
    )


def newest_like(user: User, template: Template) -> Deal | None:
    """Return the user's newest deal of a template's side."""
    return next((deal for deal in deals_touched_last(user) if deal.side == template.side), None)


def told(user: User, template: Template, sample: Sample) -> wire.Sample:
    """Return how the package would stand, what the formulas come to, and on which deals it can be tried."""
    states = [blank.state for blank in sample.package.blanks()]
    sheet, catalog = sample.package.sheet, load_catalog()
    deals = [deal for deal in deals_touched_last(user) if deal.side == template.side][:MOST_OFFERED]
    return {
        "deal": sample.deal.pk,
        "filled": states.count("filled"),
        "open": states.count("open"),
        "deals": [{"id": str(deal.pk), "name": deal.name} for deal in deals],
        "formulas": [
            {
                "key": key,
                "label": catalog.label_of(key),
                "shown": shown(held.value, catalog[key].kind),
                "waits_for": [catalog.label_of(k) for k in held.missing],
                "fault": str(held.fault) if held.fault else "",
            }
            for key in sample.formulas
            if (held := sheet.held(key)) is not None
        ],
    }


def as_pdf(sample: Sample, template: Template) -> bytes:
    """Return the package as paper."""
    if not sample.package.documents:
        raise Refusal("There is no form in it yet.", "Add forms first.", "empty", 409)
    return assemble(sample.package, f"{template.name}, tested on {sample.deal.name}").pdf
