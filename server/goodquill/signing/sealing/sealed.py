"""The sealed file of a paper that was signed here."""

from __future__ import annotations

from goodquill.deals.opening import OpenDeal
from goodquill.signing.models import Paper
from goodquill.storage import files


def sealed_file(opened: OpenDeal, document: str) -> bytes | None:
    """Return it, byte for byte; None of every other paper."""
    row = next(d for d in opened.documents if d.code == document)
    signed = row.came.get("signed")
    paper = Paper.objects.filter(pk=signed, round__deal=opened.deal).first() if signed else None
    return files.fetch(paper.finished) if paper is not None and paper.finished else None
