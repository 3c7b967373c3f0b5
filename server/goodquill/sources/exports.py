"""Files as sources: kept, their columns mapped, their rows found."""

from __future__ import annotations

import hashlib
from collections import OrderedDict
from collections.abc import Mapping
from itertools import islice
from typing import Any
from uuid import UUID

from django.shortcuts import get_object_or_404
from quillcore.facts import load_catalog
from quillcore.facts.exports import Export, our_columns, proposed_columns, read_export, roll_row
from quillcore.values import Fault

from goodquill import files
from goodquill.api import Refusal
from goodquill.offices.models import User
from goodquill.sources.models import ColumnMapping, SourceFile

MOST_BYTES = 30_000_000
MOST_FOUND = 12
_read: OrderedDict[str, Export] = OrderedDict()  # the last few files, so that finding in one needn't read it again


def keep_file(user: User, name: str, content: bytes) -> tuple[SourceFile, Export]:
    """Keep a file that can be read; its columns are mapped as last time, or as their names suggest."""
    found = read_export(content)
    if isinstance(found, Fault):
        raise Refusal(found.message, f"{found.mend} Nothing was changed.", found.rule)
    known = ColumnMapping.objects.filter(brokerage=user.brokerage_id, columns=_signature(found)).first()
    mapping = {} if found.kind == "listing" else known.mapping if known else proposed_columns(found.columns, load_catalog())
    row = SourceFile.objects.create(brokerage=user.brokerage, by=user, name=name[:200], content=files.keep(content), mapping=mapping)
    return row, _at_hand(row.content, found)


def find_file(user: User, file: UUID) -> tuple[SourceFile, Export]:
    """A file of the user's brokerage, read."""
    row = get_object_or_404(SourceFile.objects.filter(brokerage=user.brokerage_id), pk=file)
    export = _read.get(row.content)
    if export is None:
        found = read_export(files.fetch(row.content))
        assert isinstance(found, Export), "only what can be read is kept"
        export = _at_hand(row.content, found)
    return row, export


def _at_hand(content: str, export: Export) -> Export:
    _read[content] = export
    while len(_read) > 4:
        _read.popitem(last=False)
    return export


def set_columns(user: User, file: UUID, mapping: dict[str, str]) -> tuple[SourceFile, Export]:
    """Map our columns to the file's, for this file and for every later one with the same columns."""
    row, export = find_file(user, file)
    ours = our_columns(load_catalog())
    wrong = [n for n in (*mapping, *mapping.values()) if n not in ours and n not in export.columns]
    if wrong or not set(mapping) <= set(ours):
        raise Refusal(f"There is no column “{(wrong or ['?'])[0]}”.", "Choose among those of the file; nothing was changed.", "column")
    if not {"parcel", "situs", "situs_street"} & set(mapping):
        raise Refusal("Neither a parcel number nor an address is mapped.", "Say which column holds one of them.", "column")
    row.mapping = mapping
    row.save(update_fields=["mapping"])
    ColumnMapping.objects.update_or_create(brokerage=user.brokerage, columns=_signature(export), defaults={"mapping": mapping})
    return row, export


def _signature(export: Export) -> str:
    return hashlib.sha256("\n".join(sorted(export.columns)).encode()).hexdigest()


def is_remembered(user: User, export: Export) -> bool:
    """Whether the brokerage has mapped such columns before."""
    return ColumnMapping.objects.filter(brokerage=user.brokerage_id, columns=_signature(export)).exists()


def record_of(row: SourceFile, export: Export, number: int) -> Mapping[str, Any]:
    """A record (from 0) as the services would give it: RESO names for a listing, our columns for a county's row."""
    if not 0 <= number < len(export.rows):
        raise Refusal("The file has no such row.", "Look for the home again; nothing was changed.", "row", 404)
    return export.rows[number] if export.kind == "listing" else roll_row(export.rows[number], row.mapping)


def find_rows(row: SourceFile, export: Export, text: str) -> list[tuple[int, Mapping[str, Any]]]:
    """The first rows in which every word is found, with their numbers."""
    return [(n, record_of(row, export, n)) for n in islice(export.rows_with(text), MOST_FOUND)]
