"""The templates that a member may use, and the forms that each names."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date
from uuid import UUID

from django.db.models import Q, QuerySet
from django.http import Http404
from quillcore.facts import Side, load_catalog
from quillcore.forms import Form
from quillcore.templates.choosing import Offered, Rank, rank
from quillcore.values import Value
from quillcore.values.clock import today

from goodquill.forms.models import ReleaseForm
from goodquill.forms.queries import forms_of, newest_releases
from goodquill.offices.access import may_use_templates, whoever
from goodquill.offices.models import User
from goodquill.prepared import Prepared
from goodquill.templates.models import Template


def usable(user: User) -> QuerySet[Template]:
    """Those that a deal of the user's may begin with: of packs only the newest release's."""
    of_packs = Q(slug__isnull=False, release__in=newest_releases(user))
    rows = Template.objects.filter(of_packs | Q(slug=None), may_use_templates(user), removed=False)
    return rows.select_related("owner", "brokerage")


def find_template(user: User, template: UUID) -> Template:
    """One that the user may use, whichever release it is of."""
    asking = (user.pk, user.brokerage_id, user.office_id, user.licence)
    found = _OPEN_TEMPLATES.first(*asking, template, shape=(user.role, today()))
    if found is None:
        raise Http404
    return found


def _open_templates(
    user: UUID, brokerage: UUID, office: UUID, licence: str, template: UUID, role: str, _: date
) -> QuerySet[Template]:
    """A membership counts as of today."""
    asking = whoever(user, brokerage, office, role, licence)
    rows = Template.objects.filter(may_use_templates(asking), removed=False, pk=template)
    return rows.select_related("release", "owner").defer("draft", "base", "coverage")  # its writers' alone


_OPEN_TEMPLATES = Prepared(_open_templates)


def forms_named(release: UUID, brokerage: UUID | None) -> dict[str, ReleaseForm]:
    """The forms that a template of a release may name, by number: the release's, and the brokerage's own
    papers.  What is printed on them the process has (``forms_of``)."""
    rows = _FORMS_NAMED.rows(release, brokerage or release)
    return {row.number: row for row in sorted(rows, key=lambda r: r.release_id == release)}


def _forms_named(release: UUID, brokerage: UUID) -> QuerySet[ReleaseForm]:
    own = Q(release__own_papers=True, release__brokerage=brokerage)
    return ReleaseForm.objects.filter(Q(release=release) | own).order_by("release__released")


_FORMS_NAMED = Prepared(_forms_named)


def forms_for(template: Template) -> Mapping[str, Form]:
    """The forms that a template may name, read, by number."""
    return forms_of(forms_named(template.release_id, template.brokerage_id).values())


def whose(template: Template) -> str:
    """Whose a template is, in words."""
    if template.owner is None or template.brokerage is None:
        return "the association"
    return template.owner.name if template.reach == "mine" else template.brokerage.name


def ranks(templates: Sequence[Template], side: Side, facts: dict[str, Value]) -> dict[UUID, tuple[Rank, str]]:
    """How each template stands to a new deal of that side, and why; those of other sides are left out."""
    offered = {
        t.pk: Offered(t.name, Side(t.side), tuple(t.kinds), t.rule, t.weight, whose(t)) for t in templates
    }
    by_offered = {id(one): pk for pk, one in offered.items()}
    ranked = rank(list(offered.values()), side, facts, load_catalog())
    return {by_offered[id(r.template)]: (r.rank, r.why) for r in ranked}
