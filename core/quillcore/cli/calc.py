"""``quill calc EXPRESSION``: a formula's value, or the facts that it waits for."""

from __future__ import annotations

import argparse
from decimal import Decimal
from importlib import import_module
from pathlib import Path
from typing import Any

from quillcore.cli.common import fail, read_object
from quillcore.cli.demo import DEMO_PACK
from quillcore.cli.typed_facts import ledger_of
from quillcore.formulas import Broken, Evaluator, Open, Setting, check, evaluate, parse, references
from quillcore.formulas.evaluator import rounded
from quillcore.values import EMPTY, Fault


def describe(command: argparse.ArgumentParser) -> None:
    """Add the command's arguments."""
    command.add_argument("expression")
    command.add_argument("--facts", type=Path, metavar="F.json")
    command.add_argument(
        "--pack", type=Path, metavar="P", default=DEMO_PACK, help="whose rates and holidays count"
    )


def run(options: argparse.Namespace) -> Any:
    """Work it out."""
    ledger = ledger_of(read_object(options.facts) if options.facts else {}, "buying")
    tree = parse(options.expression)
    checked = tree if isinstance(tree, Fault) else check(tree, ledger.catalog)
    if isinstance(checked, Fault):
        fail([checked])
    if checked.type == "parties":
        fail(["A party group is no value; write names(…) or count(…)."])
    needs_pack = checked.stands_on_the_pack or bool(references(checked.tree))
    setting = import_module("quillcore.cli.packs").setting_of(options.pack) if needs_pack else Setting()
    found = evaluate(checked.tree, Evaluator(ledger, setting).result, setting)
    if isinstance(found, Broken):
        fail([found.fault])
    if isinstance(found, Open):
        return {"open": list(found.missing)}
    return {"value": _plain(rounded(found, checked.type), checked.type), "type": checked.type}


def _plain(value: Any, kind: str) -> Any:
    if value is EMPTY:
        return None
    if kind == "money":
        return f"{value:.2f}"
    if isinstance(value, Decimal):
        return int(value) if value == value.to_integral_value() else float(value)
    return value.isoformat() if hasattr(value, "isoformat") else value
