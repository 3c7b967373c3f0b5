"""Typed values: what people type, how a value prints, and when two values are equal."""

from quillcore.values.errors import Fault
from quillcore.values.findings import Finding, FindingWeight
from quillcore.values.kinds import (
    EMPTY,
    KINDS,
    Empty,
    Printable,
    Value,
    ValueKind,
    editable,
    kind_named,
    read_answer,
    shown,
)
from quillcore.values.words import amount_in_words

__all__ = [
    "EMPTY",
    "KINDS",
    "Empty",
    "Fault",
    "Finding",
    "FindingWeight",
    "Printable",
    "Value",
    "ValueKind",
    "amount_in_words",
    "editable",
    "kind_named",
    "read_answer",
    "shown",
]
