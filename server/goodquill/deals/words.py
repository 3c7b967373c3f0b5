"""Keys and values in words, as screens show them."""

from __future__ import annotations

from quillcore.facts import load_catalog
from quillcore.values import EMPTY, KINDS, Value


def label_of(key: str) -> str:
    """What a fact or blank is called."""
    return load_catalog().label_of(key)


def shown(value: Value | None, kind: str) -> str:
    """A value as a screen shows it."""
    return "" if value is None else "None" if value is EMPTY else KINDS[kind].on_screen(value)


def editable(value: Value | None, kind: str) -> str:
    """A value as it is typed over: dates and amounts as people write them."""
    return "" if value is None else "None" if value is EMPTY else KINDS[kind].in_blank(value)
