"""What a package's blanks are called in files for other programs: ``301.price``, a second copy
``301-2.price``."""

from __future__ import annotations

import re
from collections.abc import Iterable

from quillcore.assembly.blanks import Document


def field_names(documents: Iterable[Document]) -> dict[str, dict[str, str]]:
    """For each document id: the file name of every field by its id.  Boxes of one group, and of one fact,
    share a name."""
    copies: dict[str, int] = {}
    found: dict[str, dict[str, str]] = {}
    for document in documents:
        number = _plain(document.form.edition.number)
        copies[number] = copies.get(number, 0) + 1
        prefix = number if copies[number] == 1 else f"{number}-{copies[number]}"
        names: dict[str, str] = {}
        taken: dict[str, str] = {}
        for field, meaning in document.form.pairs():
            shared = (meaning.group or meaning.fact or field.id) if field.shape == "box" else field.id
            own = _plain(shared)
            while taken.setdefault(own, shared) != shared:
                own += "-"
            names[field.id] = f"{prefix}.{own}"
        found[document.id] = names
    return found


def option_name(value: str | None) -> str:
    """What a box stands for, as a name that every program keeps whole."""
    return re.sub(r"[^A-Za-z0-9]+", "-", value).strip("-") or "Yes" if value else "Yes"


def _plain(name: str) -> str:
    return name.replace(".", "-")
