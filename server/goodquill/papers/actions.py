"""An office's own papers: read in, worked on, and put to use."""

from __future__ import annotations

from dataclasses import asdict
from uuid import UUID

from django.db import transaction
from django.shortcuts import get_object_or_404
from quillcore.forms import Form
from quillcore.forms.printed import PrintedWords
from quillcore.papers.placing import OfficePaper, Placed, carried, make_form, placed_from
from quillcore.papers.reading import read_form
from quillcore.pdf.renderer import RuledLine
from quillcore.values import Fault, clock

from goodquill.forms.actions import keep_form
from goodquill.forms.models import Release, ReleaseForm
from goodquill.forms.queries import forms_of, newest_pack
from goodquill.http.endpoints import Refusal
from goodquill.offices.access import may_drop_papers, may_save_papers, may_see_papers_in_work
from goodquill.offices.models import User
from goodquill.papers.models import Reading
from goodquill.storage import files


def start_reading(user: User, name: str, content: bytes, replaces: str = "") -> Reading:
    """Read a PDF and keep what was found.  ``replaces`` is the edition hash of the office paper whose next
    edition this is."""
    found = read_form(content)
    if isinstance(found, Fault):
        raise Refusal.of(found)
    placed = placed_from(found)
    told: dict[str, list[str]] = {}
    paper: dict[str, object] = {"number": "", "title": found.title[:200]}
    if replaces:
        row = get_object_or_404(
            ReleaseForm.objects.filter(release__brokerage=user.brokerage_id).select_related("edition"),
            edition=replaces,
        )
        before = forms_of([row])[row.number]
        placed, told = carried(before, placed)
        e = before.edition
        paper = {
            "number": e.number,
            "title": e.title,
            "topic": e.topic,
            "purpose": e.purpose,
            "sides": list(e.sides),
        }
    return Reading.objects.create(
        brokerage=user.brokerage,
        by=user,
        name=name[:200],
        content=files.keep(found.clean),
        told=told,
        paper=paper,
        found={
            "pages": found.pages,
            "sizes": found.sizes,
            "title": found.title,
            "removed": found.removed,
            "fields": len(found.fields),
            "rules": found.rules,
        },
        placed=[p.model_dump(mode="json") for p in placed],
        printed=asdict(found.printed),
    )


def find_reading(user: User, reading_id: UUID, lock: bool = False) -> Reading:
    """Return a paper of the user's brokerage that is in work."""
    rows = (
        Reading.objects.select_for_update() if lock else Reading.objects.select_related("by", "proposed_by")
    )
    return get_object_or_404(rows.filter(may_see_papers_in_work(user), removed=False), pk=reading_id)


def remove_reading(user: User, reading_id: UUID, removed: bool) -> None:
    """Take a paper in work off the list, or put it back: the own one, or anybody's for those who put papers
    to use."""
    reading = get_object_or_404(Reading.objects.filter(may_see_papers_in_work(user)), pk=reading_id)
    if not Reading.objects.filter(may_drop_papers(user), pk=reading.pk).exists():
        raise Refusal(
            f"{reading.by.name} is working on this paper.",
            "Ask them, or your broker; nothing was changed.",
            "role",
            403,
        )
    if reading.removed == removed:
        raise Refusal(
            "It is not deleted." if not removed else "It is already deleted.",
            "Nothing was changed.",
            "nothing",
            409,
        )
    reading.removed = removed
    reading.save(update_fields=["removed"])


def share_reading(user: User, reading_id: UUID, shared: bool) -> Reading:
    """Let the brokerage see a paper of one's own, or no longer."""
    reading = find_reading(user, reading_id)
    if reading.by_id != user.pk:
        raise Refusal(
            f"{reading.by.name} decides who sees this paper.", "Ask them; nothing was changed.", "role", 403
        )
    reading.shared = shared
    reading.save(update_fields=["shared"])
    return reading


@transaction.atomic
def keep_reading(
    user: User, reading_id: UUID, placed: list[Placed], paper: dict[str, object], based_on: int
) -> Reading:
    """Keep what has been placed and confirmed so far; refuses what is based on an older state, so that two
    people don't undo each other."""
    reading = find_reading(user, reading_id, lock=True)
    if reading.version != based_on:
        raise Refusal(
            "Someone else changed this paper.",
            "Reload it to see their changes.",
            "stale",
            409,
        )
    reading.placed, reading.paper = [p.model_dump(mode="json") for p in placed], paper
    reading.version += 1
    reading.save(update_fields=["placed", "paper", "version"])
    return reading


def form_from(reading: Reading, paper: OfficePaper) -> Form | list[Fault]:
    """Return the form that a reading makes as it stands, or what is wrong with it."""
    placed = [Placed.model_validate(p) for p in reading.placed]
    sizes = [(float(w), float(h)) for w, h in reading.found["sizes"]]
    rules = [RuledLine(*said) for said in reading.found.get("rules", ())]
    return make_form(paper, placed, files.fetch(reading.content), sizes, clock.today(), rules)


@transaction.atomic
def save_as_form(user: User, reading_id: UUID, paper: OfficePaper) -> ReleaseForm | None:
    """Make the reading one of the brokerage's own papers; one of the same number is followed by this edition
    of it.  By somebody who may not decide that it is proposed to those who may: then None."""
    reading = find_reading(user, reading_id, lock=True)
    form = form_from(reading, paper)
    if isinstance(form, list):
        raise Refusal(str(form[0]), "Nothing was saved. Your placed blanks are still here.", form[0].rule)
    if not may_save_papers(user):
        reading.proposed_by, reading.paper = user, paper.model_dump(mode="json")
        reading.version += 1
        reading.save(update_fields=["proposed_by", "paper", "version"])
        return None
    release = papers_of(user)
    said = PrintedWords(reading.printed.get("words", ""), tuple(reading.printed.get("sentences", ())))
    edition, mapping = keep_form(form, said, foreign=True)
    row, _ = ReleaseForm.objects.update_or_create(
        release=release,
        number=paper.number,
        defaults={"edition": edition, "mapping": mapping, "position": release.forms.count()},
    )
    reading.delete()
    return row


def papers_of(user: User) -> Release:
    """Return the brokerage's own papers: a release that grows.  Calendar and rates are those of the newest
    pack open to the user."""
    brokerage = user.brokerage
    digest = f"papers:{brokerage.pk}"
    found = Release.objects.filter(digest=digest).first()
    if found is not None:
        return found
    like = newest_pack(user)
    if like is None:
        raise Refusal(
            "You have no association's forms yet.",
            "Enter your member number under Forms first.",
            "no pack",
        )
    sheet = {**like.sheet, "association": brokerage.name, "short": brokerage.name, "forms": []}
    return Release.objects.create(
        brokerage=brokerage,
        association=brokerage.name,
        released=clock.today(),
        sheet=sheet,
        digest=digest,
        own_papers=True,
    )
