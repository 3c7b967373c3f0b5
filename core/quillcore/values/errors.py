"""A user's mistakes as data. Exceptions are for bugs; a Fault is an answer."""

from __future__ import annotations

from dataclasses import dataclass, replace


@dataclass(frozen=True)
class Fault:
    """One thing that is wrong, in words for the person who can mend it.

    ``rule`` is a stable name for tests and screens; ``place`` says where (a key, a file, a
    column; empty when the caller knows better); ``message`` is one plain sentence; ``mend``
    says what to do and may be empty.
    """

    rule: str
    message: str
    mend: str = ""
    place: str = ""

    def at(self, place: str) -> Fault:
        """Return the same fault, with its place filled in."""
        return replace(self, place=place)

    def __str__(self) -> str:
        head = f"{self.place}: " if self.place else ""
        return f"{head}{self.message} {self.mend}".strip()
