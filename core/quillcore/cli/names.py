"""``quill names "OWNER LINE"``: the people and entities that a county's line of owners names."""

from __future__ import annotations

import argparse
from typing import Any

from quillcore.facts.owners import read_owners


def describe(command: argparse.ArgumentParser) -> None:
    """Add the command's argument."""
    command.add_argument("line", metavar="OWNER LINE")


def run(options: argparse.Namespace) -> Any:
    """Read it."""
    return [
        {
            "kind": o.kind,
            "given": o.given or None,
            "middle": o.middle or None,
            "family": o.family or None,
            "suffix": o.suffix or None,
            "name": o.name,
            "capacity": o.capacity or None,
            "confidence": o.confidence,
            "ask": o.ask,
        }
        for o in read_owners(options.line)
    ]
