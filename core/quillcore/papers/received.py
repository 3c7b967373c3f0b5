"""A paper that came from elsewhere, as it is: pages without blanks, made safe to keep and to combine.

``read_paper`` is what everybody calls; it works in a limited child process, where ``read_inside`` does the
reading.
"""

from __future__ import annotations

import base64
import hashlib
import json
import re
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date

from rapidfuzz import fuzz

from quillcore.facts import Side
from quillcore.forms.model import AUDIENCE, LETTER, Form, FormEdition, Mapping
from quillcore.pdf.foreign import open_foreign
from quillcore.pdf.renderer import plain_text
from quillcore.sandbox import run_limited
from quillcore.values import Fault

ALIKE = 88.0
"""Of a hundred: from here on two titles are taken for one paper's."""
_MOST_WORDS = 20_000

_ALL_SIDES = (Side.BUYING, Side.LISTING, Side.LEASING_OUT, Side.RENTING)


@dataclass(frozen=True)
class Received:
    """``clean`` pages with their sizes in points, what was printed and filled in on them, and what was left
    out."""

    clean: bytes
    sizes: tuple[tuple[float, float], ...]
    words: str
    removed: tuple[str, ...]


def read_paper(content: bytes) -> Received | Fault:
    """Take in a PDF that somebody has filled in or signed; what stands in its fields stays on the pages."""
    answer = run_limited("quillcore.papers.received:read_inside", content)
    if isinstance(answer, Fault):
        return answer
    data = json.loads(answer)
    return Received(
        base64.b64decode(data["clean"]),
        tuple((w, h) for w, h in data["sizes"]),
        data["words"],
        tuple(data["removed"]),
    )


def read_inside(content: bytes) -> bytes:
    """Return the reading itself, as JSON.  Raises ``quillcore.sandbox.Refused``."""
    found = open_foreign(content, filled=True)
    sizes = [[round(n, 2) for n in u.size] for u in found.uprights]
    words = plain_text(found.clean)[:_MOST_WORDS]
    return json.dumps(
        {
            "clean": base64.b64encode(found.clean).decode(),
            "sizes": sizes,
            "words": words,
            "removed": found.removed,
        }
    ).encode()


def paper_form(title: str, paper: Received, came: date, audience: tuple[str, ...] = AUDIENCE) -> Form:
    """Return the paper as an item of a package: an edition of its own without any blank."""
    edition = FormEdition(
        number="",
        title=title[:200] or "Paper without a title",
        topic="received",
        sides=_ALL_SIDES,
        released=came,
        pages=len(paper.sizes),
        page_content=hashlib.sha256(paper.clean).hexdigest(),
        fields=(),
        audience=audience,
        sizes=() if all(s == LETTER for s in paper.sizes) else paper.sizes,
    )
    return Form(edition, Mapping(meanings=()), paper.clean)


def title_of(file: str) -> str:
    """Return what a paper is called by the name of its file: "proof_of_funds-2.pdf" is "Proof of funds 2"."""
    words = " ".join(re.sub(r"[_\-.]+", " ", re.sub(r"\.\w{1,5}$", "", file)).split())
    return words[:1].upper() + words[1:] if words else "Paper without a title"


def place_for(title: str, words: str, waiting: Iterable[tuple[str, str]]) -> str | None:
    """Return which of the waiting places (id, what is expected there) a paper belongs to: by its title, or
    by the title that its own first page bears; None where that can't be told."""
    best, score = None, ALIKE
    head = _plain(words)[:700]
    for place, wanted in waiting:
        name = _plain(re.sub(r"^\s*\d{3}\s+", "", wanted))
        if not name:
            continue
        alike = max(
            fuzz.token_sort_ratio(_plain(title), name),
            100.0 if len(name.split()) > 1 and name in head else 0.0,
        )
        if alike > score:
            best, score = place, alike
    return best


def _plain(text: str) -> str:
    return " ".join(re.sub(r"[^\w ]+", " ", text.replace("’", "'").replace("'s", "s").lower()).split())
