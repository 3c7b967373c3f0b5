"""The demo world: plausible, fresh, and the same figures in lists as on the paper."""

from __future__ import annotations

import io
import shutil
from collections.abc import Iterator
from datetime import date
from pathlib import Path

import pytest
from django.conf import settings
from django.core.management import call_command
from django.db import connection
from django.test import override_settings
from goodquill.deals import naming
from goodquill.deals.models import Deal
from goodquill.deals.opening import OpenDeal
from goodquill.demo.world import BROKERAGES, DEALS
from goodquill.offices.models import User
from pytest_django import DjangoDbBlocker

from ops.processes import account, free_port, start_database

pytestmark = [pytest.mark.usefixtures("stand_ins"), pytest.mark.django_db]


@pytest.fixture(scope="module")
def loaded(
    demo_world: Path, folder: Path, django_db_setup: None, django_db_blocker: DjangoDbBlocker
) -> Iterator[None]:
    """The demo's world as the command has loaded it: the journeys', with a database of its own."""
    own, port, usual = folder / "demo", free_port(), connection.settings_dict
    shutil.copytree(demo_world, own)
    said = account(own / "db")
    kept = settings.STORAGES["default"]
    store = {**kept, "OPTIONS": {**kept["OPTIONS"], "location": own / "files"}}
    with (
        start_database(own / "db", port),
        django_db_blocker.unblock(),
        override_settings(STORAGES={**settings.STORAGES, "default": store}),
    ):
        connection.close()
        connection.settings_dict = {
            **usual,
            "PORT": str(port),
            "USER": said["QUILL_DB_USER"],
            "PASSWORD": said["QUILL_DB_PASSWORD"],
        }
        yield
        connection.close()
        connection.settings_dict = usual


def test_everybody_and_every_deal_is_there(loaded: None) -> None:
    people = [p for sheet in BROKERAGES.values() for p in sheet["people"]]  # type: ignore[attr-defined]
    assert {u.email for u in User.objects.all()} == {p.email for p in people}
    assert Deal.objects.filter(template=None).count() == len(DEALS) == 12
    assert all(email.endswith(".example") for email in User.objects.values_list("email", flat=True))
    told = io.StringIO()
    call_command("load_demo", "--tell", stdout=told)
    assert all(p.email in told.getvalue() for p in people)


def test_stored_summaries_are_what_the_paper_says(loaded: None) -> None:
    for deal in Deal.objects.filter(template=None).select_related(
        "owner__office", "owner__brokerage", "release"
    ):
        opened = OpenDeal(deal)
        blanks = list(opened.package.blanks())
        assert deal.summary["open"] == sum(b.state == "open" for b in blanks)
        assert deal.summary["pages"] == sum(f.edition.pages for f in opened.forms.values())
        assert sum(len(p) for p in deal.summary["map"]) == 4 * sum(
            b.state in ("open", "filled") for b in blanks
        )
        assert deal.name == naming.proposed_name(opened)
        assert deal.record.drafts.count() == 0, "every demo answer can be read"


def test_days_are_counted_from_today(loaded: None) -> None:
    deal = Deal.objects.get(name__contains="Okafor")
    sheet = OpenDeal(deal).package.sheet
    accepted = sheet.held("terms.acceptance_date").value
    assert isinstance(accepted, date)
    assert (date.today() - accepted).days == 1
    closing = sheet.held("terms.closing_date").value
    assert isinstance(closing, date)
    assert closing > date.today()
