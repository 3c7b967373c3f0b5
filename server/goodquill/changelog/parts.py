"""Effects of a step beside its lines: set fields of things, and set them back.

Each room says what it owns as a ``Part``, and registers it when the application starts; a step then does it
by ``step.do(part, wanted)``, and undo takes it back whatever it was.  One law for all of them: what somebody
has set to something else since stays as it is, and is named.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from dataclasses import dataclass, field
from datetime import date, time
from typing import Any
from uuid import UUID

from django.db.models import Model, QuerySet

from goodquill.changelog.models import Record

Fields = dict[str, Any]
"""Fields of one thing and their values, as JSON keeps them."""
Wanted = Mapping[str, Fields]
"""Of several things, each by its key."""


@dataclass(frozen=True)
class Part:
    """Things of one sort within a record, whose fields steps set.

    ``things`` gives them; ``key`` is the field by which a step names one; ``settable`` are the fields that a
    step may set. ``label`` says what one is called; ``check`` refuses what can't be left so, once all is set.
    """

    name: str
    things: Callable[[Record], QuerySet[Any]]
    key: str
    settable: tuple[str, ...]
    label: Callable[[Any], str] = str
    check: Callable[[Iterable[Any]], None] = field(default=lambda things: None)

    def do(self, record: Record, wanted: Wanted) -> dict[str, Fields]:
        """Set fields; gives what they were."""
        rows = self._rows(record)
        before = {key: {name: _now(rows[key], name) for name in values} for key, values in wanted.items()}
        self._set(rows, wanted)
        return before

    def undo(self, record: Record, before: Wanted, after: Wanted) -> tuple[Wanted, list[str]]:
        """Set back what still is as the step left it; gives what was set back, and the names of what
        wasn't."""
        rows = self._rows(record)
        back: dict[str, Fields] = {}
        left: list[str] = []
        for key, values in after.items():
            same = {
                name: before[key][name]
                for name, value in values.items()
                if key in rows and _now(rows[key], name) == value
            }
            if same:
                back[key] = same
            if len(same) < len(values) and key in rows:
                left.append(self.label(rows[key]))
        self._set(rows, back)
        return back, left

    def _rows(self, record: Record) -> dict[str, Model]:
        return {str(getattr(row, self.key)): row for row in self.things(record)}

    def _set(self, rows: Mapping[str, Any], wanted: Wanted) -> None:
        names = sorted({name for values in wanted.values() for name in values})
        assert set(names) <= set(self.settable), names
        for key, values in wanted.items():
            for name, value in values.items():
                setattr(rows[key], name, value)
        self.check(rows.values())
        touched = [rows[key] for key in wanted]
        if touched:
            type(touched[0])._default_manager.bulk_update(touched, names)


def _now(row: Model, name: str) -> Any:
    """Return what a field says now, as JSON keeps it."""
    value = getattr(row, name)
    if isinstance(value, (date, time)):
        return value.isoformat()
    return str(value) if isinstance(value, UUID) else value


PARTS: dict[str, Part] = {}


def register(part: Part) -> Part:
    """Make a part known under its name."""
    assert part.name not in PARTS, part.name
    PARTS[part.name] = part
    return part
