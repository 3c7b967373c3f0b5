"""Typed values: what people type, how a value prints, and when two values are equal."""

from quillcore.values.errors import Fault
from quillcore.values.kinds import EMPTY, KINDS, Empty, Kind, Value, kind_named
from quillcore.values.words import amount_in_words

__all__ = ["EMPTY", "KINDS", "Empty", "Fault", "Kind", "Value", "amount_in_words", "kind_named"]
