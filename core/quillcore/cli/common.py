"""Helpers that commands share: facts and packs from files, values as JSON, and exits with an error."""

from __future__ import annotations

import json
import sys
from collections.abc import Mapping, Sequence
from decimal import Decimal
from pathlib import Path
from typing import Any, NoReturn

from quillcore.values.structured import Twice, once


def fail(lines: Sequence[object]) -> NoReturn:
    """Say what is wrong, a line each, and end with 2."""
    for line in lines:
        print(line, file=sys.stderr)
    raise SystemExit(2)


def read_json(path: Path) -> Any:
    """Return a file's JSON, numbers as decimals."""
    try:
        return json.loads(path.read_text(encoding="utf-8"), parse_float=Decimal, object_pairs_hook=once)
    except (Twice, json.JSONDecodeError, UnicodeDecodeError) as trouble:
        fail([f"{path}: this isn't JSON that can be read ({trouble})."])


def read_object(path: Path) -> Mapping[str, Any]:
    """Return a file's JSON object."""
    found = read_json(path)
    if not isinstance(found, dict):
        fail([f"{path}: there should be an object of facts, by key."])
    return found
