"""``python -m ops.wire_types``: what answers hold, as types for the server's own hand, out of its schema.

A serializer says once what an endpoint answers; the schema is made of it, and of the schema the web's types
and these.  What rooms build is so checked where it is written, by mypy, and as it leaves, in the tests.
"""

from __future__ import annotations

import keyword
import subprocess
import sys
from collections.abc import Iterator, Mapping
from pathlib import Path
from typing import Any

import yaml

ROOT = Path(__file__).resolve().parents[1]
SCHEMA = ROOT / "server" / "schema.yaml"
TYPES = ROOT / "server" / "goodquill" / "wire.py"
HEAD = '''"""What answers hold, as types: made from server/schema.yaml by ``make schema``, never edited.

Days, moments and ids may be texts already, or what becomes one as the answer leaves.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date, datetime
from decimal import Decimal
from typing import Any, NotRequired, TypedDict
from uuid import UUID
'''
PLAIN = {"integer": "int", "number": "float | Decimal", "boolean": "bool"}
TEXTS = {
    "uuid": "UUID | str",
    "date": "date | str",
    "date-time": "datetime | str",
    "decimal": "Decimal | str",
}

Schema = Mapping[str, Any]


def answers_in(components: Mapping[str, Schema]) -> Iterator[str]:
    """The definition of every component that is an object and isn't only asked for."""
    for name, schema in components.items():
        if schema.get("type") == "object" and not name.endswith("Request"):
            yield definition(name, schema, components)


def definition(name: str, schema: Schema, components: Mapping[str, Schema]) -> str:
    """One TypedDict; by call where a key can't be an attribute's name."""
    required = set(schema.get("required", ()))
    fields = {}
    for key, value in schema.get("properties", {}).items():
        said = type_of(value, components)
        fields[key] = said if key in required else f"NotRequired[{said}]"
    if any(keyword.iskeyword(key) or not key.isidentifier() for key in fields):
        inside = ", ".join(f'"{key}": "{said}"' for key, said in fields.items())
        return f'{name} = TypedDict("{name}", {{{inside}}})'
    body = "\n".join(f"    {key}: {said}" for key, said in fields.items()) or "    pass"
    return f"class {name}(TypedDict):\n{body}"


def type_of(schema: Schema, components: Mapping[str, Schema]) -> str:
    """The type of a value, as it is written."""
    said = _type(schema, components)
    either = [one for one in said.split(" | ") if one != "None"]
    may_be_none = schema.get("nullable") or len(either) < len(said.split(" | "))
    return " | ".join([*either, "None"] if may_be_none else either)


def _type(schema: Schema, components: Mapping[str, Schema]) -> str:
    if "$ref" in schema:
        name = schema["$ref"].rpartition("/")[2]
        return name if components[name].get("type") == "object" else _type(components[name], components)
    for several in ("allOf", "oneOf", "anyOf"):
        if several in schema:
            return " | ".join(dict.fromkeys(type_of(one, components) for one in schema[several]))
    sort = schema.get("type")
    if sort == "array":
        return f"Sequence[{type_of(schema['items'], components)}]"
    if sort == "object":
        inside = schema.get("additionalProperties")
        return f"Mapping[str, {type_of(inside, components) if isinstance(inside, dict) else 'Any'}]"
    if sort == "string":
        return TEXTS.get(schema.get("format", ""), "str")
    if sort is None and "enum" in schema:
        return "None" if schema["enum"] == [None] else "str"
    return PLAIN.get(sort or "", "Any")


def written(schema: Path = SCHEMA) -> str:
    """The whole module, as it is to stand."""
    components = yaml.safe_load(schema.read_text(encoding="utf-8"))["components"]["schemas"]
    text = "\n\n\n".join([HEAD.rstrip(), *answers_in(components)]) + "\n"
    command = [sys.executable, "-m", "ruff", "format", "--stdin-filename", str(TYPES), "-"]
    made = subprocess.run(command, input=text, capture_output=True, text=True, check=True, cwd=ROOT)
    return made.stdout


if __name__ == "__main__":
    TYPES.write_text(written(), encoding="utf-8")
