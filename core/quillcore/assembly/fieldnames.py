"""Names of a package's blanks in files for other programs: ``301.price``, a second copy ``301-2.price``."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from functools import lru_cache

from quillcore.assembly.blanks import PackageDocument
from quillcore.forms.model import Form


def field_names(documents: Iterable[PackageDocument]) -> dict[str, dict[str, str]]:
    """Return, for each document id, the file name of every field by its id. Boxes of one group, and of one
    fact, share a name."""
    copies: dict[str, int] = {}
    found: dict[str, dict[str, str]] = {}
    for document in documents:
        number = _plain(document.form.edition.number)
        copies[number] = copies.get(number, 0) + 1
        prefix = number if copies[number] == 1 else f"{number}-{copies[number]}"
        found[document.id] = {field: f"{prefix}.{own}" for field, own in own_names(document.form).items()}
    return found


@lru_cache(maxsize=256)
def own_names(form: Form) -> Mapping[str, str]:
    """Return what the form's fields are called within it, by their ids."""
    names: dict[str, str] = {}
    taken: dict[str, str] = {}
    for field, meaning in form.pairs():
        shared = (meaning.group or meaning.fact or field.id) if field.shape == "box" else field.id
        own = _plain(shared)
        while taken.setdefault(own, shared) != shared:
            own += "-"
        names[field.id] = own
    return names


@lru_cache(maxsize=4_000)
def option_name(value: str | None) -> str:
    """Return what a box stands for, as a name that every program keeps whole."""
    return re.sub(r"[^A-Za-z0-9]+", "-", value).strip("-") or "Yes" if value else "Yes"


def _plain(name: str) -> str:
    return name.replace(".", "-")
