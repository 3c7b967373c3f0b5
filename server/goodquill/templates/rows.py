"""Templates as screens are told of them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING
from uuid import UUID

from quillcore.templates.choosing import Rank

from goodquill.forms.models import ReleaseForm
from goodquill.forms.queries import newest_releases
from goodquill.offices.access import may_write_templates
from goodquill.offices.models import User
from goodquill.templates.models import Template, TemplateReach
from goodquill.templates.queries import whose

if TYPE_CHECKING:
    from goodquill.http import wire

Ranks = Mapping[UUID, tuple[Rank, str]]


def template_rows(
    user: User, templates: Sequence[Template], used: Mapping[UUID, int], ranks: Ranks | None = None
) -> list[wire.Template]:
    """Return rows of a list, in four queries.  ``used`` says in how many deals each is; ``ranks`` how each
    stands to a new one."""
    writable = set(
        Template.objects.filter(may_write_templates(user), pk__in=[t.pk for t in templates]).values_list(
            "pk", flat=True
        )
    )
    newest = _newest_editions(user)
    own = _own_editions(templates)
    found = ranks or {}
    return [
        _row(user, t, t.pk in writable, used.get(t.pk, 0), _retired(t, own, newest), found.get(t.pk))
        for t in templates
    ]


def _row(
    user: User,
    template: Template,
    may_write: bool,
    used: int,
    retired: list[str],
    found: tuple[Rank, str] | None,
) -> wire.Template:
    rank, why = found or (None, "")
    documents = template.data.get("documents", [])
    is_published = template.slug is None and template.reach != TemplateReach.MINE
    return {
        "id": template.pk,
        "name": template.name,
        "side": template.side,
        "kinds": template.kinds,
        "about": template.about,
        "rule": template.rule,
        "weight": template.weight,
        "whose": whose(template),
        "mine": template.owner_id == user.pk,
        "reach": template.reach,
        "version": template.version,
        "unpublished": is_published and template.data != template.draft,
        "may_write": may_write,
        "documents": len(documents),
        "forms": [d["form"] for d in documents if "form" in d],
        "answers": len(template.data.get("answers", {})) + len(template.data.get("blanks", {})),
        "coverage": template.coverage,
        "used": used,
        "retired": retired,
        "rank": rank.name.lower() if rank is not None else None,
        "why": why,
        "fits": rank is Rank.FITS,
        "usual": rank is not None and rank.is_usual,
    }


def _newest_editions(user: User) -> dict[str, set[str]]:
    """Return, by number, the editions of the newest releases that the user may use."""
    found: dict[str, set[str]] = {}
    rows = ReleaseForm.objects.filter(release__in=newest_releases(user))
    for number, edition in rows.values_list("number", "edition_id"):
        found.setdefault(number, set()).add(edition)
    return found


def _own_editions(templates: Sequence[Template]) -> dict[UUID, dict[str, str]]:
    """Return, by release and number, the editions that templates name."""
    found: dict[UUID, dict[str, str]] = {}
    rows = ReleaseForm.objects.filter(release__in={t.release_id for t in templates})
    for release, number, edition in rows.values_list("release_id", "number", "edition_id"):
        found.setdefault(release, {})[number] = edition
    return found


def _retired(
    template: Template, own: Mapping[UUID, Mapping[str, str]], newest: Mapping[str, set[str]]
) -> list[str]:
    """Return the numbers of a template's forms that newer releases have otherwise, or no longer."""
    mine = own.get(template.release_id, {})
    numbers = dict.fromkeys(d["form"] for d in template.data.get("documents", []) if "form" in d)
    return [n for n in numbers if n in mine and mine[n] not in newest.get(n, set())]
