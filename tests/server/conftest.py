"""Fixtures of the server's tests: worlds made once, each test in a savepoint of its own."""

from __future__ import annotations

from pathlib import Path

import pytest
from django.conf import settings
from django.core.cache import cache
from goodquill.signing.sealing import finishing
from pytest_django import DjangoDbBlocker
from quillcore.signing.identity import STAMPS_CERTIFICATE, STAMPS_KEY, kept_identity
from quillcore.signing.sealing import answer_stamp_request

from tests.server.senders import Sender
from tests.server.world import Speaker, World, make_world, world_made


@pytest.fixture(autouse=True)
def fresh_counts() -> None:
    """What was counted of members in other tests (tries, long requests) counts no more."""
    cache.clear()


@pytest.fixture
def there(django_db_setup: None, django_db_blocker: DjangoDbBlocker) -> None:
    """The small world, committed once, and anew where a test that commits has emptied the database: asked for
    before the test's own transaction begins, or every later test would make its own."""
    with django_db_blocker.unblock():
        if world_made() is None:
            make_world()


@pytest.fixture
def world(there: None, db: None) -> World:
    """The small world; what a test does to it is rolled back."""
    found = world_made()
    assert found is not None
    return found


@pytest.fixture
def ines(world: World) -> Speaker:
    """Inês, speaking of her deal."""
    return Speaker(world.ines, world.deal)


@pytest.fixture
def sender(world: World, seal: Path) -> Sender:
    made = Sender(world.ines, world.deal)
    made.ready()
    return made


@pytest.fixture
def without_waiting(monkeypatch: pytest.MonkeyPatch) -> None:
    """Time stamps by the service's own key, without its process."""

    def stamp(request: bytes) -> bytes:
        who = kept_identity(settings.SEAL_FOLDER, STAMPS_KEY, STAMPS_CERTIFICATE)
        return answer_stamp_request(request, who)

    monkeypatch.setattr(finishing, "stamp", stamp)
