"""A template's package over facts, a listing and a roll, as several commands want it."""

from __future__ import annotations

import argparse
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from quillcore.assembly import Package, PackageDocument
from quillcore.cli.common import fail, read_object
from quillcore.cli.demo import DEMO_PACK
from quillcore.cli.packs import pack_at
from quillcore.cli.typed_facts import ledger_of
from quillcore.facts import Act, Entry, Source, load_catalog
from quillcore.facts.edits import reads_as
from quillcore.facts.intake import from_listing, from_roll
from quillcore.facts.keys import form_blank
from quillcore.forms.vocabulary import FormVocabulary
from quillcore.packs.manifest import Pack
from quillcore.templates import Merge, TemplateContent, merge, read_template
from quillcore.values import Fault
from quillcore.values.structured import read_yaml


@dataclass(frozen=True)
class Made:
    """The template applied to the facts; ``unread`` is what of listing and roll couldn't be read."""

    pack: Pack
    template: TemplateContent
    merged: Merge
    package: Package
    unread: list[Fault]


def describe_sources(command: argparse.ArgumentParser, pack_needed: bool, facts_needed: bool) -> None:
    """Add the arguments that name pack, facts, listing and roll."""
    command.add_argument(
        "--pack", type=Path, metavar="P", required=pack_needed, default=None if pack_needed else DEMO_PACK
    )
    command.add_argument("--facts", type=Path, metavar="F.json", required=facts_needed)
    command.add_argument("--listing", type=Path, help="a RESO Property record as JSON")
    command.add_argument("--roll", type=Path, help="a row of a county roll as JSON")


def template_at(path: Path, pack: Pack) -> TemplateContent:
    """Return the template; ends the command with everything that is wrong with it."""
    found = read_template(yaml_at(path), pack.forms, load_catalog(), str(path))
    if isinstance(found, list):
        fail(found)
    return found


def yaml_at(path: Path) -> object:
    """Return a file's YAML; ends the command where it can't be read."""
    found = read_yaml(path.read_bytes())
    if isinstance(found, Fault):
        fail([found.at(f"{path}, {found.place}" if found.place else str(path))])
    return found


def _own_blanks(own: Mapping[str, Any], documents: Sequence[PackageDocument], order: int) -> list[Entry]:
    """Return forms' own blanks, typed by form number and field ("301.deed"); ends the command with every
    one that can't be filled so."""
    vocabulary = FormVocabulary({d.id: d.form for d in documents})
    by_number = {d.form.edition.number: d for d in documents}
    entries, faults = [], []
    for key, said in own.items():
        number, name = form_blank(key)
        stored = f"{by_number[number].prefix}{name}" if number in by_number else ""
        if not stored or not vocabulary.knows(stored):
            faults.append(Fault("facts", f"There is no blank “{name}” of a form {number} here.", place=key))
            continue
        if (who := vocabulary.only_answered_by(stored)) is not None:
            faults.append(Fault("facts", f"Only {who.replace('.', ' ')} may answer this.", place=key))
            continue
        read = reads_as(vocabulary, stored, str(said))
        if isinstance(read, Fault):
            faults.append(read.at(key))
        else:
            entries.append(Entry(stored, Act.STATE, order, Source.TYPED, read))
    if faults:
        fail(faults)
    return entries


def package_of(options: argparse.Namespace, path: Path) -> Made:
    """Return the package of the template at ``path``, filled from what ``options`` name."""
    pack, catalog = pack_at(options.pack), load_catalog()
    template = template_at(path, pack)
    typed = read_object(options.facts) if options.facts else {}
    own = {key: text for key, text in typed.items() if key[:1].isdigit()}
    ledger = ledger_of({key: text for key, text in typed.items() if key not in own}, template.side)
    order = 1_000
    unread: list[Fault] = []
    for source_path, intake, source in (
        (options.listing, from_listing, Source.LISTING),
        (options.roll, from_roll, Source.ROLL),
    ):
        facts, faults = intake(catalog, read_object(source_path)) if source_path else ({}, [])
        unread += faults
        for key, value in facts.items():
            ledger.add(Entry(key, Act.STATE, order, source, value))
            order += 1
    ids = {d.form or "": f"form{d.form}" for d in template.documents if d.form}
    merged = merge(template, ledger, pack.forms, {}, order, ids)
    for entry in merged.entries:
        ledger.add(entry)
    documents = [PackageDocument(i, pack.forms[d.form], d.section) for i, d in merged.documents if d.form]
    for entry in _own_blanks(own, documents, order):
        ledger.add(entry)
    expected = [d.expected for _, d in merged.documents if d.expected]
    package = Package(documents, ledger, pack.sheet.setting(), expected)
    return Made(pack, template, merged, package, unread)
