"""A template's working copy: a record with documents and standing answers, of which its content is made anew
at each step."""

from __future__ import annotations

from quillcore.assembly.coverage import count_coverage
from quillcore.templates.writing import Written, content_of

from goodquill.deals.opening import OpenDeal
from goodquill.deals.tasks import as_templates
from goodquill.templates.models import Template, TemplateReach


def written_documents(opened: OpenDeal) -> list[Written]:
    """Return the documents of a working copy or a deal, in order, as a template names them."""
    return [
        Written(
            d.code, d.section or "Added", opened.forms.get(d.code), d.expected, d.expected_from, d.set_aside
        )
        for d in opened.documents
    ]


def about(template: Template) -> dict[str, object]:
    """Return what a template says of itself, as its file has it."""
    said = {
        "name": template.name,
        "side": template.side,
        "kinds": template.kinds,
        "about": template.about,
        "rule": template.rule,
        "weight": template.weight,
        "people": template.people,
    }
    return {name: what for name, what in said.items() if what or name in ("name", "side")}


def keep_content(opened: OpenDeal, template: Template, changed: bool) -> None:
    """Store what the working copy comes to; ``changed`` where the template may say something else of itself
    than when it was read.  One that is its owner's alone is used as it is written; others get what was
    published."""
    if changed:
        template.refresh_from_db(fields=["name", "kinds", "about", "rule", "weight", "people", "release"])
    template.draft = content_of(
        about(template),
        written_documents(opened),
        opened.ledger,
        opened.kind_of,
        as_templates(opened.deal),
    )
    template.coverage = count_coverage(opened.package)
    if template.reach == TemplateReach.MINE:
        template.data = template.draft
    opened.deal.name = template.name
    template.save(update_fields=["draft", "data", "coverage"])
