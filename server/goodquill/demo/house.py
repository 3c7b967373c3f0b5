"""The templates that the demo's first brokerage publishes: made from the association's, with what it does
otherwise."""

from __future__ import annotations

from dataclasses import dataclass, field

from goodquill.drafting.actions import begin_from, publish
from goodquill.offices.models import User
from goodquill.templates.models import Template

HOMES = ("single-family", "townhouse", "manufactured", "multi-family 2–4")


@dataclass(frozen=True)
class HouseTemplate:
    """One of them: ``like`` which of the association's, with further ``forms`` and other ``answers``; without
    it only these."""

    name: str
    side: str
    about: str
    like: str = ""
    kinds: tuple[str, ...] = ()
    forms: tuple[tuple[str, str], ...] = ()
    answers: dict[str, str] = field(default_factory=dict)
    rule: str = ""
    weight: str = ""


FIRST = (("First papers", "101"), ("First papers", "510"))
HOUSE = (
    HouseTemplate(
        "Marrow & Finch, a buyer’s first papers",
        "buying",
        "Whom we act for, and the warning about wired money, before anything is shown.",
        forms=FIRST,
        answers={"representation.agency": "buyer only"},
        rule='deal.side = "buying"',
        weight="required",
    ),
    HouseTemplate(
        "Marrow & Finch, a seller’s first papers",
        "listing",
        "Whom we act for, and the warning about wired money, before the sign goes up.",
        forms=FIRST,
        answers={"representation.agency": "seller only", "representation.both_sides_consent": "no"},
        rule='deal.side = "listing"',
        weight="required",
    ),
    HouseTemplate(
        "Buying, government-backed loan",
        "buying",
        "An offer with an FHA loan: a small down payment, and the lender's addendum.",
        "buying-home",
        HOMES,
        (("The offer", "403"),),
        {"terms.loan_type": "FHA", "terms.down_payment_percent": "3.5", "terms.closing_days": "45"},
        'deal.side = "buying" and (terms.loan_type = "FHA" or terms.loan_type = "VA")',
        "suggested",
    ),
    HouseTemplate(
        "Buying, the seller carries the loan",
        "buying",
        "An offer that the seller finances, with the terms of the note.",
        "buying-home",
        HOMES,
        (("The offer", "405"),),
        {"terms.loan_type": "seller carry", "terms.appraisal": "no", "terms.closing_days": "30"},
        'deal.side = "buying" and terms.loan_type = "seller carry"',
        "suggested",
    ),
    HouseTemplate(
        "Buying a new home from its builder",
        "buying",
        "An offer on a home that was never lived in, with time for a walk-through.",
        "buying-home",
        ("single-family", "townhouse"),
        (("For the buyer", "512"),),
        {"terms.inspection_days": "15", "terms.closing_days": "60", "terms.sale_contingency": "no"},
    ),
    HouseTemplate(
        "Buying a condominium, cash",
        "buying",
        "An offer on a unit without a loan, with the association's papers.",
        "buying-condominium",
        ("condominium",),
        (),
        {"terms.loan_type": "cash", "terms.appraisal": "no", "terms.closing_days": "25"},
    ),
    HouseTemplate(
        "Listing a condominium",
        "listing",
        "The listing papers of a unit, with what its owners' association has to say.",
        "listing-home",
        ("condominium",),
        (("Disclosures", "420"),),
    ),
    HouseTemplate(
        "Leasing out, pets allowed",
        "leasing out",
        "A lease for tenants with animals, with the addendum and its money.",
        "leasing-out-home",
        HOMES,
        (("The lease", "603"),),
    ),
)


def publish_house_templates(broker: User) -> None:
    """Have the broker begin and publish them all."""
    for house in HOUSE:
        template = begin_from(broker, content(house))
        publish(broker, template.pk, {"reach": "brokerage", "said": "Made for all of us"})


def content(house: HouseTemplate) -> dict[str, object]:
    """Return what one of them holds, as a template's file has it."""
    like = Template.objects.filter(slug=house.like).first() if house.like else None
    base = like.data if like is not None else {}
    there = {d.get("form") for d in base.get("documents", [])}
    more = [{"section": section, "form": form} for section, form in house.forms if form not in there]
    return {
        "name": house.name,
        "side": house.side,
        "kinds": list(house.kinds),
        "about": house.about,
        "rule": house.rule,
        "weight": house.weight,
        "documents": [*base.get("documents", []), *more],
        "answers": {**base.get("answers", {}), **house.answers},
        "blanks": base.get("blanks", {}),
        "tasks": base.get("tasks", []),
    }
