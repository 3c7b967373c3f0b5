"""JSON and YAML from elsewhere: bounded in depth and number, and without what no database or file can hold.

One place says what text may be kept (``unfit_text``) and what data may come in (``read_json``, ``read_yaml``,
``unfit``); requests, packs, templates and exports all come through it.
"""

from __future__ import annotations

import json
import math
import re
from collections.abc import Iterable
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
    """Return the number that a few ASCII digits say, None for anything else: "²" and "٣" are digits to
    Python, and int() refuses the first."""
    return int(text) if text.isascii() and text.isdigit() and len(text) <= most else None


def unfit_text(text: str) -> Fault | None:
    """Return the fault of a text that can't be kept: it has a control character or half a character."""
    found = _UNFIT.search(text)
    if found is None:
        return None
    return Fault(
        "text",
        f"The text has a character that can't be kept (U+{ord(found[0]):04X}).",
        "Type it again, or paste it as plain text.",
    )


def unfit(data: Any) -> Fault | None:
    """Return the first thing in data read from JSON or YAML that can't be kept; keys of objects are texts
    too."""
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
            return Fault("number", "A number is infinite or not a number.", "Leave it out.")
    return None


def read_json(text: str) -> Any | Fault:
    """Return what a JSON text says, or why it can't be used.  Numbers of absurd length come as texts."""
    if text.count("[") + text.count("{") > MOST_DEPTH and _depth(text) > MOST_DEPTH:
        return Fault(
            "json", f"The JSON is nested more than {MOST_DEPTH} deep.", "Export it again; nothing was read."
        )
    try:
        data = json.loads(
            text, parse_int=_integer, parse_float=_float, parse_constant=_constant, object_pairs_hook=once
        )
    except Twice as trouble:
        return Fault("json", f"“{trouble.key}” is there twice in one object.", "Keep one of them.")
    except json.JSONDecodeError as trouble:
        return Fault(
            "json", f"This isn't valid JSON at line {trouble.lineno}.", "Export it again; nothing was read."
        )
    except (ValueError, RecursionError):
        return Fault("json", "This isn't valid JSON.", "Export it again; nothing was read.")
    return unfit(data) or data


class Twice(ValueError):
    """A name that is there twice in one object: which of its values is meant, nobody knows."""

    def __init__(self, key: str) -> None:
        super().__init__(f"“{key}” is there twice")
        self.key = key


def once(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    """Return an object of JSON whose names stand once; raises ``Twice`` for another."""
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
    """Return what a YAML file says, or why it can't be used.  Aliases are refused: none of our formats
    needs them, and with ten lines of them a file can stand for more than fits into a machine."""
    try:
        data = _YamlData().of(yaml.parse(content, Loader=_LOADER))
    except _NotRead as trouble:
        return trouble.fault
    except yaml.MarkedYAMLError as trouble:
        return _yaml_fault(*_NO_YAML, trouble.problem_mark)
    except (yaml.YAMLError, UnicodeDecodeError, ValueError, OverflowError):
        return _yaml_fault(*_NO_YAML, None)
    return unfit(data) or data


_LOADER: Any = getattr(yaml, "CSafeLoader", yaml.SafeLoader)
_NO_YAML = ("This isn't YAML that can be read.", "Check indentation and quotes.")
_TEXT = "tag:yaml.org,2002:str"
_SIMPLE = {f"tag:yaml.org,2002:{name}" for name in ("int", "float", "bool", "null", "timestamp")}
"""The plain values besides text. It looks like one: a file that says by a tag what it would be taken for is
refused, as "!!bool maybe" is nothing that could be made."""


class _NotRead(Exception):
    """Why a file's reading ends."""

    def __init__(self, message: str, mend: str, mark: Any) -> None:
        self.fault = _yaml_fault(message, mend, mark)


class _YamlData:
    """Data made from a file's events as they come: its bounds hold before there is more of it than they
    allow, and it is gone through once."""

    def __init__(self) -> None:
        self.scalars: Any = yaml.SafeLoader("")  # says what "12", "yes" and "2026-01-31" are
        self.documents: list[Any] = []
        self.open: list[list[Any] | dict[Any, Any]] = [self.documents]
        self.names: list[Any] = []
        """Of the open mappings, the name whose value comes next; ``_NONE`` where a name comes."""

    def of(self, events: Iterable[yaml.Event]) -> Any:
        """Return the file's one document, None for an empty file."""
        for number, event in enumerate(events, 1):
            if isinstance(event, yaml.ScalarEvent):
                self.put(self.scalar(event), event)
            elif isinstance(event, yaml.CollectionStartEvent):
                self.begin(event)
            elif isinstance(event, yaml.CollectionEndEvent):
                self.end()
            elif isinstance(event, yaml.AliasEvent):
                raise _NotRead(
                    "The file has references to other parts of itself.",
                    "Write each part out.",
                    event.start_mark,
                )
            if len(self.open) - 1 > MOST_DEPTH or number > MOST_NODES:
                raise _NotRead(
                    "The file is nested too deeply or is too long.",
                    "Split it into several files.",
                    event.start_mark,
                )
        if len(self.documents) > 1:
            raise _NotRead("There are several documents in one file.", "Split it into several files.", None)
        return self.documents[0] if self.documents else None

    def begin(self, event: Any) -> None:
        """Begin a list or a mapping, which takes in whatever comes next."""
        is_mapping = isinstance(event, yaml.MappingStartEvent)
        if event.tag not in (None, "!"):
            raise _NotRead(*_NO_YAML, event.start_mark)
        made: list[Any] | dict[Any, Any] = {} if is_mapping else []
        self.put(made, event)
        self.open.append(made)
        if is_mapping:
            self.names.append(_NONE)

    def end(self) -> None:
        """End the innermost one."""
        if isinstance(self.open.pop(), dict):
            self.names.pop()

    def put(self, one: Any, event: Any) -> None:
        """Put something into the innermost list or mapping, where it is a name or what is called by it."""
        inside = self.open[-1]
        if isinstance(inside, list):
            inside.append(one)
        elif self.names[-1] is not _NONE:
            inside[self.names[-1]] = one
            self.names[-1] = _NONE
        elif isinstance(one, (list, dict)):
            raise _NotRead(*_NO_YAML, event.start_mark)
        elif one in inside:
            raise _NotRead(f"“{event.value}” is there twice.", "Keep one of them.", event.start_mark)
        else:
            self.names[-1] = one

    def scalar(self, event: Any) -> Any:
        """Return a text, a number, a day, yes or no, or nothing."""
        if event.tag not in (None, "!", _TEXT):
            raise _NotRead(*_NO_YAML, event.start_mark)
        starts = yaml.SafeLoader.yaml_implicit_resolvers
        is_text = event.tag is not None or not event.implicit[0] or event.value[:1] not in starts
        tag = _TEXT if is_text else self.scalars.resolve(yaml.ScalarNode, event.value, event.implicit)
        if tag == _TEXT:
            return event.value
        if tag not in _SIMPLE:
            raise _NotRead(*_NO_YAML, event.start_mark)
        node = yaml.ScalarNode(tag, event.value, event.start_mark, event.end_mark)
        return yaml.SafeLoader.yaml_constructors[tag](self.scalars, node)


_NONE = object()


def _yaml_fault(message: str, mend: str, mark: Any) -> Fault:
    return Fault("yaml", message, mend, "" if mark is None else f"line {mark.line + 1}")
