"""Templates that the member uses and writes, and what each leaves open."""

from __future__ import annotations

from typing import TYPE_CHECKING
from uuid import UUID

from django.db.models import Count, Q
from quillcore.assembly.coverage import By, Covered, coverage
from quillcore.facts import Side, load_catalog
from quillcore.templates import read_template
from quillcore.values import Value

from goodquill.contacts.models import Contact
from goodquill.deals.opening import open_deal
from goodquill.drafting.habits import Habit, habits
from goodquill.drafting.upstream import changes
from goodquill.offices.access import (
    may_lock_answers,
    may_publish,
    may_see_contacts,
    may_see_deals,
    may_write_templates,
)
from goodquill.offices.models import Office, User
from goodquill.templates.models import Template
from goodquill.templates.queries import find_template, forms_for, ranks, usable
from goodquill.templates.rows import template_rows

if TYPE_CHECKING:
    from goodquill.http import wire

MOST_LEFT = 400
MOST_VERSIONS = 30


def templates_for(user: User, side: str, facts: dict[str, Value]) -> list[wire.Template]:
    """Return all that the user may use or write, by name; where a side is named, in the order in which a
    new deal of it is offered them, other sides' last."""
    own = Template.objects.filter(may_write_templates(user), removed=False)
    found = {t.pk: t for t in [*usable(user), *own.select_related("owner", "brokerage")]}
    rows = sorted(found.values(), key=lambda t: t.name.casefold())
    ranked = ranks(rows, Side(side), facts) if side else {}
    if side:
        rows.sort(key=lambda t: ranked[t.pk][0] if t.pk in ranked else 9)
    return template_rows(user, rows, used_in(user, list(found)), ranked)


def used_in(user: User, templates: list[UUID]) -> dict[UUID, int]:
    """Return in how many deals that the user may see each was used."""
    rows = Template.objects.filter(pk__in=templates).filter(may_see_deals(user, "deals__"))
    return dict(rows.values_list("pk").annotate(n=Count("deals", distinct=True)))


def whole_template(user: User, template_id: UUID) -> wire.WrittenTemplate:
    """Return one template with everything about it."""
    rows = Template.objects.filter(may_write_templates(user), removed=False)
    template = rows.select_related("owner", "brokerage", "copied_from", "working_copy").filter(
        pk=template_id
    ).first() or find_template(user, template_id)
    [row] = template_rows(user, [template], used_in(user, [template.pk]))
    copy = getattr(template, "working_copy", None) if row["may_write"] else None
    people = User.objects.filter(Q(brokerage=user.brokerage_id, is_active=True), ~Q(pk=user.pk))
    like = template.copied_from
    return {
        **row,
        "working_copy": copy.pk if copy is not None else None,
        "copied_from": {"id": str(like.pk), "name": like.name} if like is not None else None,
        "versions": [
            {"number": v.number, "said": v.said, "by": v.by.name, "at": v.at}
            for v in template.versions.select_related("by").defer("data")[:MOST_VERSIONS]
        ],
        "members": [str(pk) for pk in template.members.values_list("pk", flat=True)],
        "offices": [str(pk) for pk in template.offices.values_list("pk", flat=True)],
        "everybody": [{"id": str(u.pk), "name": u.name} for u in people.order_by("name")],
        "branches": [
            {"id": str(o.pk), "name": o.name}
            for o in Office.objects.filter(brokerage=user.brokerage_id).order_by("name")
        ],
        "may_publish": may_publish(user),
        "may_lock": may_lock_answers(user),
        "left": left_open(user, copy.pk) if copy is not None else [],
        "upstream": changes(user, template) if copy is not None else [],
        "people": people_of(user, template),
        "faults": faults_of(template) if copy is not None else [],
    }


def people_of(user: User, template: Template) -> dict[str, wire.Named]:
    """Return contacts by group, as far as they are open to the user."""
    rows = Contact.objects.standing(may_see_contacts(user)).filter(pk__in=template.people.values())
    by_id = {str(row.pk): row for row in rows}
    return {
        group: {"id": contact, "name": by_id[contact].name}
        for group, contact in template.people.items()
        if contact in by_id
    }


def faults_of(template: Template) -> list[str]:
    """Return what is wrong with it as it is written: answers that wait for each other, tasks that can't be
    read."""
    forms = forms_for(template)
    found = read_template(template.draft, forms, load_catalog(), "") if template.draft else []
    return [f"{fault.message} {fault.mend}".strip() for fault in found] if isinstance(found, list) else []


def left_open(user: User, working_copy: UUID) -> list[wire.Left]:
    """Return the questions that a template doesn't answer itself, each where it is asked first, with who
    does, and with what the user answers in most deals."""
    opened = open_deal(user, working_copy)
    package = opened.package
    left: dict[str, Covered] = {}
    for c in coverage(package):
        if c.by is not By.YOU:
            left.setdefault(c.blank.key, c)
    usual = habits(user, opened, left)
    return [
        {
            "number": package.by_id[c.blank.document].form.edition.number,
            "document": c.blank.document,
            "key": key,
            "field": c.blank.field.id,
            "label": c.blank.label,
            "by": c.by.value,
            "habit": _habit(usual[key]) if key in usual else None,
        }
        for key, c in list(left.items())[:MOST_LEFT]
    ]


def _habit(usual: Habit) -> wire.Habit:
    return {"text": usual.text, "shown": usual.shown, "times": usual.times, "of": usual.of}
