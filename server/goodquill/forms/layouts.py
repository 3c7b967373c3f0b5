"""A form's blanks, as the paper draws them: sent once, and kept by browsers under the form's hashes."""

from __future__ import annotations

from typing import TYPE_CHECKING

from quillcore.assembly.fixed import FixedBlank, spots_of
from quillcore.facts import load_catalog
from quillcore.facts.keys import read_role
from quillcore.forms import Form
from quillcore.forms.beside import said_beside
from quillcore.forms.model import facts_read

if TYPE_CHECKING:
    from goodquill.http import wire


def layout_rows(form: Form, foreign: bool = False) -> list[wire.LayoutBlank]:
    """Return all blanks in reading order, of a form as one side sees it.  The pages of a ``foreign`` one
    aren't read."""
    lines = form.edition.line_of
    beside = {} if foreign else said_beside(form)
    return [
        _row(spot, lines[spot.field.id], beside.get(spot.field.id, ""))
        for spot in spots_of(form, load_catalog())
    ]


def _row(spot: FixedBlank, line: float, beside: str) -> wire.LayoutBlank:
    """Return one blank: rectangle in points from the lower left, what it is called, and how it is edited."""
    f, m = spot.field, spot.meaning
    role = read_role(m.role or m.who or "")
    return {
        "field": f.id,
        "page": f.page,
        "rect": f.rect,
        "shape": f.shape,
        "lines": f.lines,
        "line": line,
        "beside": beside,
        "align": f.align,
        "size": f.usual_size,
        "fact": spot.fact or "",
        "own": spot.own,
        "kind": spot.kind,
        "options": spot.options,
        "value": m.value or "",
        "label": spot.label,
        "help": m.help,
        "ask": spot.ask,
        "role": role.label if role is not None else "",
        "role_group": (role.party_group or "") if role is not None else "",
        "role_position": role.position if role is not None else 0,
        "sign": m.sign or "",
        "editable": spot.editable,
        "reads": sorted(facts_read(m)),
    }
