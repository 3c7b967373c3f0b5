"""Changes made by hand on a document's pages."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from quillcore.assembly import read_change
from quillcore.assembly.markup import MOST_CHANGES
from quillcore.values import Fault

from goodquill.changelog.models import Kind
from goodquill.deals.models import Document
from goodquill.deals.opening import only_a_deal
from goodquill.deals.parts import DOCUMENTS
from goodquill.deals.steps import DealStep, deal_change
from goodquill.http.endpoints import Refusal

if TYPE_CHECKING:
    pass

_KEPT = ("id", "page", "struck", "words", "text", "at")


@deal_change(Kind.DOCUMENTS)
def change_by_hand(step: DealStep, code: str, given: dict[str, Any]) -> None:
    """Strike words out, write some in, or take such a change out again, as one undoable step.  A paper that
    came from elsewhere stays as it came: a copy of it is changed, and itself set aside."""
    only_a_deal(step.opened.deal)
    document = step.opened.document(code)
    _take_out(step, document, given["id"]) if given["op"] == "remove" else _add(step, document, given)


def _add(step: DealStep, document: Document, given: dict[str, Any]) -> None:
    form = step.opened.forms[document.code]
    row = {name: given[name] for name in _KEPT if given.get(name) not in (None, "", [])}
    change = read_change({"page": 0, **row}, form.edition)
    if isinstance(change, Fault):
        raise Refusal.of(change, 400)
    if any(kept["id"] == change.id for kept in document.by_hand):
        raise Refusal("This change was made already.", "Reload the page.", "by hand", 409)
    if len(document.by_hand) >= MOST_CHANGES:
        raise Refusal(
            f"{MOST_CHANGES} changes by hand on one paper is the limit.", "Write it again.", "by hand", 409
        )
    changed = [*document.by_hand, row]
    name = form.edition.named
    is_as_it_came = form.edition.number == "" and not document.by_hand
    if is_as_it_came:
        copy = document.like(by_hand=changed, why=f"a copy of {name}, changed by hand"[:200])
        step.add_documents([copy])
        step.do(DOCUMENTS, {document.code: {"set_aside": True}})
    else:
        step.do(DOCUMENTS, {document.code: {"by_hand": changed}})
    step.say(f"{'Struck out words' if change.struck else 'Wrote'} by hand on {name}")


def _take_out(step: DealStep, document: Document, change: str) -> None:
    left = [row for row in document.by_hand if row["id"] != change]
    if len(left) == len(document.by_hand):
        raise Refusal("This change was removed.", "Reload the paper and try again.", "by hand", 404)
    step.do(DOCUMENTS, {document.code: {"by_hand": left}})
    step.say("Removed a change by hand")
