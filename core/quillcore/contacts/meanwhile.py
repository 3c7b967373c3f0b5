"""Merging two people's changes to one contact."""

from __future__ import annotations

from collections.abc import Mapping


def over_what_stands(
    typed: Mapping[str, str], knew: Mapping[str, str], stands: Mapping[str, str]
) -> tuple[dict[str, str], list[str]]:
    """Return texts that were typed over those that their author ``knew``, put over those that stand by now:
    whatever the author left alone is as it stands.  Beside them the names under which both said something
    new, and not the same; there it says what the author typed.  What is missing is an empty text."""
    said: dict[str, str] = {}
    otherwise: list[str] = []
    for name in {**stands, **knew, **typed}:
        mine, before, now = (texts.get(name, "").strip() for texts in (typed, knew, stands))
        said[name] = now if mine == before else mine
        if before not in (mine, now) and mine != now:
            otherwise.append(name)
    return said, otherwise
