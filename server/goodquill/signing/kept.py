"""A round's rows, read together; as the core knows them and compares them with the chain; and the chain's
key."""

from __future__ import annotations

import contextlib
import os
import secrets
from dataclasses import dataclass
from functools import lru_cache
from uuid import UUID, uuid4
from zoneinfo import ZoneInfo

from django.conf import settings
from quillcore.signing import rounds
from quillcore.signing.puts import signed_on
from quillcore.signing.record_check import KeptPaper, KeptRound, KeptSigner
from quillcore.signing.rounds import At, RoundState
from quillcore.values.dates import print_date

from goodquill.signing.models import Paper, Round, Signer
from goodquill.storage.locks import hold

RECORD_KEY = "record.key"
"""Beside the seal's key, and never in the database: who can write the chain's table can't write its links."""


@lru_cache(maxsize=1)
def record_key() -> bytes:
    """Return the key of every chain; made the first time, where there is none."""
    path = settings.SEAL_FOLDER / RECORD_KEY
    if not path.exists():
        part = path.with_name(f"{RECORD_KEY}.{uuid4()}")
        part.touch(mode=0o600)
        part.write_bytes(secrets.token_bytes(32))
        with contextlib.suppress(FileExistsError):  # another process was faster: its key is everybody's
            os.link(part, path)  # there whole, or not at all
        part.unlink()
    return bytes(path.read_bytes())


@dataclass
class RoundRows:
    """A round, its papers in order, and all who sign or get a copy, by key.  Read once for a request: what
    happens to the round changes these rows."""

    row: Round
    papers: list[Paper]
    people: dict[str, Signer]

    @classmethod
    def of(cls, row: Round) -> RoundRows:
        """Return a round with its other rows, in two queries where they weren't fetched with it."""
        return cls(row, list(row.papers.all()), {s.key: s for s in row.signers.all()})

    def as_machine(self) -> rounds.RoundMachine:
        """Return the round as the core's machine knows it."""
        every = [place for paper in self.papers for place in paper.places if place["sign"] != "date"]
        every += [
            {"id": paper.given, "who": who}
            for paper in self.papers
            for who in {ask["who"] for ask in paper.asks}
        ]
        return rounds.RoundMachine(
            RoundState(self.row.state),
            tuple(
                rounds.RoundSigner(
                    s.key,
                    s.name,
                    s.email,
                    s.turn,
                    frozenset(place["id"] for place in every if place["who"] == s.key),
                    frozenset(s.put),
                    At(s.at),
                    s.in_person,
                    bool(s.by_pen),
                )
                for s in self.people.values()
                if not s.is_copied
            ),
            self.row.said,
        )

    def as_kept(self) -> KeptRound:
        """Return the round as it is kept, for the comparison with its chain."""
        row = self.row
        return KeptRound(
            {"subject": row.subject, "zone": row.zone, "second step": row.second_step},
            tuple(
                KeptPaper(
                    str(p.pk),
                    p.named,
                    p.frozen,
                    {
                        "document": p.document,
                        "sizes": p.sizes,
                        "places": p.places,
                        "asks": p.asks,
                        "title": p.named,
                    },
                    {place["id"]: place["sign"] for place in p.places},
                    p.given,
                    p.texts_by_signer,
                    p.finished,
                )
                for p in self.papers
            ),
            tuple(
                KeptSigner(
                    s.key,
                    s.name,
                    s.signs_as,
                    s.role,
                    s.email,
                    s.turn,
                    {"signature": s.signature, "initials": s.initials},
                    s.put,
                    s.by_pen,
                )
                for s in self.people.values()
            ),
            self.as_machine(),
        )


def rows_of(round_id: UUID, lock: bool = False) -> RoundRows:
    """Return a round's rows, in three queries.  With ``lock`` nobody else changes it before the end of the
    transaction."""
    if lock:
        hold(Round, round_id)
    row = Round.objects.select_related("deal", "by__brokerage").get(pk=round_id)
    return RoundRows.of(row)


def date_on(paper: Paper, signer: Signer) -> str:
    """Return the date that a paper bears beside a signer's signature, as it is printed; "" before they
    sign."""
    own = {place["id"] for place in paper.places if place["who"] == signer.key}
    day = signed_on(signer.put, own, ZoneInfo(paper.round.zone), signer.by_pen.get("day", ""))
    return "" if day is None else print_date(day)
