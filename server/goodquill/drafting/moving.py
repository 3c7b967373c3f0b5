"""A template moved on to the newest editions of its forms: what comes along, and what can't."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from django.db import transaction
from quillcore.facts import Act, Entry, Source
from quillcore.facts.keys import own_key

from goodquill.api import Refusal, Sent
from goodquill.deals.opening import OpenDeal
from goodquill.deals.parts import DEAL, DOCUMENTS
from goodquill.deals.steps import Step, begin, finish
from goodquill.drafting.actions import find_written
from goodquill.drafting.parts import TEMPLATE
from goodquill.forms.models import Release
from goodquill.forms.queries import newest_releases
from goodquill.offices.models import User
from goodquill.record.models import Kind
from goodquill.record.parts import Fields
from goodquill.templates.models import Template
from goodquill.templates.queries import forms_named


@transaction.atomic
def move_on(user: User, template_id: UUID, sent: Sent) -> dict[str, Any]:
    """Put a template on the newest editions of its forms, as one undoable step.  A form that is retired is
    taken out, and a standing answer to a blank that is no longer there; both are named."""
    template = find_written(user, template_id)
    step = begin(user, template.working_copy.pk, sent, Kind.TEMPLATE)
    if step.retried:
        return finish(step)
    newest = _newest(user, template)
    before = {code: f"{f.edition.number} {f.edition.title}" for code, f in step.opened.forms.items()}
    wanted = _editions(step.opened, template, newest)
    if not wanted:
        raise Refusal("It is on the newest editions already.", "Nothing was changed.", "newest", 409)
    step.do(DOCUMENTS, wanted)
    step.do(TEMPLATE, {str(template.pk): {"release_id": str(newest.pk)}})
    step.do(DEAL, {str(step.opened.deal.pk): {"release_id": str(newest.pk)}})
    gone = [before[code] for code, fields in wanted.items() if fields.get("removed")]
    lost = _answers_lost(step)
    step.write(*(Entry(key, Act.CLEAR, 0, Source.TEMPLATE) for key in lost))
    step.say(_in_words(newest, len(wanted) - len(gone), gone, lost))
    return finish(step)


def _newest(user: User, template: Template) -> Release:
    association = template.release.association
    found = [r for r in newest_releases(user) if r.association == association and not r.own_papers]
    return found[0] if found else template.release


def _editions(opened: OpenDeal, template: Template, newest: Release) -> dict[str, Fields]:
    """By code, what becomes of the documents whose editions are no longer those in use."""
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


def _answers_lost(step: Step) -> list[str]:
    """Keys of standing answers to blanks that no form has any more."""
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
        said.append(f"taken out, since retired: {', '.join(gone)}")
    if lost:
        names = ", ".join(str(key).rpartition(".")[2].replace("-", " ") for key in lost)
        said.append(f"not carried, since the blank is gone: {names}")
    return "; ".join(said)
