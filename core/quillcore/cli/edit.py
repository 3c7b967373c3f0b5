"""``quill edit --facts F.json --edits E.json``: what edits do to facts, as the application does it.

The edits are a list of objects with ``op`` and ``key``, and ``text``, ``source`` or ``party`` as the op wants
it; see ``quillcore.facts.edits``.
"""

from __future__ import annotations

import argparse
from dataclasses import asdict
from pathlib import Path
from typing import Any

from quillcore.cli.common import fail, read_json, read_object
from quillcore.cli.typed_facts import ledger_of
from quillcore.facts.edited import EditedRecord
from quillcore.facts.edits import Edit, Op, apply_edits
from quillcore.facts.keys import Side
from quillcore.forms.vocabulary import FormVocabulary
from quillcore.formulas import Evaluator
from quillcore.values import EMPTY, KINDS, Fault, shown


def describe(command: argparse.ArgumentParser) -> None:
    """Add the command's arguments."""
    command.add_argument("--facts", type=Path, required=True, metavar="F.json")
    command.add_argument("--edits", type=Path, required=True, metavar="E.json")
    command.add_argument("--side", choices=[s.value for s in Side], default=Side.BUYING.value)


def run(options: argparse.Namespace) -> Any:
    """Apply them; nothing is written."""
    ledger = ledger_of(read_object(options.facts), options.side)
    sheet, vocabulary = Evaluator(ledger), FormVocabulary({})
    record = EditedRecord(ledger, vocabulary, {}, lambda key: sheet.held(key).value, {}, {})
    done = apply_edits(record, _edits(options.edits), "you")
    if isinstance(done, Fault):
        fail([done])
    sheet.refresh(done.moved)
    return {
        "entries": [
            {
                "key": e.key,
                "act": e.act,
                "source": e.source,
                "value": _kept(e.value, vocabulary.kind_of(e.key)) if e.value is not None else None,
            }
            for e in done.entries
        ],
        "drafts": {key: asdict(draft) for key, draft in done.drafts.items() if draft is not None},
        "shows": {key: _said(sheet, key) for key in map(ledger.shown_key, done.moved)},
    }


def _edits(path: Path) -> list[Edit]:
    rows = read_json(path)
    if not isinstance(rows, list):
        fail([f"{path}: there should be a list of edits."])
    edits = []
    for number, row in enumerate(rows, 1):
        try:
            edits.append(_edit(**row))
        except (TypeError, ValueError):
            fail(
                [
                    f"{path}, edit {number}: an edit has an op ({', '.join(Op)}), a key, and text, source,"
                    " party, before, behind or clause."
                ]
            )
    return edits


def _edit(
    op: str,
    key: str,
    text: str = "",
    source: str = "",
    party: str = "",
    before: str = "",
    behind: str = "",
    clause: str = "",
) -> Edit:
    return Edit(Op(op), key, str(text), source, party, None, str(before), str(behind), str(clause))


def _kept(value: Any, kind: str) -> Any:
    return None if value is EMPTY else KINDS[kind].keep(value)


def _said(sheet: Evaluator, key: str) -> str:
    fact = sheet.ledger.catalog.find(key)
    return shown(sheet.held(key).value, fact.kind) if fact is not None else ""
