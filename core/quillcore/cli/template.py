"""``quill template``: a template's file checked, or who answers its questions counted."""

from __future__ import annotations

import argparse
import json
from pathlib import Path
from typing import Any

from quillcore.assembly.coverage import By, count_coverage
from quillcore.cli.demo import DEMO_PACK
from quillcore.cli.packages import describe_sources, package_of, yaml_at
from quillcore.cli.packs import pack_at
from quillcore.facts import load_catalog
from quillcore.templates import read_template

_NAMES = {
    By.YOU: "template",
    By.SOURCES: "sources",
    By.PROFILE: "profile",
    By.CONTACTS: "profile",
    By.WORKED_OUT: "worked_out",
    By.PARTIES: "parties",
    By.CLIENT: "client",
    By.ASKED: "ask",
}


def describe(command: argparse.ArgumentParser) -> None:
    """Add the command's arguments."""
    what = command.add_subparsers(required=True, metavar="WHAT")
    check = what.add_parser("check", help="everything that is wrong with it")
    check.add_argument("file", type=Path, metavar="FILE.yaml")
    check.add_argument("--pack", type=Path, metavar="P", default=DEMO_PACK)
    check.set_defaults(run=run_check)
    counted = what.add_parser("coverage", help="how many questions are answered by whom")
    counted.add_argument("file", type=Path, metavar="FILE.yaml")
    describe_sources(counted, pack_needed=False, facts_needed=False)
    counted.set_defaults(run=run_coverage)


def run_check(options: argparse.Namespace) -> Any:
    """Return its faults; the command ends with 2 where there are any."""
    pack = pack_at(options.pack)
    found = read_template(yaml_at(options.file), pack.forms, load_catalog(), options.file.name)
    if not isinstance(found, list):
        return {"faults": []}
    print(json.dumps({"faults": [str(fault) for fault in found]}, ensure_ascii=False))
    raise SystemExit(2)


def run_coverage(options: argparse.Namespace) -> Any:
    """Return the counts, which add up to ``blanks``."""
    counts = count_coverage(package_of(options, options.file).package)
    told = dict.fromkeys(_NAMES.values(), 0)
    for by, n in counts.items():
        told[_NAMES[By(by)]] += n
    return {"blanks": sum(told.values()), **told}
