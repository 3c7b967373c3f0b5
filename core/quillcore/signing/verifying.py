"""Whether a finished file is what was signed: the seal, the record and the paper it began as, in words.

Needs the file and the authority's certificate, and nothing of ours besides.  What opens the file is
``examining``, in a limited child.
"""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass

from quillcore.sandbox import MEGABYTE, Limits, run_limited
from quillcore.values import Fault

TO_VERIFY = Limits(
    8,
    440 * MEGABYTE,
    60_000_000,
    "Use the original file, not one that was printed or saved again.",
    "seal",
    by_anybody=True,
)
"""A finished paper of 60 pages takes half a second."""


@dataclass(frozen=True)
class CheckResult:
    """One thing that was looked at: whether it holds, and that in a sentence."""

    about: str
    holds: bool
    sentence: str


@dataclass(frozen=True)
class Verdict:
    """The results of checking a file, one by one; ``signers`` and ``paper`` as its record says, which counts
    only where all of it holds."""

    said: tuple[CheckResult, ...]
    paper: str = ""
    signers: tuple[str, ...] = ()

    @property
    def holds(self) -> bool:
        """Whether all of it does."""
        return bool(self.said) and all(one.holds for one in self.said)


def verify(content: bytes, authorities: Sequence[bytes]) -> Verdict | Fault:
    """Check a file by a stranger, in a limited child; a Fault where it can't be read at all."""
    given = [certificate.decode("ascii") for certificate in authorities]
    found = run_limited(
        "quillcore.signing.examining:examine_inside", content, json.dumps(given), limits=TO_VERIFY
    )
    if isinstance(found, Fault):
        return found
    rows = json.loads(found)
    return Verdict(tuple(CheckResult(*row) for row in rows["said"]), rows["paper"], tuple(rows["signers"]))
