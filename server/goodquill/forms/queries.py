"""Forms and releases as the core wants them.  Both are immutable, so each process keeps what it has read."""

from __future__ import annotations

import threading
from collections.abc import Iterable
from datetime import date
from typing import Any

from cachetools import LRUCache
from django.db.models import Q, QuerySet
from django.shortcuts import get_object_or_404
from quillcore.forms import Form, FormEdition
from quillcore.forms import Mapping as CoreMapping
from quillcore.formulas import Setting
from quillcore.packs.manifest import Pack, PackSheet
from quillcore.values.clock import today

from goodquill.forms.models import Edition, MappingVersion, Release, ReleaseForm
from goodquill.offices.access import may_see_deals, may_use_releases
from goodquill.offices.models import User
from goodquill.storage import files

MOST_KEPT = 60_000_000
"""Bytes of pages that one process keeps at hand: the demo's association has 3.4 million in 39 forms."""
_forms: LRUCache[tuple[str, str], Form] = LRUCache(MOST_KEPT, getsizeof=lambda form: len(form.pdf))
_settings: dict[str, Setting] = {}
_lock = threading.Lock()


def forms_by_hash(wanted: Iterable[tuple[str, str]]) -> dict[tuple[str, str], Form]:
    """Return forms by (edition hash, mapping hash): two queries for all that this process doesn't have
    yet."""
    wanted = set(wanted)
    with _lock:
        found = {pair: _forms[pair] for pair in wanted if pair in _forms}
    missing = wanted - found.keys()
    made: dict[tuple[str, str], Form] = {}
    if missing:
        editions = Edition.objects.defer("words", "sentences").in_bulk({e for e, _ in missing})
        mappings = MappingVersion.objects.in_bulk({m for _, m in missing})
        made = {
            (e, m): Form(
                FormEdition.model_validate(editions[e].data),
                CoreMapping.model_validate(mappings[m].data),
                files.fetch(editions[e].page_content),
            )
            for e, m in missing
        }
        with _lock:
            _forms.update((pair, form) for pair, form in made.items() if len(form.pdf) <= MOST_KEPT)
    return found | made


def find_edition(user: User, edition: str) -> Edition:
    """Return an edition that the user may look at: of a release open to the user, or of a deal, which keeps
    the edition it began with whatever becomes of the release."""
    plain = Edition.objects.defer("data", "words")
    allowed = ReleaseForm.objects.filter(may_use_releases(user, "release__"), edition=edition)
    found = plain.filter(pk=edition, pk__in=allowed.values("edition")).first()
    return found or get_object_or_404(
        plain.filter(may_see_deals(user, "document__deal__")).distinct(), pk=edition
    )


def releases_out(user: User) -> QuerySet[Release]:
    """Return the releases open to the user, the oldest first, and the brokerage's own papers; one whose day
    is still to come is not used yet, one from which the brokerage went back no more."""
    is_out = Q(own_papers=True) | Q(released__lte=today())
    left = Release.left.through.objects.filter(brokerage=user.brokerage_id).values("release")
    rows = Release.objects.filter(may_use_releases(user), is_out).exclude(pk__in=left)
    return rows.order_by("released", "taken_in")


def newest_releases(user: User) -> list[Release]:
    """Return the newest release of each association open to the user, and the brokerage's own papers.  One
    query."""
    return newest_of(releases_out(user).defer("sheet"))


def newest_of(releases: Iterable[Release]) -> list[Release]:
    """Return the newest of each association, of releases that come the oldest first."""
    return list({release.association: release for release in releases}.values())


def newest_pack(user: User, association: str = "") -> Release | None:
    """Return the newest release of an association's forms, or of that one's; None where no pack is open."""
    packs = releases_out(user).filter(own_papers=False)
    return (packs.filter(association=association) if association else packs).last()


def retirements(user: User, editions: Iterable[str]) -> dict[str, date]:
    """Return, of these editions, those that a newer release has retired, with the day since when. Two
    queries."""
    wanted = set(editions)
    newest = newest_releases(user)
    rows = ReleaseForm.objects.filter(edition__in=wanted).values_list(
        "edition_id", "release_id", "release__association"
    )
    current = {r.pk for r in newest}
    since = {r.association: r.released for r in newest}
    alive = {edition for edition, release, _ in rows if release in current}
    return {
        edition: since[association]
        for edition, _, association in rows
        if edition not in alive and association in since
    }


def forms_of(rows: Iterable[ReleaseForm]) -> dict[str, Form]:
    """Return the forms of a release's rows, by number."""
    listed = list(rows)
    found = forms_by_hash((r.edition_id, r.mapping_id) for r in listed)
    return {r.number: found[(r.edition_id, r.mapping_id)] for r in listed}


def pack_of(release: Release, templates: dict[str, Any]) -> Pack:
    """Return a release as the pack it came from."""
    return Pack(PackSheet.model_validate(release.sheet), forms_of(release.forms.all()), templates)


def setting_of(release: Release) -> Setting:
    """Return calendar and rates of a release."""
    if release.digest not in _settings:
        _settings[release.digest] = PackSheet.model_validate(release.sheet).setting()
    return _settings[release.digest]
