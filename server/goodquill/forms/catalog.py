"""The fact catalog as screens get it: sent once, and kept by browsers under its digest."""

from __future__ import annotations

import hashlib
import json
from functools import cache
from typing import TYPE_CHECKING

from quillcore.contacts import kind_for
from quillcore.facts import Group, load_catalog
from quillcore.facts.keys import SIGN_IN_A_GROUP
from quillcore.facts.parties import PARTY_FIELDS, is_derived
from quillcore.facts.pasting import LINES_OF_ADDRESS
from quillcore.facts.questions import asked, section_of, sections
from quillcore.facts.synonyms import said_for
from quillcore.formulas import catalog_rules

if TYPE_CHECKING:
    from goodquill.http import wire


@cache
def catalog_sheet() -> wire.Catalog:
    """Return facts in the catalog's order with their groups' labels; parties' groups and fields."""
    catalog = load_catalog()
    rules = catalog_rules(catalog)
    return {
        "facts": [
            {
                "key": f.key,
                "group": f.group,
                "label": f.label,
                "kind": f.kind,
                "options": list(f.options),
                "help": f.help,
                "also": said_for(f.label),
                "example": f.example,
                "worked_out": f.formula is not None or is_derived(f.key),
                "reads": sorted(rules[f.key].reads) if f.key in rules else [],
                "ask": asked(f),
                "section": section_of(f),
                "states_parts": f.key in LINES_OF_ADDRESS,
            }
            for f in catalog
        ],
        "groups": catalog.groups,
        "sections": [{"name": one.name, "title": one.title} for one in sections()],
        "contact_groups": [
            {"group": group, "kind": kind}
            for group in catalog.groups
            if (kind := kind_for(group)) is not None
        ],
        "party_groups": [{"group": g.value, "one": g.label} for g in Group],
        "party_fields": [
            {
                "field": name,
                "kind": f.kind,
                "label": f.label,
                "options": list(f.options),
                "example": f.example,
                "worked_out": f.worked_out,
                "of": f.of,
            }
            for name, f in PARTY_FIELDS.items()
        ],
    }


@cache
def catalog_digest() -> str:
    """Return what the catalog that ships is known by."""
    return hashlib.sha256(json.dumps(catalog_sheet(), sort_keys=True).encode()).hexdigest()


def bindable() -> list[wire.CatalogFact]:
    """Return every fact that a blank can be bound to, those of the first parties of each group among them."""
    catalog = load_catalog()
    fields = ("name", "email", "phone", "mailing_address", "initials")
    people = [g.key(n, f) for g in Group for n in range(1, SIGN_IN_A_GROUP + 1) for f in fields]
    facts = [catalog[key] for key in [*(f.key for f in catalog), *people]]
    return [
        {
            "key": f.key,
            "label": f.label,
            "group": catalog.groups.get(f.group, ""),
            "kind": f.kind,
            "options": f.options,
        }
        for f in facts
    ]
