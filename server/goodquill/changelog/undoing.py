"""Taking a step back: its lines, and what it did beside them."""

from __future__ import annotations

from collections.abc import Callable
from uuid import UUID

from goodquill.changelog.entries import place_of, read_lines, restoring, says_the_same, stood_before
from goodquill.changelog.models import Change, FactEntry, Kind, Record
from goodquill.changelog.parts import PARTS
from goodquill.changelog.steps import Step
from goodquill.http.endpoints import Refusal


def find_change(record: Record, target: UUID) -> Change:
    """Return a step of the record."""
    change = Change.objects.filter(pk=target, record=record).first()
    if change is None:
        raise Refusal("This change is not in this deal.", "Nothing was changed.", "undo", 404)
    if change.kind == Kind.PASSED:
        raise Refusal("Reassigning a deal can't be undone here.", "Ask your broker.", "undo", 409)
    return change


def take_back(step: Step, change: Change, label_of: Callable[[str], str]) -> None:
    """Take a change back in a step of kind UNDO: everything that nobody has touched since is restored, the
    rest is named in ``left``.  Taking an undo back is redoing."""
    _lines(step, change, label_of)
    for did in reversed(change.did):
        part = PARTS[did["part"]]
        back, left = part.undo(step.opened.record, did["before"], did["after"])
        step.note(
            part,
            {key: {name: did["after"][key][name] for name in fields} for key, fields in back.items()},
            back,
        )
        step.left += left
    redoes = change.kind == Kind.UNDO
    step.change.undoes, step.change.kind = change, Kind.REDO if redoes else Kind.UNDO
    said = change.said.partition(": ")[2] if redoes else change.said
    step.say(f"{step.change.get_kind_display()}: {said}")


def _lines(step: Step, change: Change, label_of: Callable[[str], str]) -> None:
    newest, written = step.opened.newest(), list(read_lines(FactEntry.objects.filter(change=change)))
    mine = {place_of(line): line for line in written}
    now = {place: newest[place] for place in mine}
    before = stood_before(step.opened.record, written)
    changed_since = [line.pk for place, line in now.items() if line.pk != mine[place].pk]
    by_undo = FactEntry.objects.filter(pk__in=changed_since, change__kind__in=(Kind.UNDO, Kind.REDO))
    brought_back = set(by_undo.values_list("pk", flat=True)) if changed_since else set()
    restored = []
    for place, line in now.items():
        # What a later undo brought back is as this change left it: so steps can be taken back one after the
        # other.
        untouched = line.pk == mine[place].pk or (
            line.pk in brought_back and says_the_same(line, mine[place])
        )
        if untouched:
            restored.append(restoring(line, before.get(place)))
        else:
            step.left.append(label_of(line.key))
    step.write_rows(restored)
