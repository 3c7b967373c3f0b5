"""Changes in the template that one was copied from, and taking them over part by part."""

from __future__ import annotations

from typing import TYPE_CHECKING
from uuid import UUID

from quillcore.facts import Act, Entry, Source, load_catalog
from quillcore.facts.keys import OwnKey, form_blank, in_words
from quillcore.templates.merging import same_task
from quillcore.templates.upstream import TemplatePart, changed_parts, only, seen

from goodquill.changelog.models import Kind
from goodquill.deals.actions import apply
from goodquill.deals.parts import DOCUMENTS, TASKS
from goodquill.deals.requests import DealRequest
from goodquill.deals.steps import DealStep, deal_change
from goodquill.deals.tasks import stated_tasks
from goodquill.drafting.actions import find_written
from goodquill.drafting.parts import TEMPLATE
from goodquill.http.endpoints import Refusal, Sent
from goodquill.offices.models import User
from goodquill.templates.models import Template
from goodquill.templates.queries import forms_for, usable

if TYPE_CHECKING:
    from goodquill.http import wire


def upstream_of(user: User, template: Template) -> Template | None:
    """Return what the template was copied from, as long as the user may use it."""
    if template.copied_from_id is None:
        return None
    like = template.copied_from
    # An association's template stays the same thing in the next release, under the same slug.
    named = {"slug": like.slug} if like is not None and like.slug else {"pk": template.copied_from_id}
    return usable(user).filter(**named).first()


def changes(user: User, template: Template) -> list[wire.Upstream]:
    """Return what it says otherwise since, as screens tell it."""
    like = upstream_of(user, template)
    if like is None or not template.base:
        return []
    return [_row(template, part) for part in changed_parts(template.base, like.data, template.draft)]


def _row(template: Template, part: TemplatePart) -> wire.Upstream:
    return {
        "id": part.id,
        "label": _label(template, part),
        "was": part.was,
        "now": part.now,
        "mine": part.mine,
    }


def _label(template: Template, part: TemplatePart) -> str:
    if part.what == "answer":
        return load_catalog().label_of(part.key)
    if part.what == "blank":
        return f"{form_blank(part.key).number}: {in_words(part.key)}"
    if part.what == "document" and part.key.isdigit():
        form = forms_for(template).get(part.key)
        return f"Form {part.key} {form.edition.title if form is not None else ''}".strip()
    return part.key[:1].upper() + part.key[1:]


def take_over(user: User, template_id: UUID, sent: Sent, ids: list[str], keep: bool) -> wire.Delta:
    """Take those parts over from upstream as one undoable step; or, with ``keep``, leave them as they are
    here and be told of them no more."""
    template = find_written(user, template_id)
    return _take_over(DealRequest(user, template.working_copy.pk, sent), template, ids, keep)


@deal_change(Kind.TEMPLATE)
def _take_over(step: DealStep, template: Template, ids: list[str], keep: bool) -> None:
    like = upstream_of(step.user, template)
    if like is None:
        raise Refusal(
            "You can no longer see the template it was copied from.", "Nothing was changed.", "upstream", 404
        )
    parts = [p for p in changed_parts(template.base, like.data, template.draft) if p.id in set(ids)]
    if not parts:
        raise Refusal("There is nothing new.", "Nothing was changed. Reload and try again.", "upstream", 409)
    named = [part.id for part in parts]
    if not keep:
        _clear(step, parts)
        news = only(like.data, named)
        said = {**template.draft, **news, "name": template.name, "side": template.side, "rule": ""}
        apply(
            step, Template(release=template.release, brokerage=template.brokerage, name=like.name, data=said)
        )
    step.do(TEMPLATE, {str(template.pk): {"base": seen(template.base, like.data, named)}})
    verb = "Kept as is" if keep else f"Updated from “{like.name}”"
    step.say(f"{verb}: {', '.join(_label(template, part) for part in parts)}")


def _clear(step: DealStep, parts: list[TemplatePart]) -> None:
    """Take out what those parts replace or end."""
    opened, by_sort = step.opened, {what: {p.key for p in parts if p.what == what} for what in _SORTS}
    numbers = {d.code: d.expected or opened.forms[d.code].edition.number for d in opened.documents}
    blanks = [form_blank(key) for key in by_sort["blank"]]
    keys = [
        *by_sort["answer"],
        *(str(OwnKey(code, field)) for number, field in blanks for code, n in numbers.items() if n == number),
    ]
    step.write(
        *(
            Entry(key, Act.CLEAR, 0, Source.TEMPLATE)
            for key in keys
            if Source.TEMPLATE in opened.ledger.beside(key)
        )
    )
    gone = [code for code, number in numbers.items() if number in by_sort["document"]]
    step.do(DOCUMENTS, {code: {"removed": True} for code in gone})
    tasks = [d.code for d in stated_tasks(opened.deal) if same_task(d.what) in by_sort["task"]]
    step.do(TASKS, {code: {"removed": True} for code in tasks})
    step.read_again()


_SORTS = ("document", "answer", "blank", "task")
