"""``quill form read FILE.pdf``: the blanks of any PDF, and what they probably ask for."""

from __future__ import annotations

import argparse
from pathlib import Path
from typing import Any

from quillcore.cli.common import fail
from quillcore.papers.reading import as_json, read_form
from quillcore.values import Fault


def describe(command: argparse.ArgumentParser) -> None:
    """Add the command's one action."""
    reading = command.add_subparsers(required=True, metavar="ACTION").add_parser(
        "read", help="find the blanks, and what they ask for"
    )
    reading.add_argument("file", type=Path, metavar="FILE.pdf")
    reading.add_argument(
        "--clean",
        type=Path,
        metavar="OUT.pdf",
        help="write the pages alone, without fields, scripts or actions",
    )
    reading.set_defaults(run=_read)


def _read(options: argparse.Namespace) -> Any:
    found = read_form(options.file.read_bytes())
    if isinstance(found, Fault):
        fail([found.at(options.file.name)])
    if options.clean:
        options.clean.write_bytes(found.clean)
    return as_json(found)
