"""Reckoning a deal's money sheets: nothing is kept of it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from decimal import Decimal
from typing import TYPE_CHECKING, Any
from uuid import UUID

from quillcore.estimates import MoneyLine, lines_of, money_sheets, solve, what_if
from quillcore.facts import load_catalog
from quillcore.facts.edits import reads_as
from quillcore.formulas import Evaluator
from quillcore.formulas.reasons import why
from quillcore.values import KINDS, Fault, Value, editable, shown

from goodquill.deals.opening import OpenDeal, open_deal
from goodquill.http.endpoints import Refusal
from goodquill.offices.models import User

if TYPE_CHECKING:
    from goodquill.http import wire


def reckon(user: User, deal: UUID, wanted: str, columns: Sequence[Mapping[str, Any]]) -> wire.Reckoned:
    """Return a sheet over some cases; the first of this side's sheets where none is named.  What its sum
    waits for is asked among what moves it."""
    opened = [open_deal(user, deal, column["offer"]) for column in columns]
    own = opened[0].package.sheet
    sheets = money_sheets(own)
    chosen = next((one for one in sheets if one.name == wanted), sheets[0])
    lines = [line for top in lines_of(chosen.result) for line in top.flat()]
    catalog = load_catalog()
    said = {*chosen.set_by, *(line.key for line in lines)}
    set_by = [*chosen.set_by, *(key for key in own.held(chosen.result).missing if key not in said)]
    return {
        "sheets": [{"name": one.name, "title": one.title, "form": one.form} for one in sheets],
        "sheet": chosen.name,
        "result": chosen.result,
        "result_label": catalog.label_of(chosen.result),
        "lines": [_line(line) for line in lines],
        "set_by": [{"key": key, "label": catalog.label_of(key)} for key in set_by],
        "asks": [{"vary": ask.vary, "of": ask.of, "says": ask.says} for ask in chosen.asks],
        "columns": [
            _column(one, column["otherwise"], [*set_by, chosen.result], lines)
            for one, column in zip(opened, columns, strict=True)
        ],
    }


def _line(line: MoneyLine) -> wire.SheetLine:
    label = load_catalog().label_of(line.key)
    return {
        "key": line.key,
        "label": label,
        "sign": line.sign,
        "level": line.level,
        "is_sum": bool(line.parts),
    }


def _column(
    opened: OpenDeal,
    otherwise: Sequence[Mapping[str, str]],
    beside: Sequence[str],
    lines: Sequence[MoneyLine],
) -> wire.ReckonedColumn:
    stated, wrong = _read(opened, otherwise)
    sheet = what_if(opened.package.sheet, stated) if stated else opened.package.sheet
    amounts = {line.key: line.amount(sheet) for line in lines}
    keys = dict.fromkeys([*amounts, *beside])
    return {
        "name": opened.offer.name,
        "offer": opened.offer.pk,
        "cells": [_cell(sheet, key, amounts) for key in keys],
        "wrong": wrong,
    }


def _cell(sheet: Evaluator, key: str, amounts: Mapping[str, Decimal | None]) -> wire.Cell:
    catalog, held = load_catalog(), sheet.held(key)
    kind = catalog[key].kind
    value = held.value if isinstance(held.value, Decimal) and kind in ("money", "exact_money") else None
    amount = amounts.get(key, value)
    return {
        "key": key,
        "amount": amount,
        "shown": shown(held.value, kind),
        "edit": editable(held.value, kind),
        "source": held.source,
        "basis": why(sheet, key),
        "waits": [catalog.label_of(k) for k in held.missing if k != key],
    }


def _read(
    opened: OpenDeal, otherwise: Sequence[Mapping[str, str]]
) -> tuple[dict[str, Value], list[wire.Wrong]]:
    """Return what is otherwise, read as if it were typed; and what can't be read."""
    catalog, vocabulary = load_catalog(), opened.core_record().vocabulary
    stated: dict[str, Value] = {}
    wrong: list[wire.Wrong] = []
    for row in otherwise:
        key = row["key"]
        if key not in catalog.facts:
            raise Refusal(f"There is no “{key}” among the facts.", "Reload the page.", "unknown key")
        read = reads_as(vocabulary, key, row["text"])
        if isinstance(read, Fault):
            wrong.append({"key": key, "message": read.message, "mend": read.mend})
        else:
            stated[key] = read
    return stated, wrong


def _unsolved(fault: Fault) -> wire.Solved:
    return {
        "text": "",
        "shown": "",
        "reached": "",
        "exact": False,
        "message": fault.message,
        "mend": fault.mend,
    }


def ask_backwards(user: User, deal: UUID, given: Mapping[str, Any]) -> wire.Solved:
    """Return what a fact has to be so that a sum comes out as wanted."""
    opened = open_deal(user, deal, given["column"]["offer"])
    asks = {(ask.vary, ask.of) for one in money_sheets(opened.package.sheet) for ask in one.asks}
    vary, of = given["vary"], given["of"]
    if (vary, of) not in asks:
        raise Refusal("This can't be solved backward.", "Choose one of the questions.", "ask")
    wanted = KINDS["money"].read(given["wanted"])
    if not isinstance(wanted, Decimal):
        fault = wanted if isinstance(wanted, Fault) else Fault("amount", "This is not an amount.")
        return _unsolved(fault)
    stated, _ = _read(opened, given["column"]["otherwise"])
    found = solve(what_if(opened.package.sheet, stated), vary, of, wanted)
    if isinstance(found, Fault):
        return _unsolved(found)
    kind = load_catalog()[vary].kind
    return {
        "text": editable(found.value, kind),
        "shown": shown(found.value, kind),
        "reached": shown(found.reached, "money"),
        "exact": found.exact,
        "message": "",
        "mend": "",
    }
