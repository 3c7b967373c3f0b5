"""``quill assemble``: a template's package over facts, a listing and a roll, as one PDF."""

from __future__ import annotations

import argparse
import json
from pathlib import Path
from typing import Any

from quillcore.assembly import assemble, write_xfdf
from quillcore.cli.packages import describe_sources, package_of
from quillcore.values import clock


def describe(command: argparse.ArgumentParser) -> None:
    """Add the command's arguments."""
    command.add_argument("--template", type=Path, required=True)
    describe_sources(command, pack_needed=True, facts_needed=True)
    command.add_argument("-o", "--out", type=Path, required=True, metavar="OUT.pdf")
    command.add_argument(
        "--fillable", action="store_true", help="keep the blanks as fields, with their values"
    )
    command.add_argument("--xfdf", type=Path, metavar="X", help="write the values as XFDF too")
    command.add_argument("--report", type=Path, metavar="R.json")


def run(options: argparse.Namespace) -> Any:
    """Fill and write it."""
    filled = package_of(options, options.template)
    template, package, merged, unread = filled.template, filled.package, filled.merged, filled.unread
    documents = package.documents
    made = assemble(package, template.name, fillable=options.fillable)
    if options.xfdf:
        options.xfdf.write_bytes(write_xfdf(package, options.out.name))
    options.out.write_bytes(made.pdf)
    report = {
        "pages": made.pages,
        "documents": [
            {"id": d.id, "number": d.form.edition.number, "title": d.form.edition.title} for d in documents
        ],
        "expected": [d.expected for _, d in merged.documents if d.expected],
        "open": [
            {
                "document": b.document,
                "field": b.field.id,
                "page": b.field.page,
                "key": b.key,
                "waits_for": list(b.missing),
            }
            for b in made.open
        ],
        "continued": [{"document": b.document, "field": b.field.id} for b in made.continued],
        "unread": [str(f) for f in unread],
        "made": clock.today().isoformat(),
    }
    if options.report:
        options.report.write_text(json.dumps(report, ensure_ascii=False, indent=1), encoding="utf-8")
    return {key: report[key] for key in ("pages", "continued", "unread")} | {
        "documents": len(documents),
        "open": len(made.open),
    }
