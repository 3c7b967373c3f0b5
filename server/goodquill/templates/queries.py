"""The templates that a member may use, and the forms that each names."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date
from functools import lru_cache
from typing import Any
from uuid import UUID

import orjson
from django.db.models import Q, QuerySet
from quillcore.facts import Side, load_catalog
from quillcore.forms import Form
from quillcore.templates import TemplateContent, read_template
from quillcore.templates.choosing import Offered, Rank, rank
from quillcore.values import Fault, Value
from quillcore.values.clock import today

from goodquill.forms.models import ReleaseForm
from goodquill.forms.queries import forms_of, newest_releases
from goodquill.offices.access import known_of, may_use_templates, whoever
from goodquill.offices.models import User
from goodquill.storage.prepared import Prepared
from goodquill.templates.models import Template


def usable(user: User) -> QuerySet[Template]:
    """Return those that a deal of the user's may begin with: of packs only the newest release's."""
    of_packs = Q(slug__isnull=False, release__in=newest_releases(user))
    rows = Template.objects.filter(of_packs | Q(slug=None), may_use_templates(user), removed=False)
    return rows.select_related("owner", "brokerage")


def find_template(user: User, template: UUID) -> Template:
    """Return one that the user may use, whichever release it is of."""
    asking = (*known_of(user), user.licence)
    return _OPEN_TEMPLATES.first_or_404(*asking, template, shape=(user.role, today()))


def _open_templates(
    user: UUID, brokerage: UUID, office: UUID, licence: str, template: UUID, role: str, _: date
) -> QuerySet[Template]:
    """Return a membership counts as of today."""
    asking = whoever(user, brokerage, office, role, licence)
    rows = Template.objects.filter(may_use_templates(asking), removed=False, pk=template)
    return rows.select_related("release", "owner").defer("draft", "base", "coverage")  # its writers' alone


_OPEN_TEMPLATES = Prepared(_open_templates)


def forms_named(release: UUID, brokerage: UUID | None) -> dict[str, ReleaseForm]:
    """Return the forms that a template of a release may name, by number: the release's, and the brokerage's
    own papers.  What is printed on them the process has (``forms_of``)."""
    own = _OWN_PAPERS.rows(brokerage) if brokerage else []
    return {row.number: row for row in (*own, *_of_release(release))}


_OWN_PAPERS = Prepared(
    lambda brokerage: ReleaseForm.objects.filter(
        release__own_papers=True, release__brokerage=brokerage
    ).order_by("release__released")
)
MOST_PACKS = 50
"""The most packs whose lists one process keeps: an association has one in use, and one that is going out."""
_packs: dict[UUID, list[ReleaseForm]] = {}


def _of_release(release: UUID) -> list[ReleaseForm]:
    """Return the forms of a release.  A pack's are those with which it came, so a process that has read
    them keeps them; a brokerage's own papers grow."""
    if release in _packs:
        return _packs[release]
    rows = list(ReleaseForm.objects.filter(release=release).select_related("release"))
    if rows and not rows[0].release.own_papers:
        if len(_packs) >= MOST_PACKS:
            _packs.clear()
        _packs[release] = rows
    return rows


def forms_for(template: Template) -> Mapping[str, Form]:
    """Return the forms that a template may name, read, by number."""
    return forms_of(forms_named(template.release_id, template.brokerage_id).values())


def read_kept(
    content: Mapping[str, Any], forms: Mapping[str, Form], name: str
) -> TemplateContent | list[Fault]:
    """Return a template's content as the core knows it, or what is wrong with it: checked once for as long
    as it and the forms that it may name stay as they are."""
    return _read(orjson.dumps(content), tuple(forms.items()), name)


@lru_cache(maxsize=100)  # a hundred templates in use at once: some megabyte
def _read(content: bytes, forms: tuple[tuple[str, Form], ...], name: str) -> TemplateContent | list[Fault]:
    return read_template(orjson.loads(content), dict(forms), load_catalog(), name)


def whose(template: Template) -> str:
    """Return whose a template is, in words."""
    if template.owner is None or template.brokerage is None:
        return "the association"
    return template.owner.name if template.reach == "mine" else template.brokerage.name


def ranks(templates: Sequence[Template], side: Side, facts: dict[str, Value]) -> dict[UUID, tuple[Rank, str]]:
    """Return how each template stands to a new deal of that side, and why; those of other sides are left
    out."""
    offered = {
        t.pk: Offered(t.name, Side(t.side), tuple(t.kinds), t.rule, t.weight, whose(t)) for t in templates
    }
    by_offered = {id(one): pk for pk, one in offered.items()}
    ranked = rank(list(offered.values()), side, facts, load_catalog())
    return {by_offered[id(r.template)]: (r.rank, r.why) for r in ranked}
