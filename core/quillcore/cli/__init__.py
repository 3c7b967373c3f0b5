"""``quill``: the core on the command line.  JSON to standard output, errors to standard error with exit 2.

Each command is a module of its own here, with ``describe`` (its arguments) and ``run``; only the one that is
asked for is imported, so that a small one answers at once.
"""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Sequence
from importlib import import_module

from quillcore.cli.common import fail

COMMANDS = {
    "pack": "check or build a pack",
    "calc": "work out a formula",
    "fact": "find facts of the catalog by what people call them",
    "names": "read an owner line as a county writes it",
    "address": "take an address apart and bring it to the form for comparing",
    "form": "read the blanks of any PDF",
    "edit": "apply edits to facts",
    "template": "check a template's file, or count who answers its questions",
    "schedule": "say what is due in a deal of a template, and when",
    "proofread": "read a template's package over facts as a careful broker would",
    "authority": "make a key to seal finished papers with",
    "verify": "say whether a finished file is what was signed",
    "assemble": "fill a template's package and write it as one PDF",
}


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one command; gives the exit code."""
    given = list(sys.argv[1:] if arguments is None else arguments)
    parser = argparse.ArgumentParser(
        prog="quill", description="Good Quill's core: packs, formulas and packages, without web or database."
    )
    commands = parser.add_subparsers(required=True, metavar="COMMAND")
    for name, told in COMMANDS.items():
        command = commands.add_parser(name, help=told)
        if given[:1] == [name]:
            module = import_module(f"quillcore.cli.{name}")
            module.describe(command)
            command.set_defaults(run=getattr(module, "run", None))
    options = parser.parse_args(given)
    try:
        answer = options.run(options)
    except OSError as trouble:
        fail([f"{trouble.filename or 'file'}: {trouble.strerror or trouble}"])
    print(json.dumps(answer, ensure_ascii=False, indent=None))
    return 0
