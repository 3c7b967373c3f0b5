"""``make bench-signing``: what finishing a signed paper costs, as ratios in one run against the fastest
honest floor, a seal put on an empty page.

Thirty pages with twelve marks and a record of sixty events are finished and sealed, and checked again; each
pair is taken turn by turn, and medians are printed.  Then what the tests try at a fourth of the length: two
hundred seals read by Poppler, and a thousand changed bytes noticed.
"""

from __future__ import annotations

import hashlib
from datetime import UTC, datetime, timedelta
from pathlib import Path
from tempfile import TemporaryDirectory

from quillcore.pdf import FilePart, Frame, Overlay, combine, fit
from quillcore.signing.authority import make_authority
from quillcore.signing.certificate_page import Certificate, Signed
from quillcore.signing.examining import examine
from quillcore.signing.finishing import finished
from quillcore.signing.marks import Drawing, typed
from quillcore.signing.puts import Put
from quillcore.signing.sealing import answer_stamp_request, seal
from quillcore.signing.trail import ChainLink, follow

from bench.paired_timing import turns
from tests.core.test_signing import changes_are_noticed, seals_hold

ROUNDS = 25
SEALS, CHANGES = 200, 1_000
PAGES, MARKS, EVENTS = 30, 12, 60


def paper(pages: int) -> bytes:
    """Return a paper of so many pages, each full of lines."""
    sheets = [Overlay() for _ in range(pages)]
    for sheet in sheets:
        for line in range(45):
            base = 60 + 15 * line
            sheet.fits.append(fit("Buyer pays what is agreed at closing.", Frame(54, base, 558, base + 14)))
    return combine([FilePart(None, sheets)], "A paper")


def record(frozen: bytes) -> Certificate:
    """Return a record of many events."""
    events: list[ChainLink] = []
    begun = datetime(2027, 5, 21, 15, tzinfo=UTC)
    for n in range(EVENTS):
        last = events[-1] if events else None
        events.append(follow(last, begun + timedelta(minutes=n), "reminded", "buyers.1"))
    who = (Signed("buyers.1", "Amara Okafor", "amara@post.example", "the link mailed to this address"),)
    digest = hashlib.sha256(frozen).hexdigest()
    return Certificate("R-1", "Offer", "Inês", "301", digest, who, tuple(events), "America/New_York")


def main() -> None:
    """Measure and print."""
    house = make_authority("Bench")

    def stamp(request: bytes) -> bytes:
        return answer_stamp_request(request, house.stamp)

    name = typed("Amara Okafor", "flowing")
    assert isinstance(name, Drawing)
    empty, long = combine([FilePart(None, [Overlay()])], "Empty"), paper(PAGES)
    put = [Put(1 + n * PAGES // MARKS, (54, 30, 254, 50), name, told="Amara Okafor") for n in range(MARKS)]
    said = record(long)
    done = seal(finished(long, put, said), house.seal, stamp, "Signed")
    bare, whole, looked = turns(
        lambda: seal(empty, house.seal, stamp, "Signed"),
        lambda: seal(finished(long, put, said), house.seal, stamp, "Signed"),
        lambda: examine(done, [house.certificate]),
        rounds=ROUNDS,
    )
    print(f"{'':52}{'ratio':>8}   figure")
    print(f"{f'{PAGES} pages finished and sealed, against an empty page':52}{whole / bare:8.2f}   at most 3")
    print(f"{'the same checked again':52}{looked / bare:8.2f}")
    with TemporaryDirectory() as folder:
        seals_hold(Path(folder), SEALS)
    print(f"{SEALS} seals hold for a reader that knows nothing of ours")
    changes_are_noticed(CHANGES)
    print(f"{CHANGES} changed bytes are noticed")


if __name__ == "__main__":
    main()
