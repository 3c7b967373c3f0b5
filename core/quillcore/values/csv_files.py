"""CSV files as people's programs write them."""

from __future__ import annotations

import csv
import io

MOST_COLUMNS = 400
"""Counties' widest exports have some 250."""
MOST_CELL = 20_000
"""Characters of one cell: the longest legal descriptions have 8,000."""
# Control characters come along from old programs' exports; no cell means anything by them.
_DROPPED = dict.fromkeys([*range(0x09), 0x0B, 0x0C, *range(0x0E, 0x20), *range(0x7F, 0xA0), 0xFFFE, 0xFFFF])


def decoded(content: bytes) -> str:
    """Return the text of a file in UTF-8, with or without its mark, or else in the letters of Windows;
    without control characters."""
    try:
        text = content.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = content.decode("cp1252", errors="replace")
    return text.translate(_DROPPED)


def csv_lines(text: str, separators: str) -> list[list[str]]:
    """Return the lines that aren't empty, cut at whichever of the separators stands most often in the
    first.  Raises csv.Error, also where a line has more columns or a cell more text than any sheet of ours
    needs."""
    separator = max(separators, key=text.split("\n", 1)[0].count)
    csv.field_size_limit(MOST_CELL)
    lines = []
    for line in csv.reader(io.StringIO(text, newline=""), delimiter=separator):
        if len(line) > MOST_COLUMNS:
            raise csv.Error(f"a line has {len(line):,} columns, {MOST_COLUMNS} are the most")
        if any(cell.strip() for cell in line):
            lines.append(line)
    return lines
