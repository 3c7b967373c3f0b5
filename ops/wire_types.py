"""``python -m ops.wire_types``: what answers hold, as types for the server's own hand, out of its schema.

A serializer says once what an endpoint answers; the schema is made of it, and of the schema the web's types
and these.  What rooms build is so checked where it is written, by mypy, and as it leaves, in the tests.
"""

from __future__ import annotations

import subprocess
import sys
from collections.abc import Iterator, Mapping
from pathlib import Path
from typing import Any

import yaml

ROOT = Path(__file__).resolve().parents[1]
SCHEMA = ROOT / "server" / "schema.yaml"
TYPES = ROOT / "server" / "goodquill" / "http" / "wire.py"
HEAD = '''"""Types of the answers: made from server/schema.yaml by ``make schema``, never edited.

Days, moments and ids are such, and become texts as the answer leaves.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date, datetime
from decimal import Decimal
from typing import Any, NotRequired, TypedDict
from uuid import UUID
'''
NONE = "None"
PLAIN = {"integer": ["int"], "number": ["Decimal", "float"], "boolean": ["bool"]}
TEXTS = {"uuid": ["UUID"], "date": ["date"], "date-time": ["datetime"], "decimal": ["Decimal", "str"]}

Schema = Mapping[str, Any]


def answers_in(components: Mapping[str, Schema]) -> Iterator[str]:
    """Yield the definition of every component that is an object and isn't only asked for."""
    for name, schema in components.items():
        if schema.get("type") == "object" and not name.endswith("Request"):
            yield definition(name, schema, components)


def definition(name: str, schema: Schema, components: Mapping[str, Schema]) -> str:
    """Return one TypedDict."""
    required = set(schema.get("required", ()))
    fields = []
    for key, value in schema.get("properties", {}).items():
        said = type_of(value, components)
        fields.append(f"    {key}: {said if key in required else f'NotRequired[{said}]'}")
    return "\n".join([f"class {name}(TypedDict):", *(fields or ["    pass"])])


def type_of(schema: Schema, components: Mapping[str, Schema]) -> str:
    """Return the type of a value, as it is written."""
    either = {*_either(schema, components), *([NONE] if schema.get("nullable") else ())}
    return " | ".join(sorted(either, key=lambda one: (one == NONE, one)))


def _either(schema: Schema, components: Mapping[str, Schema]) -> list[str]:
    """Return what a value can be."""
    if "$ref" in schema:
        name = schema["$ref"].rpartition("/")[2]
        return [name] if components[name].get("type") == "object" else _either(components[name], components)
    for several in ("allOf", "oneOf", "anyOf"):
        if several in schema:
            return [one for said in schema[several] for one in _either(said, components)]
    sort = schema.get("type")
    if sort == "array":
        return [f"Sequence[{type_of(schema['items'], components)}]"]
    if sort == "object":
        inside = schema.get("additionalProperties")
        return [f"Mapping[str, {type_of(inside, components) if isinstance(inside, dict) else 'Any'}]"]
    if sort == "string":
        return TEXTS.get(schema.get("format", ""), ["str"])
    if sort is None and "enum" in schema:
        return [NONE if schema["enum"] == [None] else "str"]
    return PLAIN.get(sort or "", ["Any"])


def written(schema: Path = SCHEMA) -> str:
    """Return the whole module, as it is to stand."""
    components = yaml.safe_load(schema.read_text(encoding="utf-8"))["components"]["schemas"]
    text = "\n\n\n".join([HEAD.rstrip(), *answers_in(components)]) + "\n"
    command = [sys.executable, "-m", "ruff", "format", "--stdin-filename", str(TYPES), "-"]
    made = subprocess.run(command, input=text, capture_output=True, text=True, check=True, cwd=ROOT)
    return made.stdout


if __name__ == "__main__":
    TYPES.write_text(written(), encoding="utf-8")
