"""Files as sources: read once in a limited child, kept row by row, their columns mapped, their rows found."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping, Sequence
from itertools import islice
from typing import Any
from uuid import UUID

from django.db import transaction
from django.shortcuts import get_object_or_404
from quillcore.facts import load_catalog
from quillcore.facts.exports import our_columns, plain_words, proposed_columns, read_stranger, roll_row
from quillcore.values import Fault

from goodquill.http.endpoints import Refusal
from goodquill.offices.models import User
from goodquill.sources.models import ColumnMapping, SourceFile, SourceRow
from goodquill.storage import files

MOST_FOUND = 12
_AT_ONCE = 500  # rows written by one statement: some 300 kB


def keep_file(user: User, name: str, content: bytes) -> SourceFile:
    """Keep a file that can be read; its columns are mapped as last time, or as their names suggest."""
    found = read_stranger(content)
    if isinstance(found, Fault):
        raise Refusal.of(found, safe="Nothing was changed.")
    head, rows = found
    known = ColumnMapping.objects.filter(
        brokerage=user.brokerage_id, columns=_signature(head.columns)
    ).first()
    mapping = (
        {}
        if head.kind == "listing"
        else known.mapping
        if known
        else proposed_columns(head.columns, load_catalog())
    )
    with transaction.atomic():
        kept = SourceFile.objects.create(
            brokerage=user.brokerage,
            by=user,
            name=name[:200],
            content=files.keep(content),
            kind=head.kind,
            columns=list(head.columns),
            count=head.count,
            mapping=mapping,
        )
        lines = (SourceRow(file=kept, number=n, words=words, data=row) for n, (words, row) in enumerate(rows))
        while some := list(islice(lines, _AT_ONCE)):
            SourceRow.objects.bulk_create(some)
    return kept


def find_file(user: User, file: UUID) -> SourceFile:
    """Return a file of the user's brokerage."""
    return get_object_or_404(SourceFile.objects.filter(brokerage=user.brokerage_id), pk=file)


def set_columns(user: User, file: UUID, mapping: dict[str, str]) -> SourceFile:
    """Map our columns to the file's, for this file and for every later one with the same columns."""
    row = find_file(user, file)
    ours = our_columns(load_catalog())
    wrong = [n for n in (*mapping, *mapping.values()) if n not in ours and n not in row.columns]
    if wrong or not set(mapping) <= set(ours):
        raise Refusal(
            f"There is no column “{(wrong or ['?'])[0]}”.",
            "Choose a column of the file; nothing was changed.",
            "column",
        )
    if not {"parcel", "situs", "situs_street"} & set(mapping):
        raise Refusal(
            "Neither a parcel number nor an address is mapped.",
            "Choose the column for one of them.",
            "column",
        )
    row.mapping = mapping
    row.save(update_fields=["mapping"])
    ColumnMapping.objects.update_or_create(
        brokerage=user.brokerage, columns=_signature(row.columns), defaults={"mapping": mapping}
    )
    return row


def _signature(columns: Sequence[str]) -> str:
    return hashlib.sha256("\n".join(sorted(columns)).encode()).hexdigest()


def is_remembered(user: User, row: SourceFile) -> bool:
    """Return whether the brokerage has mapped such columns before."""
    return ColumnMapping.objects.filter(brokerage=user.brokerage_id, columns=_signature(row.columns)).exists()


def record_of(row: SourceFile, number: int) -> Mapping[str, Any]:
    """Return a record (from 0) as the services would give it: RESO names for a listing, our columns for a
    county's row."""
    found = row.rows.filter(number=number).first()
    if found is None:
        raise Refusal(
            "The file has no row like that.", "Nothing was changed. Search for the home again.", "row", 404
        )
    return _as_given(row, found.data)


def _as_given(row: SourceFile, data: Mapping[str, Any]) -> Mapping[str, Any]:
    return data if row.kind == "listing" else roll_row(data, row.mapping)


def find_rows(row: SourceFile, text: str) -> list[tuple[int, Mapping[str, Any]]]:
    """Return the first rows in which every word is found, with their numbers."""
    found = row.rows.order_by("number")
    for word in plain_words({"": text}).split()[:8]:
        found = found.filter(words__contains=word)
    return [(r.number, _as_given(row, r.data)) for r in found[:MOST_FOUND]]
