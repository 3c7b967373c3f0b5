"""The choices on screens: the words of the job as the core has them. The session brings them, so that no
screen keeps a list of its own, and none is drawn before it has them."""

from __future__ import annotations

from functools import cache
from typing import TYPE_CHECKING

from quillcore.contacts import FIELDS, KINDS, OF_AN_ENTITY, fields_of
from quillcore.contacts.model import NOTES, SECOND_AGENT
from quillcore.facts import Side, load_catalog
from quillcore.facts.keys import roles_offered, who_brings
from quillcore.forms.model import SIGN_KINDS
from quillcore.templates.model import PEOPLE
from quillcore.values import KINDS as VALUE_KINDS

if TYPE_CHECKING:
    from goodquill.http import wire

_NOT_ASKED = ("choice", "yes_no", "exact_money")
"""Kinds of value that no blank for text asks for: those of boxes, and amounts that a formula alone gives."""
SIDES = [(side.value, side.value) for side in Side]
CONTACT_KINDS = list(KINDS.items())
_SAID = {
    Side.BUYING: ("Offered", "It closed", "It fell through", "another home"),
    Side.LISTING: ("Asked", "It closed", "The listing ended unsold", "a new listing"),
    Side.LEASING_OUT: ("Monthly rent", "It is leased", "It ended without a tenant", "another property"),
    Side.RENTING: ("Monthly rent", "It is leased", "It fell through", "another home"),
}
"""The name of a deal's price on each side, its ends with and without success, and the side that its client
goes on to; in the order in which the sides are offered, the one that most deals begin on first."""


@cache
def choices() -> wire.Choices:
    """Return all of them; they change with the product alone."""
    catalog = load_catalog()
    return {
        "sides": [_side(side) for side in _SAID],
        "property_kinds": list(catalog["property.category"].options),
        "loan_types": list(catalog["terms.loan_type"].options),
        "contact_kinds": [
            {"kind": kind, "label": label, "fields_asked": fields_of(kind)} for kind, label in KINDS.items()
        ],
        "contact_fields": [
            {"field": name, "label": label, "of_entity": name in OF_AN_ENTITY}
            for name, label in FIELDS.items()
            if name != NOTES
        ],
        "recurring": [_recurring(group) for group in PEOPLE],
        "value_kinds": [kind for kind in VALUE_KINDS if kind not in _NOT_ASKED],
        "signer_roles": [
            {"role": str(role), "label": role.label, "is_party": role.group is not None}
            for role in roles_offered()
        ],
        "sign_kinds": list(SIGN_KINDS),
    }


def _side(side: Side) -> wire.SideChoice:
    price, ends_well, ends_without, goes_on_to = _SAID[side]
    return {
        "side": side.value,
        "client": side.clients.label,
        "clients": side.clients.value,
        "others": side.others.value,
        "owners": side.owners.value,
        "is_lease": side.is_lease,
        "gets_offers": side.has_the_home,
        "price": price,
        "price_example": load_catalog()[side.price].example,
        "brings": who_brings(side),
        "ends_well": ends_well,
        "ends_without": ends_without,
        "goes_on_to": goes_on_to,
    }


def _recurring(group: str) -> wire.Recurring:
    if group == SECOND_AGENT:
        return {"group": group, "kind": "agent", "label": "Second agent"}
    return {"group": group, "kind": group, "label": KINDS[group]}
