"""What is wrong with a file, as screens get it."""

from __future__ import annotations

from quillcore.values import Fault


def fault_rows(faults: list[Fault]) -> list[dict[str, str]]:
    """Faults as answers carry them."""
    return [{"message": f.message, "mend": f.mend, "place": f.place} for f in faults]
