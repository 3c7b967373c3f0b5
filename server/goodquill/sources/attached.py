"""Papers attached to a listing: fetched, and read with care."""

from __future__ import annotations

from quillcore.papers.received import read_paper
from quillcore.values import Fault

from goodquill.deals.incoming.receiving import Paper
from goodquill.runtime.services import Trouble
from goodquill.sources import clients


def came_with(listing: str) -> str:
    """Return why such a paper is in the package."""
    return f"attached to listing {listing}"


def fetch_papers(offered: list[dict[str, str]], wanted: list[str]) -> tuple[list[Paper], list[str]]:
    """Return the wanted ones of those that a listing offers, and a sentence for each that can't be had."""
    papers, troubles = [], []
    for paper in offered:
        if paper["key"] not in wanted:
            continue
        content = clients.fetch_paper(paper["url"])
        read = read_paper(content) if isinstance(content, bytes) else content
        if isinstance(read, (Fault, Trouble)):
            troubles.append(f"{paper['title']}: {read.message}")
        else:
            papers.append((paper["title"], read))
    return papers, troubles
