"""What the screens are told of a deal: whole when it is opened, only what moved after a change."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from quillcore.assembly import Blank
from quillcore.facts import PARTY_GROUPS, Fact, Source, load_catalog
from quillcore.facts.owners import read_owners
from quillcore.facts.parties import PARTY_FIELDS, is_derived, joined, shared_emails
from quillcore.formulas import Held

from goodquill.deals.models import Deal, Document, Offer
from goodquill.deals.opening import OpenDeal
from goodquill.deals.standing import own_steps, waiting_rows
from goodquill.deals.words import editable, shown
from goodquill.forms.queries import retirements


def offer_row(offer: Offer) -> dict[str, Any]:
    """An offer as it is chosen among others."""
    return {"id": offer.pk, "name": offer.name, "parties": offer.parties, "outcome": offer.outcome, "in_force": offer.in_force}


def deal_head(opened: OpenDeal) -> dict[str, Any]:
    """The slim header's content."""
    deal, summary = opened.deal, opened.deal.summary
    undo, redo = own_steps(deal, opened.reader) if opened.reader is not None else (None, None)
    return {
        "undo": undo, "redo": redo, "waiting": waiting_rows(opened), "name_typed": deal.name_typed,
        "id": deal.pk, "name": deal.name, "side": deal.side, "stage": deal.stage, "seq": deal.seq, "open": summary.get("open", 0),
        "agent": deal.owner.name, "association": deal.release.association, "released": deal.release.released, "offer": opened.offer.pk,
        "offers": [offer_row(o) for o in opened.kept.offers],
    }  # fmt: skip


def earlier(deal: Deal) -> dict[str, Any] | None:
    """The deal that handed on to this one."""
    return {"id": deal.before.pk, "name": deal.before.name} if deal.before else None


def facts_of(opened: OpenDeal, keys: Iterable[str] | None = None) -> list[dict[str, Any]]:
    """Facts in catalog order (those that this side of a deal has to do with, that are on a form or have a value, and every
    party's fields), or those of them that are named."""
    catalog = load_catalog()
    counts, side = place_counts(opened), opened.deal.side
    wanted = [
        f.key for f in catalog if f.key != "deal.side" and (catalog.belongs(f.group, side) or counts.get(f.key) or opened.ledger.beside(f.key))
    ] + [f"{g}.{n}.{field}" for g in PARTY_GROUPS for n in range(1, len(opened.package.sheet.party_ids(g)) + 1) for field in PARTY_FIELDS]
    if keys is not None:
        chosen = set(keys)
        wanted = [k for k in wanted if k in chosen]
    return [fact_row(opened, catalog[key], key, counts.get(key, 0)) for key in wanted]


def place_counts(opened: OpenDeal) -> dict[str, int]:
    """To how many blanks each fact goes."""
    counts: dict[str, int] = {}
    for form in opened.forms.values():
        for m in form.mapping.meanings:
            if m.fact is not None:
                counts[m.fact] = counts.get(m.fact, 0) + 1
    return counts


def fact_row(opened: OpenDeal, fact: Fact, key: str, places: int) -> dict[str, Any]:
    """One fact as it stands, with what differs beside it."""
    sheet = opened.package.sheet
    stored = sheet.stored_key(key) or key
    held: Held = sheet.held(key)
    differs = opened.ledger.differs(stored)
    beside = opened.ledger.beside(stored)
    stated = [s for s in beside.values() if s.source is not Source.PROFILE or len(beside) > 1]
    draft = opened.drafts.get(stored)
    in_force = opened.ledger.in_force(stored)
    return {
        "key": key, "group": key.split(".", 1)[0], "label": fact.label, "kind": fact.kind, "options": fact.options, "help": fact.help,
        "example": fact.example, "shown": shown(held.value, fact.kind), "edit": editable(held.value, fact.kind), "source": held.source,
        "version": opened.version(stored), "places": places, "missing": held.missing, "differs": differs,
        "locked": bool(in_force and in_force.locked), "worked_out": fact.formula is not None or is_derived(key),
        "fault": str(held.fault) if held.fault else "",
        "beside": [{"source": s.source, "shown": s.formula or shown(s.value, fact.kind), "origin": s.origin} for s in stated] if len(stated) > 1 else [],
        "draft": {"text": draft.text, "message": draft.message, "mend": draft.mend} if draft else None,
        "clashes": clash_rows(opened, stored),
    }  # fmt: skip


def clash_rows(opened: OpenDeal, stored: str) -> list[dict[str, Any]]:
    """What others typed into a key at the same time; ``mine`` where the reader did."""
    mine = opened.reader.pk if opened.reader is not None else None
    return [{"text": c.text, "by": c.by.name, "mine": c.by_id == mine} for c in opened.clashes.get(stored, [])]


def blank_row(opened: OpenDeal, blank: Blank) -> dict[str, Any]:
    """One blank as the paper draws it: rectangle in points, set lines with their baselines, how it is edited."""
    f, m = blank.field, blank.meaning
    stored = opened.package.sheet.stored_key(blank.own_key if blank.only_here else blank.key)
    draft = opened.drafts.get(stored or "")
    return {
        "document": blank.document, "field": f.id, "page": f.page, "rect": f.rect, "shape": f.shape, "lines": f.lines, "align": f.align,
        "key": blank.key, "own_key": blank.own_key, "kind": blank.kind, "options": blank.options, "value": m.value or "",
        "label": blank.label, "help": m.help, "explained": dict(blank.explained), "state": blank.state, "text": blank.text, "marked": blank.marked, "source": blank.source,
        "only_here": blank.only_here, "overflow": blank.overflow, "role": m.role or m.who or "", "sign": m.sign or "",
        "version": opened.version(stored or blank.key), "size": blank.fit.size if blank.fit else min(f.size, (f.rect[3] - f.rect[1]) / f.lines),
        "set": [[line.x, line.y, line.text] for line in blank.fit.lines] if blank.fit else [],
        "waits_for": blank.missing if blank.missing != (blank.key,) else (), "fault": str(blank.fault) if blank.fault else "",
        "draft": {"text": draft.text, "message": draft.message, "mend": draft.mend} if draft else None,
        "clashes": clash_rows(opened, stored or ""),
        "editable": f.shape != "sign" and not m.who and not is_derived(blank.key),
    }  # fmt: skip


def document_row(
    document: Document, form_title: str, number: str, pages: int, open_count: int, blanks: int, edition: str, released: str, **more: Any
) -> dict[str, Any]:
    """One item of the package."""
    return {
        "id": document.code, "number": number, "title": form_title, "section": document.section, "pages": pages, "open": open_count, "blanks": blanks,
        "edition": edition, "released": released, "why": document.why, "expected_from": document.expected_from, "set_aside": document.set_aside, "ours": True, "audience": [], "sizes": [], **more,
    }  # fmt: skip


def documents_of(opened: OpenDeal, blanks: list[Blank]) -> list[dict[str, Any]]:
    """The package in order, expected papers included."""
    open_by, all_by = count_open(opened, blanks), count_blanks(blanks)
    rows = []
    for d in opened.documents:
        form = opened.forms.get(d.code)
        if form is None:
            rows.append(document_row(d, d.expected, "", 0, 0, 0, "", ""))
            continue
        e = form.edition
        rows.append(
            document_row(
                d,
                e.title,
                e.number,
                e.pages,
                open_by.get(d.code, 0),
                all_by.get(d.code, 0),
                form.edition_hash,
                e.released.isoformat(),
                ours=e.is_ours(opened.deal.side),
                audience=list(e.audience),
                sizes=[list(s) for s in e.sizes],
            )
        )
    return rows


def is_open(opened: OpenDeal, blank: Blank) -> bool:
    """Whether a blank asks for something: it has no answer, or what was typed for it waits for somebody."""
    if blank.state == "open" or not opened.waiting or blank.field.shape == "sign":
        return blank.state == "open"
    return opened.package.sheet.stored_key(blank.own_key if blank.only_here else blank.key) in opened.waiting


def count_open(opened: OpenDeal, blanks: Iterable[Blank]) -> dict[str, int]:
    """Open blanks by document."""
    counts: dict[str, int] = {}
    for b in blanks:
        if is_open(opened, b):
            counts[b.document] = counts.get(b.document, 0) + 1
    return counts


def count_blanks(blanks: Iterable[Blank]) -> dict[str, int]:
    """Blanks (sign spots apart) by document."""
    counts: dict[str, int] = {}
    for b in blanks:
        if b.field.shape != "sign":
            counts[b.document] = counts.get(b.document, 0) + 1
    return counts


def parties_of(opened: OpenDeal) -> dict[str, list[dict[str, str]]]:
    """Each group's parties in order, by stable id, with the name that forms print; ``shares`` names those of the same e-mail."""
    sheet = opened.package.sheet
    every = {i: sheet.party(g, n) for g in PARTY_GROUPS for n, i in enumerate(sheet.party_ids(g), 1)}
    shares = shared_emails(every)
    return {
        g: [{"id": i, "name": every[i].name, "shares": joined([every[o].name for o in shares.get(i, [])])} for i in sheet.party_ids(g)]
        for g in PARTY_GROUPS
    }


def suggested(opened: OpenDeal) -> list[dict[str, Any]]:
    """The recorded owners as parties to be confirmed, as long as nobody is named on the owners' side."""
    sheet = opened.package.sheet
    group = "landlords" if opened.deal.side in ("leasing out", "renting") else "sellers"
    recorded = sheet.held("tax.owners").value
    if sheet.party_ids(group) or not isinstance(recorded, str):
        return []
    rows = []
    for owner in read_owners(recorded):
        said = {"given": owner.given, "middle": owner.middle, "family": owner.family, "suffix": owner.suffix}
        if owner.kind == "entity":
            said = {"kind": "entity", "entity_name": owner.name, "entity_kind": owner.entity_kind}
        if owner.capacity:
            said["capacity"] = owner.capacity.partition(" of ")[0]
            said["entity_name"] = owner.capacity.partition(" of ")[2]
        fields = {field: text for field, text in said.items() if text}
        rows.append(
            {
                "group": group,
                "recorded": recorded,
                "name": owner.name,
                "capacity": owner.capacity,
                "confidence": owner.confidence,
                "ask": owner.ask or "",
                "fields": fields,
            }
        )
    return rows


def whole(opened: OpenDeal) -> dict[str, Any]:
    """Everything a screen needs on opening a deal."""
    blanks = list(opened.package.blanks())
    return {
        "head": deal_head(opened), "documents": documents_of(opened, blanks), "blanks": [blank_row(opened, b) for b in blanks],
        "clients": [{"id": c.pk, "name": c.name} for c in opened.deal.clients.all()], "earlier": earlier(opened.deal), "facts": facts_of(opened), "parties": parties_of(opened), "suggested": suggested(opened), "groups": load_catalog().groups,
        "retired": retirements(opened.deal.owner, {f.edition_hash for f in opened.forms.values()}),
    }  # fmt: skip


_DIGITS = "0123456789abcdefghijklmnopqrstuvwxyz"


def tick(blank: Blank) -> str:
    """A blank in the stored map: left, top and width in 36ths of a letter page as one digit of base 36 each, then
    o (open) or f (filled); "" for others."""
    if blank.state not in ("open", "filled"):
        return ""
    left, _, right, top = blank.field.rect
    spots = (left / 612, 1 - top / 792, (right - left) / 612)
    return "".join(_DIGITS[max(0, min(35, round(36 * s)))] for s in spots) + blank.state[0]


def _waiting_elsewhere(opened: OpenDeal, blanks: Iterable[Blank]) -> int:
    """How many things wait that no blank of the package shows."""
    if not opened.waiting:
        return 0
    sheet = opened.package.sheet
    return len(opened.waiting - {sheet.stored_key(key) for b in blanks for key in (b.key, b.own_key)})


def summarise(opened: OpenDeal, every: Iterable[Blank]) -> None:
    """Store what lists show, from every blank of the package.  The caller saves the deal."""
    blanks = [b for b in every if not opened.package.by_id[b.document].set_aside]
    sheet = opened.package.sheet
    pages = []
    for document in opened.package.documents:
        if document.set_aside:
            continue
        for number in range(1, document.form.edition.pages + 1):
            pages.append("".join(tick(b) for b in blanks if b.document == document.id and b.field.page == number))
    price, address = sheet.held("terms.purchase_price").value, sheet.held("property.one_line").value
    closing = sheet.held("terms.closing_date").value
    opened.deal.summary = {
        "open": sum(is_open(opened, b) for b in blanks) + _waiting_elsewhere(opened, blanks), "blanks": sum(b.field.shape != "sign" for b in blanks), "pages": len(pages), "map": pages,
        "address": address if isinstance(address, str) else "", "price": shown(price, "money"),
        "next": {"label": "Closing", "date": closing.isoformat()} if hasattr(closing, "isoformat") else None,
    }  # fmt: skip
