"""Applying a template: the union by form, nothing typed replaced, and applying twice adds nothing."""

from __future__ import annotations

import uuid
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass

from quillcore.facts import Act, Entry, Ledger, Source
from quillcore.facts.keys import OwnKey, form_blank
from quillcore.forms.model import Form
from quillcore.templates.model import TemplateContent, TemplateDocument, TemplateTask, blank_kind
from quillcore.values import Fault, read_answer


@dataclass(frozen=True)
class Merge:
    """The result of applying a template: documents to add (each with its new id), entries to write, keys that
    stay as they were (``kept``) or became locked, and tasks to add."""

    documents: tuple[tuple[str, TemplateDocument], ...]
    entries: tuple[Entry, ...]
    kept: tuple[str, ...]
    locked: tuple[str, ...]
    tasks: tuple[TemplateTask, ...] = ()

    def sentence(self) -> str:
        """Return what came, in words: "4 forms, 18 answers, 2 kept as you had them"."""

        def some(n: int, one: str) -> str:
            return f"{n} {one}{'' if n == 1 else 's'}"

        parts = [some(len(self.documents), "document"), some(len(self.entries), "answer")]
        parts += [some(len(self.tasks), "task")] if self.tasks else []
        parts += (
            [f"{len(self.kept)} kept as you had {'it' if len(self.kept) == 1 else 'them'}"]
            if self.kept
            else []
        )
        parts += [f"{len(self.locked)} locked by the brokerage"] if self.locked else []
        return ", ".join(parts)


def merge(
    template: TemplateContent,
    ledger: Ledger,
    forms: Mapping[str, Form],
    present: Mapping[str, Sequence[str]],
    order: int,
    new_id: Mapping[str, str] | None = None,
    tasks: Collection[str] = (),
) -> Merge:
    """Merge a template into what a deal holds.

    ``present`` gives the ids of documents already there by form number (or by the words of an expected
    paper); ``order`` is the order of the first entry made; ``new_id`` lets tests name new documents;
    ``tasks`` are what the deal's tasks say (``same_task``).
    """
    documents: list[tuple[str, TemplateDocument]] = []
    ids: dict[str, list[str]] = {name: list(found) for name, found in present.items()}
    for document in template.documents:
        name = document.form or document.expected or ""
        if name not in ids:
            made = (new_id or {}).get(name) or uuid.uuid4().hex[:12]
            documents.append((made, document))
            ids[name] = [made]
    wanted: list[tuple[str, str, str]] = [
        (key, text, ledger.catalog[key].kind) for key, text in template.answers.items()
    ]
    for key, text in template.blanks.items():
        number, name = form_blank(key)
        wanted += [
            (str(OwnKey(d, name)), text, blank_kind(forms[number], name, ledger.catalog))
            for d in ids.get(number, [])
        ]
    entries: list[Entry] = []
    kept: list[str] = []
    locked: list[str] = []
    for key, text, kind in wanted:
        entry = _entry(key, text, kind, ledger, template, order + len(entries), key in template.locked)
        stands = ledger.beside(key).get(Source.TEMPLATE)
        if stands is not None and (stands.value, stands.formula) == (entry.value, entry.formula):
            continue
        if stands is not None and not entry.locked:
            kept.append(key)  # an earlier template's answer stays
            continue
        now = ledger.in_force(key)
        if now is not None and now.source in (Source.TYPED, Source.SIGNER):
            (locked if entry.locked else kept).append(key)
        entries.append(entry)
    more = {same_task(task.what): task for task in template.tasks if same_task(task.what) not in tasks}
    return Merge(tuple(documents), tuple(entries), tuple(kept), tuple(locked), tuple(more.values()))


def same_task(what: str) -> str:
    """Return what two tasks have in common that are one: in a deal nothing has to be done twice."""
    return " ".join(what.casefold().split())


def _entry(
    key: str, text: str, kind: str, ledger: Ledger, template: TemplateContent, order: int, locked: bool
) -> Entry:
    if text.startswith("="):
        return Entry(
            key,
            Act.FORMULA,
            order,
            Source.TEMPLATE,
            formula=text[1:].strip(),
            origin=template.name,
            locked=locked,
        )
    fact = ledger.catalog.find(key)
    value = read_answer(text, kind, fact.options if fact else [text])
    assert not isinstance(value, Fault), value  # read_template checked it
    return Entry(key, Act.STATE, order, Source.TEMPLATE, value, origin=template.name, locked=locked)
