"""``quill``: the core on the command line.  JSON to standard output, errors to standard error with exit 2."""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Callable, Mapping, Sequence
from dataclasses import asdict
from datetime import date
from decimal import Decimal
from pathlib import Path
from typing import Any, NoReturn

import yaml

from quillcore.assembly import Document, Package, assemble, write_xfdf
from quillcore.facts import PARTY_GROUPS, Act, Entry, Ledger, Source, load_catalog
from quillcore.facts.intake import from_listing, from_roll
from quillcore.facts.owners import read_owners
from quillcore.forms import Pack, read_folder, read_zip
from quillcore.forms.building import build_pack
from quillcore.forms.reading import as_json, read_form
from quillcore.formulas import Broken, Open, Setting, Sheet, check, evaluate, parse
from quillcore.formulas.sheet import rounded
from quillcore.templates import merge, read_template
from quillcore.templates.packs import checked_pack
from quillcore.values import EMPTY, KINDS, Fault
from quillcore.values.addresses import normal_form, take_apart
from quillcore.values.structured import digits

DEMO_PACK = Path(__file__).resolve().parents[2] / "packs" / "calloway" / "built"


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one command; gives the exit code."""
    options = _parser().parse_args(arguments)
    run: Callable[[argparse.Namespace], Any] = options.run
    try:
        answer = run(options)
    except OSError as trouble:
        _fail([f"{trouble.filename or 'file'}: {trouble.strerror or trouble}"])
    print(json.dumps(answer, ensure_ascii=False, indent=None))
    return 0


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="quill", description="Good Quill's core: packs, formulas and packages, without web or database.")
    commands = parser.add_subparsers(required=True, metavar="COMMAND")
    pack = commands.add_parser("pack", help="check or build a pack").add_subparsers(required=True, metavar="ACTION")
    checking = pack.add_parser("check", help="find everything that is wrong with a pack")
    checking.add_argument("path", type=Path, metavar="DIR|ZIP")
    checking.set_defaults(run=_pack_check)
    building = pack.add_parser("build", help="build a pack from form sources")
    building.add_argument("source", type=Path, metavar="SRC")
    building.add_argument("-o", "--out", type=Path, required=True, metavar="DIR")
    building.set_defaults(run=_pack_build)
    calc = commands.add_parser("calc", help="work out a formula")
    calc.add_argument("expression")
    calc.add_argument("--facts", type=Path, metavar="F.json")
    calc.add_argument("--pack", type=Path, metavar="P", default=DEMO_PACK)
    calc.set_defaults(run=_calc)
    names = commands.add_parser("names", help="read an owner line as a county writes it")
    names.add_argument("line", metavar="OWNER LINE")
    names.set_defaults(run=_names)
    address = commands.add_parser("address", help="take an address apart and bring it to the form for comparing")
    address.add_argument("text", metavar="TEXT")
    address.set_defaults(run=lambda o: asdict(take_apart(o.text)) | {"normal": normal_form(o.text)})
    form = commands.add_parser("form", help="read the blanks of any PDF").add_subparsers(required=True, metavar="ACTION")
    reading = form.add_parser("read", help="find the blanks of a PDF, and what they probably ask for")
    reading.add_argument("file", type=Path, metavar="FILE.pdf")
    reading.add_argument("--clean", type=Path, metavar="OUT.pdf", help="write the pages alone, without fields, scripts or actions")
    reading.set_defaults(run=_form_read)
    making = commands.add_parser("assemble", help="fill a template's package and write it as one PDF")
    making.add_argument("--pack", type=Path, required=True)
    making.add_argument("--template", type=Path, required=True)
    making.add_argument("--facts", type=Path, required=True)
    making.add_argument("--listing", type=Path, help="a RESO Property record as JSON")
    making.add_argument("--roll", type=Path, help="a row of a county roll as JSON")
    making.add_argument("-o", "--out", type=Path, required=True, metavar="OUT.pdf")
    making.add_argument("--fillable", action="store_true", help="keep the blanks as fields, with their values")
    making.add_argument("--xfdf", type=Path, metavar="X", help="write the values as XFDF too")
    making.add_argument("--report", type=Path, metavar="R.json")
    making.set_defaults(run=_assemble)
    return parser


def _fail(lines: Sequence[object]) -> NoReturn:
    for line in lines:
        print(line, file=sys.stderr)
    raise SystemExit(2)


def _read_pack(path: Path) -> Pack:
    found = read_zip(path.read_bytes()) if path.is_file() else read_folder(path)
    if isinstance(found, list):
        _fail(found)
    if faults := checked_pack(found):
        _fail(faults)
    return found


def _json(path: Path) -> Any:
    try:
        return json.loads(path.read_text(encoding="utf-8"), parse_float=Decimal)
    except (json.JSONDecodeError, UnicodeDecodeError) as trouble:
        _fail([f"{path}: this isn't JSON that can be read ({trouble})."])


def _pack_check(options: argparse.Namespace) -> Any:
    pack = _read_pack(options.path)
    forms = [
        {
            "number": n,
            "title": f.edition.title,
            "pages": f.edition.pages,
            "blanks": sum(x.shape != "sign" for x in f.edition.fields),
            "sign_spots": sum(x.shape == "sign" for x in f.edition.fields),
        }
        for n, f in pack.forms.items()
    ]
    return {"association": pack.sheet.association, "released": pack.sheet.released.isoformat(), "forms": forms, "templates": sorted(pack.templates)}


def _pack_build(options: argparse.Namespace) -> Any:
    if faults := build_pack(options.source, options.out):
        _fail(faults)
    return _pack_check(argparse.Namespace(path=options.out))


def _form_read(options: argparse.Namespace) -> Any:
    found = read_form(options.file.read_bytes())
    if isinstance(found, Fault):
        _fail([found.at(options.file.name)])
    if options.clean:
        options.clean.write_bytes(found.clean)
    return as_json(found)


def _calc(options: argparse.Namespace) -> Any:
    setting = _read_pack(options.pack).sheet.setting() if options.pack.exists() else Setting()
    ledger = _ledger(_json(options.facts) if options.facts else {}, "buying")
    tree = parse(options.expression)
    checked = tree if isinstance(tree, Fault) else check(tree, ledger.catalog)
    if isinstance(checked, Fault):
        _fail([checked])
    if checked.type == "parties":
        _fail(["A party group is no value; write names(…) or count(…)."])
    found = evaluate(checked.tree, Sheet(ledger, setting).result, setting)
    if isinstance(found, Broken):
        _fail([found.fault])
    if isinstance(found, Open):
        return {"open": list(found.missing)}
    return {"value": _plain(rounded(found, checked.type), checked.type), "type": checked.type}


def _names(options: argparse.Namespace) -> Any:
    return [
        {
            "kind": o.kind, "given": o.given or None, "middle": o.middle or None, "family": o.family or None, "suffix": o.suffix or None,
            "name": o.name, "capacity": o.capacity or None, "confidence": o.confidence, "ask": o.ask,
        }
        for o in read_owners(options.line)
    ]  # fmt: skip


def _plain(value: Any, kind: str) -> Any:
    if value is EMPTY:
        return None
    if kind == "money":
        return f"{value:.2f}"
    if isinstance(value, Decimal):
        return int(value) if value == value.to_integral_value() else float(value)
    return value.isoformat() if hasattr(value, "isoformat") else value


def _ledger(raw: Mapping[str, Any], side: str) -> Ledger:
    """A ledger of typed facts: ``{"terms.purchase_price": "412.5k", "buyers": [{"given": …, "family": …}]}``."""
    ledger = Ledger(load_catalog(), side)
    flat: dict[str, Any] = {}
    counts: dict[str, int] = {}
    for key, value in raw.items():
        group, _, rest = key.partition(".")
        if group in PARTY_GROUPS and isinstance(value, list):
            counts[group] = len(value)
            flat |= {f"party.{group}{n}.{field}": said for n, party in enumerate(value, 1) for field, said in party.items()}
        elif group in PARTY_GROUPS and digits(rest.partition(".")[0]):
            position, _, field = rest.partition(".")
            counts[group] = max(counts.get(group, 0), int(position))
            flat[f"party.{group}{position}.{'entity_name' if field == 'name' else field}"] = value
        else:
            flat[key] = value
    flat |= {group: ",".join(f"{group}{n}" for n in range(1, count + 1)) for group, count in counts.items()}
    faults = []
    for order, (key, value) in enumerate(flat.items(), 1):
        fact = ledger.catalog.find(key)
        text = ("yes" if value else "no") if isinstance(value, bool) else str(value)
        read = (
            Fault("facts", f"There is no fact “{key}”.")
            if fact is None
            else KINDS["text"].read(text)
            if fact.key in PARTY_GROUPS
            else fact.read(text)
        )
        if isinstance(read, Fault):
            faults.append(read.at(key))
        else:
            ledger.add(Entry(key, Act.STATE, order, Source.TYPED, read))
    if faults:
        _fail(faults)
    return ledger


def _assemble(options: argparse.Namespace) -> Any:
    pack, catalog = _read_pack(options.pack), load_catalog()
    try:
        data = yaml.safe_load(options.template.read_text(encoding="utf-8"))
    except yaml.YAMLError as trouble:
        _fail([f"{options.template}: this isn't YAML that can be read ({trouble})."])
    template = read_template(data, pack.forms, catalog, str(options.template))
    if isinstance(template, list):
        _fail(template)
    ledger = _ledger(_json(options.facts), template.side)
    order = 1_000
    unread: list[Fault] = []
    for path, intake, source in ((options.listing, from_listing, Source.LISTING), (options.roll, from_roll, Source.ROLL)):
        facts, faults = intake(catalog, _json(path)) if path else ({}, [])
        unread += faults
        for key, value in facts.items():
            ledger.add(Entry(key, Act.STATE, order, source, value))
            order += 1
    merged = merge(template, ledger, pack.forms, {}, order, {d.form or "": f"form{d.form}" for d in template.documents if d.form})
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
        "documents": [{"id": d.id, "number": d.form.edition.number, "title": d.form.edition.title} for d in documents],
        "expected": [d.expected for _, d in merged.documents if d.expected],
        "open": [{"document": b.document, "field": b.field.id, "page": b.field.page, "key": b.key, "waits_for": list(b.missing)} for b in made.open],
        "continued": [{"document": b.document, "field": b.field.id} for b in made.continued],
        "unread": [str(f) for f in unread],
        "made": date.today().isoformat(),
    }
    if options.report:
        options.report.write_text(json.dumps(report, ensure_ascii=False, indent=1), encoding="utf-8")
    return {key: report[key] for key in ("pages", "continued", "unread")} | {"documents": len(documents), "open": len(made.open)}
