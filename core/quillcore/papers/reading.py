"""Any PDF as a form: its blanks, found or to be placed, and what they probably mean.

``read_form`` is what everybody calls; it works in a limited child process (quillcore.sandbox), where
``read_inside`` does the reading.
"""

from __future__ import annotations

import base64
import json
import time
from dataclasses import asdict
from typing import Any

from pydantic import BaseModel, ConfigDict

from quillcore.forms.printed import PrintedWords, printed_on
from quillcore.papers.suggesting import Evidence, alike, candidates, suggest_spot, tokens
from quillcore.pdf.foreign import open_foreign
from quillcore.pdf.renderer import RuledLine, Word, rules_of, words_of
from quillcore.pdf.widgets import FoundField, Rect
from quillcore.sandbox import run_limited
from quillcore.values import Fault

_WORDS_BY, _SUGGESTED_BY, _PRINTED_BY, _RULES_BY = 3.5, 4.5, 6.0, 6.5
"""Seconds of the child's computing after which blanks go without words around them, or suggestions, and the
paper without its text, or without its rules."""


class ReadPlace(BaseModel):
    """One place of a field: page from 1; ``rect`` as the file says it, ``seen`` on the upright page that is
    kept."""

    model_config = ConfigDict(frozen=True)
    page: int
    rect: Rect
    seen: Rect
    option: str = ""


class ReadField(BaseModel):
    """A field of a form by others.  ``fact`` and ``confidence`` are the suggestion ("" for none); ``role``
    and ``sign`` likewise."""

    model_config = ConfigDict(frozen=True)
    name: str
    kind: str
    places: tuple[ReadPlace, ...]
    label: str
    required: bool
    options: tuple[str, ...]
    max_length: int | None
    comb: bool
    value: str | None
    own_kind: str
    fact: str
    confidence: float
    role: str
    sign: str
    others: tuple[str, ...] = ()
    """Facts that are likely too, should the suggestion be wrong."""


class PdfReading(BaseModel):
    """The content of a PDF: pages ready to be an edition's (``clean``, sizes in points), its fields,
    everything that was left out, and the lines printed to write on."""

    pages: int
    sizes: tuple[tuple[float, float], ...]
    title: str
    fields: tuple[ReadField, ...]
    removed: tuple[str, ...]
    printed: PrintedWords = PrintedWords()
    rules: tuple[RuledLine, ...] = ()
    clean: bytes = b""


def read_form(content: bytes) -> PdfReading | Fault:
    """Read any PDF within bounds of time and memory; a Fault says in a sentence why it can't be used."""
    answer = run_limited("quillcore.papers.reading:read_inside", content)
    if isinstance(answer, Fault):
        return answer
    data = json.loads(answer)
    return PdfReading.model_validate({**data, "clean": base64.b64decode(data["clean"])})


def read_inside(content: bytes) -> bytes:
    """Return the reading itself, as JSON.  Raises ``quillcore.sandbox.Refused``."""
    begun = time.process_time()
    found = open_foreign(content)
    wanted = {p.page for f in found.fields for p in f.places} | {1}
    words: dict[int, list[Word]] = {}
    for page in sorted(wanted):
        if not _left(begun, _WORDS_BY):
            break
        words |= words_of(found.clean, {page})
    seen = {
        (id(f), n): found.uprights[p.page - 1].rect(p.rect)
        for f in found.fields
        for n, p in enumerate(f.places)
    }
    taken: dict[int, list[Rect]] = {}
    for f in found.fields:
        for n, p in enumerate(f.places):
            taken.setdefault(p.page, []).append(seen[id(f), n])
    fields = []
    for f in found.fields:
        in_time = _left(begun, _SUGGESTED_BY)
        fields.append(
            _field(
                f,
                [seen[id(f), n] for n in range(len(f.places))],
                words if in_time else {},
                taken if in_time else {},
                in_time,
            )
        )
    _date_beside_signature(fields)
    reading = {
        "pages": len(found.uprights),
        "sizes": [u.size for u in found.uprights],
        "title": title_on(words.get(1, [])),
        "fields": fields,
        "removed": found.removed,
        "printed": asdict(
            printed_on(found.clean, tuple(u.size[1] for u in found.uprights))
            if _left(begun, _PRINTED_BY)
            else PrintedWords()
        ),
        "rules": (
            rules_of(found.clean, set(range(1, len(found.uprights) + 1))) if _left(begun, _RULES_BY) else []
        ),
        "clean": base64.b64encode(found.clean).decode(),
    }
    return json.dumps(reading, ensure_ascii=False).encode("utf-8", "replace")


def _left(begun: float, most: float) -> bool:
    """Return whether less than ``most`` seconds have been computed."""
    return time.process_time() - begun < most


def _field(
    f: FoundField,
    seen: list[Rect],
    words: dict[int, list[Word]],
    taken: dict[int, list[Rect]],
    suggests: bool,
) -> dict[str, Any]:
    page, here = f.places[0].page, seen[0]
    left, above, below, section = around(here, words.get(page, []), taken.get(page, []))
    right = right_of(here, words.get(page, [])) if f.kind in ("check", "one_of") else ""
    evidence = Evidence(
        _speaking(f.name),
        f.tooltip,
        right or left,
        "" if right else above,
        "" if right else below,
        section,
        f.kind,
        f.options,
    )
    spot = suggest_spot(evidence) if suggests else None
    found = candidates(evidence) if suggests else []
    return {
        "name": f.name,
        "kind": f.kind,
        "places": [
            {"page": p.page, "rect": p.rect, "seen": s, "option": p.option}
            for p, s in zip(f.places, seen, strict=True)
        ],
        "label": f.tooltip or _tail(right or left) or _tail(below) or _tail(above) or f.name,
        "required": f.required,
        "options": f.options,
        "max_length": f.max_length,
        "comb": f.comb,
        "value": f.value,
        "own_kind": _own_kind(f.script),
        "fact": found[0].fact if found else "",
        "confidence": found[0].confidence if found else 0.0,
        "others": list(
            dict.fromkeys([*(s.fact for s in found[1:]), *(alike(found[0].fact) if found else [])])
        )[:4],
        "role": spot.role if spot else "",
        "sign": spot.sign if spot else "",
    }


def _date_beside_signature(fields: list[dict[str, Any]]) -> None:
    """Take a bare "Date" on the line of a signature for the day that person signs."""
    signatures = [f for f in fields if f["sign"] == "signature"]
    for f in fields:
        at = f["places"][0]
        if (
            f["kind"] != "text"
            or f["sign"]
            or tokens(f["label"])[-1:] != ["date"]
            or len(tokens(f["label"])) > 2
        ):
            continue
        beside = [
            s
            for s in signatures
            if s["places"][0]["page"] == at["page"] and abs(s["places"][0]["seen"][1] - at["seen"][1]) < 9
        ]
        left_of = [s for s in beside if s["places"][0]["seen"][0] < at["seen"][0]]
        if left_of:
            nearest = max(left_of, key=lambda s: s["places"][0]["seen"][0])
            f |= {"role": nearest["role"], "sign": "date", "fact": "", "confidence": 0.0}


def around(rect: Rect, words: list[Word], taken: list[Rect]) -> tuple[str, str, str, str]:
    """Return the printed words left of a blank, above it and below it, and the role words that head its
    part of the page."""
    left, bottom, right, top = rect
    middle = (bottom + min(top, bottom + 14)) / 2
    edge = max(
        (t[2] for t in taken if t != rect and t[2] <= left + 1 and t[1] < middle + 4 and t[3] > middle - 4),
        default=-1.0,
    )
    before = sorted(
        w for w in words if edge - 1 <= w.left and w.right <= left + 4 and w.bottom - 4 <= middle <= w.top + 5
    )
    line: list[Word] = []
    for word in reversed(before):
        if line and line[-1].left - word.right > 40:
            break
        line.append(word)
    if line and left - line[0].right > 120:
        line = []
    over = [
        w
        for w in words
        if top - 3 <= w.bottom <= top + 13 and w.right > left - 2 and w.left < min(right, left + 160)
    ]
    under = [
        w
        for w in words
        if bottom - 13 <= w.top <= bottom + 3 and w.right > left - 2 and w.left < min(right, left + 160)
    ]
    heads = [w for w in words if top < w.bottom < top + 170 and w.left < right + 60 and w.right > left - 130]
    section = " ".join(w.text for w in sorted(heads, key=lambda w: -w.bottom)[-40:])
    return (
        " ".join(w.text for w in reversed(line[:14])),
        " ".join(w.text for w in sorted(over, key=lambda w: w.left)[:8]),
        " ".join(w.text for w in sorted(under, key=lambda w: w.left)[:8]),
        section,
    )


def right_of(rect: Rect, words: list[Word]) -> str:
    """Return the words right of a box, which is where a box's meaning is printed."""
    middle = (rect[1] + rect[3]) / 2
    after = sorted(
        w
        for w in words
        if w.left >= rect[2] - 2 and w.bottom - 2 <= middle <= w.top + 2 and w.left < rect[2] + 150
    )
    return " ".join(w.text for w in after[:6])


def _speaking(name: str) -> str:
    """Return what of a field's full name speaks: the last part, without numbering; "" where it is a
    generator's own."""
    last = name.split(".")[-1].split("[")[0]
    return (
        ""
        if last.lower().rstrip("0123456789_ ")
        in ("text", "textfield", "field", "untitled", "undefined", "fill", "check box", "checkbox")
        else last
    )


def _tail(text: str) -> str:
    return " ".join(text.split()[-7:]).strip(" :.,;$")


def _own_kind(script: str) -> str:
    """Return the kind that a field's own formatting speaks of; nothing is run."""
    for sign, kind in (
        ("AFDate", "date"),
        ("AFTime", "time"),
        ("AFPercent", "percent"),
        ("AFNumber", "number"),
    ):
        if sign in script:
            return "money" if kind == "number" and "$" in script else kind
    return ""


def title_on(words: list[Word]) -> str:
    """Return the first of the largest lines of the first page's upper half: what the paper is probably
    called."""
    upper = [w for w in words if len(w.text) > 1]
    if not upper:
        return ""
    large = _SAME_SIZE * max(map(_size, upper))
    first = max((w for w in upper if _size(w) >= large), key=lambda w: w.top)
    beside = 0.3 * _size(first)  # what falls below the line and what doesn't end so far apart
    line = sorted(w for w in words if abs(w.bottom - first.bottom) < beside)
    return " ".join(w.text for w in line)[:120]


_SAME_SIZE = 0.9
"""Of the largest size, from which on a word is as large: sizes are told by the ink."""


def _size(word: Word) -> float:
    """Return the size of a word's letters in points, told by its ink: capitals reach 0.72 of it above the
    line, small letters 0.5, and 0.2 below it."""
    rises = any(c.isupper() or c.isdigit() or c in "bdfhijklt" for c in word.text)
    falls = any(c in "gjpqy,;()" for c in word.text)
    return (word.top - word.bottom) / ((0.72 if rises else 0.5) + (0.2 if falls else 0.0))


def as_json(reading: PdfReading) -> dict[str, Any]:
    """Return a reading as ``quill form read`` prints it."""
    return {
        "pages": reading.pages,
        "fields": [
            {
                "name": f.name,
                "kind": f.kind,
                "page": f.places[0].page,
                "rect": list(f.places[0].rect),
                "label": f.label,
                "required": f.required,
                "options": list(f.options),
                "suggested": {"fact": f.fact, "confidence": f.confidence} if f.fact else None,
                "role": f.role or None,
                "sign": f.sign or None,
                "value": f.value,
                "max_length": f.max_length,
                "comb": f.comb,
                "places": [
                    {"page": p.page, "rect": list(p.rect), "option": p.option or None} for p in f.places
                ],
            }
            for f in reading.fields
        ],
        "removed": list(reading.removed),
    }
