"""The deal as screens get it: whole when it is opened, only the moved parts after a change."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Mapping
from datetime import date
from functools import lru_cache
from typing import TYPE_CHECKING, Any, cast

from quillcore.assembly import Blank, PackageDocument
from quillcore.facts import Fact, Group, Source, Stated, load_catalog
from quillcore.facts.owners import read_owners
from quillcore.facts.parties import PARTY_FIELDS, Party, shared_emails
from quillcore.facts.wording import labelled, wording_of
from quillcore.forms import Form
from quillcore.formulas import Held
from quillcore.packs.releases import retired_edition
from quillcore.tasks import KeyDate, Progress, Urgency, next_date, urgency
from quillcore.values import EMPTY, Finding, editable, shown
from quillcore.values.clock import today

from goodquill.changelog.models import Draft
from goodquill.deals import blank_status
from goodquill.deals.document_payload import documents_of
from goodquill.deals.models import Deal, Offer
from goodquill.deals.opening import OpenDeal
from goodquill.deals.pending_and_undo import NextSteps, own_steps, waiting_rows
from goodquill.forms.catalog import catalog_digest
from goodquill.forms.queries import retirements

if TYPE_CHECKING:
    from goodquill.http import wire


def offer_row(offer: Offer) -> wire.Offer:
    """Return an offer as it is chosen among others."""
    return {
        "id": offer.pk,
        "name": offer.name,
        "parties": offer.parties,
        "outcome": offer.outcome,
        "in_force": offer.in_force,
    }


def deal_head(opened: OpenDeal, next_steps: NextSteps | None = None) -> wire.Head:
    """Return the slim header's content.  ``next_steps`` is what undo and redo would take, where that is
    known."""
    deal, summary = opened.deal, opened.deal.summary
    if next_steps is None and opened.reader is not None:
        next_steps = own_steps(deal, opened.reader)
    undo, redo = next_steps or (None, None)
    return {
        "catalog": catalog_digest(),
        "client_group": opened.side.clients,
        "undo": undo,
        "redo": redo,
        "waiting": waiting_rows(opened),
        "name_typed": deal.name_typed,
        "id": deal.pk,
        "name": deal.name,
        "side": deal.side,
        "stage": deal.stage,
        "seq": opened.record.seq,
        "open": summary.get("open", 0),
        "agent": deal.owner.name,
        "association": deal.release.association,
        "released": deal.release.released,
        "next": _next(deal),
        "late": _late(deal),
        "offer": opened.offer.pk,
        "offers": [offer_row(o) for o in opened.kept.offers],
    }


def deal_row(deal: Deal) -> wire.DealRow:
    """Return a deal as lists show it."""
    s = deal.summary
    return {
        "id": deal.pk,
        "name": deal.name,
        "side": deal.side,
        "stage": deal.stage,
        "agent": deal.owner.name,
        "address": s.get("address", ""),
        "price": s.get("price", ""),
        "priced": s.get("priced", ""),
        "open": s.get("open", 0),
        "blanks": s.get("blanks", 0),
        "map": s.get("map", []),
        "next": _next(deal),
        "touched": deal.touched,
        "touched_by": s.get("by", ""),
    }


def _next(deal: Deal) -> wire.NextDate | None:
    """Return what is due next, for whoever looks; nothing of a deal that asks for nothing any more."""
    if deal.is_over:
        return None
    dates = [KeyDate(date.fromisoformat(day), label) for day, label in deal.summary.get("dates", ())]
    found = next_date(dates, today())
    return {"label": found.label, "date": found.day} if found else None


def _late(deal: Deal) -> int:
    """Return how many tasks should have been done before today."""
    days = [date.fromisoformat(day) for day, _ in deal.summary.get("dates", ())]
    return sum(urgency(Progress.TO_DO, day, today()) is Urgency.LATE for day in days)


def earlier(deal: Deal) -> wire.Link | None:
    """Return the deal that handed on to this one."""
    return {"id": deal.before.pk, "name": deal.before.name} if deal.before else None


def facts_of(opened: OpenDeal, keys: Iterable[str] | None = None) -> list[wire.Fact]:
    """Return facts in catalog order (those that this side of a deal has to do with, that are on a form or
    have a value, and every party's fields), or those of them that are named."""
    catalog, counts = load_catalog(), place_counts(opened)
    parties = [
        g.key(n, field)
        for g in Group
        for n in range(1, len(opened.ledger.parties(g)) + 1)
        for field in PARTY_FIELDS
    ]
    chosen = None if keys is None else set(keys)
    asked = (
        list(catalog)
        if chosen is None
        else [catalog[key] for key in sorted(catalog.facts.keys() & chosen, key=catalog.place)]
    )
    shown = [f.key for f in asked if _is_shown(opened, f, counts)]
    rows = [*shown, *(key for key in parties if chosen is None or key in chosen)]
    return [fact_row(opened, catalog[key], key, counts.get(key, 0)) for key in rows]


def _is_shown(opened: OpenDeal, fact: Fact, counts: Mapping[str, int]) -> bool:
    """Return whether this side of a deal has to do with a fact, or it is on a form or has a value."""
    if fact.key == "deal.side":
        return False
    return load_catalog().belongs(fact.group, opened.side) or bool(
        counts.get(fact.key) or opened.ledger.beside(fact.key)
    )


def place_counts(opened: OpenDeal) -> Counter[str]:
    """Return to how many blanks each fact goes."""
    return _counted(tuple(opened.forms.values()))


@lru_cache(maxsize=256)
def _counted(forms: tuple[Form, ...]) -> Counter[str]:
    return sum((form.mapping.fact_counts for form in forms), Counter())


def fact_row(opened: OpenDeal, fact: Fact, key: str, places: int) -> wire.Fact:
    """Return one fact as it stands, with what differs beside it; nothing of what is as usual, and of what the
    catalog says."""
    stored = opened.ledger.stored_key(key) or key
    held: Held = opened.package.sheet.held(key)
    is_spoken_of = _is_spoken_of(opened, stored)
    if held == (None, None, (key,), None) and not is_spoken_of:
        return {"key": key, "places": places} if places else {"key": key}
    text, edit = shown(held.value, fact.kind), editable(held.value, fact.kind)
    said: dict[str, object] = {
        "shown": text,
        "edit": edit if edit != text else "",
        "source": held.source,
        "places": places,
        "missing": held.missing if held.missing != (key,) else (),
        "findings": finding_rows((Finding.of(held.fault, key),)) if held.fault else [],
    }
    if is_spoken_of:
        said |= _what_was_stated(opened, fact, key, stored, held.source)
    return cast("wire.Fact", {"key": key} | {name: what for name, what in said.items() if what})


def _what_was_stated(
    opened: OpenDeal, fact: Fact, key: str, stored: str, source: Source | None
) -> dict[str, object]:
    """Return what each source says of a fact, and what waits there."""
    beside = opened.ledger.beside(stored)
    stated = [s for s in beside.values() if s.source is not Source.PROFILE or len(beside) > 1]
    in_force = opened.ledger.in_force(stored)
    draft = opened.drafts.get(stored)
    is_formula = opened.deal.template_id and not wording_of(in_force)
    formula = in_force.formula if in_force and is_formula else None
    said = {
        "version": opened.version(stored),
        "differs": opened.ledger.differs(stored),
        "locked": bool(in_force and in_force.locked),
        "left": stored in opened.ledger.left,
        "beside": beside_rows(stated, fact.kind) if len(stated) > 1 else [],
        "replaced": replaced(opened, key, fact.kind) if source in _TYPED_OVER else "",
        "draft": draft_row(draft) if draft else None,
        "clashes": clash_rows(opened, stored),
    }
    return said | {"edit": f"= {formula}"} if formula else said


def _is_spoken_of(opened: OpenDeal, stored: str) -> bool:
    """Return whether anything was ever stated under a key, or waits there."""
    return opened.ledger.speaks_of(stored) or stored in opened.drafts or stored in opened.clashes


_TYPED_OVER = (Source.TYPED, Source.SIGNER)


def beside_rows(stated: Iterable[Stated], kind: str) -> list[wire.Beside]:
    """Return what each source says."""
    return [
        {"source": s.source, "shown": _stated(s, kind), "origin": "" if wording_of(s) else s.origin}
        for s in stated
    ]


def _stated(stated: Stated, kind: str) -> str:
    return labelled(wording_of(stated), load_catalog()) or stated.formula or shown(stated.value, kind)


def replaced(opened: OpenDeal, key: str, kind: str) -> str:
    """Return what would be worked out, if nothing had been stated."""
    sheet = opened.package.sheet
    return shown(sheet.worked_out(key).value, kind) if key in sheet.rules else ""


def clash_rows(opened: OpenDeal, stored: str) -> list[wire.Clash]:
    """Return what others typed into a key at the same time; ``mine`` where the reader did."""
    clashes = opened.clashes.get(stored)
    if not clashes:
        return []
    mine = opened.reader.pk if opened.reader is not None else None
    return [{"text": c.text, "by": c.by.name, "mine": c.by_id == mine} for c in clashes]


def blank_row(opened: OpenDeal, blank: Blank, place: int) -> wire.Blank:
    """Return what is to be said of one blank beyond what its form fixes: nothing of what is as usual, see
    ``BlankSerializer``."""
    stored = opened.ledger.stored_key(blank.own_key if blank.only_here else blank.key) or ""
    said: dict[str, object] = {"version": opened.version(stored or blank.key), "quiet": blank.quiet}
    if blank.fit is not None or blank.source is not None or blank.marked:
        said |= _what_stands(blank)
    if blank.missing or blank.fault is not None or blank.explained or _is_spoken_of(opened, stored):
        said |= _what_is_said(opened, blank, stored)
    always = {"document": blank.document, "place": place, "state": blank.state}
    return cast("wire.Blank", always | {name: what for name, what in said.items() if what})


def _what_stands(blank: Blank) -> dict[str, object]:
    """Return what a blank shows."""
    return {
        "text": blank.text,
        "marked": blank.marked,
        "source": blank.source,
        "only_here": blank.only_here,
        "overflow": blank.overflow,
        "set": _set(blank),
        "size": blank.fit.size if blank.fit and blank.fit.size != blank.field.usual_size else None,
    }


def _what_is_said(opened: OpenDeal, blank: Blank, stored: str) -> dict[str, object]:
    """Return what is said of what a blank shows, or doesn't."""
    draft = opened.drafts.get(stored)
    return {
        "waits_for": blank.missing if blank.missing != (blank.key,) else (),
        "findings": finding_rows(blank.findings),
        "draft": draft_row(draft) if draft else None,
        "clashes": clash_rows(opened, stored),
        "explained": blank.explained or None,
    }


def _set(blank: Blank) -> list[list[Any]]:
    """Return the set lines: [x, baseline y, text], the text left out where it is all of it."""
    if blank.fit is None:
        return []
    lines = [(round(line.x, 2), round(line.y, 2), line.text) for line in blank.fit.lines]
    return [[x, y] if text == blank.text else [x, y, text] for x, y, text in lines]


def blank_rows(opened: OpenDeal, blanks: Iterable[Blank]) -> list[wire.Blank]:
    """Return the rows of some blanks."""
    return [blank_row(opened, blank, opened.package.place_of(blank)) for blank in blanks]


def telling_rows(opened: OpenDeal, blanks: Iterable[Blank]) -> list[wire.Blank]:
    """Return, of all blanks, the rows that say more than the letter of a blank's state does."""
    telling = [blank for blank in blanks if _tells(opened, blank)]
    return [row for row in blank_rows(opened, telling) if len(row) > 3]


def _tells(opened: OpenDeal, blank: Blank) -> bool:
    """Return whether something is to be said of a blank; quick where nothing is, as of most in a new deal."""
    holds = blank.source is not None or blank.fit is not None or blank.fault is not None
    explains = blank.quiet or blank.explained or blank.marked
    waits = blank.missing not in ((), (blank.key,))
    if holds or explains or waits:
        return True
    key = blank.own_key if blank.only_here else blank.key
    stored = opened.ledger.stored_key(key)
    return opened.version(blank.key) > 0 if stored is None else _is_spoken_of(opened, stored)


def finding_rows(findings: Iterable[Finding]) -> list[wire.Finding]:
    """Return what is remarked on, as screens tell it."""
    return [
        {"rule": f.rule, "weight": f.weight, "place": f.place, "message": f.message, "mend": f.mend}
        for f in findings
    ]


def draft_row(draft: Draft) -> wire.Draft:
    """Return what was typed and can't be read."""
    return {"text": draft.text, "message": draft.message, "mend": draft.mend}


def parties_of(opened: OpenDeal) -> dict[str, list[wire.Party]]:
    """Return each group's parties in order, by stable id, with the name that forms print."""
    sheet = opened.package.sheet
    ids = {g: sheet.ledger.parties(g) for g in Group}
    every = {g.key(n, "email"): sheet.party(g, n) for g in Group for n in range(1, len(ids[g]) + 1)}
    shared = shared_emails(every)
    return {
        g: [
            party_row(i, every[key], shared.get(key))
            for n, i in enumerate(ids[g], 1)
            for key in (g.key(n, "email"),)
        ]
        for g in Group
    }


def party_row(party: str, who: Party, finding: Finding | None) -> wire.Party:
    """Return one party, by its id."""
    return {
        "id": party,
        "name": who.name,
        "initials": who.initials,
        "is_entity": who.is_entity,
        "findings": finding_rows([finding] if finding else []),
    }


def suggested(opened: OpenDeal) -> list[wire.Suggested]:
    """Return the recorded owners as parties to be confirmed, as long as nobody is named on the owners' side;
    after that those whom the roll has without a name, as long as they are missing."""
    sheet = opened.package.sheet
    group = opened.side.owners
    recorded = sheet.held("tax.owners").value
    if not isinstance(recorded, str):
        return []
    owners, already = read_owners(recorded), len(sheet.ledger.parties(group))
    if already:
        owners = [owner for owner in owners if not owner.name] if already < len(owners) else []
    mailing = sheet.held("tax.mailing_address").value
    rows: list[wire.Suggested] = []
    for owner in owners:
        said = {"given": owner.given, "middle": owner.middle, "family": owner.family, "suffix": owner.suffix}
        if owner.kind == "entity":
            said = {"kind": "entity", "entity_name": owner.name, "entity_kind": owner.entity_kind}
        if owner.capacity:
            said["capacity"] = owner.capacity.partition(" of ")[0]
            said["entity_name"] = owner.capacity.partition(" of ")[2]
        said["mailing_address"] = mailing if isinstance(mailing, str) else ""
        fields = {field: text for field, text in said.items() if text}
        rows.append(
            {
                "group": group,
                "recorded": recorded,
                "name": owner.name,
                "capacity": owner.capacity,
                "confidence": owner.confidence,
                "findings": finding_rows(owner.findings),
                "fields": fields,
            }
        )
    return rows


def whole(opened: OpenDeal) -> wire.Deal:
    """Return everything a screen needs on opening a deal."""
    blanks = list(opened.package.blanks())
    blank_status.read_states(opened, blanks)
    return {
        "head": deal_head(opened),
        "documents": documents_of(opened),
        "blanks": telling_rows(opened, blanks),
        "clients": [{"id": c.pk, "name": c.name} for c in opened.deal.clients.all()],
        "earlier": earlier(opened.deal),
        "facts": facts_of(opened),
        "parties": parties_of(opened),
        "suggested": suggested(opened),
        "findings": finding_rows(retired_editions(opened)),
    }


def retired_editions(opened: OpenDeal) -> list[Finding]:
    """Return the remarks on documents whose editions a newer release has retired."""
    return [retired_edition(code, since) for code, since in retired_since(opened).items()]


def retired_since(opened: OpenDeal) -> dict[str, date]:
    """Return, by document, the day since when a newer release has retired its edition."""
    since = retirements(opened.deal.owner, {f.edition_hash for f in opened.forms.values()})
    return {
        code: since[form.edition_hash] for code, form in opened.forms.items() if form.edition_hash in since
    }


def _waiting_elsewhere(opened: OpenDeal) -> int:
    """Return how many things wait that no blank of the package shows."""
    if not opened.waiting:
        return 0
    keys = (key for d in opened.package.documents for key in opened.package.keys_of(d))
    return len(opened.waiting - {opened.ledger.stored_key(key) for key in keys})


def summarise(opened: OpenDeal, whole: bool, by: str) -> None:
    """Store what lists show, from how the offer's blanks stand; ``whole`` where documents changed,
    ``by`` whoever changed it.  The caller saves the deal."""
    sheet = opened.package.sheet
    agreed = opened.offer.outcome == "accepted" and not opened.side.is_lease
    priced = "terms.purchase_price" if agreed else opened.side.price
    price, address = sheet.held(priced).value, sheet.held("property.one_line").value
    leaving = opened.package.leaving
    open_by = blank_status.count_open(opened)
    drawn = _map(opened, leaving) if whole or opened.moved_letters else {}
    said = {
        "open": sum(open_by[d.id] for d in leaving) + _waiting_elsewhere(opened),
        "address": address if isinstance(address, str) else "",
        "price": shown(price, "money"),
        "priced": load_catalog()[priced].label if price is not EMPTY else "",
        "by": by,
    }
    opened.deal.summary = opened.deal.summary | drawn | said


def _map(opened: OpenDeal, leaving: Iterable[PackageDocument]) -> dict[str, Any]:
    """Return the map of the documents that leave, and how many blanks and pages they have."""
    letters = blank_status.letters_of(opened)
    pages = [page for d in leaving for page in blank_status.page_map(d.form, letters[d.id])]
    return {
        "blanks": sum(blank_status.count_blanks(d.form) for d in leaving),
        "pages": len(pages),
        "map": pages,
    }
