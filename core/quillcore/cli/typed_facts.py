"""A ledger from a file of typed facts: ``{"terms.purchase_price": "412.5k", "buyers": [{"given": …, "family":
…}]}``."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from quillcore.cli.common import fail
from quillcore.facts import Act, Entry, Ledger, Source, load_catalog
from quillcore.facts.keys import GROUPS, PartyKey, party_list, place_key
from quillcore.values import KINDS, Fault, Value


def ledger_of(typed: Mapping[str, Any], side: str) -> Ledger:
    """Return the ledger; ends the command with every fact that can't be read."""
    ledger = Ledger(load_catalog(), side)
    if faults := _misshapen(typed):
        fail(faults)
    for order, (key, said) in enumerate(_flat(typed).items(), 1):
        read = _read(ledger, key, said)
        if isinstance(read, Fault):
            faults.append(read.at(key))
        else:
            ledger.add(Entry(key, Act.STATE, order, Source.TYPED, read))
    if faults:
        fail(faults)
    return ledger


def _misshapen(typed: Mapping[str, Any]) -> list[Fault]:
    """Return what isn't shaped as facts are: a text, a number or yes/no each, and for a group of parties a
    list of objects of such."""
    faults = []
    for key, said in typed.items():
        if key not in GROUPS:
            rows: list[tuple[str, Any]] = [(key, said)]
        elif isinstance(said, list) and all(isinstance(one, dict) for one in said):
            rows = [
                (f"{key}.{n}.{name}", text) for n, one in enumerate(said, 1) for name, text in one.items()
            ]
        else:
            example = '[{"given": "Amara", "family": "Okafor"}]'
            faults.append(Fault("facts", "This is a list of parties.", f"Write it as {example}.", key))
            continue
        faults += [
            Fault("facts", "A fact is a text, a number, or yes or no.", "Write it so.", place)
            for place, value in rows
            if isinstance(value, (list, dict)) or value is None
        ]
    return faults


def _flat(typed: Mapping[str, Any]) -> dict[str, Any]:
    """Return facts by stored key, each party under an id made of its group and position."""
    flat: dict[str, Any] = {}
    counts: dict[str, int] = {}
    for key, said in typed.items():
        place = place_key(key)
        if key in GROUPS and isinstance(said, list):
            counts[key] = len(said)
            flat |= {
                _kept(key, n, field): text for n, party in enumerate(said, 1) for field, text in party.items()
            }
        elif place is not None:
            counts[place.group] = max(counts.get(place.group, 0), place.position)
            flat[
                _kept(place.group, place.position, "entity_name" if place.field == "name" else place.field)
            ] = said
        else:
            flat[key] = said
    return flat | {
        group: party_list([f"{group}{n}" for n in range(1, count + 1)]) for group, count in counts.items()
    }


def _kept(group: str, position: int, field: str) -> str:
    return str(PartyKey(f"{group}{position}", field))


def _read(ledger: Ledger, key: str, said: Any) -> Value | Fault:
    text = ("yes" if said else "no") if isinstance(said, bool) else str(said)
    if key in GROUPS:
        return KINDS["text"].read(text)
    fact = ledger.catalog.find(key)
    return fact.read(text) if fact is not None else Fault("facts", f"There is no fact “{key}”.")
