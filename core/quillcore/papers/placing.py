"""An office's own form from any PDF: blanks that were found or placed by hand, with what they mean.

``make_form`` puts pages and placed blanks together, and finds everything that is wrong: blanks that
overlap or leave their page, meanings that don't resolve.  ``carried`` takes the meanings over to the
next edition of the same paper.
"""

from __future__ import annotations

import hashlib
import re
from collections.abc import Iterable, Iterator, Sequence
from datetime import date
from itertools import islice, pairwise
from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, StringConstraints, ValidationError
from pydantic import Field as Count
from rapidfuzz import fuzz, process

from quillcore.facts import load_catalog
from quillcore.forms.checks import check_form
from quillcore.forms.model import LETTER, Field, Form, FormEdition, Meaning, Name, Sentence, Word
from quillcore.forms.model import Mapping as FormMapping
from quillcore.papers.reading import PdfReading, ReadField
from quillcore.pdf import Rect
from quillcore.pdf.rects import TOUCH, common, lie_on_each_other
from quillcore.pdf.renderer import RuledLine
from quillcore.values import Fault

MOST_PLACED = 2_500
"""Blanks of one paper: the longest of the demo's has 219, a whole package of 99 pages 2,488."""
MOST_FAULTS = 100
LINE_HEIGHT = 20
"""Points that a line takes of a blank drawn by hand: what is drawn over ruled lines for a pen holds as many
lines as there are rules, and those are 18 to 24 points apart."""
_SET_LINE = 14
"""Points that a line takes of a field that a program made for several: 12-point text with its leading."""
_NEAR_RULE = 4.0
"""Points by which a blank drawn by hand, or made by a program, misses the line it is meant for."""


class Placed(BaseModel):
    """One blank or sign spot on a page: what it is bound to is said as in a mapping (see ``Meaning``).

    ``confirmed`` is whether a person has looked at what was suggested; it means nothing to the form.
    """

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)

    id: Word
    page: Annotated[int, Count(ge=1, le=500)]
    rect: Rect
    shape: Word = "text"
    lines: Annotated[int, Count(ge=1, le=60)] = 1
    label: Name = ""
    fact: Word = ""
    kind: Word = ""
    group: Word = ""
    value: Name = ""
    role: Word = ""
    sign: Word = ""
    who: Word = ""
    required: bool = True
    confirmed: bool = False
    confidence: float = 0.0
    others: Annotated[tuple[Word, ...], Count(max_length=8)] = ()


class OfficePaper(BaseModel):
    """An office's description of a paper of its own."""

    model_config = ConfigDict(extra="forbid")

    number: Annotated[str, StringConstraints(min_length=1, max_length=20)]
    title: Annotated[str, StringConstraints(min_length=1, max_length=200)]
    topic: Word = "office"
    purpose: Sentence = ""
    sides: tuple[str, ...] = ("buying", "listing", "leasing out", "renting")


def placed_from(reading: PdfReading) -> list[Placed]:
    """Return the blanks of a reading as they are proposed: one for each place on a page that can be seen."""
    out: list[Placed] = []
    taken: set[str] = set()
    for field in reading.fields:
        for n, place in enumerate(field.places, 1):
            left, bottom, right, top = place.seen
            width, height = reading.sizes[place.page - 1]
            rect = (max(left, 0.0), max(bottom, 0.0), min(right, width), min(top, height))
            if rect[2] - rect[0] < 2 or rect[3] - rect[1] < 2:
                continue  # a field that nobody can see
            name = own = _id(field.name if len(field.places) == 1 else f"{field.name}-{place.option or n}")
            count = 1
            while own in taken:
                count += 1
                own = f"{name}-{count}"
            taken.add(own)
            out.append(_proposed(field, own, place.page, rect, place.option))
    return list(_ruled(_apart(out), reading.rules))


def _proposed(field: ReadField, own: str, page: int, rect: Rect, option: str) -> Placed:
    base: dict[str, Any] = {
        "id": own,
        "page": page,
        "rect": rect,
        "label": field.label[:120],
        "required": field.required or bool(field.fact),
        "confidence": field.confidence,
        "others": field.others,
    }
    if field.kind == "signature" or field.sign:
        return Placed(**base, shape="sign", role=field.role, sign=field.sign or "signature")
    if field.kind in ("check", "one_of"):
        words = _option_words(field)
        fact = field.fact if words is not None else ""
        value = "" if field.kind == "check" else words[option] if words else option
        return Placed(**base, shape="box", fact=fact, group="" if fact else _id(field.name), value=value)
    lines = max(1, round((rect[3] - rect[1]) / _SET_LINE)) if field.kind == "long_text" else 1
    kind = "" if field.fact else field.own_kind or ("long_text" if field.kind == "long_text" else "text")
    return Placed(**base, lines=lines, fact=field.fact, kind=kind)


def _option_words(field: ReadField) -> dict[str, str] | None:
    """Return what the suggested fact calls each of the field's options; {} for one without options, None
    where one has no word for it."""
    known = load_catalog()[field.fact].options if field.fact else ()
    if field.kind == "check" or not known:
        return {} if field.fact and field.kind == "check" and not known else None
    near = {
        o: process.extractOne(o.lower(), [k.lower() for k in known], scorer=fuzz.ratio, score_cutoff=80)
        for o in field.options
    }
    return None if None in near.values() else {o: known[found[2]] for o, found in near.items() if found}


def _apart(placed: list[Placed]) -> list[Placed]:
    """Return the same without those that lie wholly on one before them: a file's doubled fields are one
    blank to the eye."""
    place = {p.id: n for n, p in enumerate(placed)}
    doubled = {
        max(pair, key=lambda p: place[p.id]).id
        for pair in _overlapping(placed)
        if common(pair[0].rect, pair[1].rect) > 0.6 * min(_size(pair[0].rect), _size(pair[1].rect))
    }
    return [p for p in placed if p.id not in doubled]


def on_rules(one: Placed, rules: Sequence[RuledLine]) -> Placed:
    """Return a text blank brought onto the lines printed under it, of those on its page: what is typed
    stands on them, a line on each.  The same where there are none, or none that go together."""
    left, bottom, right, top = one.rect
    if one.shape != "text":
        return one
    under = [
        r.at
        for r in rules
        if bottom - _NEAR_RULE <= r.at <= top - _NEAR_RULE
        and min(right, r.right) - max(left, r.left) >= 0.6 * (right - left)
    ]
    heights = sorted(set(under), reverse=True)
    gaps = [a - b for a, b in pairwise(heights)]
    if not heights or (gaps and (min(gaps) < 8 or max(gaps) - min(gaps) > 2.5)):
        return one
    pitch = sum(gaps) / len(gaps) if gaps else min(max(top - heights[0], 8.0), LINE_HEIGHT)
    rect = (left, heights[-1], right, min(heights[0] + pitch, top + _NEAR_RULE))
    return one.model_copy(update={"rect": rect, "lines": len(heights)})


def _ruled(placed: Sequence[Placed], rules: Sequence[RuledLine]) -> Sequence[Placed]:
    """Return all of them on the lines printed under them, as long as none then lies on another."""
    if not rules:
        return placed
    by_page: dict[int, list[RuledLine]] = {}
    for rule in rules:
        by_page.setdefault(rule.page, []).append(rule)
    ruled = [on_rules(one, by_page.get(one.page, ())) for one in placed]
    return ruled if not overlaps(ruled) else placed


def make_form(
    paper: OfficePaper,
    placed: Sequence[Placed],
    pdf: bytes,
    sizes: Sequence[tuple[float, float]],
    released: date,
    rules: Sequence[RuledLine] = (),
) -> Form | list[Fault]:
    """Return the form, or everything that is wrong with it.  Blanks over ``rules`` are brought onto them,
    as long as none then lies on another."""
    placed = _ruled(placed, rules)
    faults = overlaps(placed)
    boxes = [p for p in placed if p.shape == "box" and not p.fact and not p.group]
    faults += [
        Fault("placing", f"“{p.label or p.id}” is a box of no group.", "Say what it stands for.", p.id)
        for p in boxes
    ]
    faults += [
        Fault("placing", f"No one is named for “{p.label or p.id}”.", "Say who signs there.", p.id)
        for p in placed
        if p.shape == "sign" and not p.role
    ]
    if not placed:
        faults.append(
            Fault("placing", "The form has no blank yet.", "Place one, or keep the paper as an upload.")
        )
    if faults:
        return faults
    try:
        edition = FormEdition.model_validate(
            {
                **paper.model_dump(),
                "audience": ("client",),
                "released": released,
                "pages": len(sizes),
                "page_content": hashlib.sha256(pdf).hexdigest(),
                "sizes": () if all(tuple(s) == LETTER for s in sizes) else sizes,
                "fields": [_field(p) for p in sorted(placed, key=lambda p: (p.page, -p.rect[3], p.rect[0]))],
            }
        )
        mapping = FormMapping(meanings=tuple(_meaning(p) for p in placed))
    except ValidationError as trouble:
        return [
            Fault("placing", f"{e['msg']}.", "Check what was entered.", ".".join(map(str, e["loc"])))
            for e in trouble.errors()
        ]
    form = Form(edition, mapping, pdf)
    return check_form(form) or form


def overlaps(placed: Sequence[Placed]) -> list[Fault]:
    """Return pairs of blanks that lie on each other, the first hundred of them."""
    return list(islice((_overlap_fault(*pair) for pair in _overlapping(placed)), MOST_FAULTS))


def _overlapping(placed: Sequence[Placed]) -> Iterator[tuple[Placed, Placed]]:
    """Yield pairs that overlap.  A line sweeps up each page: a blank is compared only with those that the
    line crosses too."""
    crossed: list[Placed] = []
    for one in sorted(placed, key=lambda p: (p.page, p.rect[1])):
        crossed = [p for p in crossed if p.page == one.page and p.rect[3] > one.rect[1] + TOUCH]
        yield from ((other, one) for other in crossed if lie_on_each_other(one.rect, other.rect))
        crossed.append(one)


def _overlap_fault(other: Placed, one: Placed) -> Fault:
    names = f"“{other.label or other.id}” and “{one.label or one.id}”"
    return Fault("placing", f"{names} lie on each other on page {one.page}.", "Move or narrow one.", one.id)


def _field(p: Placed) -> Field:
    height = (p.rect[3] - p.rect[1]) / p.lines
    return Field.model_validate(
        {
            "id": p.id,
            "page": p.page,
            "rect": p.rect,
            "shape": p.shape,
            "lines": p.lines,
            "size": min(10.0, round(height * 0.8, 1)),
            "least": min(6.0, round(height * 0.5, 1)),
        }
    )


def _meaning(p: Placed) -> Meaning:
    said = {
        "id": p.id,
        "label": p.label,
        "required": "always" if p.required else "never",
        "who": p.who or None,
    }
    if p.shape == "sign":
        return Meaning.model_validate({**said, "role": p.role, "sign": p.sign or "signature"})
    if p.fact:
        return Meaning.model_validate({**said, "fact": p.fact, "value": p.value or None})
    if p.shape == "box":
        return Meaning.model_validate({**said, "group": p.group, "value": p.value or None})
    return Meaning.model_validate({**said, "kind": p.kind or "text"})


def carried(before: Form, placed: Iterable[Placed]) -> tuple[list[Placed], dict[str, list[str]]]:
    """Return the proposed blanks of a next edition with the meanings of the one before, and what is new,
    gone and moved.

    Blanks are known by id; else by a fact at about the same place of the same page.
    """
    old = before.mapping.by_id
    fields = before.edition.by_id
    on_page: dict[int, list[Field]] = {}
    for field in before.edition.fields:
        on_page.setdefault(field.page, []).append(field)
    out, told = [], {"new": [], "gone": [], "moved": []}  # type: tuple[list[Placed], dict[str, list[str]]]
    used: set[str] = set()
    for one in placed:
        match = (
            one.id
            if one.id in old
            else next(
                (f.id for f in on_page.get(one.page, ()) if f.id not in used and near(f.rect, one.rect)), None
            )
        )
        if match is None:
            told["new"].append(one.id)
            out.append(one)
            continue
        used.add(match)
        m = old[match]
        if not near(fields[match].rect, one.rect) or fields[match].page != one.page:
            told["moved"].append(match)
        said = {
            "fact": m.fact or "",
            "kind": m.kind or "",
            "group": m.group or "",
            "value": m.value or "",
            "role": m.role or "",
            "sign": m.sign or "",
        }
        out.append(
            one.model_copy(
                update={
                    **said,
                    "id": match,
                    "label": m.label,
                    "who": m.who or "",
                    "required": m.required != "never",
                    "confirmed": True,
                }
            )
        )
    told["gone"] = [i for i in fields if i not in used]
    return out, told


def near(a: Rect, b: Rect) -> bool:
    """Return whether two rectangles of one page are the same place to the eye."""
    return all(abs(x - y) <= 2.5 for x, y in zip(a, b, strict=True))


def _id(name: str) -> str:
    plain = re.sub(r"\[\d+\]", "", name).lower()
    return re.sub(r"[^a-z0-9]+", "-", plain).strip("-")[:80] or "blank"


def _size(r: Rect) -> float:
    return (r[2] - r[0]) * (r[3] - r[1])


__all__ = ["OfficePaper", "Placed", "carried", "make_form", "near", "overlaps", "placed_from"]
