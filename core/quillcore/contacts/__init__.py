"""People and firms that an agent works with again and again, and what they fill in a deal."""

from quillcore.contacts.cards import read_cards, read_stranger, write_csv, write_vcards
from quillcore.contacts.duplicates import alike, merged
from quillcore.contacts.meanwhile import over_what_stands
from quillcore.contacts.model import (
    FIELDS,
    KINDS,
    OF_AN_ENTITY,
    ContactFields,
    answers,
    fields_of,
    fills,
    kept_from,
    kind_for,
)

__all__ = [
    "FIELDS",
    "KINDS",
    "OF_AN_ENTITY",
    "ContactFields",
    "alike",
    "answers",
    "fields_of",
    "fills",
    "kept_from",
    "kind_for",
    "merged",
    "over_what_stands",
    "read_cards",
    "read_stranger",
    "write_csv",
    "write_vcards",
]
