"""Comparing a paper that came with ours as it was sent, or as it is where it never was."""

from __future__ import annotations

from collections.abc import Iterable
from typing import TYPE_CHECKING, Any
from uuid import UUID

from quillcore.assembly import Blank, PackageDocument, assemble
from quillcore.assembly.added_places import What
from quillcore.assembly.people import person
from quillcore.facts.edits import reads_as
from quillcore.offers import may_be_countered
from quillcore.papers.received import place_for
from quillcore.papers.returned import Compared, InkPlace, PaperDifference, compare_returned
from quillcore.signing.rounds import RoundState
from quillcore.signing.spots import PUT
from quillcore.values import Fault

from goodquill.deals.opening import OpenDeal, open_deal
from goodquill.forms.models import Edition
from goodquill.http.endpoints import Refusal
from goodquill.offices.models import User
from goodquill.signing.models import Paper
from goodquill.signing.rounds.on_paper import signers_of
from goodquill.storage import files

if TYPE_CHECKING:
    from goodquill.http import wire


def returned(user: User, deal_id: UUID, offer: int | None, code: str, against: str) -> wire.ReturnedShape:
    """Return the differences of a paper that came from one of ours; the one that it is most like where none
    is named."""
    opened = open_deal(user, deal_id, offer)
    came = opened.package.by_id.get(code)
    if came is None or came.form.edition.number:
        raise Refusal(
            "This paper did not come from someone else.", "Reload the package and try again.", "document", 404
        )
    choices = [d for d in opened.package.documents if d.form.edition.number]
    if not choices:
        raise Refusal(
            "There is no paper of ours to compare it with.", "Nothing was changed.", "document", 409
        )
    ours = next((d for d in choices if d.id == against), None) or _most_alike(opened, came, choices)
    sent, content = _as_sent(opened, ours)
    spots = [InkPlace(f.id, f.page, f.shape, f.rect) for f in ours.form.edition.fields]
    spots += [InkPlace(f"{PUT}{s.id}", s.page, _SHAPES.get(s.what, "sign"), s.rect) for s in ours.spots]
    found = compare_returned(content, came.form.pdf, spots)
    if isinstance(found, Fault):
        raise Refusal.of(found)
    blanks = {blank.field.id: blank for blank in opened.package.blanks([ours])}
    return {
        "against": ours.id,
        "sent": sent,
        "choices": [{"code": d.id, "title": d.form.edition.named} for d in choices],
        "differences": _once(_told(one, blanks) for one in found.differences),
        "terms": _terms(opened, found.differences, blanks),
        "people": _people(opened, ours, found),
    }


_SHAPES = {What.NAME: "text", What.TEXT: "text", What.CHECK: "box"}
"""The names of places put by hand for whoever compares, other than places to sign."""


def _most_alike(opened: OpenDeal, came: PackageDocument, choices: list[PackageDocument]) -> PackageDocument:
    """Return the one whose place it took, or whose title it or its first page bears; else the first."""
    row = next(d for d in opened.documents if d.code == came.id)
    by_number = next((d for d in choices if d.form.edition.number == row.stands_for), None)
    if row.stands_for and by_number is not None:
        return by_number
    words = Edition.objects.filter(pk=row.edition_id).values_list("words", flat=True).first() or ""
    places = [(d.id, d.form.edition.title) for d in choices]
    found = place_for(came.form.edition.title, words, places)
    return next((d for d in choices if d.id == found), choices[0])


def _as_sent(opened: OpenDeal, ours: PackageDocument) -> tuple[Any, bytes]:
    """Return when it was last sent to be signed, and its bytes; as it is now where it never was."""
    papers = Paper.objects.filter(round__deal=opened.deal, document=ours.id).exclude(
        round__state=RoundState.MAKING
    )
    last = papers.select_related("round").order_by("-round__made").first()
    if last is not None:
        return last.round.sent, files.fetch(last.frozen)
    return None, assemble(opened.package, ours.form.edition.named, [ours]).pdf


def _told(one: PaperDifference, blanks: dict[str, Blank]) -> wire.DifferenceShape:
    blank = blanks.get(one.spot)
    option = blank.meaning.value if blank is not None and one.kind == "box" else None
    return {
        "kind": one.kind,
        "page": one.page,
        "their_page": one.their_page,
        "label": blank.label if blank is not None else "",
        "option": option or "",
        "was": one.was,
        "now": one.now,
    }


def _once(rows: Iterable[wire.DifferenceShape]) -> list[wire.DifferenceShape]:
    """Return terms; one that is twice on a page is told once."""
    return list({tuple(row.values()): row for row in rows}.values())


def _terms(
    opened: OpenDeal, differences: Iterable[PaperDifference], blanks: dict[str, Blank]
) -> list[wire.SaidTermShape]:
    """Return the terms that their paper says otherwise, as they would be typed; what can't be read isn't
    among them."""
    may = {fact.key: fact for fact in may_be_countered(opened.side)}
    found: dict[str, wire.SaidTermShape] = {}
    for one in differences:
        blank = blanks.get(one.spot)
        if blank is None or blank.key not in may or one.kind not in ("blank", "box"):
            continue
        text = _as_typed(one, blank)
        if text and not isinstance(reads_as(opened.vocabulary, blank.key, text), Fault):
            found.setdefault(blank.key, {"key": blank.key, "label": may[blank.key].label, "text": text})
    return list(found.values())


def _as_typed(one: PaperDifference, blank: Blank) -> str:
    if one.kind == "blank":
        return one.now or "none"
    is_marked = one.now != ""
    if blank.meaning.value is not None:
        return blank.meaning.value if is_marked else ""
    return "yes" if is_marked else "no"


def _people(opened: OpenDeal, ours: PackageDocument, found: Compared) -> list[wire.PenShape]:
    """Return who signs it, and whether there is ink in one of their places."""
    inked = set(found.signed)
    people = [(person(opened.package, key), places) for key, places in signers_of(opened, ours).items()]
    return [
        {"key": who.key, "name": who.called, "signed": not inked.isdisjoint(places)} for who, places in people
    ]
