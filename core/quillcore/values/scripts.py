"""The characters that can be set in a blank.

The value font carries Latin with Vietnamese, Greek and Cyrillic.  Anything else is refused
when it is typed, with a sentence, so that a legal paper never shows an empty box in its place.
A test in tests/core holds these ranges against the font file.
"""

from __future__ import annotations

import unicodedata

from quillcore.values.errors import Fault

_RANGES = (
    (0x20, 0x7E),
    (0xA0, 0x17F),
    (0x1A0, 0x1A1),
    (0x1AF, 0x1B0),
    (0x218, 0x21B),
    (0x1EA0, 0x1EF9),
    (0x384, 0x38A),
    (0x38C, 0x38C),
    (0x38E, 0x3A1),
    (0x3A3, 0x3CE),
    (0x400, 0x45F),
    (0x490, 0x491),
    (0x2013, 0x2014),
    (0x2018, 0x201A),
    (0x201C, 0x201E),
    (0x2020, 0x2022),
    (0x2026, 0x2026),
    (0x20AC, 0x20AC),
    (0x2122, 0x2122),
)
SETTABLE = frozenset(chr(code) for low, high in _RANGES for code in range(low, high + 1))


def tidy(text: str) -> str:
    """Return composed form (NFC), odd spaces made plain, each line trimmed; line ends are ``\\n``."""
    composed = (
        unicodedata.normalize("NFC", text).replace("\r\n", "\n").replace("\r", "\n").replace("\u00ad", "")
    )
    lines = (
        "".join(" " if unicodedata.category(c) == "Zs" or c == "\t" else c for c in line).strip()
        for line in composed.split("\n")
    )
    return "\n".join(lines).strip("\n")


def unsettable(text: str) -> Fault | None:
    """Return the fault that names the first character no form can print, or None."""
    for char in text:
        if char not in SETTABLE and char != "\n":
            name = unicodedata.name(char, f"U+{ord(char):04X}").title()
            return Fault(
                "script",
                f"“{char}” ({name}) can't be printed on the forms yet.",
                "Use Latin, Greek or Cyrillic letters, as on an ID.",
            )
    return None
