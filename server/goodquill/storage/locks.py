"""Holding a row to the end of a transaction."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from django.db.models import Model


def hold(model: type[Model], key: UUID) -> None:
    """Lock one row by its key alone, and no row that a query joins to it: two who want the same wait for each
    other, and for nobody else."""
    rows: Any = model._default_manager
    rows.select_for_update().filter(pk=key).values_list("pk").first()
