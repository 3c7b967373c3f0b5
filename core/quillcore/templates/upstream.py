"""Changes in the template that another was copied from: part by part, so that each can be taken over."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from typing import Any, NamedTuple

from quillcore.templates.merging import same_task

Content = Mapping[str, Any]


class TemplatePart(NamedTuple):
    """One thing that upstream says otherwise than when the copy was made, or than was last looked at.

    ``what`` is document, answer, blank or task, ``key`` its name among those: a form's number or what is
    expected, a fact, "number.field", what is to be done.  ``was``, ``now`` and ``mine`` are what the copy was
    made from, what upstream says now, and what the copy says; "" where it isn't there.
    """

    what: str
    key: str
    was: str
    now: str
    mine: str

    @property
    def id(self) -> str:
        """Its name within one comparison."""
        return f"{self.what}:{self.key}"


_Listing = Callable[[Content], Mapping[str, str]]


def _documents(content: Content) -> dict[str, str]:
    return {
        _name(d): "left out" if d.get("reserve") else "in the package" for d in content.get("documents", ())
    }


def _name(document: Content) -> str:
    return str(document.get("form") or document.get("expected") or "")


def _tasks(content: Content) -> dict[str, str]:
    return {same_task(d["what"]): _said(d) for d in content.get("tasks", ())}


def _said(task: Content) -> str:
    told = [task["what"], task.get("who"), task.get("due"), task.get("note")]
    return ", ".join(str(one) for one in told if one)


_SORTS: dict[str, _Listing] = {
    "document": _documents,
    "answer": lambda content: content.get("answers", {}),
    "blank": lambda content: content.get("blanks", {}),
    "task": _tasks,
}


def changed_parts(base: Content, upstream: Content, mine: Content) -> list[TemplatePart]:
    """Return what upstream changed since ``base`` that ``mine`` doesn't say already, in the order of the
    sorts."""
    found = []
    for what, listed in _SORTS.items():
        was, now, own = listed(base), listed(upstream), listed(mine)
        for key in dict.fromkeys([*now, *was]):
            part = TemplatePart(what, key, was.get(key, ""), now.get(key, ""), own.get(key, ""))
            if part.was != part.now and part.mine != part.now:
                found.append(part)
    return found


def only(upstream: Content, ids: Iterable[str]) -> dict[str, Any]:
    """Return those parts of upstream's content: a template that can be merged."""
    wanted = set(ids)

    def chosen(what: str, key: str) -> bool:
        return f"{what}:{key}" in wanted

    return {
        "documents": [d for d in upstream.get("documents", ()) if chosen("document", _name(d))],
        "answers": {k: v for k, v in upstream.get("answers", {}).items() if chosen("answer", k)},
        "blanks": {k: v for k, v in upstream.get("blanks", {}).items() if chosen("blank", k)},
        "tasks": [d for d in upstream.get("tasks", ()) if chosen("task", same_task(d["what"]))],
        "locked": [],
    }


def seen(base: Content, upstream: Content, ids: Iterable[str]) -> dict[str, Any]:
    """Return ``base`` with those parts as upstream has them: they have been looked at, and are told no
    more."""
    wanted, news = set(ids), only(upstream, ids)

    def kept(what: str, key: str) -> bool:
        return f"{what}:{key}" not in wanted

    return {
        **base,
        "documents": [
            *(d for d in base.get("documents", ()) if kept("document", _name(d))),
            *news["documents"],
        ],
        "answers": {k: v for k, v in base.get("answers", {}).items() if kept("answer", k)} | news["answers"],
        "blanks": {k: v for k, v in base.get("blanks", {}).items() if kept("blank", k)} | news["blanks"],
        "tasks": [
            *(d for d in base.get("tasks", ()) if kept("task", same_task(d["what"]))),
            *news["tasks"],
        ],
    }
