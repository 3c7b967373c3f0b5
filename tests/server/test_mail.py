"""Letters: written, sent once, tried again, given up; and reminders in the morning."""

from __future__ import annotations

import uuid
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from types import SimpleNamespace
from typing import Any
from unittest.mock import patch

import httpx
import pytest
from django.core import mail
from django.db import transaction
from django.utils import timezone
from django_tasks import TaskResultStatus
from django_tasks_db.management.commands import db_worker
from django_tasks_db.management.commands.db_worker import Worker
from django_tasks_db.models import DBTaskResult
from goodquill.deals.models import Due
from goodquill.forms.pages import draw_ahead
from goodquill.mail.models import Letter, LetterState
from goodquill.mail.sending import GIVEN_UP_AFTER, LONGEST_PAUSE, deliver, deliver_due, pause_after, write
from goodquill.mail.sweeping import FRESH, STUCK_AFTER, enqueue_once, sweep
from goodquill.tasks import reminders
from goodquill.tasks.reminders import remind
from hypothesis import given
from hypothesis import strategies as st
from quillcore.values.clock import today

from tests.running import LOOPBACK, letters
from tests.server.test_tasks import Keeper
from tests.server.world import World


def work() -> None:
    """Carry out what is queued, as a worker does, within the test's own connection."""
    worker = Worker(
        queue_names=["*"],
        excluded_queue_names=[],
        interval=0,
        batch=True,
        backend_name="default",
        startup_delay=False,
        max_tasks=None,
        worker_id="test",
    )
    with patch.object(db_worker, "close_old_connections"):
        worker.run()


def letter(to: str = "amara@clients.example", subject: str = "Hello") -> Letter:
    return write(to, subject, "Text", "reminder", None)


def again(written: Letter) -> Letter:
    written.refresh_from_db()
    return written


@pytest.fixture
def by_smtp(post_office: None, settings: Any) -> Iterator[Any]:
    """Letters leave by SMTP to the stand-in, whose mood can be put."""
    settings.EMAIL_BACKEND = "django.core.mail.backends.smtp.EmailBackend"

    def put(mood: str) -> None:
        httpx.post(f"{settings.MAIL_PAGE}/_mood", json={"mood": mood}, **LOOPBACK).raise_for_status()

    yield put
    put("well")


def kept(message_id: str) -> list[dict[str, str]]:
    """What the stand-in has of one letter."""
    return [one for one in letters() if one["message_id"] == message_id]


def test_a_letter_is_sent_once_whoever_sends_it(world: World) -> None:
    written = letter()
    work()
    work()
    deliver_due.call()
    assert [m.extra_headers["Message-ID"] for m in mail.outbox] == [written.message_id]
    assert again(written).state == LetterState.SENT


def test_a_letter_waits_for_no_pages_of_a_release(world: World) -> None:
    for content in ("a", "b", "c"):
        draw_ahead.enqueue(content, 8, False)
    letter()
    waiting = [row.task_path for row in DBTaskResult.objects.ready()]
    assert waiting == [deliver.module_path] + [draw_ahead.module_path] * 3


def test_a_letter_whose_transaction_fails_is_never_sent(world: World) -> None:
    with pytest.raises(ValueError, match="no"), transaction.atomic():
        letter()
        raise ValueError("no")
    work()
    assert mail.outbox == [] and not Letter.objects.exists() and not DBTaskResult.objects.exists()


def test_a_letter_arrives_as_it_was_written(world: World, by_smtp: Any) -> None:
    written = write(
        "thanh@clients.example", "Nguyễn:\r\nclosing", "Grüße\nhttps://x.example/a", "reminder", None
    )
    work()
    [arrived] = kept(written.message_id)
    assert (arrived["to"], arrived["subject"]) == ("thanh@clients.example", "Nguyễn: closing")
    assert arrived["text"].splitlines() == ["Grüße", "https://x.example/a"]


def test_a_letter_with_a_line_break_in_its_address_is_given_up_and_holds_up_no_other(
    world: World, by_smtp: Any
) -> None:
    written = write("thanh@clients.example\nBcc: all@clients.example", "Closing", "x", "reminder", None)
    fine = letter()
    work()
    assert again(written).state == LetterState.REFUSED and "can’t be written" in again(written).said
    assert again(fine).state == LetterState.SENT


def test_an_address_that_nobody_has_is_said_and_not_tried_again(world: World, by_smtp: Any) -> None:
    refused, fine = letter("refused@clients.example"), letter()
    work()
    assert again(refused).state == LetterState.REFUSED and "nobody of that name" in again(refused).said
    assert again(fine).state == LetterState.SENT


@pytest.mark.parametrize("mood", ["down", "nonsense"])
def test_a_mail_server_that_is_busy_is_tried_again_with_growing_pauses(
    world: World, by_smtp: Any, mood: str
) -> None:
    by_smtp(mood)
    written = letter()
    work()
    assert (again(written).state, written.tries) == (LetterState.WAITING, 1)
    assert written.next_try > timezone.now()
    deliver_due.call()
    assert again(written).tries == 1, "its time hasn't come"
    by_smtp("well")
    Letter.objects.update(next_try=timezone.now())
    sweep()
    work()
    assert again(written).state == LetterState.SENT and len(kept(written.message_id)) == 1


def test_a_mail_server_that_is_not_there_is_waited_for_and_given_up_in_the_end(
    world: World, settings: Any
) -> None:
    settings.EMAIL_BACKEND, settings.EMAIL_PORT = "django.core.mail.backends.smtp.EmailBackend", 1
    written = letter()
    work()
    assert again(written).state == LetterState.WAITING and "can’t be reached" in written.said
    Letter.objects.update(
        next_try=timezone.now(), made=timezone.now() - GIVEN_UP_AFTER - timedelta(minutes=1)
    )
    deliver_due.call()
    assert again(written).state == LetterState.GIVEN_UP


@given(st.integers(1, 200))
def test_pauses_grow_and_end_at_the_longest(tries: int) -> None:
    assert pause_after(tries) <= pause_after(tries + 1) <= LONGEST_PAUSE


def test_what_a_killed_worker_left_is_forgotten_and_its_letter_sent(world: World) -> None:
    written = letter()
    DBTaskResult.objects.update(
        status=TaskResultStatus.RUNNING, started_at=timezone.now() - STUCK_AFTER - timedelta(seconds=1)
    )
    work()
    assert again(written).state == LetterState.WAITING
    sweep()
    work()
    assert again(written).state == LetterState.SENT
    assert not DBTaskResult.objects.filter(status=TaskResultStatus.RUNNING).exists()


def test_the_clock_queues_nothing_twice_and_waits_for_no_killed_task(world: World) -> None:
    def queued() -> int:
        return DBTaskResult.objects.filter(status=TaskResultStatus.READY).count()

    enqueue_once(remind)
    enqueue_once(remind)
    assert queued() == 1
    DBTaskResult.objects.update(status=TaskResultStatus.RUNNING, started_at=timezone.now())
    enqueue_once(remind)
    assert queued() == 0
    DBTaskResult.objects.update(started_at=timezone.now() - FRESH - timedelta(seconds=1))
    enqueue_once(remind)
    assert queued() == 1


@pytest.fixture
def keeper(world: World) -> Keeper:
    return Keeper(world.ines, world.deal)


def at(monkeypatch: pytest.MonkeyPatch, day: int, hour: int) -> None:
    """Put the clock: so many days from today, at that hour UTC."""
    now = datetime.combine(today() + timedelta(days=day), datetime.min.time(), UTC) + timedelta(hours=hour)
    monkeypatch.setattr(reminders, "timezone", SimpleNamespace(now=lambda: now))


def add(keeper: Keeper, what: str, days: int, **more: Any) -> None:
    keeper.done("add", what=what, when=(today() + timedelta(days=days)).isoformat(), **more)


def test_one_letter_a_morning_names_all_that_is_due(
    world: World, keeper: Keeper, monkeypatch: pytest.MonkeyPatch
) -> None:
    add(keeper, "Order the inspection", 3, remind=1, note="With the sewer scope")
    add(keeper, "Call the lender", 2, remind=0)
    add(keeper, "Not reminded of", 2)
    at(monkeypatch, 1, 12)
    assert remind.call() == 0
    at(monkeypatch, 2, 6)
    assert remind.call() == 0, "it is still night"
    at(monkeypatch, 2, 7)
    assert (remind.call(), remind.call()) == (1, 0)
    written = Letter.objects.get()
    assert written.to == world.ines.email and "and 1 more" in written.subject
    for words in ("Order the inspection, tomorrow", "Call the lender, today", "With the sewer scope"):
        assert words in written.text
    assert "Not reminded of" not in written.text and f"/deals/{world.deal.pk}/tasks" in written.text


def test_morning_is_where_the_member_is(
    world: World, keeper: Keeper, monkeypatch: pytest.MonkeyPatch
) -> None:
    world.ines.time_zone = "America/Denver"
    world.ines.save()
    add(keeper, "Call the lender", 2, remind=0)
    at(monkeypatch, 2, 12)
    assert remind.call() == 0
    at(monkeypatch, 2, 15)
    assert remind.call() == 1


def test_a_day_that_moves_is_reminded_of_again_and_what_is_settled_is_not(
    world: World, keeper: Keeper, monkeypatch: pytest.MonkeyPatch
) -> None:
    add(keeper, "Call the lender", 2, remind=0)
    code = keeper.tasks()["Call the lender"]["code"]
    at(monkeypatch, 2, 9)
    assert remind.call() == 1
    keeper.done("set", code=code, when=(today() + timedelta(days=4)).isoformat())
    at(monkeypatch, 4, 9)
    assert remind.call() == 1
    keeper.done("set", code=code, when=(today() + timedelta(days=5)).isoformat())
    keeper.done("done", code=code)
    at(monkeypatch, 5, 9)
    assert remind.call() == 0


def test_the_responsible_are_reminded_and_nobody_who_has_left(
    world: World, keeper: Keeper, monkeypatch: pytest.MonkeyPatch
) -> None:
    add(keeper, "Check the file", 2, remind=0, who="coordinator")
    add(keeper, "Sign it off", 2, remind=0, who="broker")
    add(keeper, "Insurance bound", 2, remind=0, who="client")
    at(monkeypatch, 2, 9)
    remind.call()
    said = dict(Letter.objects.values_list("to", "subject"))
    assert said[world.tom.email].startswith("Check the file")
    assert said[world.rosa.email].startswith("Sign it off")
    assert said[world.ines.email].startswith("Insurance bound")
    world.ines.is_active = False
    world.ines.save()
    Due.objects.update(reminded=None)
    Letter.objects.all().delete()
    remind.call()
    assert not Letter.objects.filter(to=world.ines.email).exists()


def test_the_broker_sees_what_did_not_arrive_and_sends_it_again(world: World, by_smtp: Any) -> None:
    rosa = Keeper(world.rosa)
    failed = write("refused@clients.example", "Hello", "Text", "reminder", world.rosa.brokerage_id)
    write("amara@clients.example", "Fine", "Text", "reminder", world.rosa.brokerage_id)
    work()
    [row] = rosa.get("/api/letters").json()
    assert (row["to"], row["state"]) == ("refused@clients.example", "refused")
    assert "nobody of that name" in row["said"]
    assert Keeper(world.ines).get("/api/letters").status_code == 403
    assert Keeper(world.nadia).get("/api/letters").json() == []
    assert Keeper(world.nadia).post(f"/api/letters/{failed.pk}").status_code == 404
    Letter.objects.filter(pk=failed.pk).update(to="there@clients.example")
    assert rosa.post(f"/api/letters/{failed.pk}").status_code == 200
    work()
    assert again(failed).state == LetterState.SENT and rosa.get("/api/letters").json() == []
    assert rosa.post(f"/api/letters/{uuid.uuid4()}").status_code == 404
