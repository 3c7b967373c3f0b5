"""The keys of a package of forms, and the values that each may have: the catalog's facts and the forms' own
blanks."""

from __future__ import annotations

from collections.abc import Mapping

from quillcore.facts import Catalog, Fact, load_catalog
from quillcore.facts.bounds import beyond
from quillcore.facts.keys import OwnKey, own_key, paper_key
from quillcore.forms.model import Form
from quillcore.values import Fault, Value


class FormVocabulary:
    """The vocabulary of documents, each a form by the document's id.  A key that is no longer known is read
    as text, so that nothing kept is ever lost."""

    def __init__(self, forms: Mapping[str, Form], catalog: Catalog | None = None) -> None:
        self.forms = forms
        self.catalog = catalog or load_catalog()

    def knows(self, key: str) -> bool:
        """Return whether there is such a fact, or such a blank in one of the forms."""
        own = own_key(key)
        if own is None:
            return self.catalog.find(key) is not None and paper_key(key) is None
        form = self.forms.get(own.document)
        if form is None:
            return False
        mapping = form.mapping
        return (
            own.name in mapping.own_kinds
            or own.name in mapping.by_id
            or any(m.fact == own.name for m in mapping.meanings)
        )

    def kind_of(self, key: str) -> str:
        """Return value kind of a stored key."""
        own = own_key(key)
        form = self.forms.get(own.document) if own is not None else None
        if form is not None and own is not None and (own_kind := form.mapping.own_kinds.get(own.name)):
            return own_kind
        fact = self._fact_of(own) if own is not None else self.catalog.find(key)
        return fact.kind if fact is not None else "text"

    def options_of(self, key: str) -> tuple[str, ...]:
        """Return what a choice under a stored key may be."""
        own = own_key(key)
        if own is None:
            fact = self.catalog.find(key)
            return fact.options if fact is not None else ()
        form = self.forms.get(own.document)
        if form is not None:
            boxes = tuple(m.value for m in form.mapping.meanings if m.group == own.name and m.value)
            meaning = form.mapping.by_id.get(own.name)
            if listed := boxes or (meaning.options if meaning is not None else ()):
                return listed
        fact = self._fact_of(own)
        return fact.options if fact is not None else ()

    def beyond(self, key: str, value: Value) -> Fault | None:
        """Return what is wrong with a value that can't stand under a stored key, however well it was
        typed."""
        own = own_key(key)
        fact = self._fact_of(own) if own is not None else self.catalog.find(key)
        if fact is not None:
            return beyond(fact.key, fact.kind, fact.label, value)
        name = own.name if own is not None else key
        return beyond(name, self.kind_of(key), self._label_of(own) if own is not None else key, value)

    def only_answered_by(self, key: str) -> str | None:
        """Return the role that alone may answer a document's own blank."""
        own = own_key(key)
        form = self.forms.get(own.document) if own is not None else None
        return form.mapping.only_answered_by(own.name) if form is not None and own is not None else None

    def _label_of(self, own: OwnKey) -> str:
        form = self.forms.get(own.document)
        meaning = form.mapping.by_id.get(own.name) if form is not None else None
        return (meaning.label if meaning is not None else "") or own.name.replace("-", " ").capitalize()

    def _fact_of(self, own: OwnKey) -> Fact | None:
        """Return the fact that a document's own key stands for *only here*; None for a blank that is the
        form's own."""
        form = self.forms.get(own.document)
        meaning = form.mapping.by_id.get(own.name) if form is not None else None
        return self.catalog.find(meaning.fact if meaning is not None and meaning.fact else own.name)
