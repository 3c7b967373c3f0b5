"""``quill fact find WORDS``: the facts that words of the trade speak of ("hoa"), with their questions."""

from __future__ import annotations

import argparse
from typing import Any

from quillcore.facts import load_catalog
from quillcore.facts.questions import asked
from quillcore.facts.searching import find_facts


def describe(command: argparse.ArgumentParser) -> None:
    """Add the command's arguments."""
    actions = command.add_subparsers(required=True, metavar="ACTION")
    find = actions.add_parser("find", help="find facts by what people call them")
    find.add_argument("words", nargs="+", metavar="WORDS")


def run(options: argparse.Namespace) -> Any:
    """Find them."""
    return [
        {"key": fact.key, "kind": fact.kind, "label": fact.label, "question": asked(fact)}
        for fact in find_facts(load_catalog(), " ".join(options.words))
    ]
