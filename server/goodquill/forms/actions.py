"""Taking a pack in, and an office's own papers."""

from __future__ import annotations

import hashlib
import json
from datetime import date
from uuid import UUID

from django.db import transaction
from django.shortcuts import get_object_or_404
from quillcore.forms import Form, Pack
from quillcore.forms.placing import Paper, Placed, carried, make_form, placed_from
from quillcore.forms.reading import read_form
from quillcore.pdf import plain_text
from quillcore.values import Fault

from goodquill import files
from goodquill.api import Refusal
from goodquill.forms.models import Edition, MappingVersion, Reading, Release, ReleaseForm
from goodquill.forms.queries import forms_of
from goodquill.offices.access import may_use_releases
from goodquill.offices.models import Brokerage, User


@transaction.atomic
def take_in(pack: Pack, brokerage: Brokerage | None = None) -> Release:
    """Keep a checked pack as a release.  Taking the same one in twice gives the one that is there."""
    sheet = pack.sheet.model_dump(mode="json")
    parts = [sheet, [(n, f.edition_hash, f.mapping.digest()) for n, f in pack.forms.items()], pack.templates, str(brokerage and brokerage.pk)]
    digest = hashlib.sha256(json.dumps(parts, sort_keys=True, default=str).encode()).hexdigest()
    if found := Release.objects.filter(digest=digest).first():
        return found
    release = Release.objects.create(
        brokerage=brokerage, association=pack.sheet.association, released=pack.sheet.released, sheet=sheet, digest=digest
    )
    for position, (number, form) in enumerate(pack.forms.items()):
        edition, mapping = keep_form(form)
        ReleaseForm.objects.create(release=release, number=number, position=position, edition=edition, mapping=mapping)
    return release


def keep_form(form: Form, foreign: bool = False) -> tuple[Edition, MappingVersion]:
    """Keep a form's pages, geometry and meanings.  What is there already is not kept twice."""
    e = form.edition
    edition = Edition.objects.filter(hash=form.edition_hash).first()
    if edition is None:
        files.keep(form.pdf)
        data = e.model_dump(mode="json")
        sheet = {k: v for k, v in data.items() if k not in ("fields", "sizes")} | {"blanks": sum(f.shape != "sign" for f in e.fields)}
        edition = Edition.objects.create(
            hash=form.edition_hash, number=e.number, title=e.title, pages=e.pages, page_content=e.page_content, data=data, sheet=sheet,
            words=plain_text(form.pdf)[:60_000], foreign=foreign,
        )  # fmt: skip
    mapping, _ = MappingVersion.objects.get_or_create(hash=form.mapping.digest(), defaults={"data": form.mapping.model_dump(mode="json")})
    return edition, mapping


def start_reading(user: User, name: str, content: bytes, replaces: str = "") -> Reading:
    """Read a PDF and keep what was found.  ``replaces`` is the edition hash of the office paper whose next edition this is."""
    found = read_form(content)
    if isinstance(found, Fault):
        raise Refusal(found.message, found.mend, found.rule)
    placed, told, paper = placed_from(found), {}, {"number": "", "title": found.title[:200]}
    if replaces:
        row = get_object_or_404(ReleaseForm.objects.filter(release__brokerage=user.brokerage_id).select_related("edition"), edition=replaces)
        before = forms_of([row])[row.number]
        placed, told = carried(before, placed)
        e = before.edition
        paper = {"number": e.number, "title": e.title, "topic": e.topic, "purpose": e.purpose, "sides": list(e.sides)}
    return Reading.objects.create(
        brokerage=user.brokerage, by=user, name=name[:200], content=files.keep(found.clean), told=told, paper=paper,
        found={"pages": found.pages, "sizes": found.sizes, "title": found.title, "removed": found.removed, "fields": len(found.fields)},
        placed=[p.model_dump(mode="json") for p in placed],
    )  # fmt: skip


@transaction.atomic
def keep_reading(user: User, reading_id: UUID, placed: list[Placed], paper: dict[str, object], based_on: int) -> Reading:
    """Keep what has been placed and confirmed so far; refuses what is based on an older state, so that two people don't undo each other."""
    reading = get_object_or_404(Reading.objects.select_for_update().filter(brokerage=user.brokerage_id), pk=reading_id)
    if reading.version != based_on:
        raise Refusal("Somebody else has worked on this paper meanwhile.", "Reload it; what they did is there.", "stale", 409)
    reading.placed, reading.paper = [p.model_dump(mode="json") for p in placed], paper
    reading.version += 1
    reading.save(update_fields=["placed", "paper", "version"])
    return reading


def form_from(reading: Reading, paper: Paper) -> Form | list[Fault]:
    """The form that a reading makes as it stands, or what is wrong with it."""
    placed = [Placed.model_validate(p) for p in reading.placed]
    sizes = [(float(w), float(h)) for w, h in reading.found["sizes"]]
    return make_form(paper, placed, files.fetch(reading.content), sizes, date.today())


@transaction.atomic
def save_as_form(user: User, reading_id: UUID, paper: Paper) -> ReleaseForm:
    """Make the reading one of the brokerage's own papers; one of the same number is followed by this edition of it."""
    reading = get_object_or_404(Reading.objects.filter(brokerage=user.brokerage_id), pk=reading_id)
    form = form_from(reading, paper)
    if isinstance(form, list):
        raise Refusal(str(form[0]), "Nothing was saved; what you placed is kept.", form[0].rule)
    release = papers_of(user)
    edition, mapping = keep_form(form, foreign=True)
    row, _ = ReleaseForm.objects.update_or_create(
        release=release, number=paper.number, defaults={"edition": edition, "mapping": mapping, "position": release.forms.count()}
    )
    reading.delete()
    return row


def papers_of(user: User) -> Release:
    """The brokerage's own papers: a release that grows.  Calendar and rates are those of the newest pack open to the user."""
    brokerage = user.brokerage
    digest = f"papers:{brokerage.pk}"
    found = Release.objects.filter(digest=digest).first()
    if found is not None:
        return found
    like = Release.objects.filter(may_use_releases(user)).order_by("-released").first()
    if like is None:
        raise Refusal("No association's forms are open to you yet.", "Enter your member number under Forms first.", "no pack")
    sheet = {**like.sheet, "association": brokerage.name, "short": brokerage.name, "forms": []}
    return Release.objects.create(brokerage=brokerage, association=brokerage.name, released=date.today(), sheet=sheet, digest=digest)
