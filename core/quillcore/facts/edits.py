"""Edits to a record of facts: a text typed, pasted, taken back or chosen, a party added or moved.

``apply_edits`` is given a record and edits, and gives the entries to append, the texts that can't be read and
the clashes, or the fault for which nothing happens.  Whoever keeps the record locks it, writes what came out,
and answers.
"""

from __future__ import annotations

import enum
from collections.abc import Sequence
from dataclasses import dataclass, replace

from quillcore.facts.edited import EditClash, EditDraft, Edited, EditedRecord, TemplateMode, Vocabulary
from quillcore.facts.keys import GROUPS, MOST_PARTIES, is_party_id, party_list
from quillcore.facts.ledger import Act, Entry, Source, Stated
from quillcore.facts.parties import is_derived
from quillcore.facts.pasting import parts_of_line, spread
from quillcore.facts.wording import (
    TEXTS,
    Parts,
    WordingPart,
    formula_of,
    origin_with,
    put_between,
    read_wording,
    said,
    set_apart,
    typed_over,
    wording_of,
)
from quillcore.values import EMPTY, KINDS, Fault, Value, read_answer

MOST_TEXT = 20_000
"""Characters of a text that can't be read and is kept all the same: a pasted page has 4,000."""


class Op(enum.StrEnum):
    """The operation on a key.

    ``type`` and ``paste`` state what ``text`` says (nothing: ``clear``); ``insert`` puts the wording that
    ``text`` is between ``before`` and ``behind``; ``clear`` takes back what was typed; ``empty`` answers
    "none"; ``leave`` leaves the answer to the client; ``choose`` believes ``source`` (none: as ranked);
    ``drop`` lets a text that can't be read go, ``keep`` what others typed at the same time.  In a template
    ``lock`` makes an answer beat what is typed in deals, ``unlock`` no longer.  For a group of parties:
    ``party_add`` and ``party_remove`` one, ``party_order`` as ``text`` lists them.
    """

    TYPE = "type"
    PASTE = "paste"
    INSERT = "insert"
    CLEAR = "clear"
    EMPTY = "empty"
    LEAVE = "leave"
    CHOOSE = "choose"
    DROP = "drop"
    KEEP = "keep"
    LOCK = "lock"
    UNLOCK = "unlock"
    PARTY_ADD = "party_add"
    PARTY_REMOVE = "party_remove"
    PARTY_ORDER = "party_order"


@dataclass(frozen=True)
class Edit:
    """One edit of a key, as the screen names it.  ``based_on`` is the version it was made from; None for the
    one at hand.  A wording that is inserted may name the clause it is of."""

    op: Op
    key: str
    text: str = ""
    source: str = ""
    party: str = ""
    based_on: int | None = None
    before: str = ""
    behind: str = ""
    clause: str = ""


class _Refused(Exception):
    """Carries the fault for which nothing happens out of a batch; never leaves this module."""

    def __init__(self, fault: Fault) -> None:
        super().__init__(str(fault))
        self.fault = fault


def apply_edits(record: EditedRecord, edits: Sequence[Edit], author: str) -> Edited | Fault:
    """Carry edits out, one after the other; a fault, where one can't be, is that of the whole batch."""
    hand = _Hand(record, author)
    try:
        for edit in edits:
            hand.carry_out(edit)
    except _Refused as refused:
        return refused.fault
    catalog = record.ledger.catalog
    hand.done.said = hand.done.said or ", ".join(dict.fromkeys(catalog.label_of(e.key) for e in edits))
    return hand.done


def reads_as(vocabulary: Vocabulary, key: str, text: str) -> Value | Fault:
    """Return the value that a text states under a stored key; one that can't be is a fault."""
    read = read_answer(text, vocabulary.kind_of(key), vocabulary.options_of(key))
    return read if isinstance(read, Fault) else vocabulary.beyond(key, read) or read


class _Hand:
    """The hand that carries out one batch."""

    def __init__(self, record: EditedRecord, author: str) -> None:
        self.record, self.author, self.done = record, author, Edited()
        self.ledger, self.vocabulary = record.ledger, record.vocabulary
        self.order = max(record.versions.values(), default=0)

    def carry_out(self, edit: Edit) -> None:
        """Carry out one edit."""
        getattr(self, f"_{edit.op.value}")(edit)

    # Of one key

    def _type(self, edit: Edit) -> None:
        if not edit.text.strip():
            self._clear(edit)
            return
        key = self._open_key(edit.key)
        if self._is_stale(key, edit):
            return
        if self.record.standing is not None and edit.text.lstrip().startswith("="):
            self._formula(key, edit.text.strip(), self.record.standing)
            return
        if self.record.standing is None and (parts := parts_of_line(key, edit.text, self._is_known)):
            self._state_parts(key, parts)
            return
        read = reads_as(self.vocabulary, key, edit.text)
        if isinstance(read, Fault):
            self._wait(key, EditDraft(edit.text[:MOST_TEXT], read.message, read.mend))
            return
        self._forget_draft(key)
        self._settle(key, read)
        stands = self.ledger.in_force(key)
        if self._type_over(key, stands, read):
            return
        is_ours = stands is not None and stands.source is self.record.source and stands.formula is None
        if not (is_ours and stands is not None and stands.value == read):
            self._write(Entry(key, Act.STATE, 0, self.record.source, read, locked=self._is_locked(key)))

    def _type_over(self, key: str, stands: Stated | None, read: Value) -> bool:
        """Type over a wording: the facts that the typing left alone go on following; return whether any
        does."""
        parts = wording_of(stands)
        if stands is None or not parts or not isinstance(read, str):
            return False
        left = typed_over(self._read(parts), read)
        if not any(part.key for part in left):
            return False
        if left != parts or stands.source is not self.record.source:
            self._write_wording(key, left, stands.origin)
        return True

    def _read(self, parts: Parts) -> list[tuple[WordingPart, str]]:
        """Return the parts of a wording, each with how it reads now."""
        return [(part, said(part, self.record.shows, self.ledger.catalog)) for part in parts]

    def _insert(self, edit: Edit) -> None:
        key = self._open_key(edit.key)
        kind = self.vocabulary.kind_of(key)
        if kind not in TEXTS:
            raise _Refused(
                Fault("wording", f"{self._label(key)} doesn't take a clause.", "Put it in a text blank.")
            )
        more = read_wording(edit.text, self.ledger.catalog)
        if isinstance(more, Fault):
            raise _Refused(more)
        before, behind = set_apart(edit.before, edit.behind, " " if kind == "text" else "\n")
        whole = before + "".join(reads for _, reads in self._read(more)) + behind
        if self._is_stale(key, replace(edit, text=whole)):
            return
        if isinstance(fault := reads_as(self.vocabulary, key, whole), Fault):
            raise _Refused(fault)
        self._forget_draft(key)
        self._settle(key)
        stands = self.ledger.in_force(key)
        there = wording_of(stands)
        around = typed_over(self._read(there), before + behind)
        parts = put_between(self._read(around), len(before), more)
        of = stands.origin if stands is not None and there else ""
        self._write_wording(key, parts, origin_with(of, edit.clause))
        self.done.said = f"A clause in {self._label(key)}"

    def _write_wording(self, key: str, parts: Parts, origin: str) -> None:
        said = Entry(key, Act.FORMULA, 0, self.record.source, formula=formula_of(parts), origin=origin)
        self._write(replace(said, locked=self._is_locked(key)))

    def _is_known(self, key: str) -> bool:
        return self.ledger.in_force(key) is not None

    def _state_parts(self, line: str, parts: Sequence[tuple[str, str]]) -> None:
        """State the parts that a line is worked out from, in place of the line."""
        self._forget_draft(line)
        self._settle(line)
        if self.record.source in self.ledger.beside(line):
            self._write(Entry(line, Act.CLEAR, 0, self.record.source))
        for key, text in parts:
            self._type(Edit(Op.TYPE, key, text))

    def _formula(self, key: str, text: str, standing: TemplateMode) -> None:
        fault = standing.check(key, text[1:].strip())
        if fault is not None:
            self._wait(key, EditDraft(text[:MOST_TEXT], fault.message, fault.mend))
            return
        self._forget_draft(key)
        formula = Entry(key, Act.FORMULA, 0, self.record.source, formula=text[1:].strip())
        self._write(replace(formula, locked=self._is_locked(key)))

    def _is_locked(self, key: str) -> bool:
        stands = self.ledger.beside(key).get(self.record.source)
        return stands is not None and stands.locked

    def _lock(self, edit: Edit) -> None:
        self._set_lock(edit, locked=True)

    def _unlock(self, edit: Edit) -> None:
        self._set_lock(edit, locked=False)

    def _set_lock(self, edit: Edit, *, locked: bool) -> None:
        standing = self.record.standing
        if standing is None or not standing.may_lock:
            raise _Refused(
                Fault("locked", "Only the broker locks answers, and only in templates.", "Ask the broker.")
            )
        key = self._known_key(edit.key)
        stands = self.ledger.beside(key).get(self.record.source)
        if stands is None:
            raise _Refused(Fault("locked", f"{self._label(key)} has no answer to lock.", "Enter one first."))
        act = Act.STATE if stands.formula is None else Act.FORMULA
        self._write(Entry(key, act, 0, stands.source, stands.value, stands.formula, stands.origin, locked))

    def _paste(self, edit: Edit) -> None:
        catalog = self.ledger.catalog
        stated = spread(catalog, edit.key, edit.text)
        for key, text in stated:
            self._type(Edit(Op.TYPE, key, text, based_on=edit.based_on if key == edit.key else None))
        if len(stated) > 1:
            self.done.said = f"Pasted {', '.join(catalog.label_of(key) for key, _ in stated)}"

    def _clear(self, edit: Edit) -> None:
        """Clear an answer. An unreadable text goes alone, and the value before it stays in force."""
        key = self._open_key(edit.key)
        if self._forget_draft(key) or self._is_stale(key, edit):
            return
        if self.record.source in self.ledger.beside(key) or key in self.ledger.left:
            self._write(Entry(key, Act.CLEAR, 0, self.record.source))

    def _empty(self, edit: Edit) -> None:
        key = self._open_key(edit.key)
        if not self._is_stale(key, edit):
            self._forget_draft(key)
            self._write(Entry(key, Act.STATE, 0, self.record.source, EMPTY))

    def _leave(self, edit: Edit) -> None:
        key = self._open_key(edit.key)
        if self.record.standing is not None:
            raise _Refused(
                Fault("leave", "A template leaves its unanswered blanks to each deal.", "Leave it blank.")
            )
        if not self._is_stale(key, edit):
            self._forget_draft(key)
            self._write(Entry(key, Act.LEAVE, 0, Source.TYPED))

    def _choose(self, edit: Edit) -> None:
        key = self._open_key(edit.key)
        source = next((s for s in Source if s.value == edit.source), None)
        if edit.source and source not in self.ledger.beside(key):
            raise _Refused(
                Fault("source", f"{self._label(key)} has no value from that source.", "Reload the page.")
            )
        self._forget_draft(key)
        self._write(Entry(key, Act.CHOOSE, 0, source))

    def _drop(self, edit: Edit) -> None:
        self._forget_draft(self._known_key(edit.key))

    def _keep(self, edit: Edit) -> None:
        self._settle(self._known_key(edit.key))

    # Of a group of parties

    def _party_add(self, edit: Edit) -> None:
        ids = self._parties(edit.key)
        if not is_party_id(edit.party):
            raise _Refused(
                Fault("party", "A party needs an id of 4 to 12 letters and digits.", "Reload the page.")
            )
        if len(ids) >= MOST_PARTIES:
            raise _Refused(Fault("party", f"A side can have {MOST_PARTIES} parties at most."))
        if edit.party not in ids:
            self._write(parties_are(edit.key, [*ids, edit.party]))

    def _party_remove(self, edit: Edit) -> None:
        ids = self._parties(edit.key)
        if edit.party in ids:
            self._write(parties_are(edit.key, [i for i in ids if i != edit.party]))

    def _party_order(self, edit: Edit) -> None:
        ids, wanted = self._parties(edit.key), edit.text.split(",")
        if sorted(ids) != sorted(wanted):
            raise _Refused(
                Fault(
                    "parties moved",
                    "Someone changed the parties.",
                    "Nothing was changed. Reload and try again.",
                )
            )
        self._write(parties_are(edit.key, wanted))

    def _parties(self, group: str) -> list[str]:
        if group not in GROUPS:
            raise _Refused(Fault("party", f"“{group}” is not a group of parties."))
        if self.record.standing is not None:
            raise _Refused(Fault("party", "A template has no parties.", "Enter the parties in each deal."))
        return self.ledger.parties(group)

    # What they share

    def _known_key(self, key: str) -> str:
        """Return the stored key of one that a screen names."""
        if is_derived(key):
            raise _Refused(
                Fault(
                    "parties", "Names come from the parties.", "Change the party itself; every form follows."
                )
            )
        found = self.ledger.stored_key(key)
        if found is None or not self.vocabulary.knows(found):
            raise _Refused(
                Fault(
                    "unknown key",
                    f"There is no “{key}” in this deal.",
                    "Nothing was changed. Reload the page.",
                )
            )
        return found

    def _open_key(self, key: str) -> str:
        """Return the same, if the agent may answer it."""
        found = self._known_key(key)
        stands = self.ledger.in_force(found)
        is_open_to_us = self.record.standing is not None and self.record.standing.may_lock
        if stands is not None and stands.locked and not is_open_to_us:
            raise _Refused(
                Fault(
                    "locked",
                    f"{self._label(found)} is locked by the brokerage.",
                    "Ask the managing broker to unlock it.",
                )
            )
        if (who := self.vocabulary.only_answered_by(found)) is not None:
            raise _Refused(
                Fault(
                    "theirs",
                    f"Only {who.replace('.', ' ')} may answer this.",
                    "Nothing was changed. It stays for them to answer.",
                )
            )
        return found

    def _is_stale(self, key: str, edit: Edit) -> bool:
        """Return whether somebody else changed the key since the edit was begun.  If to something else, it
        becomes a clash: its author's only one, since what an author types later stands for what was typed
        before."""
        waiting = self._clashes(key)
        others = [c for c in waiting if c.author != self.author]
        made_here = key in self.done.moved and key not in self.done.clashes
        is_older = edit.based_on is not None and self.record.versions.get(key, 0) > edit.based_on
        is_stale = is_older and not made_here
        mine = (
            [EditClash(edit.text[:MOST_TEXT], self.author)]
            if is_stale and self._is_otherwise(key, edit)
            else []
        )
        if mine or len(others) < len(waiting):
            self._disagree(key, (*others, *mine))
        return is_stale

    def _is_otherwise(self, key: str, edit: Edit) -> bool:
        """Return whether an edit says something else than what stands."""
        stands = self.record.shows(edit.key)
        nothing_either_way = not edit.text.strip() and stands is None
        return not nothing_either_way and not self._says(key, edit.text, stands)

    def _says(self, key: str, text: str, value: Value | None) -> bool:
        """Return whether a text says a value."""
        if not text.strip() or value is None:
            return False
        said = reads_as(self.vocabulary, key, text)
        if isinstance(said, Fault) or EMPTY in (said, value):
            return said is value
        return KINDS[self.vocabulary.kind_of(key)].same(said, value)

    def _write(self, entry: Entry) -> None:
        self.order += 1
        self.ledger.add(replace(entry, order=self.order))
        self.done.entries.append(entry)
        self.done.moved[entry.key] = None

    def _wait(self, key: str, draft: EditDraft) -> None:
        self.done.drafts[key] = draft
        self.done.moved[key] = None

    def _forget_draft(self, key: str) -> bool:
        """Forget what couldn't be read; whether there was such."""
        waits = self.done.drafts.get(key, self.record.drafts.get(key))
        if waits is None:
            return False
        self.done.drafts[key] = None
        self.done.moved[key] = None
        return True

    def _clashes(self, key: str) -> Sequence[EditClash]:
        return self.done.clashes.get(key, self.record.clashes.get(key, ()))

    def _disagree(self, key: str, clashes: Sequence[EditClash]) -> None:
        self.done.clashes[key] = tuple(clashes)
        self.done.moved[key] = None

    def _settle(self, key: str, chosen: Value | None = None) -> None:
        """Forget the clashes that say just what was chosen; without ``chosen`` all of the key's."""
        waiting = self._clashes(key)
        left = [c for c in waiting if chosen is not None and not self._says(key, c.text, chosen)]
        if len(left) < len(waiting):
            self._disagree(key, left)

    def _label(self, key: str) -> str:
        return self.ledger.catalog.label_of(key)


def parties_are(group: str, ids: Sequence[str]) -> Entry:
    """Return the entry that states a group's parties, in order; that of none takes the statement back."""
    if not ids:
        return Entry(group, Act.CLEAR, 0, Source.TYPED)
    return Entry(group, Act.STATE, 0, Source.TYPED, party_list(ids))
