"""What every blank of a package shows, and whether it still wants an answer."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

from quillcore.facts import Catalog, Ledger, Source
from quillcore.forms.model import Field, Form, Meaning, form_rules, own_kinds
from quillcore.formulas import Held, Node, Rule, Setting, Sheet, parse, references
from quillcore.formulas.syntax import Call, Ref
from quillcore.pdf import Fit, fit
from quillcore.values import EMPTY, KINDS, Fault, Value

STATES = ("filled", "open", "optional", "idle", "theirs", "sign")


@dataclass(frozen=True)
class Document:
    """One form copy in a package.  ``id`` is part of the keys of its own blanks and never changes."""

    id: str
    form: Form
    section: str = ""
    set_aside: bool = False

    @property
    def prefix(self) -> str:
        """What its own keys begin with."""
        return f"doc.{self.id}."


@dataclass(frozen=True)
class Blank:
    """One field of one document as it stands.

    ``key`` is what is edited here (a shared fact, or the document's own); ``own_key`` is where a
    value for *only here* goes.  ``state``: filled; open (wants an answer); optional (may stay
    empty); idle (does not apply, or can't be told yet); theirs (only a party may answer); sign.
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

    @property
    def overflow(self) -> bool:
        """The value is too long for its rectangle and goes to a continuation page."""
        return self.fit is not None and self.fit.overflow


@lru_cache(maxsize=4096)
def _rules(form_key: str, prefix: str, form: _Hashed) -> tuple[Rule, ...]:
    rules, faults = form_rules(form.form.mapping, form.catalog, prefix[4:-1])
    assert not faults, faults  # a pack with faults is never read
    return tuple(rules)


class _Hashed:
    """A form wrapped for the cache: known by its key, not compared."""

    def __init__(self, form: Form, catalog: Catalog) -> None:
        self.form, self.catalog = form, catalog

    def __hash__(self) -> int:
        return 0

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Hashed)


@lru_cache(maxsize=8192)
def _condition(text: str, prefix: str) -> Node:
    """A checked expression with the form's own names made keys of one document."""
    tree = parse(text)
    assert not isinstance(tree, Fault)

    def renamed(node: Node) -> Node:
        if isinstance(node, Ref) and node.key.startswith("form."):
            return Ref(node.column, prefix + node.key[5:])
        if isinstance(node, Call):
            return Call(node.column, node.name, tuple(renamed(a) for a in node.args))
        return node

    return renamed(tree)


class Package:
    """Documents over one ledger.  ``fitted`` counts the values set in their blanks: what a change cost."""

    def __init__(self, documents: Sequence[Document], ledger: Ledger, setting: Setting | None = None) -> None:
        self.documents = documents
        self.by_id = {d.id: d for d in documents}
        self.catalog = ledger.catalog
        rules = [
            rule for d in documents for rule in _rules(d.form.edition_hash + d.form.mapping.digest_cached, d.prefix, _Hashed(d.form, ledger.catalog))
        ]
        self.sheet = Sheet(ledger, setting, rules)
        self.fitted = 0

    def blanks(self, documents: Iterable[Document] | None = None) -> Iterator[Blank]:
        """All blanks in reading order, of all documents or of those named."""
        for document in self.documents if documents is None else documents:
            yield from self._of(document)

    def affected(self, stale: set[str]) -> list[Blank]:
        """Only the blanks that show, or depend on, one of the stale keys."""
        out: list[Blank] = []
        for document in self.documents:
            wanted = [pair for pair in document.form.pairs() if self._watches(document, pair[1]) & stale]
            out += self._group_openness(document, wanted)
            if any(b.overflow for b in out if b.document == document.id):
                out = [b for b in out if b.document != document.id] + [
                    b for b in self._of(document) if b.overflow or any(w[0].id == b.field.id for w in wanted)
                ]
        return out

    def _of(self, document: Document) -> list[Blank]:
        return self._numbered(self._group_openness(document, list(document.form.pairs())))

    @staticmethod
    def _numbered(blanks: list[Blank]) -> list[Blank]:
        """Overflowing blanks say which continuation entry has their text."""
        out, count = [], 0
        for blank in blanks:
            if blank.overflow:
                count += 1
                note = fit(f"see continuation {count}", replace(blank.field.frame, least=4))
                blank = replace(blank, fit=replace(note, overflow=True))
            out.append(blank)
        return out

    def _group_openness(self, document: Document, pairs: list[tuple[Field, Meaning]]) -> list[Blank]:
        """An unanswered one-of group is open once, at its first box."""
        seen: set[str] = set()
        out = []
        for f, m in pairs:
            blank = self.blank(document, f, m)
            if f.shape == "box" and blank.state == "open":
                if blank.key in seen:
                    blank = replace(blank, state="optional")
                seen.add(blank.key)
            out.append(blank)
        return out

    def _watches(self, document: Document, m: Meaning) -> set[str]:
        keys = {self._key(document, m), self._own_key(document, m)}
        for text in (m.required, m.relevant):
            if text not in (None, "always", "never"):
                keys |= references(_condition(text, document.prefix))
        return keys

    @staticmethod
    def _key(document: Document, m: Meaning) -> str:
        if m.fact is not None:
            return m.fact
        return document.prefix + (m.group or m.id)

    @staticmethod
    def _own_key(document: Document, m: Meaning) -> str:
        return document.prefix + (m.group or (m.fact if m.value is not None and m.fact else m.id))

    def blank(self, document: Document, f: Field, m: Meaning) -> Blank:
        """One field as it stands now."""
        key, own_key = self._key(document, m), self._own_key(document, m)
        fact = self.catalog.find(m.fact) if m.fact else None
        kind = fact.kind if fact else own_kinds_cached(document.form).get(m.group or m.id, "text")
        options = fact.options if fact else m.options or self._group_options(document.form, m)
        label = m.label or (fact.label if fact else (m.group or m.id).replace("-", " ").capitalize())
        base = Blank(document.id, f, m, key, own_key, kind, options, label, "sign")
        if m.sign is not None:
            return base
        own = self.sheet.held(own_key) if own_key != key else None
        only_here = own is not None and own.value is not None
        held = own if only_here and own is not None else self.sheet.held(key)
        if m.default is not None and (held.value is None or held.source is Source.WORKED_OUT):
            value = KINDS[kind].read(m.default, options)
            held = held if isinstance(value, Fault) else Held(value, Source.FORM)
        filled = replace(base, source=held.source, only_here=only_here, missing=held.missing, fault=held.fault)
        if f.shape == "box":
            marked = held.value is not None and held.value is not EMPTY and self._is_marked(m, held.value)
            return replace(filled, marked=marked, state=self._state(document, m, held.value is not None))
        if held.value is None:
            return replace(filled, state=self._state(document, m, False))
        text = m.empty_text if held.value is EMPTY else KINDS[kind].in_blank(held.value)
        self.fitted += 1
        return replace(filled, text=text, fit=fit(text, f.frame), state=self._state(document, m, True))

    @staticmethod
    def _is_marked(m: Meaning, value: Value) -> bool:
        if isinstance(value, bool):
            return value is (m.value is None or m.value == "yes")
        return value == m.value

    @staticmethod
    def _group_options(form: Form, m: Meaning) -> tuple[str, ...]:
        if m.group is None or m.value is None:
            return ()
        return tuple(o.value for o in form.mapping.meanings if o.group == m.group and o.value is not None)

    def _state(self, document: Document, m: Meaning, answered: bool) -> str:
        if answered:
            return "filled"
        if m.relevant is not None and self.sheet.test(_condition(m.relevant, document.prefix)) is not True:
            return "idle"
        if m.who is not None:
            return "theirs"
        if m.group is not None and m.value is None and m.required == "always":
            return "optional"  # a lone box that isn't ticked is an answer too
        if m.required in ("always", "never"):
            return "open" if m.required == "always" else "optional"
        return "open" if self.sheet.test(_condition(m.required, document.prefix)) else "optional"


def own_kinds_cached(form: Form) -> dict[str, str]:
    """Value kinds of the form's own blanks, worked out once for each form object."""
    kinds: dict[str, str] | None = form.__dict__.get("_own_kinds")
    if kinds is None:
        kinds = own_kinds(form.mapping)
        form.__dict__["_own_kinds"] = kinds
    return kinds
