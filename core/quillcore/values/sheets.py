"""CSV files as people's programs write them."""

from __future__ import annotations

import csv
import io


def decoded(content: bytes) -> str:
    """The text of a file in UTF-8, with or without its mark, or else in the letters of Windows."""
    try:
        return content.decode("utf-8-sig")
    except UnicodeDecodeError:
        return content.decode("cp1252", errors="replace")


def csv_lines(text: str, separators: str) -> list[list[str]]:
    """The lines that aren't empty, cut at whichever of the separators stands most often in the first.  Raises csv.Error."""
    separator = max(separators, key=text.split("\n", 1)[0].count)
    return [line for line in csv.reader(io.StringIO(text, newline=""), delimiter=separator) if any(cell.strip() for cell in line)]
