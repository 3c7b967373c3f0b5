"""What a form fixes of its blanks, as the paper draws them: sent once, and kept by browsers under the form's
hashes."""

from __future__ import annotations

from typing import Any

from quillcore.assembly.blanks import Spot
from quillcore.facts.keys import read_role
from quillcore.forms.model import facts_read


def layout_row(spot: Spot) -> dict[str, Any]:
    """One blank: rectangle in points from the lower left, what it is called, and how it is edited."""
    f, m = spot.field, spot.meaning
    role = read_role(m.role or m.who or "")
    return {
        "field": f.id,
        "page": f.page,
        "rect": f.rect,
        "shape": f.shape,
        "lines": f.lines,
        "align": f.align,
        "size": f.usual_size,
        "fact": spot.fact or "",
        "own": spot.own,
        "kind": spot.kind,
        "options": spot.options,
        "value": m.value or "",
        "label": spot.label,
        "help": m.help,
        "role": role.label if role is not None else "",
        "role_group": (role.party_group or "") if role is not None else "",
        "role_position": role.position if role is not None else 0,
        "sign": m.sign or "",
        "editable": spot.editable,
        "reads": sorted(facts_read(m)),
    }
