"""Finding forms: by number, title, topic, what they are for, and words in their text."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from functools import reduce
from operator import or_
from typing import TYPE_CHECKING

from django.db.models import Q
from quillcore.facts.synonyms import terms

from goodquill.forms.models import Edition, Favourite, ReleaseForm
from goodquill.forms.queries import newest_releases
from goodquill.offices.models import User

if TYPE_CHECKING:
    from goodquill.http import wire

_AROUND = 50


def find_forms(
    user: User, find: str = "", side: str = "", kind: str = "", topic: str = ""
) -> list[wire.Form]:
    """Return the forms open to the user that meet what is asked, best first, favourites before others of
    their like. At most five queries."""
    rows = (
        ReleaseForm.objects.filter(release__in=newest_releases(user))
        .select_related("edition", "release")
        .defer("edition__data", "edition__words", "edition__sentences")
    )
    wanted = terms(find)
    texts: dict[str, str] = {}
    if wanted:
        condition = Q()
        for writings in wanted:
            condition &= reduce(or_, (Q(words__icontains=w) for w in writings))
        inside = Edition.objects.filter(condition, pk__in=rows.values("edition")).values_list("pk", "words")
        texts = dict(inside)
    liked = set(Favourite.objects.filter(user=user).values_list("association", "number"))
    found = []
    for row in rows:
        shown = form_row(row, (row.release.association, row.number) in liked)
        if (
            (side and side not in shown["sides"])
            or (kind and shown["kinds"] and kind not in shown["kinds"])
            or (topic and shown["topic"] != topic)
        ):
            continue
        rank = _rank(shown, wanted)
        if rank == _NOT and row.edition_id in texts:
            rank, shown["found"] = _IN_TEXT, _around(texts[row.edition_id], wanted[0])
        if rank != _NOT:
            found.append((rank, not shown["favourite"], shown["own"], row.position, shown))
    return [shown for *_, shown in sorted(found, key=lambda f: f[:4])]


_IN_TEXT, _NOT = 4, 9


def _rank(form: wire.Form, wanted: Sequence[tuple[str, ...]]) -> int:
    if not wanted:
        return 0
    if len(wanted) == 1 and form["number"].lower().startswith(wanted[0][0]):
        return 0
    for rank, text in (
        (1, form["title"]),
        (2, f"{form['title']} {form['topic']}"),
        (3, f"{form['title']} {form['topic']} {form['purpose']}"),
    ):
        plain = text.lower().replace("’", "'")
        if all(any(w in plain for w in writings) for writings in wanted):
            return rank
    return _NOT


def _around(text: str, writings: Iterable[str]) -> str:
    plain = text.lower()
    at, word = min((plain.find(w), w) for w in writings if w in plain)
    begin, end = max(0, at - _AROUND), at + len(word) + _AROUND
    begin = text.rfind(" ", 0, begin) + 1 if begin else 0
    return f"{'…' if begin else ''}{text[begin:end].strip()}…"


def form_row(row: ReleaseForm, favourite: bool) -> wire.Form:
    """Return a form as lists show it."""
    e = row.edition.sheet
    return {
        "number": row.number,
        "title": row.edition.title,
        "topic": e.get("topic", ""),
        "purpose": e.get("purpose", ""),
        "sides": e.get("sides", []),
        "kinds": e.get("kinds", []),
        "audience": e.get("audience", []),
        "filled_by": e.get("filled_by", []),
        "pages": row.edition.pages,
        "blanks": e.get("blanks", 0),
        "edition": row.edition_id,
        "released": e.get("released"),
        "association": row.release.association,
        "own": row.release.own_papers,
        "favourite": favourite,
        "found": "",
    }
