"""Papers out for signature, as a reason against deleting their deal."""

from __future__ import annotations

from quillcore.signing.rounds import RoundState

from goodquill.deals.keeping import STILL_NEEDED
from goodquill.deals.models import Deal
from goodquill.http.endpoints import Refusal
from goodquill.signing.models import Round


def _still_out(deal: Deal) -> Refusal | None:
    """Return why a deal can't be deleted: somebody may sign its papers, and nobody could recall them any
    more."""
    if not Round.objects.filter(deal=deal, state=RoundState.OUT).exists():
        return None
    return Refusal(
        "Papers of this deal are out for signature.",
        "Recall them first, or wait until they are signed; nothing was changed.",
        "rounds",
        409,
    )


STILL_NEEDED.append(_still_out)
