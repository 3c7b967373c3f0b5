"""The chain of what happened to a round: rows in the table, links in the core; only ever added to."""

from __future__ import annotations

from collections.abc import Iterable

from django.utils.crypto import constant_time_compare
from quillcore.signing.record_check import keyed
from quillcore.signing.trail import ChainLink

from goodquill.signing.kept import record_key
from goodquill.signing.models import Happening, Round


def links_of(row: Round) -> list[ChainLink]:
    """Return the whole chain, the oldest first."""
    return [_as_link(found) for found in row.happenings.all()]


def checked_links(row: Round) -> tuple[list[ChainLink], int | None]:
    """Return the whole chain, and the number of the first link whose keyed hash isn't ours; None where all
    are."""
    key, chain, links, forged = record_key(), str(row.pk), [], None
    for found in row.happenings.all():
        links.append(link := _as_link(found))
        if forged is None and not constant_time_compare(found.keyed, keyed(key, chain, link)):
            forged = link.number
    return links, forged


def last_link(row: Round) -> ChainLink | None:
    """Return its newest link; None while nothing happened."""
    newest = row.happenings.order_by("-number").first()
    return _as_link(newest) if newest is not None else None


def append(row: Round, links: Iterable[ChainLink]) -> None:
    """Add links behind its newest."""
    Happening.objects.bulk_create(
        Happening(
            round=row,
            number=link.number,
            at=link.at,
            kind=link.kind,
            who=link.who,
            said=dict(link.said),
            before=link.before,
            hash=link.hash,
            keyed=keyed(record_key(), str(row.pk), link),
        )
        for link in links
    )


def _as_link(row: Happening) -> ChainLink:
    return ChainLink(row.number, row.at, row.kind, row.who, row.said, row.before, row.hash)
