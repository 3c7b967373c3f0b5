"""A file's faults, as screens get them."""

from __future__ import annotations

from typing import TYPE_CHECKING

from quillcore.values import Fault

if TYPE_CHECKING:
    from goodquill.http import wire


def fault_rows(faults: list[Fault]) -> list[wire.Fault]:
    """Return faults as answers carry them."""
    return [{"message": f.message, "mend": f.mend, "place": f.place} for f in faults]
