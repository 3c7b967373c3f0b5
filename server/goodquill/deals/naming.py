"""What a deal is called and what finding looks in: address and surname, both searchable."""

from __future__ import annotations

from quillcore.facts.scopes import SIDES, client_group

from goodquill.deals.opening import OpenDeal


def surnames(opened: OpenDeal) -> str:
    """The client's family or entity names, joined with "&"; "" while nobody is named."""
    parties = opened.package.sheet.parties(client_group(opened.deal.side))
    return " & ".join(dict.fromkeys(p.fields.get("family") or p.name for p in parties if p.name))


def proposed_name(opened: OpenDeal) -> str:
    """ "214 N Alder Street · Okafor": the surname alone until there is an address."""
    held = opened.package.sheet.held("property.street_line")
    line = held.value if isinstance(held.value, str) else ""
    return " · ".join(part for part in (line, surnames(opened)) if part) or "New deal"


def other_names(opened: OpenDeal) -> str:
    """The other side's joined names in the offer at hand; "" while nobody is named."""
    held = opened.package.sheet.held(f"{SIDES[opened.deal.side][1]}.names").value
    return held[:200] if isinstance(held, str) else ""


def search_words(opened: OpenDeal) -> str:
    """Lower-case words that finding matches: name, address, parties, listing and parcel number."""
    sheet = opened.package.sheet
    keys = ("property.one_line", "buyers.names", "sellers.names", "landlords.names", "tenants.names", "listing.number", "property.parcel_number")
    values = (sheet.held(k).value for k in keys)
    others = (o.parties for o in opened.kept.offers if o.pk != opened.offer.pk)
    return " ".join([opened.deal.name, *(v for v in values if isinstance(v, str)), *others]).lower()[:600]
