"""The text of every blank of a package, and whether it is still unanswered."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from typing import NamedTuple

from quillcore.assembly.added_places import HandSpot
from quillcore.assembly.fixed import (
    HERE,
    FixedBlank,
    call_of,
    condition_of,
    own_labels_of,
    places_of,
    rules_of,
    spots_of,
    watchers_of,
)
from quillcore.assembly.markup import HandChange
from quillcore.facts import Group, Ledger, Source
from quillcore.facts.keys import GROUPS, document_prefix
from quillcore.forms.model import Field, Form, Meaning, OwnRemark
from quillcore.formulas import Evaluator, Held, Rule, Setting
from quillcore.pdf import Fit, fit
from quillcore.values import EMPTY, KINDS, Fault, Finding, Value, shown


@dataclass(frozen=True)
class PackageDocument:
    """One form copy in a package.  ``id`` is part of the keys of its own blanks and never changes;
    ``by_hand`` is what was changed on its pages, ``spots`` are the places put there for those who sign."""

    id: str
    form: Form
    section: str = ""
    set_aside: bool = False
    by_hand: tuple[HandChange, ...] = ()
    spots: tuple[HandSpot, ...] = ()

    @property
    def prefix(self) -> str:
        """The prefix of its own keys."""
        return document_prefix(self.id)

    def in_form(self, key: str) -> str:
        """Return a key as the form has it, whichever copy this is."""
        return HERE + key.removeprefix(self.prefix) if key.startswith(self.prefix) else key

    def in_deal(self, key: str) -> str:
        """Return the reverse: a key of the form as of this copy."""
        return self.prefix + key.removeprefix(HERE) if key.startswith(HERE) else key


class Blank(NamedTuple):
    """One field of one document as it stands.

    ``key`` is what is edited here (a shared fact, or the document's own); ``own_key`` is where a value for
    *only here* goes.  ``explained`` says of each option what it means, where the form has a table of them.
    ``state``: filled; open (wants an answer, or another one than it has); optional (may stay empty); idle
    (does not apply, or can't be told yet); theirs (only a party may answer, or it was left to them); sign.
    What does not apply prints nothing of its fact, whatever that holds, and ``quiet`` says why.
    """

    document: str
    field: Field
    meaning: Meaning
    key: str
    own_key: str
    kind: str
    options: tuple[str, ...]
    label: str
    state: str
    text: str = ""
    marked: bool = False
    source: Source | None = None
    only_here: bool = False
    missing: tuple[str, ...] = ()
    fault: Fault | None = None
    fit: Fit | None = None
    explained: Mapping[str, str] = {}
    quiet: str = ""

    @property
    def findings(self) -> tuple[Finding, ...]:
        """The remarks on its value."""
        return () if self.fault is None else (Finding.of(self.fault, self.key),)

    @property
    def overflow(self) -> bool:
        """The value is too long for its rectangle and goes to a continuation page."""
        return self.fit is not None and self.fit.overflow


STATES = {"open": "o", "filled": "f", "optional": "p", "idle": "i", "theirs": "t", "sign": "s"}
"""Each state of a blank as one letter; a capital where the value is too long for its rectangle."""


def state_letter(blank: Blank) -> str:
    """Return the blank's state as a letter."""
    letter = STATES[blank.state]
    return letter.upper() if blank.overflow else letter


_LEAST_POINTER = 4.0
"""Points: a pointer in the narrowest blank is small rather than nowhere; what it points to never is."""


class Package:
    """Documents over one ledger.  ``expected`` is what papers are called that are still to come, a form's
    number first.  ``fitted`` counts the values set in their blanks: what a change cost."""

    def __init__(
        self,
        documents: Sequence[PackageDocument],
        ledger: Ledger,
        setting: Setting | None = None,
        expected: Iterable[str] = (),
    ) -> None:
        documents = [replace(d, form=d.form.seen_from(ledger.side)) for d in documents]
        self.documents = documents
        self.by_id = {d.id: d for d in documents}
        self.catalog = ledger.catalog
        rules = [rule for d in documents for rule in rules_of(d.form, d.id, ledger.catalog)]
        at_hand = [d.form.edition.number for d in self.leaving]
        to_come = [title.split()[0] for title in expected if title.strip()]
        self.sheet = Evaluator(ledger, setting, rules, [*at_hand, *to_come])
        self.fitted = 0
        self._copies: dict[tuple[int, str], tuple[Rule, Rule]] = {}
        """Conditions of forms, by their identity and the copy, and as that copy has them."""

    @property
    def leaving(self) -> list[PackageDocument]:
        """The documents that aren't set aside: what leaves the house."""
        return [d for d in self.documents if not d.set_aside]

    def blanks(self, documents: Iterable[PackageDocument] | None = None) -> Iterator[Blank]:
        """Yield all blanks in reading order, of all documents or of those named."""
        for document in self.documents if documents is None else documents:
            yield from self._of(document)

    def affected(
        self, stale: set[str], overflowing: Mapping[str, Sequence[int]] | None = None
    ) -> list[Blank]:
        """Return only the blanks that show, or depend on, one of the stale keys. Continuation entries are
        numbered over a whole document: where one moves, the blanks that overflow are returned too.
        ``overflowing`` names them, by document, as places in reading order; without it they are looked
        for."""
        out: list[Blank] = []
        for document in self.documents:
            watchers = watchers_of(document.form, self.catalog)
            keys = {document.in_form(key) for key in stale}
            places = set().union(*(watchers[key] for key in keys & watchers.keys()))
            if places:
                before = None if overflowing is None else overflowing.get(document.id, ())
                out += self._moved(document, places, before)
        return out

    def _moved(
        self, document: PackageDocument, places: set[int], before: Sequence[int] | None
    ) -> list[Blank]:
        """Return the blanks at some places, and where one overflows all that do; ``before`` names those
        that did."""
        spots = spots_of(document.form, self.catalog)
        wanted = sorted(places.union(before or ()))
        found = self._read(document, [spots[n] for n in wanted])
        if before is None and any(b.overflow for b in found):
            wanted = list(range(len(spots)))
            found = self._read(document, spots)
        return [b for n, b in zip(wanted, self._numbered(found), strict=True) if n in places or b.overflow]

    def keys_of(self, document: PackageDocument) -> Iterable[str]:
        """Return the keys that a document's blanks show, its own among them."""
        return (document.in_deal(key) for key in watchers_of(document.form, self.catalog))

    def conditions_of(self, key: str) -> list[Rule | None]:
        """Return when each blank that shows a key applies; None for one that always does."""
        return [
            self._in_copy(document, spot.relevant) if spot.relevant is not None else None
            for document in self.documents
            for spot in self._showing(document, key)
        ]

    def _showing(self, document: PackageDocument, key: str) -> Iterator[FixedBlank]:
        """Yield the spots of a document that show a key."""
        spots = spots_of(document.form, self.catalog)
        named = document.in_form(key)
        for place in sorted(watchers_of(document.form, self.catalog).get(named, ())):
            if (spots[place].fact or HERE + spots[place].own) == named:
                yield spots[place]

    def is_asked(self, key: str) -> bool:
        """Return whether a key has a say here: not where blanks show it and none of them applies."""
        conditions = self.conditions_of(key)
        return not conditions or any(c is None or self.sheet.test(c.tree) is not False for c in conditions)

    def place_of(self, blank: Blank) -> int:
        """Return the place of a blank's field in its document, in reading order, from 0."""
        return places_of(self.by_id[blank.document].form)[blank.field.id]

    def _of(self, document: PackageDocument) -> list[Blank]:
        return self._numbered(self._read(document, spots_of(document.form, self.catalog)))

    def _numbered(self, blanks: list[Blank]) -> list[Blank]:
        """Give overflowing blanks the number of the continuation entry that has their text; one of names
        prints as many as fit before."""
        if not any(blank.fit is not None and blank.fit.overflow for blank in blanks):
            return blanks
        out, count = [], 0
        for blank in blanks:
            if blank.overflow:
                count += 1
                note = self._pointer(blank, f"see continuation {count}")
                blank = blank._replace(fit=replace(note, overflow=True))
            out.append(blank)
        return out

    def _pointer(self, blank: Blank, see: str) -> Fit:
        """Return what an overflowing blank prints in place of its text."""
        group = next((g for g in Group if g.names == blank.key), None)
        names = [party.name for party in self.sheet.parties(group) if party.name] if group else []
        for fit_in in range(len(names) - 1, 0, -1):
            text = f"{', '.join(names[:fit_in])} and {len(names) - fit_in} more, {see}"
            if not (found := fit(text, blank.field.frame)).overflow:
                return found
        return fit(see, blank.field.frame._replace(least=_LEAST_POINTER))

    def _read(self, document: PackageDocument, spots: Iterable[FixedBlank]) -> list[Blank]:
        """Return the spots as they stand; a one-of group without an answer, or with one of which it has no
        box, is asked for once, at its first box.  Nothing is asked for on a form that facts rule out."""
        seen: set[str] = set()
        prefix = document.prefix
        out = [self._blank(document, spot, prefix) for spot in spots]
        called = document.form.mapping.called
        if called is not None and self.is_called_for(document.form) is False:
            why = f"This form does not apply: {called.unless}."
            return [b._replace(state="idle", quiet=why) if b.state == "open" else b for b in out]
        unboxed = self._unboxed(out)
        for n, blank in enumerate(out):
            if blank.field.shape == "box" and (blank.state == "open" or blank.key in unboxed):
                is_first = blank.key not in seen
                seen.add(blank.key)
                fault = self._no_box(blank) if is_first and blank.key in unboxed else None
                out[n] = blank._replace(state="open" if is_first else "optional", fault=fault)
        return out

    def own_remarks(self, document: PackageDocument) -> Iterator[OwnRemark]:
        """Yield what the form remarks on, of what holds now."""
        for remark in document.form.mapping.remarks:
            if self._holds(document, condition_of(remark.when, document.form, self.catalog)):
                yield remark

    def is_called_for(self, form: Form) -> bool | None:
        """Return whether facts call for a form (True), rule it out (False), or don't tell yet."""
        call = call_of(form, self.catalog)
        return self.sheet.test(call.tree) if call is not None else None

    def _unboxed(self, blanks: Iterable[Blank]) -> set[str]:
        """Return the keys that have an answer of which none of their boxes is marked.  A yes or no that
        only one box asks for is answered by leaving it."""
        marks: dict[str, bool] = {}
        for blank in blanks:
            is_a_box = blank.field.shape == "box" and blank.meaning.value is not None
            if is_a_box and blank.kind != "yes_no" and blank.state == "filled":
                is_answer = blank.marked or self._value(blank) is EMPTY
                marks[blank.key] = marks.get(blank.key, False) or is_answer
        return {key for key, is_marked in marks.items() if not is_marked}

    def _value(self, blank: Blank) -> Value | None:
        return self.sheet.held(blank.own_key if blank.only_here else blank.key).value

    def _no_box(self, blank: Blank) -> Fault:
        value = self._value(blank)
        return Fault(
            "no box",
            f"{blank.label} is “{shown(value, blank.kind)}”, but this form has no such box.",
            "Choose one of its boxes, here or on every form.",
            blank.key,
        )

    def _holds(self, document: PackageDocument, condition: Rule) -> bool | None:
        """Return what a form's condition gives in one of its copies; None where that can't be told yet."""
        return self.sheet.test(self._in_copy(document, condition).tree)

    def _in_copy(self, document: PackageDocument, condition: Rule) -> Rule:
        """Return a form's condition as one of its copies has it; the same object each time, which is how
        the sheet knows what it gave."""
        known = self._copies.get((id(condition), document.id))
        if known is None:
            moved = condition.moved(HERE, document.prefix)
            known = self._copies[id(condition), document.id] = condition, moved
        return known[1]

    def _blank(self, document: PackageDocument, spot: FixedBlank, prefix: str) -> Blank:
        """Return one field as it stands now."""
        f, m, own_key = spot.field, spot.meaning, prefix + spot.own
        key = spot.fact or own_key
        known = (document.id, f, m, key, own_key, spot.kind, spot.options, spot.label)
        applies = True if spot.relevant is None else self._holds(document, spot.relevant)
        if applies is False:
            text = m.otherwise if f.shape == "text" else ""
            fitted = fit(text, f.frame) if text else None
            return Blank(
                *known, state="idle", text=text, fit=fitted, quiet=self._why_not(document, spot.relevant)
            )
        if m.sign is not None:
            return Blank(*known, "sign")
        has_own = key != own_key and self.sheet.ledger.speaks_of(own_key)
        own = self.sheet.held(own_key) if has_own else None
        only_here = own is not None and own.value is not None
        held = own if own is not None and only_here else self.sheet.held(key)
        if m.default is not None and (held.value is None or held.source is Source.WORKED_OUT):
            value = KINDS[spot.kind].read(m.default, spot.options)
            held = held if isinstance(value, Fault) else Held(value, Source.FORM)
        state = "filled" if held.value is not None else self._unanswered(document, spot, applies)
        if state in ("open", "optional") and self._is_left(key, own_key):
            state = "theirs"
        text, marked, fitted = "", False, None
        if held.value is not None and f.shape == "box":
            marked = held.value is not EMPTY and self._is_marked(m, held.value)
        elif held.value is not None:
            text = m.empty_text if held.value is EMPTY else KINDS[spot.kind].in_blank(held.value)
            fitted = fit(text, f.frame)
            self.fitted += 1
        fault = held.fault or (self._out_of_order(key, held.value) if isinstance(held.value, date) else None)
        made = Blank(*known, state, text, marked, held.source, only_here, held.missing, fault, fitted)
        return self._with_choices(document, made) if m.choices else made

    def _is_left(self, *keys: str) -> bool:
        """Return whether the answer to one of the keys was left to the client."""
        left = self.sheet.ledger.left
        return bool(left) and any(self.sheet.ledger.stored_key(key) in left for key in keys)

    def _why_not(self, document: PackageDocument, condition: Rule | None) -> str:
        """Return why a field does not apply, by what its condition looks at."""
        reads = self._in_copy(document, condition).reads if condition is not None else ()
        said = [self._said(document, key) for key in sorted(reads)]
        return f"Does not apply here, where {' and '.join(said)}." if said else "Does not apply here."

    def _said(self, document: PackageDocument, key: str) -> str:
        """Return a key with what it holds, in words."""
        fact = self.catalog.find(key)
        own = document.in_form(key).removeprefix(HERE)
        label = fact.label if fact is not None else own_labels_of(document.form, self.catalog).get(own, own)
        kind = fact.kind if fact is not None else document.form.mapping.own_kinds.get(own, "text")
        value = None if key in GROUPS else self.sheet.held(key).value
        return f"“{label}” is {shown(value, kind).lower() or 'open'}"

    def _out_of_order(self, key: str, day: date) -> Fault | None:
        """Return what is wrong with a day that can't be before another, and is."""
        fact = self.catalog.find(key)
        early = fact.not_before if fact is not None else None
        before = self.sheet.held(early).value if early is not None else None
        if fact is None or early is None or not isinstance(before, date) or day >= before:
            return None
        first = f"{self.catalog.label_of(early).lower()}, {before:%B} {before.day}, {before.year}"
        return Fault("order", f"{fact.label} is before {first}.", "Check both days.", key)

    def _with_choices(self, document: PackageDocument, blank: Blank) -> Blank:
        """Return the blank with the values its table allows now; one that it doesn't allow is shown, and
        called into question."""
        table = document.form.mapping.choices[blank.meaning.choices or ""]
        on = self.sheet.held(table.depends).value if table.depends else None
        allowed = table.allowed(on if isinstance(on, str) else None)
        fault = blank.fault
        if blank.text and allowed and blank.text not in allowed and blank.text != blank.meaning.empty_text:
            where = f" where {self.catalog[table.depends].label.lower()} is {on}" if table.depends else ""
            fault = Fault(
                "choice",
                f"“{blank.text}” is not one of the choices{where}.",
                f"Choose one of: {', '.join(allowed)}.",
                blank.key,
            )
        missing = (table.depends,) if table.depends and on is None and not blank.text else blank.missing
        state = "open" if fault is not None and fault is not blank.fault else blank.state
        return blank._replace(
            state=state, options=tuple(allowed), explained=allowed, fault=fault, missing=missing
        )

    @staticmethod
    def _is_marked(m: Meaning, value: Value) -> bool:
        if isinstance(value, bool):
            return value is (m.value is None or m.value == "yes")
        return value == m.value

    def _unanswered(self, document: PackageDocument, spot: FixedBlank, applies: bool | None) -> str:
        m = spot.meaning
        if applies is not True:
            return "idle"
        if m.who is not None:
            return "theirs"
        if m.group is not None and m.value is None and m.required == "always":
            return "optional"  # a lone box that isn't ticked is an answer too
        if spot.required is None:
            return "open" if m.required == "always" else "optional"
        return "open" if self._holds(document, spot.required) else "optional"
