"""``quill proofread``: what a careful broker would remark on in a package."""

from __future__ import annotations

import argparse
from datetime import date
from pathlib import Path
from typing import Any

from quillcore.cli.common import fail
from quillcore.cli.packages import describe_sources, package_of
from quillcore.proofreading import Expected, Proof, proofread
from quillcore.values import clock


def describe(command: argparse.ArgumentParser) -> None:
    """Add the command's arguments."""
    command.add_argument("--template", type=Path, required=True, metavar="T.yaml")
    describe_sources(command, pack_needed=True, facts_needed=True)
    command.add_argument("--today", metavar="DATE", help="the day that it is read on, as 2027-05-21")


def run(options: argparse.Namespace) -> Any:
    """Return the remarks, what weighs most first."""
    made = package_of(options, options.template)
    try:
        today = date.fromisoformat(options.today) if options.today else clock.today()
    except ValueError:
        fail([f"--today: “{options.today}” is not a date. Write it as 2027-05-21."])
    expected = [
        Expected(d.expected, d.expected_from) for _, d in made.merged.documents if d.expected is not None
    ]
    return [
        {
            "rule": remark.rule,
            "weight": remark.weight,
            "document": remark.document,
            "field": remark.field,
            "message": remark.message,
            "mend": remark.mend,
        }
        for remark in proofread(Proof(made.package, today, expected, available=made.pack.forms))
    ]
