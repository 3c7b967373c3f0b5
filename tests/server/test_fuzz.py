"""The whole schema, signed in, with what nobody would send: no answer is a 500, and every one is what the
schema says."""

from __future__ import annotations

import uuid
from collections.abc import Iterator
from copy import deepcopy
from typing import Any

import hypothesis
import pytest
import schemathesis
from django.core.cache import cache
from django.core.signals import request_finished, request_started
from django.db import close_old_connections, transaction
from django.test import Client
from goodquill.offices.models import Session
from goodquill.runtime.wsgi import application
from pytest_django import DjangoDbBlocker
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
)

from tests.server.answers import written_schema
from tests.server.test_tenancy import client_of, file_of, reading_of
from tests.server.world import World, make_world, world_made

CHECKS = [not_a_server_error, status_code_conformance, content_type_conformance, response_schema_conformance]
EXAMPLES = 4
"""Of each operation: some 90 operations with four examples of good and bad data each are two and a half
minutes."""
# Signing out or changing the password would only end the run; files from outside have tests of their own.
LEFT_OUT = {
    "sign_out",
    "sign_in",
    "change_password",
    "end_other_sessions",
    "throw_away_deal",
    "set_up_second_step",
    "require_second_step",
}
QUIET = [
    hypothesis.HealthCheck.too_slow,
    hypothesis.HealthCheck.filter_too_much,
    hypothesis.HealthCheck.data_too_large,
    hypothesis.HealthCheck.function_scoped_fixture,
]


@pytest.fixture(autouse=True)
def one_connection() -> Iterator[None]:
    """The requests share the test's own connection and its transaction, as those of Django's test
    client do."""
    for signal in (request_started, request_finished):
        signal.disconnect(close_old_connections)
    yield
    for signal in (request_started, request_finished):
        signal.connect(close_old_connections)


def operations() -> list[tuple[str, str, str]]:
    return sorted(
        (op["operationId"], method, path)
        for path, ops in written_schema()["paths"].items()
        for method, op in ops.items()
        if "operationId" in op
    )


class Fuzz:
    """A signed-in member's own things, put where the schema wants an id: what is found is worth more than a
    404."""

    def __init__(self, world: World) -> None:
        self.world = world
        self.client = Client()
        self.client.force_login(world.rosa, backend="goodquill.offices.signing_in.Members")
        self.schema = schemathesis.openapi.from_dict(deepcopy(written_schema()))
        document = world.deal.documents.exclude(edition=None)[0]
        client = client_of(world)
        self.ids = {
            "deal": str(world.deal.pk),
            "document": document.code,
            "edition": document.edition_id,
            "contact": str(client.pk),
            "home": client.homes.get().pk,
            "paper": client.papers.get().pk,
            "reading": str(reading_of(world).pk),
            "file": str(file_of(world).pk),
            "member": str(world.ines.pk),
            "release": str(world.template.release_id),
            "offer": world.deal.offers.all()[0].pk,
            "page": 1,
            "sharpness": 48,
        }

    def send(self, case: Any) -> Any:
        """One case through the WSGI application, with the session's cookies."""
        for name in case.path_parameters or {}:
            if name in self.ids and uuid.uuid4().int % 8:
                case.path_parameters[name] = self.ids[name]
        cookies = {name: morsel.value for name, morsel in self.client.cookies.items()}
        token = cookies.setdefault("csrftoken", "a" * 32)
        case.headers = {**(case.headers or {}), "X-CSRFToken": token, "Referer": "http://localhost/"}
        return case.call(app=application, base_url="http://localhost", cookies=cookies)


@pytest.fixture(scope="module")
def fuzz(django_db_setup: None, stand_ins: None, django_db_blocker: DjangoDbBlocker) -> Iterator[Fuzz]:
    """One for all operations; what one of them does is rolled back before the next."""
    with django_db_blocker.unblock(), transaction.atomic():
        yield Fuzz(world_made() or make_world())
        transaction.set_rollback(True)


@pytest.mark.parametrize("operation", [o for o in operations() if o[0] not in LEFT_OUT], ids=lambda o: o[0])
def test_no_answer_is_a_500_and_each_is_what_the_schema_says(
    fuzz: Fuzz, db: None, operation: tuple[str, str, str]
) -> None:
    _, method, path = operation
    seen: set[int] = set()
    found = fuzz.schema[path][method.upper()]
    strategy = found.as_strategy(generation_mode=schemathesis.GenerationMode.POSITIVE) | found.as_strategy(
        generation_mode=schemathesis.GenerationMode.NEGATIVE
    )

    @hypothesis.settings(
        max_examples=EXAMPLES, deadline=None, suppress_health_check=QUIET, database=None, derandomize=True
    )
    @hypothesis.given(case=strategy)
    def run(case: Any) -> None:
        cache.clear()
        answer = fuzz.send(case)
        seen.add(answer.status_code)
        case.validate_response(answer, checks=CHECKS)

    run()
    assert seen and 401 not in seen, "it was signed in"
    assert Session.objects.filter(user=fuzz.world.rosa).exists()
