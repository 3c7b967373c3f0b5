"""Finding duplicate contacts, and merging them."""

from __future__ import annotations

import re

from rapidfuzz import fuzz

from quillcore.contacts.model import FIELDS, ContactFields
from quillcore.values.addresses import normal_form

_NEARLY = 90.0


def alike(one: ContactFields, other: ContactFields) -> str:
    """Return why two contacts are probably the same ("the same e-mail"), or "".

    An e-mail that a couple shares doesn't make them one: with two different given names they stay two.
    """
    if _apart(one, other):
        return ""
    if _same(one, other, "email"):
        return "the same e-mail"
    digits = [re.sub(r"\D", "", c.get("phone"))[-10:] for c in (one, other)]
    near = (
        fuzz.token_sort_ratio(_plain(one.name), _plain(other.name)) >= _NEARLY
        if one.name and other.name
        else False
    )
    if near and digits[0] and digits[0] == digits[1]:
        return "the same phone and nearly the same name"
    if near and _same(one, other, "licence"):
        return "the same license and nearly the same name"
    if one.name and _plain(one.name) == _plain(other.name):
        addresses = [normal_form(c.get("address")) for c in (one, other)]
        if all(addresses) and addresses[0] != addresses[1] and not _same(one, other, "company"):
            return ""
        return "the same name"
    return ""


def _apart(one: ContactFields, other: ContactFields) -> bool:
    """Return two people whose given names have nothing to do with each other."""
    a, b = _plain(one.get("given")), _plain(other.get("given"))
    if not a or not b:
        return False
    return not (a.startswith(b) or b.startswith(a) or fuzz.ratio(a, b) >= 75)


def _same(one: ContactFields, other: ContactFields, field: str) -> bool:
    return bool(one.get(field)) and one.get(field).casefold() == other.get(field).casefold()


def _plain(text: str) -> str:
    return " ".join(re.sub(r"[^\w ]+", " ", text.casefold()).split())


def merged(keep: ContactFields, other: ContactFields) -> ContactFields:
    """Return both as one: what the kept one says stays, what it lacks comes from the other, and what
    differs goes to the notes, so that nothing is lost."""
    fields = {name: keep.get(name) for name in FIELDS if keep.get(name)}
    left = []
    for name, label in FIELDS.items():
        text = other.get(name)
        if not text or name == "notes":
            continue
        if not fields.get(name):
            fields[name] = text
        elif _plain(fields[name]) != _plain(text):
            left.append(f"{label}: {text}")
    notes = [
        keep.get("notes"),
        other.get("notes") if other.get("notes") != keep.get("notes") else "",
        f"Also {'; '.join(left)}" if left else "",
    ]
    if text := "\n".join(n for n in notes if n):
        fields["notes"] = text
    return ContactFields(keep.kind if keep.kind != "other" else other.kind, fields)
