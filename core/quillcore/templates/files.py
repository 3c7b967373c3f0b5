"""Template files by strangers: read as YAML within the bounds of a limited child."""

from __future__ import annotations

import json
from typing import Any

from quillcore.sandbox import TEMPLATE, Refused, run_limited
from quillcore.values import Fault
from quillcore.values.structured import read_yaml


def read_template_file(content: bytes) -> Any | Fault:
    """Return what a template's file says, or why it can't be used."""
    said = run_limited("quillcore.templates.files:_as_json", content, limits=TEMPLATE)
    return said if isinstance(said, Fault) else json.loads(said)


def _as_json(content: bytes) -> bytes:
    found = read_yaml(content)
    if isinstance(found, Fault):
        raise Refused(found)
    return json.dumps(found, default=str).encode()
