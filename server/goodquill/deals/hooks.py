"""Hooks of other apps into deals: each adds its own in a module ``deal_hooks``, read when the application
starts."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterable, Mapping
from typing import TYPE_CHECKING

from quillcore.proofreading import Agreed
from quillcore.signing.sendings import Sending

from goodquill.deals.models import Deal
from goodquill.http.endpoints import Refusal

if TYPE_CHECKING:
    from goodquill.deals.opening import OpenDeal
    from goodquill.deals.steps import DealStep

STILL_NEEDED: list[Callable[[Deal], Refusal | None]] = []
"""Reasons against deleting a deal."""
SETTLE: list[Callable[[DealStep], None]] = []
"""Consequences of a step of a deal: drawn before it is kept, and taken back with it."""
SENDINGS: list[Callable[[Deal, Collection[str]], Mapping[str, Sending]]] = []
"""The last sending for signature of documents of a deal, by their codes; those never sent are left out."""
AGREED: list[Callable[[OpenDeal], Iterable[Agreed]]] = []
"""The terms of the offer at hand that both sides agreed on, the newest last."""


def sendings_of(deal: Deal, codes: Collection[str]) -> dict[str, Sending]:
    """Return the last sending of each of these documents that was sent for signature."""
    return {code: sending for ask in SENDINGS for code, sending in ask(deal, codes).items()}
