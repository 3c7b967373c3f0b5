"""Keeping the templates of a pack."""

from __future__ import annotations

from collections.abc import Mapping

from quillcore.assembly import Package, PackageDocument
from quillcore.assembly.coverage import count_coverage
from quillcore.facts import Ledger, load_catalog
from quillcore.forms import Form
from quillcore.packs.manifest import Pack
from quillcore.templates import TemplateContent, merge, read_template

from goodquill.forms.models import Release
from goodquill.templates.models import Template


def keep_templates(pack: Pack, release: Release) -> None:
    """Keep every template of a pack under its release."""
    for slug, data in pack.templates.items():
        found = read_template(data, pack.forms, load_catalog(), slug)
        assert not isinstance(found, list), "packs are checked with their templates before they are kept"
        Template.objects.get_or_create(
            release=release,
            slug=slug,
            defaults={
                "name": found.name,
                "side": found.side,
                "kinds": list(found.kinds),
                "about": found.about,
                "data": data,
                "rule": found.rule,
                "weight": found.weight,
                "coverage": coverage_of(found, pack.forms),
            },
        )


def coverage_of(template: TemplateContent, forms: Mapping[str, Form]) -> dict[str, int]:
    """Return who answers the questions of a template's forms, in a deal that nothing else is known of."""
    ledger = Ledger(load_catalog(), template.side)
    numbers = [d.form for d in template.documents if d.form is not None]
    codes = {number: f"d{n}" for n, number in enumerate(dict.fromkeys(numbers))}
    present = {number: [code] for number, code in codes.items()}
    for entry in merge(template, ledger, forms, present, 1).entries:
        ledger.add(entry)
    return count_coverage(Package([PackageDocument(code, forms[n]) for n, code in codes.items()], ledger))
