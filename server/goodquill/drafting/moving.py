"""A template moved on to the newest editions of its forms: what comes along, and what can't."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING
from uuid import UUID

from django.db import transaction
from quillcore.facts import Act, Entry, Source
from quillcore.facts.keys import form_blank, in_words, own_key
from quillcore.forms import Form
from quillcore.packs.releases import compare_releases

from goodquill.changelog.models import Kind
from goodquill.changelog.parts import Fields
from goodquill.deals.opening import OpenDeal
from goodquill.deals.parts import DEAL, DOCUMENTS
from goodquill.deals.requests import DealRequest
from goodquill.deals.steps import DealStep, deal_change
from goodquill.drafting.actions import find_written
from goodquill.drafting.parts import TEMPLATE
from goodquill.forms.models import Edition, Release
from goodquill.forms.queries import forms_of, newest_releases
from goodquill.http.endpoints import Refusal, Sent
from goodquill.offices.models import User
from goodquill.templates.models import Template
from goodquill.templates.queries import forms_named

if TYPE_CHECKING:
    from goodquill.http import wire


def move_on(user: User, template_id: UUID, sent: Sent) -> wire.Delta:
    """Put a template on the newest editions of its forms, as one undoable step.  A form that is retired is
    taken out, and a standing answer to a blank that is no longer there; both are named."""
    template = find_written(user, template_id)
    return _move_on(DealRequest(user, template.working_copy.pk, sent), template)


@deal_change(Kind.TEMPLATE)
def _move_on(step: DealStep, template: Template) -> None:
    newest = _newest(step.user, template)
    before = {code: f"{f.edition.number} {f.edition.title}" for code, f in step.opened.forms.items()}
    wanted = _editions(step.opened, template, newest)
    if not wanted:
        raise Refusal("It already has the newest editions.", "Nothing was changed.", "newest", 409)
    step.do(DOCUMENTS, wanted)
    step.do(TEMPLATE, {str(template.pk): {"release_id": str(newest.pk)}})
    step.do(DEAL, {str(step.opened.deal.pk): {"release_id": str(newest.pk)}})
    gone = [before[code] for code, fields in wanted.items() if fields.get("removed")]
    lost = _answers_lost(step)
    step.write(*(Entry(key, Act.CLEAR, 0, Source.TEMPLATE) for key in lost))
    step.say(_in_words(newest, len(wanted) - len(gone), gone, lost))


@transaction.atomic
def move_many_on(user: User, templates: Sequence[UUID]) -> list[wire.Moved]:
    """Put several templates on the newest editions, each as a step of its own; gives what was done to each.
    One that is there already is left as it is."""
    done: list[wire.Moved] = []
    for template in templates:
        written = find_written(user, template)
        if _editions(OpenDeal(written.working_copy, reader=user), written, _newest(user, written)):
            said = move_on(user, template, Sent.new())["said"]
            done.append({"id": template, "name": written.name, "said": said})
    return done


def what_would_change(user: User, template: Template) -> list[wire.FormMoves]:
    """Return, before it is moved on, what of each form becomes otherwise, and which standing answers stay
    behind."""
    opened = OpenDeal(template.working_copy, reader=user)
    wanted = _editions(opened, template, _newest(user, template))
    rows = forms_named(_newest(user, template).pk, template.brokerage_id)
    old = {opened.forms[code].edition.number: opened.forms[code] for code in wanted}
    new = forms_of(row for number, row in rows.items() if number in old)
    printed = Edition.objects.filter(pk__in=[f.edition_hash for f in (*old.values(), *new.values())])
    changes = compare_releases(old, new, dict(printed.values_list("pk", "sentences")))
    return [
        {
            "number": change.number,
            "title": change.title,
            "retired": change.what == "retired",
            "blanks": [f"{b.label} is {_BECOMES[b.what]}" for b in change.blanks][:MOST_TOLD],
            "wording": list(change.wording)[:MOST_TOLD],
            "answers_lost": _would_lose(template, change.number, new.get(change.number)),
        }
        for change in changes
        if change.what != "new"
    ]


MOST_TOLD = 12
"""Of one form's changes: what is more than that is read under Forms, Releases."""
_BECOMES = {"new": "new", "gone": "gone", "moved": "at a different place", "means": "meant otherwise"}


def _would_lose(template: Template, number: str, form: Form | None) -> list[str]:
    """Return standing answers to blanks that the newer edition doesn't have."""
    blanks = map(form_blank, template.draft.get("blanks", {}))
    fields = [blank.name for blank in blanks if blank.number == number]
    if form is None:
        return list(map(in_words, fields))
    known = {*form.mapping.own_kinds, *form.mapping.by_id}
    return [in_words(field) for field in fields if field not in known]


def _newest(user: User, template: Template) -> Release:
    association = template.release.association
    found = [r for r in newest_releases(user) if r.association == association and not r.own_papers]
    return found[0] if found else template.release


def _editions(opened: OpenDeal, template: Template, newest: Release) -> dict[str, Fields]:
    """Return, by code, what becomes of the documents whose editions are no longer those in use."""
    rows = forms_named(newest.pk, template.brokerage_id)
    wanted: dict[str, Fields] = {}
    for d in opened.documents:
        if d.code not in opened.forms:
            continue
        row = rows.get(opened.forms[d.code].edition.number)
        if row is None:
            wanted[d.code] = {"removed": True}
        elif (row.edition_id, row.mapping_id) != (d.edition_id, d.mapping_id):
            wanted[d.code] = {"edition_id": row.edition_id, "mapping_id": row.mapping_id}
    return wanted


def _answers_lost(step: DealStep) -> list[str]:
    """Return keys of standing answers to blanks that no form has any more."""
    step.read_again()
    opened = step.opened
    return [
        key
        for key in list(opened.ledger.keys())
        if own_key(key) is not None
        and Source.TEMPLATE in opened.ledger.beside(key)
        and not opened.vocabulary.knows(key)
    ]


def _in_words(newest: Release, moved: int, gone: list[str], lost: list[str]) -> str:
    forms = "form" if moved == 1 else "forms"
    said = [f"Moved {moved} {forms} on to the editions of {newest.released:%B} {newest.released.day}"]
    if gone:
        said.append(f"removed, no longer in use: {', '.join(gone)}")
    if lost:
        names = ", ".join(in_words(str(key)) for key in lost)
        said.append(f"not carried over, the blank is gone: {names}")
    return "; ".join(said)
