"""Looking a property up, comparing, and bringing it in."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any
from uuid import UUID

from django.shortcuts import get_object_or_404
from django.utils import timezone
from quillcore.facts import Act, Entry, Row, Source, compare, load_catalog
from quillcore.facts.intake import for_the_owner, from_listing, from_roll
from quillcore.papers.received import place_for
from quillcore.values import Value, shown

from goodquill.changelog.models import Kind
from goodquill.deals.incoming.receiving import Paper, put_in_package, waiting_places
from goodquill.deals.opening import OpenDeal, find_deal, only_a_deal
from goodquill.deals.requests import DealRequest
from goodquill.deals.steps import DealStep, deal_change
from goodquill.http.endpoints import Refusal
from goodquill.offices.models import User
from goodquill.runtime.services import Trouble
from goodquill.sources import clients
from goodquill.sources.attached import came_with, fetch_papers
from goodquill.sources.exports import find_file, record_of
from goodquill.sources.found import listing_found, parcel_found
from goodquill.sources.models import Comparison

if TYPE_CHECKING:
    from goodquill.http import wire


@dataclass(frozen=True)
class Wanted:
    """The home to look up: a listing number, a parcel number within a county, a row of a file, or the one
    brought in before."""

    listing: str = ""
    parcel: str = ""
    county: str = ""
    file: UUID | None = None
    row: int = 0
    again: bool = False


Records = tuple[dict[str, Any] | None, dict[str, Any] | None, list[Trouble]]


def _first(found: list[dict[str, Any]] | Trouble) -> tuple[dict[str, Any] | None, list[Trouble]]:
    """Return the first record of what a service found, or what kept it from answering."""
    return (None, [found]) if isinstance(found, Trouble) else (found[0] if found else None, [])


def _look_up(listing: str, parcel: str, county: str) -> Records:
    """Return the listing record and the roll's row for a listing number or a parcel number; one leads to
    the other."""
    record, row = None, None
    troubles: list[Trouble] = []
    if listing:
        record, troubles = _first(clients.listing_numbered(listing))
        if record is None and not troubles:
            raise Refusal(
                f"The listing service has no listing “{listing}”.",
                "Check the number, or look for the address. Nothing was changed.",
                "listing",
                404,
            )
        if record is not None:
            parcel, county = (
                parcel or str(record.get("ParcelNumber") or ""),
                county or str(record.get("CountyOrParish") or ""),
            )
    if parcel:
        row, more = _first(clients.parcels(county or "any", parcel=parcel))
        troubles = [*troubles, *more]
        if row is not None:
            parcel = str(row.get("parcel") or parcel)  # as the county writes it
        elif not more and not listing:
            raise Refusal(
                f"The tax roll has no parcel “{parcel}”.",
                "Check the number and the county. Nothing was changed.",
                "parcel",
                404,
            )
        if not listing:
            record, more = _first(clients.listings_of_parcel(parcel))
            troubles = [*troubles, *more]
    return record, row, troubles


def _facts(comparison: Comparison) -> tuple[dict[str, Value], dict[str, Value], list[str]]:
    catalog = load_catalog()
    listing, unread = from_listing(catalog, comparison.listing) if comparison.listing else ({}, [])
    roll, more = from_roll(catalog, comparison.roll) if comparison.roll else ({}, [])
    return listing, roll, [str(f) for f in (*unread, *more)]


def look(user: User, deal_id: UUID, wanted: Wanted, offer: int | None = None) -> wire.Comparison:
    """Compare what the deal holds with what the sources say.  Nothing of the deal is written."""
    deal = find_deal(user, deal_id)
    only_a_deal(deal)
    before = Comparison.objects.filter(deal=deal, accepted__isnull=False).order_by("-accepted").first()
    if wanted.again:
        wanted = _as_before(before)
    record, row, troubles, file = _records(user, wanted)
    if record is None and row is None and troubles:
        raise Refusal(" ".join(t.message for t in troubles), "Nothing was changed.", "source", 503)
    papers = clients.papers_of(str(record["ListingKey"])) if record and record.get("ListingKey") else []
    if isinstance(papers, Trouble):
        troubles, papers = [*troubles, papers], []
    comparison = Comparison.objects.create(
        deal=deal, by=user, listing=record, roll=row, papers=papers, file=file
    )
    listed, from_roll_, unread = _facts(comparison)
    opened = OpenDeal(deal, offer, reader=user)
    from_listing_, remark = for_the_owner(opened.ledger, listed)
    places = waiting_places(opened)
    names = dict(places)
    number = str(record.get("ListingId", "")) if record else ""
    here = {
        opened.forms[d.code].edition.title
        for d in opened.documents
        if d.why == came_with(number) and d.code in opened.forms
    }
    return {
        "id": comparison.pk,
        "address": _address(record, row),
        "listing": number,
        "status": str(record.get("StandardStatus", "")) if record else "",
        "parcel": str(row.get("parcel", "")) if row else "",
        "county": str(row.get("county", "")) if row else "",
        "file": comparison.file,
        "before": before.accepted if before else None,
        "rows": [_row(r) for r in compare(opened.ledger, from_listing_, from_roll_)],
        "papers": [
            {
                "key": p["key"],
                "title": p["title"],
                "place": names.get(place_for(p["title"], "", places) or "", ""),
            }
            for p in papers
            if p["title"] not in here
        ],
        "troubles": [t.message for t in troubles],
        "remark": remark,
        "unread": unread,
    }


def _address(record: dict[str, Any] | None, row: dict[str, Any] | None) -> str:
    """Return which home it is, as one says it."""
    if record is not None:
        return str(listing_found(record)["address"])
    return str(parcel_found(row)["address"]) if row is not None else ""


def _as_before(before: Comparison | None) -> Wanted:
    if before is None:
        raise Refusal("This deal has no property yet.", "Import a property first.", "again", 409)
    record, row = before.listing or {}, before.roll or {}
    return Wanted(
        str(record.get("ListingId") or ""),
        str(row.get("parcel") or record.get("ParcelNumber") or ""),
        str(row.get("county") or ""),
    )


def _records(user: User, wanted: Wanted) -> tuple[*Records, str]:
    """Return both records: from the file where one is named (its name comes last), else from the services;
    the other source is asked about the same home."""
    if wanted.file is None:
        return *_look_up(wanted.listing.strip(), wanted.parcel.strip(), wanted.county.strip()), ""
    source = find_file(user, wanted.file)
    found = dict(record_of(source, wanted.row))
    if source.kind == "listing":
        parcel = str(found.get("ParcelNumber") or "")
        row, troubles = (
            _first(clients.parcels(str(found.get("CountyOrParish") or "any"), parcel=parcel))
            if parcel
            else (None, [])
        )
        return found, row, troubles, source.name
    parcel = found.get("parcel", "")
    record, troubles = _first(clients.listings_of_parcel(parcel)) if parcel else (None, [])
    return record, found, troubles, source.name


def _row(row: Row) -> wire.Row:
    fact = load_catalog()[row.key]
    return {
        "key": row.key,
        "label": fact.label,
        "group": fact.group,
        "now": shown(row.now, fact.kind),
        "now_source": row.now_source,
        "listing": shown(row.listing, fact.kind),
        "roll": shown(row.roll, fact.kind),
        "becomes": shown(row.becomes, fact.kind),
        "becomes_source": row.becomes_source,
        "status": row.status,
        "heavy": row.heavy,
        "was": {source.value: shown(value, fact.kind) for source, value in row.was.items()},
    }


def accept(
    request: DealRequest, comparison_id: UUID, take: dict[str, str], papers: Sequence[str] = ()
) -> wire.Delta:
    """Write what a comparison showed, as one undoable change.

    Both sources' values are kept side by side; ``take`` names, for rows that are to be otherwise than
    proposed, the source to believe; ``papers`` are the keys of the attached ones that are wanted in the
    package.
    """
    comparison = get_object_or_404(Comparison, pk=comparison_id, deal=find_deal(request.user, request.deal))
    # Fetched before the deal is locked: a slow service holds up nobody else.
    fetched, troubles = fetch_papers(comparison.papers, list(papers)) if papers else ([], [])
    done = _accept(request, comparison, take, fetched)
    return done | {"said": ". ".join([done["said"], *troubles])}


@deal_change(Kind.BRING_IN)
def _accept(step: DealStep, comparison: Comparison, take: dict[str, str], papers: list[Paper]) -> None:
    listed, roll, _ = _facts(comparison)
    opened, entries = step.opened, []
    listing, _ = for_the_owner(opened.ledger, listed)
    shown_keys = {r.key for r in compare(opened.ledger, listing, roll)}
    number = str((comparison.listing or {}).get("ListingId", ""))
    parcel = str((comparison.roll or {}).get("parcel", ""))
    for source, facts, origin in ((Source.LISTING, listing, number), (Source.ROLL, roll, parcel)):
        for key, value in facts.items():
            held = opened.ledger.beside(key).get(source)
            if key in shown_keys and (held is None or held.value != value):
                entries.append(Entry(key, Act.STATE, 0, source, value, origin=origin))
    for key, name in take.items():
        if (
            key in shown_keys
            and name in ("listing", "roll")
            and key in (listing if name == "listing" else roll)
        ):
            entries.append(Entry(key, Act.CHOOSE, 0, Source(name)))
    came = [p for p in (f"listing {number}" if number else "", f"parcel {parcel}" if parcel else "") if p]
    said = [
        f"Brought in {' and '.join(came) or comparison.file}",
        *put_in_package(step, papers, came_with(number)),
    ]
    step.say(". ".join(said))
    Comparison.objects.filter(pk=comparison.pk).update(accepted=timezone.now())
    step.write(*entries)
