"""Taking a pack in."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping

from django.db import transaction
from quillcore.forms.printed import PrintedWords, printed_on
from quillcore.packs.manifest import Pack

from goodquill.forms.actions import keep_form
from goodquill.forms.models import Edition, Release, ReleaseForm
from goodquill.forms.pages import draw_ahead
from goodquill.forms.queries import releases_out
from goodquill.http.endpoints import Refusal
from goodquill.offices.access import may_take_in_releases
from goodquill.offices.models import Brokerage, User
from goodquill.templates.actions import keep_templates


@transaction.atomic
def use(user: User, release: Release, wanted: bool) -> None:
    """Have the brokerage use a release again, or go back to the one before it.  Open deals keep what they
    have either way."""
    if not may_take_in_releases(user):
        raise Refusal("Only the broker can choose the release.", "Ask your broker.", "role", 403)
    if wanted:
        release.left.remove(user.brokerage)
        return
    same = releases_out(user).filter(association=release.association, own_papers=False)
    if release.own_papers or not same.exclude(pk=release.pk).exists():
        raise Refusal(
            f"There is no other release of {release.association} to go back to.",
            "Add one first; nothing was changed.",
            "release",
            409,
        )
    release.left.add(user.brokerage)


@transaction.atomic
def take_in(
    pack: Pack, brokerage: Brokerage | None = None, printed: Mapping[str, PrintedWords] | None = None
) -> Release:
    """Keep a checked pack, with its templates, as a release.  Taking the same one in twice gives the one that
    is there.  A brokerage's comes from strangers: what is printed on its forms was read in a limited child
    and comes as ``printed``, by form number.
    """
    sheet = pack.sheet.model_dump(mode="json")
    parts = [
        sheet,
        [(n, f.edition_hash, f.mapping.digest()) for n, f in pack.forms.items()],
        pack.templates,
        str(brokerage and brokerage.pk),
    ]
    digest = hashlib.sha256(json.dumps(parts, sort_keys=True, default=str).encode()).hexdigest()
    if found := Release.objects.filter(digest=digest).first():
        return found
    release = Release.objects.create(
        brokerage=brokerage,
        association=pack.sheet.association,
        released=pack.sheet.released,
        sheet=sheet,
        digest=digest,
    )
    hashes = [form.edition_hash for form in pack.forms.values()]
    there = set(Edition.objects.filter(pk__in=hashes).values_list("pk", flat=True))
    for position, (number, form) in enumerate(pack.forms.items()):
        said = printed[number] if printed is not None else printed_on(form.pdf, form.edition.heights)
        edition, mapping = keep_form(form, said, foreign=printed is not None)
        ReleaseForm.objects.create(
            release=release, number=number, position=position, edition=edition, mapping=mapping
        )
        if edition.pk not in there:
            draw_ahead.enqueue(edition.page_content, edition.pages, edition.foreign)
    keep_templates(pack, release)
    return release
