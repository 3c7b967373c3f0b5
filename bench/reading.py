"""``make bench``: a stranger's file read in a limited child, against the same reading in process.

The floor does what must not be done: it opens the file in the process that serves people.  What is above it
is the price of the child.  A starter that is new has to import its readers first: said beside it.
"""

from __future__ import annotations

import os
import statistics

from quillcore import sandbox
from quillcore.packs.manifest import Pack
from quillcore.packs.reading import read_folder
from quillcore.papers.received import read_inside, read_paper

from bench.package import ROOT, ROUNDS, timed


def main() -> None:
    """Measure and print one table."""
    pack = read_folder(ROOT / "packs" / "calloway" / "built")
    assert isinstance(pack, Pack)
    rounds = max(3, int(os.environ.get("ROUNDS", ROUNDS)))
    by_length = sorted(pack.forms.values(), key=lambda form: form.edition.pages)
    print(f"\n{'a paper read, as it came':46}{'ms':>9}{'ratio':>9}   figure")
    for form in (by_length[0], by_length[-1]):
        floor, ours = [], []
        new = timed(lambda form=form: read_paper(form.pdf))
        read_inside(form.pdf)
        for _ in range(rounds):
            floor.append(timed(lambda form=form: read_inside(form.pdf)))
            ours.append(timed(lambda form=form: read_paper(form.pdf)))
        a, b = statistics.median(floor), statistics.median(ours)
        sandbox._forget(sandbox._starter())
        print(f"{f'{form.edition.pages} pages in process':46}{a:9.1f}{1:9.1f}")
        print(f"{'the same in a limited child':46}{b:9.1f}{b / a:9.2f}   at most 4 for one page, 2 for many")
        print(f"{'the first one of a process':46}{new:9.1f}{new / a:9.2f}")


if __name__ == "__main__":
    main()
