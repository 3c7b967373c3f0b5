"""Looking a property up, comparing, and bringing it in."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from django.db import transaction
from django.shortcuts import get_object_or_404
from quillcore.facts import Act, Entry, Row, Source, compare, load_catalog
from quillcore.facts.intake import from_listing, from_roll
from quillcore.values import Value

from goodquill.api import Refusal
from goodquill.deals.changing import begin, finish
from goodquill.deals.opening import OpenDeal, find_deal
from goodquill.deals.payload import shown
from goodquill.offices.models import User
from goodquill.sources import clients
from goodquill.sources.clients import Trouble
from goodquill.sources.models import Comparison

Records = tuple[dict[str, Any] | None, dict[str, Any] | None, list[Trouble]]


def _look_up(listing: str, parcel: str, county: str) -> Records:
    """The listing record and the roll's row for a listing number or a parcel number; one leads to the other."""
    record, row, troubles = None, None, []
    if listing:
        found = clients.listing_numbered(listing)
        if isinstance(found, Trouble):
            troubles.append(found)
        elif not found:
            raise Refusal(
                f"The listing service has no listing “{listing}”.", "Check the number, or look for the address. Nothing was changed.", "listing", 404
            )
        else:
            record = found[0]
            parcel, county = parcel or str(record.get("ParcelNumber") or ""), county or str(record.get("CountyOrParish") or "")
    if parcel:
        rows = clients.parcels(county or "any", parcel=parcel)
        if isinstance(rows, Trouble):
            troubles.append(rows)
        elif rows:
            row = rows[0]
            parcel = str(row.get("parcel") or parcel)  # as the county writes it
        elif not listing:
            raise Refusal(f"The roll has no parcel “{parcel}”.", "Check the number and the county. Nothing was changed.", "parcel", 404)
        if record is None and not listing:
            records = clients.listings_of_parcel(parcel)
            if isinstance(records, Trouble):
                troubles.append(records)
            elif records:
                record = records[0]
    return record, row, troubles


def _facts(comparison: Comparison) -> tuple[dict[str, Value], dict[str, Value], list[str]]:
    catalog = load_catalog()
    listing, unread = from_listing(catalog, comparison.listing) if comparison.listing else ({}, [])
    roll, more = from_roll(catalog, comparison.roll) if comparison.roll else ({}, [])
    return listing, roll, [str(f) for f in (*unread, *more)]


def look(user: User, deal_id: UUID, listing: str, parcel: str, county: str, offer: int | None = None) -> dict[str, Any]:
    """Compare what the deal holds with what the sources say.  Nothing of the deal is written."""
    deal = find_deal(user, deal_id)
    record, row, troubles = _look_up(listing.strip(), parcel.strip(), county.strip())
    if record is None and row is None and troubles:
        raise Refusal(" ".join(t.message for t in troubles), "Nothing was changed.", "source", 503)
    comparison = Comparison.objects.create(deal=deal, by=user, listing=record, roll=row)
    from_listing_, from_roll_, unread = _facts(comparison)
    opened = OpenDeal(deal, offer)
    rows = compare(opened.ledger, from_listing_, from_roll_)
    return {
        "id": comparison.pk,
        "listing": str(record.get("ListingId", "")) if record else "",
        "status": str(record.get("StandardStatus", "")) if record else "",
        "parcel": str(row.get("parcel", "")) if row else "",
        "county": str(row.get("county", "")) if row else "",
        "rows": [_row(r) for r in rows],
        "troubles": [t.message for t in troubles],
        "unread": unread,
    }


def _row(row: Row) -> dict[str, Any]:
    fact = load_catalog()[row.key]
    return {
        "key": row.key, "label": fact.label, "group": fact.group, "now": shown(row.now, fact.kind), "now_source": row.now_source, "listing": shown(row.listing, fact.kind),
        "roll": shown(row.roll, fact.kind), "becomes": shown(row.becomes, fact.kind), "becomes_source": row.becomes_source, "status": row.status, "heavy": row.heavy,
    }  # fmt: skip


@transaction.atomic
def accept(user: User, deal_id: UUID, change_id: UUID, comparison_id: UUID, take: dict[str, str], offer: int | None = None) -> dict[str, Any]:
    """Write what a comparison showed, as one undoable change.

    Both sources' values are kept side by side; ``take`` names, for rows that are to be otherwise than
    proposed, the source to believe.
    """
    step = begin(user, deal_id, change_id, "bring in", offer=offer)
    if step.retried:
        return finish(step)
    comparison = get_object_or_404(Comparison, pk=comparison_id, deal=step.opened.deal)
    listing, roll, _ = _facts(comparison)
    opened, entries = step.opened, []
    shown_keys = {r.key for r in compare(opened.ledger, listing, roll)}
    number = str((comparison.listing or {}).get("ListingId", ""))
    parcel = str((comparison.roll or {}).get("parcel", ""))
    for source, facts, origin in ((Source.LISTING, listing, number), (Source.ROLL, roll, parcel)):
        for key, value in facts.items():
            held = opened.ledger.beside(key).get(source)
            if key in shown_keys and (held is None or held.value != value):
                entries.append(Entry(key, Act.STATE, 0, source, value, origin=origin))
    for key, name in take.items():
        if key in shown_keys and name in ("listing", "roll") and key in (listing if name == "listing" else roll):
            entries.append(Entry(key, Act.CHOOSE, 0, Source(name)))
    step.change.said = f"Brought in {' and '.join(p for p in (f'listing {number}' if number else '', f'parcel {parcel}' if parcel else '') if p)}"
    step.change.save(update_fields=["said"])
    step.write(*entries)
    return finish(step)
