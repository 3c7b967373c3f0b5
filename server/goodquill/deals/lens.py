"""One fact or blank under the lens: what isn't at hand of it, for whoever asks."""

from __future__ import annotations

from typing import TYPE_CHECKING

from quillcore.facts import load_catalog
from quillcore.facts.parties import is_derived
from quillcore.facts.wording import labelled, wording_in
from quillcore.formulas.reasons import why
from quillcore.values import KINDS, shown

from goodquill.changelog.models import FactEntry
from goodquill.deals.opening import OpenDeal
from goodquill.deals.payload import beside_rows

if TYPE_CHECKING:
    from goodquill.http import wire

MOST_LINES = 30


def look(opened: OpenDeal, key: str) -> wire.Lens:
    """Return what each source says of the fact, or of a document's own blank, of that shown key; what it
    reads; and who changed it."""
    stored = key if is_derived(key) else opened.stored(key)
    kind, rule = opened.kind_of(stored), opened.package.sheet.rules.get(key)
    lines = FactEntry.objects.filter(record=opened.record, key=stored, scope=opened.scope_of(stored))
    newest = lines.select_related("change__by").order_by("-pk")[:MOST_LINES]
    return {
        "why": why(opened.package.sheet, key),
        "beside": beside_rows(opened.ledger.beside(stored).values(), kind),
        "reads": sorted(rule.reads) if rule else [],
        "history": [_line(line, kind) for line in newest],
    }


def _line(line: FactEntry, kind: str) -> wire.History:
    value = shown(KINDS[kind].restore(line.value), kind) if line.act == "state" else line.value
    if wording := wording_in(line.value if line.act == "formula" else ""):
        value = labelled(wording, load_catalog())
    return {
        "at": line.change.at,
        "by": line.change.by.name,
        "source": line.source,
        "act": line.act,
        "shown": value,
        "origin": "" if wording else line.origin,
    }
