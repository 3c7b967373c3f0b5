"""Edits of a deal's facts: what they come to is the core's to say; here it is kept."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING
from uuid import UUID

from quillcore.facts import load_catalog
from quillcore.facts.edited import Edited
from quillcore.facts.edits import Edit, apply_edits
from quillcore.values import Fault

from goodquill.changelog.models import Clash, Draft, Kind
from goodquill.changelog.undoing import find_change, take_back
from goodquill.deals.steps import DealStep, deal_change
from goodquill.http.endpoints import Refusal

if TYPE_CHECKING:
    pass

_STATUS = {"locked": 403, "theirs": 403, "parties moved": 409}


@deal_change(Kind.EDIT)
def edit(step: DealStep, edits: Sequence[Edit]) -> None:
    """Carry out a batch of edits as one undoable step."""
    apply(step, edits)


def apply(step: DealStep, edits: Sequence[Edit]) -> None:
    """Carry out edits within a step."""
    done = apply_edits(step.opened.core_record(), edits, str(step.user.pk))
    if isinstance(done, Fault):
        raise Refusal.of(done, _STATUS.get(done.rule, 400))
    step.say(done.said)
    _keep_drafts(step, done)
    _keep_clashes(step, done)
    step.write(*done.entries)
    step.moved |= done.moved.keys()


def _keep_drafts(step: DealStep, done: Edited) -> None:
    opened = step.opened
    for key, draft in done.drafts.items():
        before = opened.drafts.pop(key, None)
        if draft is None and before is not None:
            before.delete()
        elif draft is not None:
            said = {
                "text": draft.text,
                "message": draft.message[:400],
                "mend": draft.mend[:400],
                "by": step.user,
            }
            opened.drafts[key], _ = Draft.objects.update_or_create(
                record=opened.record, scope=opened.scope_of(key), key=key, defaults=said
            )


def _keep_clashes(step: DealStep, done: Edited) -> None:
    opened, me = step.opened, step.user
    for key, clashes in done.clashes.items():
        kept = {str(c.by_id): c for c in opened.clashes.pop(key, [])}
        for clash in clashes:
            if clash.author == str(me.pk):
                said = {"text": clash.text}
                kept[clash.author], _ = Clash.objects.update_or_create(
                    record=opened.record, scope=opened.scope_of(key), key=key, by=me, defaults=said
                )
        standing = {clash.author for clash in clashes}
        for author, row in kept.items():
            if author not in standing:
                row.delete()
        if standing:
            opened.clashes[key] = [row for author, row in kept.items() if author in standing]


@deal_change(Kind.UNDO)
def undo(step: DealStep, target: UUID) -> None:
    """Take a step back, whichever offer it was made in.  ``offer`` is the one to be shown afterwards."""
    take_back(step, find_change(step.opened.record, target), load_catalog().label_of)
