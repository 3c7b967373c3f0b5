"""Tasks by keyboard, from the first line to the calendar; and an office that somebody joins and leaves."""

from __future__ import annotations

import re
from datetime import timedelta

import pytest
from playwright.sync_api import Browser, BrowserContext, expect
from quillcore.values.clock import today

from ops.processes import start_worker
from tests.journeys.conftest import open_deal, signed_in
from tests.running import Running, answered, letters

pytestmark = pytest.mark.journey
OKAFOR = "574 N Ropewalk Road · Okafor"
NEW = "a-new-one-of-their-own"


def test_a_task_is_said_in_words_follows_its_date_and_is_settled_from_today(
    product: str, context: BrowserContext
) -> None:
    page = context.new_page()
    errors = signed_in(page, product)
    open_deal(page, OKAFOR, "Tasks")
    page.get_by_role("button", name="Add a task").press("Enter")
    expect(page.get_by_label("Task name")).to_be_focused()
    page.keyboard.type("Order the sewer scope")
    page.keyboard.press("Tab")
    page.keyboard.type("2 business days after the ball")
    page.keyboard.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("is not a date or a period")
    expect(page.get_by_label("Task name")).to_have_value("Order the sewer scope")
    page.get_by_label("By when").fill("2 business days after acceptance")
    page.keyboard.press("Enter")
    row = page.get_by_role("listitem").filter(has_text="Order the sewer scope")
    expect(row).to_contain_text("2 business days after acceptance date (")
    expect(page.get_by_label("Task name")).to_have_value("")

    page.reload()
    row.get_by_role("button", name="Order the sewer scope", exact=True).click()
    page.get_by_label("By when").fill((today() + timedelta(days=6)).isoformat())
    page.get_by_label("By when").press("Enter")
    expect(row).to_contain_text("Set by hand.")
    row.get_by_role("button", name="More about Order the sewer scope").press("Enter")
    page.get_by_role("menuitem", name="Use the calculated day").press("Enter")
    expect(row).not_to_contain_text("Set by hand.")

    # What was read before may stand elsewhere in the list as of now: it is read, and drawn.
    with page.expect_response(lambda r: "/api/tasks" in r.url):
        page.get_by_role("navigation", name="Places", exact=True).get_by_role("link", name="Tasks").click()
    page.wait_for_load_state("networkidle")
    box = page.get_by_label("Order the sewer scope: done")
    expect(box).to_be_visible()
    page.evaluate("() => new Promise((r) => requestAnimationFrame(() => requestAnimationFrame(r)))")
    box.press("Space")
    expect(page.get_by_text("Order the sewer scope: done.")).to_be_visible()
    expect(box).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    expect(box).to_be_visible()
    assert not errors


def test_two_who_say_different_things_of_one_task_lose_neither(
    product: str, context: BrowserContext, browser: Browser
) -> None:
    agent, coordinator = context.new_page(), browser.new_context().new_page()
    signed_in(agent, product)
    signed_in(coordinator, product, "tomas@marrowfinch.example")
    open_deal(agent, OKAFOR, "Tasks")
    agent.get_by_role("button", name="Add a task").click()
    agent.get_by_label("Task name").fill("Read the survey")
    agent.keyboard.press("Enter")
    for person in (agent, coordinator):
        if person is coordinator:
            open_deal(person, OKAFOR, "Tasks")
        person.get_by_role("button", name="Read the survey", exact=True).click()
        expect(person.get_by_label("Task name").last).to_have_value("Read the survey")
    coordinator.get_by_label("Note").last.fill("The fence is theirs")
    coordinator.keyboard.press("Enter")
    expect(coordinator.get_by_label("Note")).to_have_count(0)
    agent.get_by_label("By when").last.fill("2 business days after acceptance")
    agent.keyboard.press("Enter")
    row = agent.get_by_role("listitem").filter(has_text="Read the survey")
    expect(row).to_contain_text("2 business days after acceptance date")
    expect(row).to_contain_text("The fence is theirs")


def test_what_is_typed_of_a_task_is_there_after_a_reload_and_offline(
    product: str, context: BrowserContext
) -> None:
    page = context.new_page()
    signed_in(page, product)
    open_deal(page, OKAFOR, "Tasks")
    page.get_by_role("button", name="Add a task").click()
    page.get_by_label("Task name").fill("Ask about the fence")
    page.reload()
    page.get_by_role("button", name="Add a task").click()
    expect(page.get_by_label("Task name")).to_have_value("Ask about the fence")
    context.set_offline(True)
    page.get_by_label("Task name").press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("can't be reached")
    context.set_offline(False)
    page.get_by_label("Task name").press("Enter")
    expect(page.get_by_role("listitem").filter(has_text="Ask about the fence")).to_have_count(1)


def letter_to(email: str) -> str:
    """The link of the last letter that somebody got."""

    def link() -> re.Match[str] | None:
        last = next((one["text"] for one in reversed(letters()) if one["to"] == email), "")
        return re.search(r"http\S+/welcome#\S+", last)

    found = answered(link)
    assert found is not None, f"no letter to {email} came"
    return found[0]


def test_somebody_is_invited_signs_in_and_leaves(
    running: Running, browser: Browser, context: BrowserContext, post_office: None
) -> None:
    page = context.new_page()
    errors = signed_in(page, running.address, "rosalind@marrowfinch.example")
    with start_worker(running.folder, running.env, interval=0.1):
        page.goto(f"{running.address}/profile")
        page.get_by_role("button", name="Invite a member").click()
        asked = page.get_by_role("dialog", name="Invite a member")
        asked.get_by_label("E-mail").fill("mira@marrowfinch.example")
        asked.get_by_label("Name as forms print it").fill("Mira Tolland")
        asked.get_by_role("button", name="Send the invitation").click()
        expect(page.get_by_text(re.compile("Invited .*, not accepted yet"))).to_be_visible()
        link = letter_to("mira@marrowfinch.example")
    theirs = browser.new_context().new_page()
    theirs.goto(link)
    theirs.get_by_label("New password").fill(NEW)
    theirs.get_by_role("button", name="Set the password").click()
    theirs.get_by_role("button", name="Go to signing in").click()
    theirs.get_by_label("E-mail").fill("mira@marrowfinch.example")
    theirs.get_by_label("Password").fill(NEW)
    theirs.get_by_role("button", name="Sign in").click()
    expect(theirs.get_by_role("heading", name="Today")).to_be_visible()

    page.reload()
    page.get_by_role("button", name="More for Mira Tolland").click()
    page.get_by_role("menuitem", name="End access").click()
    page.get_by_role("button", name="End access").click()
    expect(page.get_by_text("Mira Tolland’s access has ended.")).to_be_visible()
    theirs.reload()
    expect(theirs.get_by_role("button", name="Sign in")).to_be_visible()
    theirs.context.close()
    assert not errors


def test_an_address_mailed_under_the_earlier_name_leads_to_the_task(
    product: str, context: BrowserContext
) -> None:
    page = context.new_page()
    errors = signed_in(page, product)
    open_deal(page, OKAFOR, "Tasks")
    mailed = page.url.replace("/tasks", "/duties") + "?duty=terms.expiry_date"
    page.goto(mailed)
    expect(page.get_by_role("button", name="Add a task")).to_be_visible()
    assert page.url.endswith("/tasks?task=terms.expiry_date"), page.url
    page.goto(f"{product}/duties")
    expect(page.get_by_role("heading", name="Tasks", level=1)).to_be_visible()
    assert not errors
