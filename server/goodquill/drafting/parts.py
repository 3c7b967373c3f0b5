"""Effects of steps on a template beside its documents and answers: its name, and its rule."""

from __future__ import annotations

from goodquill.changelog.parts import Part, register
from goodquill.templates.models import Template

TEMPLATE = register(
    Part(
        "template",
        things=lambda record: Template.objects.filter(working_copy=record.pk),
        key="pk",
        settable=("name", "kinds", "about", "rule", "weight", "release_id", "people", "base"),
        label=lambda template: "what the template says of itself",
    )
)
