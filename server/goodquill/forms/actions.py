"""Taking a pack in."""

from __future__ import annotations

import hashlib
import json

from django.db import transaction
from quillcore.forms import Pack

from goodquill import files
from goodquill.forms.models import Edition, MappingVersion, Release, ReleaseForm
from goodquill.offices.models import Brokerage


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
        files.keep(form.pdf)
        e = form.edition
        edition, _ = Edition.objects.get_or_create(
            hash=form.edition_hash,
            defaults={"number": e.number, "title": e.title, "pages": e.pages, "page_content": e.page_content, "data": e.model_dump(mode="json")},
        )
        mapping, _ = MappingVersion.objects.get_or_create(hash=form.mapping.digest(), defaults={"data": form.mapping.model_dump(mode="json")})
        ReleaseForm.objects.create(release=release, number=number, position=position, edition=edition, mapping=mapping)
    return release
