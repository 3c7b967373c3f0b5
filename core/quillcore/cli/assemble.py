"""``quill assemble``: a template's package over facts, a listing and a roll, as one PDF."""

from __future__ import annotations

import argparse
import json
from pathlib import Path
from typing import Any

import yaml

from quillcore.assembly import Document, Package, assemble, write_xfdf
from quillcore.cli.packs import pack_at
from quillcore.cli.told import fail, read_object
from quillcore.cli.typed_facts import ledger_of
from quillcore.facts import Act, Entry, Source, load_catalog
from quillcore.facts.intake import from_listing, from_roll
from quillcore.templates import merge, read_template
from quillcore.values import Fault, clock


def describe(command: argparse.ArgumentParser) -> None:
    """Its arguments."""
    command.add_argument("--pack", type=Path, required=True)
    command.add_argument("--template", type=Path, required=True)
    command.add_argument("--facts", type=Path, required=True)
    command.add_argument("--listing", type=Path, help="a RESO Property record as JSON")
    command.add_argument("--roll", type=Path, help="a row of a county roll as JSON")
    command.add_argument("-o", "--out", type=Path, required=True, metavar="OUT.pdf")
    command.add_argument(
        "--fillable", action="store_true", help="keep the blanks as fields, with their values"
    )
    command.add_argument("--xfdf", type=Path, metavar="X", help="write the values as XFDF too")
    command.add_argument("--report", type=Path, metavar="R.json")


def run(options: argparse.Namespace) -> Any:
    """Fill and write it."""
    pack, catalog = pack_at(options.pack), load_catalog()
    try:
        data = yaml.safe_load(options.template.read_text(encoding="utf-8"))
    except yaml.YAMLError as trouble:
        fail([f"{options.template}: this isn't YAML that can be read ({trouble})."])
    template = read_template(data, pack.forms, catalog, str(options.template))
    if isinstance(template, list):
        fail(template)
    ledger = ledger_of(read_object(options.facts), template.side)
    order = 1_000
    unread: list[Fault] = []
    for path, intake, source in (
        (options.listing, from_listing, Source.LISTING),
        (options.roll, from_roll, Source.ROLL),
    ):
        facts, faults = intake(catalog, read_object(path)) if path else ({}, [])
        unread += faults
        for key, value in facts.items():
            ledger.add(Entry(key, Act.STATE, order, source, value))
            order += 1
    merged = merge(
        template,
        ledger,
        pack.forms,
        {},
        order,
        {d.form or "": f"form{d.form}" for d in template.documents if d.form},
    )
    for entry in merged.entries:
        ledger.add(entry)
    documents = [Document(i, pack.forms[d.form], d.section) for i, d in merged.documents if d.form]
    package = Package(documents, ledger, pack.sheet.setting())
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
