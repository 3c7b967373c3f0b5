"""The papers of a package that may leave the house, and the people whom each concerns."""

from __future__ import annotations

from collections.abc import Sequence

from quillcore.assembly.blanks import Package, PackageDocument
from quillcore.assembly.people import Person, person
from quillcore.forms.model import AUDIENCE

CLIENT, OTHER_SIDE = AUDIENCE
OTHERS = "others"
"""The firms that serve the deal: the lender, the title company, an attorney."""


def outside_audience(document: PackageDocument) -> list[str]:
    """Return those outside the firm whom a paper concerns, of ``AUDIENCE``."""
    return [who for who in document.form.edition.audience if who in AUDIENCE]


def may_leave(document: PackageDocument) -> bool:
    """Return whether a paper concerns anybody outside: the broker's own file concerns nobody."""
    return bool(outside_audience(document))


def usually_for(audience: Sequence[str]) -> list[str]:
    """Return to whom a paper usually goes, of ``AUDIENCE`` and ``OTHERS``.  What one side keeps to itself is
    nothing to a lender or a title company: they get what both have."""
    return [*audience, OTHERS] if set(AUDIENCE) <= set(audience) else list(audience)


def recipients(package: Package) -> list[tuple[Person, str]]:
    """Return the people of a deal who have a name and an e-mail, each with the side that they are of: the
    parties of both, the clients first, and the other side's agent."""
    ledger = package.sheet.ledger
    side = ledger.side
    others = [*ledger.signers(side.others), side.other_agent]
    found = [
        *((person(package, key), CLIENT) for key in ledger.signers(side.clients)),
        *((person(package, key), OTHER_SIDE) for key in others),
    ]
    return [(who, concerns) for who, concerns in found if who.name and who.email]
