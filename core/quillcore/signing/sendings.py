"""The progress of a paper that was sent: every word of it is made here, of what was checked."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime

from quillcore.facts.parties import joined
from quillcore.signing.rounds import RoundState

FULLY_SIGNED = "Fully signed"


@dataclass(frozen=True)
class Sending:
    """The last sending of a paper: the state of its round, when it was sent and ended, what those are called
    who have signed the paper in it, and those whose signature the paper still needs, in the round or not;
    ``said`` is why it ended unsigned."""

    state: RoundState
    sent: datetime
    ended: datetime | None = None
    signed: tuple[str, ...] = ()
    missing: tuple[str, ...] = ()
    said: str = ""

    @property
    def is_frozen(self) -> bool:
        """Whether the paper may not be changed: somebody may sign it just now, or has signed it."""
        return self.state in (RoundState.OUT, RoundState.FINISHED)

    @property
    def in_words(self) -> str:
        """The progress."""
        match self.state:
            case RoundState.OUT:
                return ". ".join(
                    filter(None, ("Out for signature", signed_in_words(self.signed, self.missing)))
                )
            case RoundState.FINISHED:
                return signed_in_words(self.signed, self.missing) or "Completed, without a signature"
            case RoundState.DECLINED:
                return "A signer declined"
            case RoundState.RECALLED:
                return "Recalled"
            case RoundState.RUN_OUT:
                return "Not signed in time"
        return ""


def signed_in_words(signed: Sequence[str], missing: Sequence[str]) -> str:
    """Return who has signed a paper and who hasn't.  *Fully signed* is said only where nobody is missing."""
    if not signed:
        return ""
    if not missing:
        return FULLY_SIGNED
    return f"Signed by {joined(signed)}; {joined(missing)} still to sign"


def round_in_words(papers: Iterable[Sending]) -> str:
    """Return how far the papers of a round are in which everybody has signed who was asked to."""
    missing = list(dict.fromkeys(name for paper in papers for name in paper.missing))
    if not missing:
        return FULLY_SIGNED
    return f"Signed by everyone asked; {joined(missing)} still to sign"
