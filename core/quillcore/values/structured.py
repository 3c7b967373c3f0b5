"""JSON and YAML from elsewhere: bounded in depth and number, and without what no database or file can hold.

One place says what text may be kept (``unfit_text``) and what data may come in (``read_json``, ``read_yaml``,
``unfit``); requests, packs, templates and exports all come through it.
"""

from __future__ import annotations

import json
import math
import re
from typing import Any

import yaml

from quillcore.values.errors import Fault

MOST_DEPTH = 40
"""Our own deepest answer is nested seven times."""
MOST_NODES = 400_000
"""Of one YAML file: the longest mapping of the demo's pack has 9,000."""
LONGEST_NUMBER = 40
"""Digits and signs.  A longer number comes in as text, which whoever wants a number then refuses with a
sentence."""

# Line breaks and tabs are text; other control characters and halves of surrogate pairs are no character of
# any script.
_UNFIT = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f\ud800-\udfff\ufffe\uffff]")
_TOKENS = re.compile(r'"(?:[^"\\]|\\.)*"|[\[\]{}]', re.S)


def digits(text: str, most: int = 9) -> int | None:
    """The number that a few ASCII digits say, None for anything else: "²" and "٣" are digits to Python, and
    int() refuses the first."""
    return int(text) if text.isascii() and text.isdigit() and len(text) <= most else None


def unfit_text(text: str) -> Fault | None:
    """The fault of a text that can't be kept: it has a control character or half a character."""
    found = _UNFIT.search(text)
    if found is None:
        return None
    return Fault(
        "text",
        f"The text has a character that can't be kept (U+{ord(found[0]):04X}).",
        "Type it again, or paste it as plain text.",
    )


def unfit(data: Any) -> Fault | None:
    """The first thing in data read from JSON or YAML that can't be kept; keys of objects are texts too."""
    waiting = [data]
    while waiting:
        one = waiting.pop()
        if isinstance(one, str):
            if fault := unfit_text(one):
                return fault
        elif isinstance(one, dict):
            waiting += one.keys()
            waiting += one.values()
        elif isinstance(one, (list, tuple)):
            waiting += one
        elif isinstance(one, float) and not math.isfinite(one):
            return Fault(
                "number", "There is a number that is none (infinite, or “not a number”).", "Leave it out."
            )
    return None


def read_json(text: str) -> Any | Fault:
    """What a JSON text says, or why it can't be used.  Numbers of absurd length come as texts."""
    if text.count("[") + text.count("{") > MOST_DEPTH and _depth(text) > MOST_DEPTH:
        return Fault(
            "json", f"The JSON is nested more than {MOST_DEPTH} deep.", "Export it again; nothing was read."
        )
    try:
        data = json.loads(
            text, parse_int=_integer, parse_float=_float, parse_constant=_constant, object_pairs_hook=once
        )
    except Twice as trouble:
        return Fault("json", f"“{trouble.key}” stands twice in one object.", "Keep one of them.")
    except json.JSONDecodeError as trouble:
        return Fault(
            "json", f"This isn't sound JSON at line {trouble.lineno}.", "Export it again; nothing was read."
        )
    except (ValueError, RecursionError):
        return Fault("json", "This isn't sound JSON.", "Export it again; nothing was read.")
    return unfit(data) or data


class Twice(ValueError):
    """A name that stands twice in one object: which of its values is meant, nobody knows."""

    def __init__(self, key: str) -> None:
        super().__init__(f"“{key}” stands twice")
        self.key = key


def once(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    """An object of JSON whose names stand once; raises ``Twice`` for another."""
    made: dict[str, Any] = {}
    for key, value in pairs:
        if key in made:
            raise Twice(key)
        made[key] = value
    return made


def _depth(text: str) -> int:
    deepest = now = 0
    for token in _TOKENS.finditer(text):
        if token[0] in "[{":
            now += 1
            deepest = max(deepest, now)
        elif token[0] in "]}":
            now -= 1
    return deepest


def _integer(digits: str) -> int | str:
    return int(digits) if len(digits) <= LONGEST_NUMBER else digits


def _float(digits: str) -> float | str:
    number = float(digits) if len(digits) <= LONGEST_NUMBER else math.inf
    return number if math.isfinite(number) else digits


def _constant(name: str) -> Any:
    raise ValueError(name)  # NaN and Infinity are no JSON, though Python's reader takes them


def read_yaml(content: bytes) -> Any | Fault:
    """What a YAML file says, or why it can't be used.  Aliases are refused: none of our formats needs them,
    and with ten lines of them a file can stand for more than fits into a machine."""
    nodes = depth = 0
    try:
        for event in yaml.parse(content, Loader=_LOADER):
            nodes += 1
            depth += isinstance(event, yaml.CollectionStartEvent) - isinstance(event, yaml.CollectionEndEvent)
            if isinstance(event, yaml.AliasEvent):
                return _yaml_fault(
                    "The file refers to other parts of itself.", "Write each part out.", event.start_mark
                )
            if depth > MOST_DEPTH or nodes > MOST_NODES:
                return _yaml_fault(
                    "The file is nested too deep, or far too long.",
                    "Make several files of it.",
                    event.start_mark,
                )
        data = yaml.load(content, Loader=_Once)
    except _YamlTwice as trouble:
        return _yaml_fault(f"{trouble.problem}.", "Keep one of them.", trouble.problem_mark)
    except yaml.MarkedYAMLError as trouble:
        return _yaml_fault(
            "This isn't YAML that can be read.", "Check indentation and quotes.", trouble.problem_mark
        )
    except (yaml.YAMLError, UnicodeDecodeError, RecursionError, ValueError, OverflowError):
        return _yaml_fault("This isn't YAML that can be read.", "Check indentation and quotes.", None)
    return unfit(data) or data


_LOADER: Any = getattr(yaml, "CSafeLoader", yaml.SafeLoader)


class _YamlTwice(yaml.MarkedYAMLError):
    """The same of YAML, with its line."""


class _Once(_LOADER):  # type: ignore[misc]
    """Reads YAML whose names stand once in each mapping."""

    def construct_mapping(self, node: Any, deep: bool = False) -> dict[Any, Any]:
        seen = set()
        for key, _ in node.value:
            if isinstance(key, yaml.ScalarNode):
                if key.value in seen:
                    raise _YamlTwice(problem=f"“{key.value}” stands twice", problem_mark=key.start_mark)
                seen.add(key.value)
        made: dict[Any, Any] = super().construct_mapping(node, deep=deep)
        return made


def _yaml_fault(message: str, mend: str, mark: Any) -> Fault:
    return Fault("yaml", message, mend, "" if mark is None else f"line {mark.line + 1}")
