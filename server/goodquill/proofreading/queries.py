"""A deal's package read once more."""

from __future__ import annotations

import hashlib
from typing import TYPE_CHECKING

from quillcore.proofreading import Came, Expected, Mend, Newer, Proof, Remark, RemarkWeight, proofread
from quillcore.values.clock import today

from goodquill.clauses.queries import changed_since
from goodquill.clauses.uses import ClauseRef, ref_to, refs_in
from goodquill.deals.hooks import AGREED
from goodquill.deals.opening import OpenDeal
from goodquill.deals.payload import retired_since
from goodquill.forms.queries import forms_of
from goodquill.proofreading.models import Reason
from goodquill.templates.queries import forms_named

if TYPE_CHECKING:
    from goodquill.http import wire

MOST_TOLD = 300
"""Remarks that are listed: a package with more of them isn't read, but filled."""


def proof_of(opened: OpenDeal) -> wire.Proof:
    """Return the remarks with what was left and why.  Five queries beyond opening, six with clauses."""
    remarks = read_proof(opened)
    left = _left(opened)
    rows = [_row(opened, remark, left.get(mark_of(remark))) for remark in remarks]
    must = [row for row in rows if row["weight"] == RemarkWeight.MUST and row["left"] is None]
    return {"ready": not must, "remarks": rows[:MOST_TOLD]}


def read_proof(opened: OpenDeal) -> list[Remark]:
    """Return the remarks themselves."""
    expected = [
        Expected(d.expected, d.expected_from)
        for d in opened.documents
        if d.expected and d.edition_id is None and not d.set_aside
    ]
    available = forms_of(forms_named(opened.deal.release_id, opened.deal.brokerage_id).values())
    assert opened.reader is not None
    newer = {
        ref_to(v): Newer(v.clause.name, v.wording, v.clause.wording, ref_to(v.clause))
        for v in changed_since(opened.reader, _clauses_in(opened))
    }
    came = [
        Came(opened.forms[d.code].edition.title, d.code, d.came["open"])
        for d in opened.documents
        if d.came.get("open") and d.code in opened.forms and not d.set_aside
    ]
    agreed = [one for ask in AGREED for one in ask(opened)]
    retired = retired_since(opened)
    return proofread(Proof(opened.package, today(), expected, retired, available, newer, came, agreed))


def _clauses_in(opened: OpenDeal) -> list[ClauseRef]:
    """Return the versions of clauses that stand in the deal."""
    return [ref for row in opened.rows if row.act == "formula" for ref in refs_in(row.origin)]


def mark_of(remark: Remark) -> str:
    """Return what a remark is known by: all that it says."""
    said = "\n".join((remark.rule, remark.key, remark.document, remark.message))
    return hashlib.sha256(said.encode()).hexdigest()


def _left(opened: OpenDeal) -> dict[str, Reason]:
    rows = Reason.objects.filter(deal=opened.deal).select_related("by").order_by("pk")
    newest = {row.mark: row for row in rows}
    return {mark: row for mark, row in newest.items() if row.reason}


def _row(opened: OpenDeal, remark: Remark, left: Reason | None) -> wire.Remark:
    form = opened.forms.get(remark.document)
    return {
        "mark": mark_of(remark),
        "rule": remark.rule,
        "weight": remark.weight,
        "message": remark.message,
        "mend": remark.mend,
        "key": remark.key,
        "document": remark.document,
        "field": remark.field,
        "place": form.edition.named if form is not None else "",
        "does": _mend(remark.does) if remark.does is not None else None,
        "left": {"reason": left.reason, "by": left.by.name, "at": left.at} if left is not None else None,
    }


def _mend(does: Mend) -> wire.Mend:
    return {
        "says": does.says,
        "key": does.key,
        "text": does.text,
        "add": does.add,
        "aside": does.aside,
        "clause": does.clause,
    }
