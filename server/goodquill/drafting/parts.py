"""What steps do to a template beside its documents and answers: what it is called, and when it is offered."""

from __future__ import annotations

from goodquill.record.parts import Part, register
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
