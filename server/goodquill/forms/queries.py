"""Forms and releases as the core wants them.  Both are immutable, so each process keeps what it has read."""

from __future__ import annotations

import threading
from collections.abc import Iterable

from quillcore.forms import Edition as CoreEdition
from quillcore.forms import Form
from quillcore.forms import Mapping as CoreMapping
from quillcore.forms.model import PackSheet
from quillcore.formulas import Setting

from goodquill import files
from goodquill.forms.models import Edition, MappingVersion, Release

MOST_KEPT = 400
_forms: dict[tuple[str, str], Form] = {}
_settings: dict[str, Setting] = {}
_lock = threading.Lock()


def forms_by_hash(wanted: Iterable[tuple[str, str]]) -> dict[tuple[str, str], Form]:
    """Forms by (edition hash, mapping hash): two queries for all that this process doesn't have yet."""
    wanted = set(wanted)
    missing = {pair for pair in wanted if pair not in _forms}
    if missing:
        editions = Edition.objects.in_bulk({e for e, _ in missing})
        mappings = MappingVersion.objects.in_bulk({m for _, m in missing})
        made = {
            (e, m): Form(
                CoreEdition.model_validate(editions[e].data), CoreMapping.model_validate(mappings[m].data), files.fetch(editions[e].page_content)
            )
            for e, m in missing
        }
        with _lock:
            while len(_forms) + len(made) > MOST_KEPT and _forms:
                _forms.pop(next(iter(_forms)))
            _forms.update(made)
        return {pair: made[pair] if pair in made else _forms[pair] for pair in wanted}
    return {pair: _forms[pair] for pair in wanted}


def setting_of(release: Release) -> Setting:
    """Calendar and rates of a release."""
    if release.digest not in _settings:
        _settings[release.digest] = PackSheet.model_validate(release.sheet).setting()
    return _settings[release.digest]
