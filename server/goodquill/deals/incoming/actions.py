"""Papers that come, several at a time: read and told apart, arranged by somebody, and put in their places as
one step."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import date
from functools import lru_cache
from typing import TYPE_CHECKING, Any
from uuid import UUID

from django.shortcuts import get_object_or_404
from quillcore.assembly.answers import Filled, read_answers
from quillcore.facts.edits import Edit, Op, reads_as
from quillcore.facts.parties import is_derived
from quillcore.forms.model import AUDIENCE
from quillcore.papers.incoming import (
    IncomingFile,
    Known,
    PlacedPages,
    Stretch,
    arranged,
    read_incoming,
    runs_of,
    scans_in,
    stretches,
)
from quillcore.papers.received import Received, place_for, title_of
from quillcore.values import EMPTY, KINDS, Fault, shown
from quillcore.values.dates import print_date

from goodquill.changelog.models import Kind
from goodquill.deals import edits
from goodquill.deals.incoming.receiving import put_in_package, waiting_places
from goodquill.deals.models import Incoming
from goodquill.deals.opening import OpenDeal, find_deal, only_a_deal, open_deal
from goodquill.deals.parts import INCOMING
from goodquill.deals.steps import DealStep, deal_change
from goodquill.forms.models import ReleaseForm
from goodquill.forms.queries import forms_of
from goodquill.http.endpoints import Refusal
from goodquill.http.limits import MOST_INCOMING
from goodquill.offices.access import may_use_releases
from goodquill.offices.models import User
from goodquill.storage import files

if TYPE_CHECKING:
    from goodquill.http import wire


def take_in(user: User, deal_id: UUID, name: str, content: bytes, offer: int | None) -> wire.Incoming:
    """Read a PDF or a picture, and keep it until it is put in its place."""
    opened = open_deal(user, deal_id, offer)
    only_a_deal(opened.deal)
    if opened.deal.incoming.filter(settled=False).count() >= MOST_INCOMING:
        raise Refusal(
            f"{MOST_INCOMING} papers are already waiting.", "File those papers first.", "incoming", 409
        )
    read = read_incoming(content)
    if isinstance(read, Fault):
        raise Refusal.of(read)
    known = {row.edition_id: row for row in _usable(user)}
    parted = stretches(read.texts, map(_known, known.values()))
    row = Incoming.objects.create(
        deal=opened.deal,
        by=user,
        name=name[:200],
        content=files.keep(read.clean),
        sizes=read.sizes,
        texts=read.texts,
        found=[_found(opened, read, stretch, known, name) for stretch in parted],
        left_out=read.removed,
    )
    return _row(opened, row)


def waiting_of(user: User, deal_id: UUID, offer: int | None) -> list[wire.Incoming]:
    """Return the papers that wait to be put in their places."""
    opened = open_deal(user, deal_id, offer)
    return [_row(opened, row) for row in opened.deal.incoming.filter(settled=False)]


def one_of(user: User, deal_id: UUID, incoming: UUID) -> Incoming:
    """Return one of them."""
    return get_object_or_404(Incoming, pk=incoming, deal=find_deal(user, deal_id), settled=False)


def drop(user: User, deal_id: UUID, incoming: UUID) -> None:
    """Leave one out."""
    row = one_of(user, deal_id, incoming)
    row.settled = True
    row.save(update_fields=["settled"])


def _usable(user: User) -> Iterable[ReleaseForm]:
    rows = ReleaseForm.objects.filter(may_use_releases(user, "release__")).select_related("edition")
    return rows.defer("edition__data", "edition__sentences")


_runs = lru_cache(maxsize=400)(runs_of)
"""Those of editions, which never change."""


def _known(row: ReleaseForm) -> Known:
    edition = row.edition
    released = edition.sheet.get("released")
    named = print_date(date.fromisoformat(released)) if released else ""
    return Known(edition.pk, edition.pages, _runs(edition.words), named)


def _found(
    opened: OpenDeal, read: IncomingFile, stretch: Stretch, known: dict[str, ReleaseForm], file: str
) -> dict[str, Any]:
    """Return what some pages are: their form, what is filled in on them and what is unanswered."""
    plain: dict[str, Any] = {
        "first": stretch.first,
        "last": stretch.last,
        "number": "",
        "audience": list(AUDIENCE),
        "answers": [],
        "open": [],
    }
    if not stretch.form:
        is_whole = stretch.first == 1 and stretch.last == len(read.sizes)
        title = read.title if stretch.first == 1 else ""
        named = title or (title_of(file) if is_whole else f"{title_of(file)}, from page {stretch.first}")
        return plain | {"title": named}
    row = known[stretch.form]
    form = forms_of([row])[row.number]
    is_of_its_size = all(
        _is_near(read.sizes[stretch.first - 2 + n], form.edition.size(n))
        for n in range(1, form.edition.pages + 1)
    )
    filled = read_answers(read.clean, stretch.first, form, opened.side) if is_of_its_size else None
    said = filled if isinstance(filled, Filled) else Filled((), ())
    return plain | {
        "title": form.edition.title,
        "number": row.number,
        "audience": list(form.edition.audience),
        "released": form.edition.released.isoformat(),
        "answers": [{"key": a.key, "label": a.label, "text": a.text} for a in said.answers],
        "open": list(said.open),
    }


def _is_near(one: Sequence[float], other: Sequence[float]) -> bool:
    return abs(one[0] - other[0]) < 2 and abs(one[1] - other[1]) < 2


def _row(opened: OpenDeal, row: Incoming) -> wire.Incoming:
    scans = scans_in(row.texts)
    return {
        "id": row.pk,
        "name": row.name,
        "at": row.at,
        "left_out": row.left_out,
        "pages": [{"width": w, "height": h, "scan": n in scans} for n, (w, h) in enumerate(row.sizes, 1)],
        "found": [_as_proposed(opened, row, found) for found in row.found],
    }


def _as_proposed(opened: OpenDeal, row: Incoming, found: dict[str, Any]) -> wire.FoundPaper:
    """Return what was found, with the place that is proposed for it and what the deal says itself."""
    text = " ".join(row.texts[found["first"] - 1 : found["last"]])
    place = _place(opened, found, text)
    document = next((d for d in opened.documents if d.code == place), None)
    return {
        "first": found["first"],
        "last": found["last"],
        "title": found["title"],
        "number": found["number"],
        "released": found.get("released"),
        "audience": found["audience"],
        "open": found["open"],
        "place": place or "",
        "section": document.section if document is not None else "From others",
        "answers": [_beside(opened, answer) for answer in found["answers"]],
    }


def _place(opened: OpenDeal, found: dict[str, Any], text: str) -> str | None:
    places = waiting_places(opened)
    number = found["number"]
    if number:
        for code, wanted in places:
            form = opened.forms.get(code)
            if (form is not None and form.edition.number == number) or wanted.split(" ")[0] == number:
                return code
    return place_for(found["title"], text, places)


def _beside(opened: OpenDeal, answer: dict[str, Any]) -> wire.AnswerThere:
    """Return an answer on the paper beside what the deal says; ``may`` where it can be taken over, ``same``
    where it says what the deal says."""
    key = answer["key"]
    stored = opened.ledger.stored_key(key) if key else None
    may = stored is not None and not is_derived(key) and _is_ours_to_say(opened, stored)
    held = opened.package.sheet.held(key).value if may else None
    kind = opened.kind_of(stored) if may and stored is not None else "text"
    read = reads_as(opened.vocabulary, stored, answer["text"]) if may and stored is not None else None
    is_same = False
    if read is not None and not isinstance(read, Fault) and held is not None and held is not EMPTY:
        is_same = KINDS[kind].same(read, held)
    return {
        "key": key,
        "label": answer["label"],
        "text": answer["text"],
        "ours": shown(held, kind),
        "may": read is not None and not isinstance(read, Fault),
        "same": is_same,
    }


def _is_ours_to_say(opened: OpenDeal, stored: str) -> bool:
    stands = opened.ledger.in_force(stored)
    is_locked = stands is not None and stands.locked
    known = opened.vocabulary.knows(stored)
    return known and not is_locked and opened.vocabulary.only_answered_by(stored) is None


@deal_change(Kind.DOCUMENTS)
def put_in_place(step: DealStep, papers: Sequence[dict[str, Any]]) -> None:
    """Put papers, made of pages of files that came, where they belong, and take over answers that stand on
    them: one undoable step, after which undo has the files waiting again."""
    only_a_deal(step.opened.deal)
    rows = {str(row.pk): row for row in step.opened.deal.incoming.filter(settled=False)}
    said = [text for paper in papers for text in _put(step, paper, rows, step.user)]
    used = {page["of"] for paper in papers for page in paper["pages"]}
    step.do(INCOMING, {code: {"settled": True} for code in sorted(used & rows.keys())})
    step.say(". ".join(said))


def _put(step: DealStep, paper: dict[str, Any], rows: dict[str, Incoming], user: User) -> list[str]:
    contents = {
        code: files.fetch(rows[code].content) for code in {p["of"] for p in paper["pages"]} & rows.keys()
    }
    pages = [PlacedPages(p["of"], p["page"], p["turn"]) for p in paper["pages"]]
    made = arranged(contents, pages)
    if isinstance(made, Fault):
        raise Refusal.of(made, 409)
    place = paper["place"]
    if place and place not in dict(waiting_places(step.opened)):
        raise Refusal(
            "The package no longer expects it there.",
            "Choose another place; nothing was changed.",
            "document",
            409,
        )
    words = " ".join(rows[p.of].texts[p.page - 1] for p in pages)
    clean, sizes = made
    found = _whole(rows, pages)
    came = {"open": found["open"]} if found is not None and found["number"] else {}
    title = f"{found['number']} {paper['title']}" if came and found is not None else paper["title"]
    received = Received(clean, tuple(sizes), words, ())
    said = put_in_package(
        step,
        [(title, received)],
        f"received by {user.name}",
        place,
        paper["section"],
        came,
        tuple(who for who in AUDIENCE if who in paper["audience"]),
    )
    if found is not None:
        _take_over(step, found, set(paper["take"]))
    return said


def _whole(rows: dict[str, Incoming], pages: Sequence[PlacedPages]) -> dict[str, Any] | None:
    """Return what was found on just these pages, as they came."""
    of, first, last = pages[0].of, pages[0].page, pages[-1].page
    as_it_came = pages == [PlacedPages(of, n) for n in range(first, last + 1)]
    found: list[dict[str, Any]] = rows[of].found if as_it_came else []
    return next((f for f in found if (f["first"], f["last"]) == (first, last)), None)


def _take_over(step: DealStep, found: dict[str, Any], wanted: set[str]) -> None:
    step.read_again()
    taken = [
        Edit(Op.TYPE, answer["key"], answer["text"])
        for answer in found["answers"]
        if answer["key"] in wanted and _beside(step.opened, answer)["may"]
    ]
    if taken:
        edits.apply(step, taken)
