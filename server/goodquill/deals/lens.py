"""One fact under the lens: where it came from, where it goes, who changed it."""

from __future__ import annotations

from typing import Any

from quillcore.facts import Fact, Source, load_catalog
from quillcore.facts.keys import OwnKey, own_key
from quillcore.facts.parties import is_derived
from quillcore.values import KINDS

from goodquill.deals.opening import OpenDeal
from goodquill.deals.payload import fact_row, place_counts
from goodquill.deals.words import shown
from goodquill.record.models import FactEntry

MOST_LINES = 30


def look(opened: OpenDeal, key: str) -> dict[str, Any]:
    """Everything about the fact, or about a document's own blank, of that shown key."""
    stored = key if is_derived(key) else opened.stored(key)
    sheet, kind = opened.package.sheet, opened.kind_of(stored)
    fact = load_catalog().find(key)
    if fact is None:
        fact = Fact(key=key, kind=kind, label=_own_label(opened, key), options=opened.vocabulary.options_of(key))
    held = sheet.held(key)
    row = fact_row(opened, fact, key, place_counts(opened).get(key, 0))
    beside = [{"source": s.source, "shown": s.formula or shown(s.value, kind), "origin": s.origin} for s in opened.ledger.beside(stored).values()]
    worked = sheet.worked_out(key) if held.source is not Source.WORKED_OUT else None
    lines = (
        FactEntry.objects.filter(record=opened.record, key=stored, scope=opened.scope_of(stored))
        .select_related("change__by")
        .order_by("-pk")[:MOST_LINES]
    )
    return {
        "fact": row,
        "beside": beside,
        "replaced": shown(worked.value, kind) if worked else "",
        "reads": _reads(opened, key) if held.source is Source.WORKED_OUT or held.value is None else [],
        "history": [_line(line, kind) for line in lines],
        "places": places(opened, key),
    }


def _reads(opened: OpenDeal, key: str) -> list[str]:
    """The facts that the key is worked out from, those that are known first."""
    rule = opened.package.sheet.rules.get(key)
    read = sorted(rule.reads) if rule else []
    return sorted(read, key=lambda k: opened.package.sheet.held(k).value is None)


def _own_label(opened: OpenDeal, key: str) -> str:
    own = own_key(key)
    assert own is not None, key
    form = opened.forms.get(own.document)
    meaning = form.mapping.by_id.get(own.name) if form is not None else None
    return (meaning.label if meaning else "") or own.name.replace("-", " ").capitalize()


def _line(line: FactEntry, kind: str) -> dict[str, Any]:
    value = shown(KINDS[kind].restore(line.value), kind) if line.act == "state" else line.value
    return {"at": line.change.at, "by": line.change.by.name, "source": line.source, "act": line.act, "shown": value, "origin": line.origin}


def places(opened: OpenDeal, key: str) -> list[dict[str, Any]]:
    """Every blank that the key goes to, in the package's order."""
    found = []
    for d in opened.documents:
        form = opened.forms.get(d.code)
        for f, m in form.pairs() if form else ():
            if m.fact == key or key in (str(OwnKey(d.code, m.id)), str(OwnKey(d.code, m.group or m.id))):
                found.append({"document": d.code, "number": form.edition.number, "field": f.id, "page": f.page, "label": m.value or m.label or f.id})
    return found
