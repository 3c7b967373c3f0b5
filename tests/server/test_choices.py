"""What screens offer to choose from: one list of each sort, which the session brings."""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from goodquill.http.choices import choices

from tests.core.small import ROOT
from tests.server.world import Speaker, World

WEB = ROOT / "web" / "src"
A_LIST = 4
"""Words from which on they are a list: fewer are named in passing."""
OF_FIELDS = {"field", "fields_asked"}
"""Names that a form of its own has for what is typed in it; their labels are looked for."""


def lists_in(said: Any) -> Iterator[set[str]]:
    """Every list of words in what is sent: those that are one, and a column of rows."""
    if isinstance(said, dict):
        for value in said.values():
            yield from lists_in(value)
    elif said and isinstance(said[0], str):
        yield set(said)
    elif said:
        for name in said[0].keys() - OF_FIELDS:
            column = [row[name] for row in said]
            if isinstance(column[0], str):
                yield set(column)
            elif isinstance(column[0], list):
                yield from map(set, column)


def quoted(path: Path) -> set[str]:
    return set(re.findall(r"'([^'\n]*)'", path.read_text(encoding="utf-8")))


def test_no_screen_has_a_list_of_its_own() -> None:
    every = [words for words in lists_in(choices()) if len(words) >= A_LIST]
    assert len(every) > 6
    sources = [p for p in WEB.rglob("*.ts*") if p.name != "schema.d.ts"]
    assert sources
    own = [
        f"{path.relative_to(WEB)} lists {sorted(found)}"
        for path in sources
        for words in every
        if len(found := words & quoted(path)) >= max(3, len(words) / 2)
    ]
    assert own == []


def test_the_session_brings_them(world: World) -> None:
    said = Speaker(world.ines).get("/api/session").json()["choices"]
    assert said == choices()
    sides = {s["side"]: s for s in said["sides"]}
    assert sides["listing"]["client"] == "Seller" and sides["listing"]["gets_offers"]
    assert "lender" in sides["buying"]["brings"]
    assert "lender" not in sides["renting"]["brings"], "a lease has none"
    assert sides["renting"]["brings"][:2] == ["tenant", "landlord"], "the client first"
