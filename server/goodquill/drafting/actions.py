"""Writing templates: begun, said of, published, taken off the list, and read from files."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING, Any
from uuid import UUID

import yaml
from django.db import transaction
from django.db.models import F
from django.shortcuts import get_object_or_404
from quillcore.contacts import fills, kind_for
from quillcore.facts import Side, load_catalog
from quillcore.facts.keys import GROUPS, form_blank, group_of
from quillcore.forms.model import label_in
from quillcore.templates import read_template
from quillcore.templates.choosing import holds
from quillcore.templates.files import read_template_file
from quillcore.templates.model import PEOPLE, RULE_KEYS, read_rule
from quillcore.templates.writing import from_deal
from quillcore.values import Fault

from goodquill.changelog.models import Kind
from goodquill.contacts.actions import find_contact
from goodquill.deals.actions import apply
from goodquill.deals.models import Deal
from goodquill.deals.opening import OpenDeal, open_deal
from goodquill.deals.queries import deals_touched_last
from goodquill.deals.requests import DealRequest
from goodquill.deals.steps import DealStep, begin, deal_change, finish
from goodquill.deals.tasks import as_templates
from goodquill.deals.working_copies import written_documents
from goodquill.drafting.parts import TEMPLATE
from goodquill.forms.models import Release
from goodquill.forms.queries import forms_of, newest_pack
from goodquill.http.endpoints import Refusal, Sent
from goodquill.offices.access import may_lock_answers, may_publish, may_write_templates
from goodquill.offices.models import Office, User
from goodquill.templates.models import Template, TemplateReach, TemplateVersion
from goodquill.templates.queries import find_template, forms_for, forms_named

if TYPE_CHECKING:
    from goodquill.http import wire

MOST_TRIED = 40
"""Deals that a rule is tried on: the newest of that side."""


def find_written(user: User, template: UUID) -> Template:
    """Return one that the user may change."""
    rows = Template.objects.filter(may_write_templates(user), removed=False)
    return get_object_or_404(rows.select_related("release", "owner", "brokerage", "copied_from"), pk=template)


@transaction.atomic
def begin_template(user: User, given: Mapping[str, Any]) -> tuple[Template, list[str]]:
    """Return a template to be written, with its working copy; see ``NewTemplateSerializer`` for what is
    given. Gives the labels of those answers of a deal, too, that stay out of it."""
    if given.get("from_deal"):
        opened = open_deal(user, given["from_deal"])
        data, left = _from_deal(opened, given)
        return _begin(user, data, opened.deal.release, None), left
    if given.get("copy_of"):
        like = find_template(user, given["copy_of"])
        said = {name: given[name] for name in ("name", "kinds") if name in given}
        data = {**like.data, **said, "rule": "", "weight": ""}
        return _begin(user, data, like.release, like), []
    if "side" not in given:
        raise Refusal("A template is for one side.", "Choose the side.", "side")
    data = {"name": given["name"], "side": given["side"], "kinds": given.get("kinds", []), "documents": []}
    return _begin(user, data, _newest_release(user), None), []


def _newest_release(user: User) -> Release:
    release = newest_pack(user)
    if release is None:
        raise Refusal(
            "You have no association's forms yet.",
            "Ask your broker to add your association's forms.",
            "no pack",
        )
    return release


def _from_deal(opened: OpenDeal, given: Mapping[str, Any]) -> tuple[dict[str, Any], list[str]]:
    said = {"name": given["name"], "side": opened.deal.side, "kinds": given.get("kinds", [])}
    tasks = as_templates(opened.deal)
    data, left = from_deal(said, written_documents(opened), opened.ledger, opened.kind_of, tasks)
    without = set(given.get("without", ()))
    for part in ("answers", "blanks"):
        data[part] = {key: text for key, text in data[part].items() if key not in without}
    data["locked"] = [key for key in data["locked"] if key not in without]
    catalog = load_catalog()
    labels = [catalog.label_of(opened.ledger.shown_key(key)) for key in left if key not in GROUPS]
    return data, list(dict.fromkeys(labels))


def preview_of_deal(user: User, deal: UUID) -> wire.FromDeal:
    """Return what a template made of a deal would keep, answer by answer, and what stays out."""
    opened = open_deal(user, deal)
    data, left = _from_deal(opened, {"name": opened.deal.name})
    catalog, numbers = load_catalog(), {f.edition.number: f for f in opened.forms.values()}
    facts: list[wire.KeptAnswer] = [
        {"key": key, "label": catalog.label_of(key), "of": catalog.groups[group_of(key)], "text": text}
        for key, text in data["answers"].items()
    ]
    blanks: list[wire.KeptAnswer] = [
        {"key": key, "label": label_in(numbers[number], field), "of": f"Form {number}", "text": text}
        for key, text in data["blanks"].items()
        for number, field in (form_blank(key),)
        if number in numbers
    ]
    return {"kept": [*facts, *blanks], "left": left, "tasks": [d["what"] for d in data.get("tasks", ())]}


def _begin(user: User, data: dict[str, Any], release: Release, like: Template | None) -> Template:
    if not may_lock_answers(user):
        data = {**data, "locked": []}  # the answers come along, and may be changed: only the broker locks
    template = Template.objects.create(
        release=release,
        name=data["name"].strip(),
        side=data["side"],
        kinds=list(data.get("kinds", [])),
        about=data.get("about", ""),
        rule=data.get("rule", ""),
        weight=data.get("weight", ""),
        people=dict(data.get("people", {})),
        data=data,
        brokerage=user.brokerage,
        owner=user,
        reach=TemplateReach.MINE,
        copied_from=like,
        base=like.data if like is not None else {},
    )
    deal = Deal.objects.start(
        brokerage=user.brokerage,
        office=user.office,
        owner=user,
        release=release,
        side=template.side,
        name=template.name,
        name_typed=True,
        template=template,
    )
    step = begin(DealRequest.own(user, deal.pk), Kind.START)
    apply(step, template)
    step.say("Started the template")
    finish(step)
    return template


def say_about(user: User, template_id: UUID, sent: Sent, given: Mapping[str, Any]) -> wire.Delta:
    """Set what a template says of itself, as one undoable step of its working copy."""
    template = find_written(user, template_id)
    said = ("name", "kinds", "about", "rule", "weight", "people")
    fields = {name: given[name] for name in said if name in given}
    if "people" in fields:
        fields["people"] = _people(user, fields["people"])
    if fields.get("rule") and isinstance(fault := read_rule(fields["rule"], load_catalog()), Fault):
        raise Refusal.of(fault)
    if "name" in fields and not fields["name"].strip():
        raise Refusal("Enter a name.", "Nothing was changed. Enter a name.", "name")
    return _say(DealRequest(user, template.working_copy.pk, sent), template, fields)


@deal_change(Kind.TEMPLATE)
def _say(step: DealStep, template: Template, fields: dict[str, Any]) -> None:
    changed = {name: value for name, value in fields.items() if getattr(template, name) != value}
    step.do(TEMPLATE, {str(template.pk): changed} if changed else {})
    step.say(", ".join(f"{name}: {_in_words(value)}" for name, value in changed.items()))


def _in_words(value: Any) -> str:
    return f"{len(value)} from contacts" if isinstance(value, dict) else str(value or "none")


def _people(user: User, wanted: Mapping[str, str]) -> dict[str, str]:
    """Return contacts by group, each of them open to the user and with something to say there."""
    people = {group: str(contact) for group, contact in wanted.items() if contact}
    for group, contact_id in people.items():
        contact = find_contact(user, UUID(contact_id))
        is_of_that_kind = contact.kind in (kind_for(group), "other") and bool(fills(contact.core, group))
        if group not in PEOPLE or not is_of_that_kind:
            raise Refusal(
                f"{contact.name} has nothing for this template.", "Choose another contact.", "contact"
            )
    return people


@transaction.atomic
def publish(user: User, template_id: UUID, given: Mapping[str, Any]) -> Template:
    """Make what is written what others get, from now on; those who began with an earlier version keep it."""
    template = find_written(user, template_id)
    Template.objects.select_for_update().get(pk=template.pk)
    reach = TemplateReach(given["reach"])
    if reach in (TemplateReach.OFFICES, TemplateReach.BROKERAGE) and not may_publish(user):
        raise Refusal(
            "Only the broker, and members the broker allows, can publish to offices and the brokerage.",
            "Publish it to chosen members, or ask the broker.",
            "role",
            403,
        )
    template.reach = reach
    members = User.objects.filter(brokerage=user.brokerage_id, pk__in=given.get("members", []))
    offices = Office.objects.filter(brokerage=user.brokerage_id, pk__in=given.get("offices", []))
    template.members.set(members if reach is TemplateReach.MEMBERS else [])
    template.offices.set(offices if reach is TemplateReach.OFFICES else [])
    if reach is not TemplateReach.MINE:
        _check(template)
        template.version = F("version") + 1
    template.data = template.draft
    template.save(update_fields=["reach", "version", "data"])
    template.refresh_from_db(fields=["version"])
    if reach is not TemplateReach.MINE:
        TemplateVersion.objects.create(
            template=template, number=template.version, data=template.data, said=given["said"], by=user
        )
    return template


def _check(template: Template) -> None:
    found = read_template(template.draft, forms_for(template), load_catalog(), template.name)
    if isinstance(found, list):
        raise Refusal(f"It can't be published: {found[0]}", "Nothing was changed. Fix it first.", "template")
    if not found.documents and not found.answers:
        raise Refusal(
            "The template is empty.", "Add forms or answers first; nothing was published.", "template"
        )


def remove(user: User, template_id: UUID, removed: bool) -> Template:
    """Take a template off the list, or put it back; deals that began with it keep all of it."""
    rows = Template.objects.filter(may_write_templates(user), removed=not removed)
    template = get_object_or_404(rows, pk=template_id)
    template.removed = removed
    template.save(update_fields=["removed"])
    return template


def try_rule(user: User, side: str, text: str) -> tuple[int, int, str]:
    """Return in how many of the user's newest deals of that side a rule would have held, of how many, and
    what is wrong with it."""
    catalog = load_catalog()
    read = read_rule(text, catalog)
    if isinstance(read, Fault):
        return 0, 0, f"{read.message} {read.mend}".strip()
    deals = [deal for deal in deals_touched_last(user) if deal.side == side][:MOST_TRIED]
    held = 0
    for deal in deals:
        sheet = OpenDeal(deal, reader=user).package.sheet
        known = {key: sheet.held(key).value for key in RULE_KEYS}
        held += holds(text, {k: v for k, v in known.items() if v is not None} | {"deal.side": side}, catalog)
    return held, len(deals), ""


def content_for(user: User, template: Template) -> dict[str, Any]:
    """Return a template's content: as it is written now for those who may write it, as it was published for
    others."""
    writes = Template.objects.filter(may_write_templates(user), pk=template.pk).exists()
    found: dict[str, Any] = template.draft if writes else template.data
    return found


def as_yaml(user: User, template: Template) -> str:
    """Return the template as its file has it."""
    return yaml.safe_dump(content_for(user, template), allow_unicode=True, sort_keys=False, width=110)


@transaction.atomic
def read_file(user: User, content: bytes, name: str) -> Template | list[Fault]:
    """Return a template from its file, or everything that is wrong with it."""
    data = read_template_file(content)
    if isinstance(data, Fault):
        return [data]
    return _checked(user, data, name)


@transaction.atomic
def begin_from(user: User, data: dict[str, Any]) -> Template:
    """Return a template of that content, which has to be sound."""
    found = _checked(user, data, str(data["name"]))
    if isinstance(found, list):
        raise Refusal(f"It can't be a template: {found[0]}", "Fix it first.", "template")
    return found


def _checked(user: User, data: Any, name: str) -> Template | list[Fault]:
    """Return a template of that content in the newest release's forms, or everything that is wrong with
    it."""
    release = _newest_release(user)
    forms = forms_of(forms_named(release.pk, user.brokerage_id).values())
    found = read_template(data, forms, load_catalog(), name)
    if isinstance(found, list):
        return found
    return _begin(user, {**data, "side": Side(found.side).value, "name": found.name}, release, None)
