"""Keeping the templates of a pack."""

from __future__ import annotations

from quillcore.facts import load_catalog
from quillcore.packs.sheet import Pack
from quillcore.templates import read_template

from goodquill.forms.models import Release
from goodquill.templates.models import Template


def keep_templates(pack: Pack, release: Release) -> None:
    """Keep every template of a pack under its release."""
    for slug, data in pack.templates.items():
        found = read_template(data, pack.forms, load_catalog(), slug)
        assert not isinstance(found, list), "packs are checked with their templates before they are kept"
        Template.objects.get_or_create(
            release=release, slug=slug, defaults={"name": found.name, "side": found.side, "data": data}
        )
