"""Tasks: from templates, from forms and by hand; settled, moved, taken back, listed, and as calendars."""

from __future__ import annotations

import uuid
from datetime import date, timedelta
from typing import Any

import pytest
import yaml
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test import Client
from django.test.utils import CaptureQueriesContext
from goodquill.deals.models import Due
from icalendar import Calendar
from quillcore.values.clock import today

from tests.server.world import Speaker, World, new_deal

PERIOD = "3 business days after acceptance"
RULE = "business_days_after(terms.acceptance_date, 3)"


class Keeper(Speaker):
    """A member who keeps a deal's tasks."""

    def change(self, op: str, **said: Any) -> Any:
        return self.post(f"{self.path}/tasks", change=str(uuid.uuid4()), op=op, **said)

    def done(self, op: str, **said: Any) -> dict[str, Any]:
        answer = self.change(op, **said)
        assert answer.status_code == 200, answer.json()
        return dict(answer.json())

    def tasks(self) -> dict[str, dict[str, Any]]:
        answer = self.get(f"{self.path}/tasks")
        assert answer.status_code == 200, answer.json()
        return {row["what"]: row for row in answer.json()["tasks"]}

    def listed(self, **asked: str) -> list[str]:
        return [row["what"] for row in self.get("/api/tasks", **asked).json()]


@pytest.fixture
def keeper(world: World) -> Keeper:
    return Keeper(world.ines, world.deal)


def test_a_task_follows_its_key_date_and_yields_to_a_day_set_by_hand(keeper: Keeper) -> None:
    keeper.done("add", what="Order the inspection", who="own agent", when=PERIOD)
    waits = keeper.tasks()["Order the inspection"]
    assert (waits["progress"], waits["waits_for"], waits["named"]) == ("waiting", ["Acceptance date"], "Ines")
    keeper.type("terms.acceptance_date", "2027-05-21")
    counted = keeper.tasks()["Order the inspection"]
    assert counted["day"] == "2027-05-26" and "3 business days after" in counted["why"]
    keeper.type("terms.acceptance_date", "2027-05-24")
    assert keeper.tasks()["Order the inspection"]["day"] == "2027-05-27"
    keeper.done("set", code=counted["code"], when="6/1/2027")
    by_hand = keeper.tasks()["Order the inspection"]
    assert (by_hand["day"], by_hand["by_hand"], by_hand["ruled"]) == ("2027-06-01", True, "2027-05-27")
    keeper.done("give back", code=counted["code"])
    assert keeper.tasks()["Order the inspection"]["day"] == "2027-05-27"


def test_every_change_is_a_step_that_can_be_taken_back(keeper: Keeper) -> None:
    added = keeper.done("add", what="Call the lender")
    code = keeper.tasks()["Call the lender"]["code"]
    settled = keeper.done("done", code=code)
    row = keeper.tasks()["Call the lender"]
    assert (row["progress"], row["done_by"]) == ("done", "Ines")
    keeper.undo(settled["change"])
    assert keeper.tasks()["Call the lender"]["progress"] == "to do"
    keeper.undo(added["change"])
    assert "Call the lender" not in keeper.tasks()
    said = [step["said"] for step in keeper.get(f"{keeper.path}/history").json()]
    assert any("Call the lender: done" in text for text in said)


def test_a_retry_adds_no_second_one(keeper: Keeper) -> None:
    body = {"change": str(uuid.uuid4()), "op": "add", "what": "Call the lender"}
    for _ in range(2):
        assert keeper.post(f"{keeper.path}/tasks", **body).status_code == 200
    whats = [row["what"] for row in keeper.get(f"{keeper.path}/tasks").json()["tasks"]]
    assert whats.count("Call the lender") == 1


def test_what_a_form_asks_for_can_be_settled_but_not_taken_off(keeper: Keeper) -> None:
    keeper.type("terms.acceptance_date", "2027-05-21")
    asked = keeper.tasks()["Inspection ends"]
    assert (asked["own"], asked["who"], asked["key"]) == (False, "buyer", "terms.inspection_date")
    assert "301" in asked["origin"]
    assert keeper.change("remove", code=asked["code"]).status_code == 409
    assert keeper.change("set", code=asked["code"], when="2027-06-01").status_code == 409
    keeper.done("set", code=asked["code"], note="Ask for the sewer scope", remind=2)
    keeper.done("not needed", code=asked["code"])
    row = keeper.tasks()["Inspection ends"]
    assert (row["progress"], row["note"], row["remind"]) == ("not needed", "Ask for the sewer scope", 2)


@pytest.mark.parametrize(
    ("said", "says"),
    [
        ({"what": "  "}, "what needs to be done"),
        ({"what": "X", "when": "= terms.purchase_price"}, "a date belongs here"),
        ({"what": "X", "when": "= days_after(terms.nothing, 1)"}, "terms.nothing"),
        ({"what": "X", "when": "3 days after the ball"}, "is not a date or a period"),
    ],
)
def test_what_can_not_be_read_is_a_sentence_and_changes_nothing(
    keeper: Keeper, said: dict[str, str], says: str
) -> None:
    before = set(keeper.tasks())
    refused = keeper.change("add", **said)
    assert refused.status_code == 400 and says in str(refused.json()), refused.json()
    assert set(keeper.tasks()) == before


def test_a_deadline_that_has_passed_already_is_said_at_once(keeper: Keeper) -> None:
    answer = keeper.edit(
        {"op": "type", "key": "terms.acceptance_date", "text": (today() - timedelta(days=60)).isoformat()}
    ).json()
    late = [finding["message"] for finding in answer["late"]]
    assert any(text.startswith("Inspection ends was due on") for text in late)
    again = keeper.edit({"op": "type", "key": "terms.purchase_price", "text": "400k"}).json()
    assert again["late"] == []


def test_tasks_come_with_a_template_and_leave_again_with_undo(world: World, keeper: Keeper) -> None:
    sheet = {
        "name": "With a plan",
        "side": "buying",
        "documents": [],
        "answers": {"terms.inspection_days": "12"},
        "tasks": [
            {"what": "Order the survey", "who": "own agent", "due": RULE, "remind": 1},
            {"what": "Call the  LENDER"},
        ],
    }
    keeper.done("add", what="Call the lender")
    file = SimpleUploadedFile("t.yaml", yaml.safe_dump(sheet).encode())
    begun = keeper.client.post("/api/templates/file", {"file": file})
    assert begun.status_code == 201, begun.json()
    template = begun.json()["id"]
    body = {"change": str(uuid.uuid4()), "template": template}
    applied = keeper.post(f"{keeper.path}/templates", **body).json()
    assert "1 task" in applied["said"]
    assert {"Order the survey", "Call the lender"} <= set(keeper.tasks())
    assert "Call the  LENDER" not in keeper.tasks()
    again = keeper.post(f"{keeper.path}/templates", change=str(uuid.uuid4()), template=template)
    assert "task" not in again.json()["said"]
    keeper.undo(applied["change"])
    assert "Order the survey" not in keeper.tasks()
    written = yaml.safe_load(keeper.get(f"/api/templates/{template}.yaml").content)
    assert written["tasks"] == sheet["tasks"]


def test_a_task_with_an_impossible_rule_is_named_where_it_stands(keeper: Keeper) -> None:
    sheet = {"name": "X", "side": "buying", "documents": [], "tasks": [{"what": "A", "due": "1 + 1"}]}
    file = SimpleUploadedFile("t.yaml", yaml.safe_dump(sheet).encode())
    refused = keeper.client.post("/api/templates/file", {"file": file})
    assert refused.status_code == 400 and "tasks, 1 (A)" in str(refused.json())


def test_in_a_template_tasks_are_written_and_not_done(keeper: Keeper) -> None:
    begun = keeper.post("/api/templates", name="Mine", side="buying").json()
    copy = keeper.get(f"/api/templates/{begun['id']}").json()["working_copy"]
    path = f"/api/deals/{copy}/tasks"
    made = keeper.post(path, change=str(uuid.uuid4()), op="add", what="Order it", when=PERIOD)
    assert made.status_code == 200
    [row] = [r for r in keeper.get(path).json()["tasks"] if r["own"]]
    assert row["why"] == "3 business days after acceptance date."
    refused = keeper.post(path, change=str(uuid.uuid4()), op="done", code=row["code"])
    assert refused.status_code == 409
    assert "Order it" not in keeper.listed()


def test_the_list_over_all_deals_is_ones_own_and_in_order(world: World, keeper: Keeper) -> None:
    other = Keeper(world.ines, new_deal(world.ines, world.template, "Bela", "Ruiz"))
    keeper.done("add", what="Second", when="2027-06-02")
    other.done("add", what="First", when="2027-06-01")
    Keeper(world.bertil, new_deal(world.bertil, world.template, "Cy", "Voss")).done(
        "add", what="His", when="2027-06-01"
    )
    listed = keeper.listed(since="2027-05-30", until="2027-06-03")
    assert listed == ["First", "Second"]
    assert "His" not in keeper.listed()
    assert Keeper(world.tom).listed(since="2027-05-30", until="2027-06-03") == ["First", "Second"]
    assert Keeper(world.nadia).listed() == []


def test_a_list_asks_as_often_whatever_the_number_of_deals(world: World, keeper: Keeper) -> None:
    def asked() -> int:
        with CaptureQueriesContext(
            connection,
        ) as queries:
            keeper.get("/api/tasks")
        return len(queries)

    keeper.done("add", what="One", when="2027-06-01")
    few = asked()
    for n in range(3):
        Keeper(world.ines, new_deal(world.ines, world.template, "Bela", f"Ruiz {n}")).done(
            "add", what=f"More {n}", when="2027-06-01"
        )
    assert asked() == few


def test_a_keystroke_far_from_any_date_asks_nothing_of_tasks(keeper: Keeper) -> None:
    keeper.done("add", what="Order it", when=PERIOD)
    with CaptureQueriesContext(connection) as queries:
        keeper.type("property.subdivision", "Alder Grove")
    assert not [q for q in queries if "deals_du" in q["sql"]]


def test_what_is_not_asked_any_more_leaves_the_list_and_comes_back(keeper: Keeper) -> None:
    keeper.type("terms.inspection_days", "")
    assert "Inspection ends" in keeper.listed()
    keeper.type("terms.inspection", "no")
    assert "Inspection ends" not in keeper.listed()
    keeper.type("terms.inspection", "yes")
    assert "Inspection ends" in keeper.listed()


@pytest.mark.parametrize("stage", ["fell through", "closed"])
def test_a_deal_that_is_over_has_nothing_to_do(world: World, keeper: Keeper, stage: str) -> None:
    keeper.done("add", what="Order it", when="2027-06-01")
    keeper.post(f"{keeper.path}/stage", stage=stage)
    row = next(d for d in keeper.get("/api/deals").json() if d["id"] == str(world.deal.pk))
    assert (row["stage"], row["next"]) == (stage, None)
    assert keeper.listed() == [] and not Due.objects.filter(deal=world.deal).exists()
    keeper.post(f"{keeper.path}/stage", stage="filling")
    assert "Order it" in keeper.listed()


def test_a_deal_that_hands_on_hands_on_what_is_to_be_done(world: World, keeper: Keeper) -> None:
    keeper.done("add", what="Order it", when=PERIOD)
    handed = keeper.post(f"{keeper.path}/hand-on", fell_through=False).json()
    new = Keeper(world.ines)
    path = f"/api/deals/{handed['id']}/tasks"
    row = next(r for r in new.get(path).json()["tasks"] if r["what"] == "Order it")
    assert (row["when"], row["day"]) == ("3 business days after acceptance date", None)


def events(content: bytes) -> dict[str, date]:
    calendar = Calendar.from_ical(content)
    return {str(e["summary"]): e.decoded("dtstart") for e in calendar.walk("VEVENT")}


def test_dates_leave_as_a_calendar_file(keeper: Keeper) -> None:
    keeper.done("add", what="Order it; now, please", when="2027-06-01", note="With the sewer\nscope")
    for path in (f"{keeper.path}/tasks.ics", "/api/tasks.ics"):
        found = events(keeper.get(path).content)
        assert date(2027, 6, 1) in [day for name, day in found.items() if name.startswith("Order it; now")]


def test_a_feed_is_read_by_whoever_knows_its_address_until_it_is_renewed(
    world: World, keeper: Keeper
) -> None:
    assert keeper.get("/api/tasks/feed").json() == {"address": ""}
    keeper.done("add", what="Order it", when=(today() + timedelta(days=3)).isoformat())
    first = keeper.post("/api/tasks/feed").json()["address"]
    reader = Client()
    read = reader.get(first)
    assert read.status_code == 200 and any(name.startswith("Order it") for name in events(read.content))
    assert "sessionid" not in read.cookies
    second = keeper.post("/api/tasks/feed").json()["address"]
    assert reader.get(first).status_code == 404
    assert reader.get(second).status_code == 200
    assert reader.get(second.replace(str(world.ines.pk), str(world.bertil.pk))).status_code == 404
    keeper.client.delete("/api/tasks/feed")
    assert reader.get(second).status_code == 404
    third = keeper.post("/api/tasks/feed").json()["address"]
    assert third not in (first, second)


def test_who_has_left_is_read_by_nobody(world: World, keeper: Keeper) -> None:
    address = keeper.post("/api/tasks/feed").json()["address"]
    world.ines.is_active = False
    world.ines.save()
    assert Client().get(address).status_code == 404
