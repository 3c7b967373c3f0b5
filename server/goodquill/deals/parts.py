"""Effects of steps on a deal beside its facts: on its documents, its tasks, its offers, and itself."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from goodquill.changelog.parts import Fields, Part, register
from goodquill.deals.models import Deal, Document, Incoming, Offer, Task
from goodquill.http.endpoints import Refusal


def _one_in_force(offers: Iterable[Offer]) -> None:
    """Keep exactly one offer in force, and never a removed one."""
    if [o.in_force for o in offers if not o.removed].count(True) != 1:
        raise Refusal(
            "Someone changed this deal's offers.",
            "Nothing was changed. Reload and try again.",
            "offer",
            409,
        )


def _title(document: Document) -> str:
    return document.expected or (document.edition.title if document.edition else "a document")


DOCUMENTS = register(
    Part(
        "documents",
        things=lambda record: Document.objects.filter(deal=record.pk),
        key="code",
        settable=(
            "removed",
            "set_aside",
            "position",
            "section",
            "edition_id",
            "mapping_id",
            "why",
            "by_hand",
            "spots",
            "came",
        ),
        label=_title,
    )
)
TASKS = register(
    Part(
        "tasks",
        things=lambda record: Task.objects.filter(deal=record.pk),
        key="code",
        settable=(
            "what",
            "who",
            "group",
            "rule",
            "day",
            "settled_by",
            "remind",
            "note",
            "done",
            "done_by_id",
            "needed",
            "removed",
        ),
        label=lambda task: str(task.what),
    )
)
INCOMING = register(
    Part(
        "incoming",
        things=lambda record: Incoming.objects.filter(deal=record.pk),
        key="pk",
        settable=("settled",),
        label=lambda incoming: str(incoming.name),
    )
)
OFFERS = register(
    Part(
        "offers",
        things=lambda record: Offer.objects.filter(deal=record.pk),
        key="pk",
        settable=("name", "in_force", "outcome", "came", "removed"),
        label=lambda offer: str(offer.name),
        check=_one_in_force,
    )
)
DEAL = register(
    Part(
        "deal",
        things=lambda record: Deal.objects.filter(record=record.pk),
        key="pk",
        settable=("name", "name_typed", "stage", "release_id"),
        label=lambda deal: "the deal's name and stage",
    )
)


def made(keys: Iterable[Any]) -> tuple[dict[str, Fields], dict[str, Fields]]:
    """Return before and after of things that a step made: taken back, they are removed."""
    named = [str(key) for key in keys]
    return {key: {"removed": True} for key in named}, {key: {"removed": False} for key in named}
