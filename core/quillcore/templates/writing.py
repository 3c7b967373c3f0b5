"""A template from what was written: a working copy's documents and standing answers, or a deal's."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from typing import Any, NamedTuple

from quillcore.facts import Ledger, Side, Source, Stated
from quillcore.facts.keys import GROUPS, FormBlank, group_of, own_key, party_key
from quillcore.facts.scopes import TERMS, carries_over
from quillcore.forms.model import Form
from quillcore.templates.model import TemplateTask
from quillcore.values import editable

KindOf = Callable[[str], str]


class Written(NamedTuple):
    """One document of a working copy or deal: its id, and what it is."""

    id: str
    section: str
    form: Form | None
    expected: str = ""
    expected_from: str = ""
    reserve: bool = False


def content_of(
    about: Mapping[str, Any],
    documents: Iterable[Written],
    ledger: Ledger,
    kind_of: KindOf,
    tasks: Iterable[TemplateTask] = (),
) -> dict[str, Any]:
    """Return a template's content, as its file has it: ``about`` it (name, side, kinds, rule and the like),
    its documents in order, every standing answer of the ledger, and its tasks."""
    listed = list(documents)
    every = list(ledger.keys())
    stated = {key: said for key in every if (said := ledger.beside(key).get(Source.TEMPLATE)) is not None}
    return _content(about, listed, stated, kind_of, tasks)


def from_deal(
    about: Mapping[str, Any],
    documents: Iterable[Written],
    ledger: Ledger,
    kind_of: KindOf,
    tasks: Iterable[TemplateTask] = (),
) -> tuple[dict[str, Any], list[str]]:
    """Return a template from a deal, and the keys whose answers stay out of it.

    Its documents, and the answers that a next deal of this sort would have too: how one buys or sells (see
    ``scopes.carries_over``), and of the forms' own blanks what is chosen or counted.  No property, nobody's
    name, no price, no date, no wording; the other side and the agents are found anew for each deal.
    """
    listed = list(documents)
    kept: dict[str, Stated] = {}
    left: list[str] = []
    every = list(ledger.keys())
    for key in every:
        said = ledger.in_force(key)
        if said is None or said.source not in (Source.TYPED, Source.TEMPLATE):
            continue
        if becomes_standing(key, kind_of(key), ledger.side):
            kept[key] = said
        else:
            left.append(key)
    return _content(about, listed, kept, kind_of, tasks), left


_OF_BLANKS = ("choice", "yes_no", "integer", "percent", "number")
_STANDS = (*TERMS, "representation", "commission", "deal")
"""Groups of facts that may be answered once for all deals: the others are somebody's, or some home's."""


def becomes_standing(key: str, kind: str, side: Side) -> bool:
    """Return whether what was stated under a key in a deal may be answered once for all deals of that
    side."""
    if own_key(key) is not None:
        return kind in _OF_BLANKS
    group = group_of(key)
    if party_key(key) is not None or key in GROUPS or group not in _STANDS:
        return False
    if group in ("representation", "commission"):
        return kind in (*_OF_BLANKS, "address")
    return carries_over(key, kind, side)


def _content(
    about: Mapping[str, Any],
    documents: list[Written],
    stated: Mapping[str, Stated],
    kind_of: KindOf,
    tasks: Iterable[TemplateTask],
) -> dict[str, Any]:
    numbers = {d.id: d.form.edition.number for d in documents if d.form is not None}
    answers: dict[str, str] = {}
    blanks: dict[str, str] = {}
    locked: list[str] = []
    for key, said in stated.items():
        text = f"= {said.formula}" if said.formula is not None else editable(said.value, kind_of(key))
        own = own_key(key)
        if own is None:
            answers[key] = text
        elif own.document in numbers:
            blanks.setdefault(str(FormBlank(numbers[own.document], own.name)), text)
        if said.locked and own is None:
            locked.append(key)
    return {
        **about,
        "documents": [_document(d) for d in documents],
        "answers": dict(sorted(answers.items())),
        "blanks": dict(sorted(blanks.items())),
        "locked": sorted(locked),
    } | _listed(tasks)


def _listed(tasks: Iterable[TemplateTask]) -> dict[str, Any]:
    """Return them under their own name, where there are any."""
    listed = [task.model_dump(exclude_defaults=True) for task in tasks]
    return {"tasks": listed} if listed else {}


def _document(d: Written) -> dict[str, Any]:
    said: dict[str, Any] = {"section": d.section}
    if d.form is not None:
        said["form"] = d.form.edition.number
    else:
        said |= {"expected": d.expected, "expected_from": d.expected_from}
    return said | ({"reserve": True} if d.reserve else {})
