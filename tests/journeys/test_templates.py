"""Templates: an hour once, minutes ever after."""

from __future__ import annotations

import re
from typing import Any

import pytest
from playwright.sync_api import BrowserContext, Page, expect

from tests.journeys.conftest import all_facts, saved, signed_in

pytestmark = pytest.mark.journey
ANSWERS = {"days": "10", "percent": "3", "time": "5pm", "money": "500", "text": "As usual"}


class Hands:
    """Somebody who uses the keyboard alone; a text typed is one action, like a key."""

    def __init__(self, page: Page) -> None:
        self.page, self.actions = page, 0

    def press(self, key: str) -> None:
        self.actions += 1
        self.page.keyboard.press(key)

    def type(self, text: str) -> None:
        self.actions += 1
        self.page.keyboard.type(text)

    def go(self, place: str) -> None:
        self.press("Control+k")
        expect(self.page.get_by_role("dialog", name="Find anything")).to_be_visible()
        self.type(place)
        expect(self.page.get_by_role("option", name=place)).to_be_visible()
        self.press("Enter")

    def at_hand(self) -> dict[str, Any]:
        found: dict[str, Any] = self.page.evaluate(
            "() => { const e = document.activeElement; return {"
            " blank: e.dataset.blank || '', role: e.getAttribute('role') || '',"
            " label: e.getAttribute('aria-label') || '' } }"
        )
        return found


def test_a_template_of_six_forms_with_twenty_answers_by_keyboard_alone(
    product: str, context: BrowserContext
) -> None:
    page = context.new_page()
    errors = signed_in(page, product)
    hands = Hands(page)
    hands.go("New template")
    expect(page.get_by_role("dialog", name="New template")).to_be_visible()
    hands.type("Buying, by keyboard")
    hands.press("Enter")
    expect(page.get_by_role("button", name="Add forms or a template")).to_be_focused()
    hands.press("Enter")
    expect(page.get_by_label("Find a form")).to_be_focused()
    hands.type("101 110 301, 503 505 510")
    hands.press("Enter")
    expect(page.get_by_text("6 forms")).to_be_visible()
    hands.press("Escape")
    hands.go("Write")
    expect(page.get_by_role("button", name="Next blank")).to_be_visible()
    answered: set[str] = set()
    for _ in range(90):
        hands.press("Control+Enter")
        now = hands.at_hand()
        if not now["blank"] or now["blank"] in answered:
            continue
        kind = next((k for k in ANSWERS if re.search(rf"\b{k}\b", now["label"].lower())), None)
        if now["role"] == "radio":
            hands.press("Space")
        elif kind is not None:
            hands.type(ANSWERS[kind])
        else:
            continue
        answered.add(now["blank"])
        if len(answered) >= 20:
            break
    hands.press("Control+Enter")
    assert len(answered) >= 20
    saved(page)
    hands.go("Templates")
    row = page.get_by_role("listitem").filter(has_text="Buying, by keyboard")
    expect(row).to_contain_text("6 documents")
    expect(row).to_contain_text(re.compile(r"\b(1[89]|2\d) answers"))
    print(f"\n{hands.actions} actions for a template of six forms with {len(answered)} answers")
    assert hands.actions <= 130
    assert not errors


def test_a_deal_begins_with_what_the_template_says(product: str, context: BrowserContext) -> None:
    page = context.new_page()
    errors = signed_in(page, product)
    page.goto(f"{product}/templates")
    page.get_by_role("button", name="More for Buying a home, cash").click()
    page.get_by_role("menuitem", name="Make my own copy").click()
    page.get_by_label("Name").fill("Cash, with seven days")
    page.get_by_role("button", name="Begin").click()
    page.get_by_role("navigation", name="Places of this template").get_by_role("link", name="Facts").click()
    days = page.get_by_role("textbox", name="Inspection period in days")
    days.fill("5")
    days.press("Enter")
    saved(page)
    page.get_by_role("navigation", name="Places of this template").get_by_role("link", name="About").click()
    page.get_by_label("When it is offered").select_option("required")
    expect(page.get_by_text("of your last")).to_be_visible()
    page.goto(f"{product}/new")
    mine = page.get_by_role("checkbox", name="Cash, with seven days")
    expect(mine).to_be_checked()
    expect(page.get_by_text("Required by Inês")).to_be_visible()
    mine.uncheck()
    expect(page.get_by_text("“Cash, with seven days” is left off")).to_be_visible()
    mine.check()
    page.get_by_role("checkbox", name="Buying a home, conventional loan").uncheck()
    page.get_by_label("Buyer 1, family name").fill("Templeton")
    page.get_by_role("button", name="Start the deal").click()
    page.get_by_role("navigation", name="Sections of this deal").get_by_role("link", name="Facts").click()
    all_facts(page)
    expect(page.get_by_role("textbox", name="Inspection period in days")).to_have_value("5")
    page.get_by_role("button", name="More about this deal").click()
    page.get_by_role("menuitem", name="Save as a template").click()
    expect(page.get_by_role("dialog", name="A template from this deal")).to_be_visible()
    page.get_by_label("Name").fill("As with Templeton’s")
    page.get_by_role("button", name="Begin").click()
    expect(page.get_by_role("heading", name="As with Templeton’s")).to_be_visible()
    expect(page.get_by_text("Templeton", exact=True)).to_have_count(0)

    # Nobody's next deal is to begin with it: other journeys start deals as the same member.
    page.goto(f"{product}/templates")
    page.get_by_role("button", name="More for Cash, with seven days").click()
    page.get_by_role("menuitem", name="Remove from the list").click()
    expect(page.get_by_role("button", name="More for Cash, with seven days")).to_have_count(0)
    assert not errors


def test_a_name_changed_in_another_window_is_not_changed_back_by_looking(page: Page, product: str) -> None:
    errors = signed_in(page, product)
    page.goto(f"{product}/templates?begin=true")
    page.get_by_label("Name").fill("Two windows")
    page.get_by_role("button", name="Begin").click()
    page.wait_for_url("**/package")
    page.goto(page.url.replace("/package", "/about"))
    other = page.context.new_page()
    other.goto(page.url)
    name, theirs = page.get_by_label("Name", exact=True), other.get_by_label("Name", exact=True)
    expect(name).to_have_value("Two windows")
    expect(theirs).to_have_value("Two windows")
    theirs.fill("One window")
    theirs.press("Tab")
    saved(other)
    page.evaluate("window.dispatchEvent(new Event('visibilitychange'))")
    expect(name).to_have_value("One window")
    name.focus()
    name.press("Tab")
    page.wait_for_timeout(500)
    other.reload()
    expect(theirs).to_have_value("One window")
    assert errors == []
