"""Taking a step back: its lines, and what it did beside them."""

from __future__ import annotations

from collections.abc import Callable
from uuid import UUID

from goodquill.api import Refusal
from goodquill.record.entries import place_of, restoring, says_the_same, stood_before
from goodquill.record.models import Change, FactEntry, Kind, Record
from goodquill.record.parts import PARTS
from goodquill.record.steps import Step


def find_change(record: Record, target: UUID) -> Change:
    """A step of the record."""
    change = Change.objects.filter(pk=target, record=record).first()
    if change is None:
        raise Refusal("There is no such change in this deal.", "Nothing was changed.", "undo", 404)
    return change


def take_back(step: Step, change: Change, label_of: Callable[[str], str]) -> None:
    """Take a change back in a step of kind UNDO: everything that nobody has touched since is restored, the rest is named in
    ``left``.  Taking an undo back is redoing."""
    _lines(step, change, label_of)
    for did in reversed(change.did):
        part = PARTS[did["part"]]
        back, left = part.undo(step.opened.record, did["before"], did["after"])
        step.note(part, {key: {name: did["after"][key][name] for name in fields} for key, fields in back.items()}, back)
        step.left += left
    redoes = change.kind == Kind.UNDO
    step.change.undoes, step.change.kind = change, Kind.REDO if redoes else Kind.UNDO
    said = change.said.partition(": ")[2] if redoes else change.said
    step.say(f"{step.change.get_kind_display()}: {said}")


def _lines(step: Step, change: Change, label_of: Callable[[str], str]) -> None:
    newest = step.opened.newest()
    mine = {place_of(row): row for row in FactEntry.objects.filter(change=change).order_by("pk")}
    now = {place: newest[place] for place in mine}
    before = stood_before(step.opened.record, FactEntry.objects.filter(change=change))
    others = {row.change_id for row in now.values() if row.change_id != change.pk}
    by_undo = set(Change.objects.filter(pk__in=others, kind__in=(Kind.UNDO, Kind.REDO)).values_list("pk", flat=True)) if others else set()
    restored = []
    for place, row in now.items():
        # What a later undo brought back is as this change left it: so steps can be taken back one after the other.
        as_left = row.change_id == change.pk or (row.change_id in by_undo and says_the_same(row, mine[place]))
        if as_left:
            restored.append(restoring(row, before.get(place)))
        else:
            step.left.append(label_of(row.key))
    step.write_rows(restored)
