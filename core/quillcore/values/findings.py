"""Remarks: each is a fact that somebody should look at."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from quillcore.values.errors import Fault


class FindingWeight(StrEnum):
    """The weight of a remark: it is wrong as it stands, it should be looked at, it is good to know."""

    WRONG = "wrong"
    LOOK = "look"
    NOTE = "note"


@dataclass(frozen=True)
class Finding:
    """One remark, in words for the person who can mend it.

    ``rule`` is a stable name for tests and screens; ``place`` the key it speaks of (a fact's, a blank's own
    as ``doc.<document>.<name>``, a document's as ``doc.<document>``); ``message`` is one plain sentence;
    ``mend`` says what to do and may be empty.
    """

    rule: str
    weight: FindingWeight
    place: str
    message: str
    mend: str = ""

    @classmethod
    def of(cls, fault: Fault, place: str) -> Finding:
        """Return a fault of something that holds, found at ``place``."""
        return cls(fault.rule, FindingWeight.WRONG, place, fault.message, fault.mend)
