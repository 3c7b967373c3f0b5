"""One step of a record: begun under its sender's id, written, done, and kept with its own reversal."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any, Protocol
from uuid import UUID

from django.db import connection
from django.db.models import BooleanField
from django.db.models.expressions import RawSQL
from quillcore.facts import Entry

from goodquill.changelog.entries import Line, Place, line_of, place_of, to_core, to_row
from goodquill.changelog.models import Change, FactEntry, Kind, Record
from goodquill.changelog.parts import Part, Wanted
from goodquill.http.endpoints import Refusal, Sent
from goodquill.offices.models import User
from goodquill.storage.prepared import insert


class Opened(Protocol):
    """The record in memory that a step works on."""

    record: Record

    def kind_of(self, key: str) -> str:
        """Return the value kind of a stored key."""

    def scope_of(self, key: str) -> int | None:
        """Return the scope that lines of a stored key belong to."""

    def newest(self) -> dict[Place, Line]:
        """Return the newest lines of all scopes, by place."""

    def append(self, line: Line, core: Entry) -> None:
        """Take in a line that was just written."""


@dataclass
class Step:
    """A step being made to a record that is open and locked.

    ``moved`` are the stored keys that it wrote; ``did_parts`` whether it did anything beside lines; ``left``
    names what an undo couldn't take back; ``retried`` says that it had been made before.
    """

    opened: Any
    change: Change
    moved: set[str] = field(default_factory=set)
    did_parts: bool = False
    left: list[str] = field(default_factory=list)
    retried: bool = False
    wrote: bool = False
    _put: tuple[Any, ...] = ()

    def write(self, *entries: Entry) -> None:
        """Append entries to the record and to what is open."""
        opened: Opened = self.opened
        self.write_rows([to_row(entry, opened.kind_of, opened.scope_of(entry.key)) for entry in entries])

    def write_rows(self, rows: list[FactEntry]) -> None:
        """Append many lines, in as many statements as there are things to do: those that they replace are no
        longer newest."""
        if not rows:
            return
        opened: Opened = self.opened
        last = {place_of(row): n for n, row in enumerate(rows)}
        newest = opened.newest()
        for n, row in enumerate(rows):
            row.record_id, row.change_id = opened.record.pk, self.change.pk
            row.newest = last[place_of(row)] == n
        self._put_down()
        replaced = [newest[place].pk for place in last if place in newest]
        if replaced:
            FactEntry.objects.filter(pk__in=replaced).update(newest=False)
        insert(rows)
        for row in rows:
            line = line_of(row)
            opened.append(line, to_core(line, opened.kind_of))
            self.moved.add(row.key)
        self.wrote = True

    def do(self, part: Part, wanted: Wanted) -> None:
        """Set fields of things, and note how to set them back."""
        if wanted:
            self.note(part, part.do(self.opened.record, wanted), wanted)

    def note(self, part: Part, before: Wanted, after: Wanted) -> None:
        """Note what was done by other means: things that the step has made are such that were removed
        ``before``."""
        if after:
            self.change.did = [
                *self.change.did,
                {"part": part.name, "before": dict(before), "after": dict(after)},
            ]
            self.did_parts = True

    def say(self, said: str) -> None:
        """Say in words what the step is."""
        self.change.said = said[:300]

    def _put_down(self) -> None:
        """Insert the change before its first line, for which it has to be there; what is said or done later
        is added at the end."""
        now = (self.change.kind, self.change.said, self.change.did, self.change.undoes_id)
        if self.change._state.adding:
            insert([self.change])
        elif now != self._put:
            self.change.save(update_fields=["kind", "said", "did", "undoes"])
        self._put = now

    def keep(self) -> None:
        """Keep what was said and done.  A step that did nothing is kept for its id alone, so that History and
        undo have none to speak of."""
        did_nothing = not self.wrote and not self.did_parts
        if self.change.kind == Kind.EDIT and did_nothing:
            self.change.kind = Kind.NOTHING
        self._put_down()


def lock(record: UUID) -> None:
    """Hold a record to the end of the transaction, and number the step that is to come; two people in one
    wait for each other, and for nobody else."""
    with connection.cursor() as cursor:
        cursor.execute("UPDATE record_record SET seq = seq + 1 WHERE id = %s", [str(record)])


def unnumber(record: Record) -> None:
    """Take the number back of a step that comes to nothing."""
    record.seq -= 1
    record.save(update_fields=["seq"])


def is_known(step: UUID) -> RawSQL:
    """Return the condition that a step under that id was made before; as text, since each save asks it and
    the ORM takes as long to write it as the database to answer.  Asked while the record is locked, so that
    a repetition that arrives meanwhile waits until it can be told for one."""
    return RawSQL("EXISTS (SELECT 1 FROM record_change WHERE id = %s)", [str(step)], BooleanField())


def begun(record: Record, user: User, sent: Sent, kind: Kind, said: str = "") -> Change:
    """Return the change of a new step, under its sender's id, not yet put down; the record is locked and
    numbered."""
    return Change(
        pk=sent.id, record=record, seq=record.seq, by=user, kind=kind, said=said[:300], digest=sent.digest
    )


def made_before(record: Record, user: User, sent: Sent) -> Change:
    """Return the change that was made under that id before; anything else that is sent under it is
    refused."""
    known = Change.objects.get(pk=sent.id)
    said_otherwise = bool(sent.digest and known.digest and sent.digest != known.digest)
    if known.record_id != record.pk or known.by_id != user.pk or said_otherwise:
        raise Refusal(
            "Something else was sent under this change's id before.",
            "Reload the page; nothing was changed by this one.",
            "repeated",
            422,
        )
    return known
