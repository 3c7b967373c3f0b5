"""The run-through: what is open, each question once, by keyboard; and its troubles."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import BrowserContext, Page, expect

from tests.journeys.conftest import open_deal, saved, signed_in, told

pytestmark = pytest.mark.journey
BERTIL = "bertil@marrowfinch.example"
MOST_ACTIONS_EACH = 1.5
# What is typed, by a part of what is asked; the rest is "none".
ANSWERS = {"how many": "10", "day": "fri", "date": "today", "percent": "2", "price": "391,000"}


@pytest.fixture
def asked(product: str, context: BrowserContext) -> Page:
    """The questions of the demo's fullest buying package."""
    page = context.new_page()
    signed_in(page, product, BERTIL)
    open_deal(page, "Haddad")
    page.keyboard.press("F2")
    expect(heading(page)).to_be_visible()
    return page


def heading(page: Page) -> object:
    return page.locator("#work h2")


def question(page: Page) -> str:
    return str(page.locator("#work h2").inner_text())


def part(page: Page, name: str) -> None:
    page.get_by_role("navigation", name="Parts of the work").get_by_role("button", name=name).click()


def next_choice(page: Page) -> str:
    """On to the next question that is answered by a press."""
    for _ in range(60):
        if page.locator("#work .answer").count():
            break
        said = question(page)
        page.get_by_role("button", name="Next", exact=True).click()
        expect(heading(page)).not_to_have_text(said)
    return question(page)


# Each question that comes onto the screen.
WATCH_QUESTIONS = """
window.came = [];
const asked = () => document.querySelector('#work h2')?.textContent ?? '';
let last = asked();
new MutationObserver(() => {
  if (asked() !== last) window.came.push((last = asked()));
}).observe(document.body, { childList: true, subtree: true });
"""


def test_a_double_click_and_a_held_key_answer_one_question(asked: Page) -> None:
    """The next question stands where the answer was: whatever comes too late for that one does nothing."""
    next_choice(asked)
    asked.evaluate(WATCH_QUESTIONS)
    asked.locator("#work .answer").first.dblclick()
    saved(asked)
    assert len(asked.evaluate("came")) == 1

    next_choice(asked)
    asked.evaluate("came.length = 0")
    for _ in range(8):
        asked.keyboard.down("Enter")  # held: the browser says it again and again
    asked.keyboard.up("Enter")
    saved(asked)
    assert len(asked.evaluate("came")) == 1


def test_from_many_open_to_none_by_keyboard(asked: Page, capsys: pytest.CaptureFixture[str]) -> None:
    """Each question by one answer and its key; at the end the proofread is offered."""
    questions, actions = 0, 0
    for _ in range(80):
        said = question(asked)
        if said.startswith("Every question"):
            break
        questions += 1
        actions += 1
        keys = asked.locator("#work .answer kbd")
        if asked.locator("#work [data-takes]").count():
            asked.keyboard.press("Enter")  # the owners that the roll records
        elif keys.count():
            asked.keyboard.press(keys.first.inner_text())
        else:
            text = next((text for part, text in ANSWERS.items() if part in said.lower()), "none")
            asked.keyboard.type(text)
            in_lines = asked.evaluate("document.activeElement.tagName") == "TEXTAREA"
            asked.keyboard.press("Control+Enter" if in_lines else "Enter")
        expect(heading(asked)).not_to_have_text(said)
        saved(asked)
    expect(heading(asked)).to_have_text("Every question is answered.")
    with capsys.disabled():
        print(f"\n{questions} questions by {actions} actions", end=" ")
    assert questions > 15 and actions / questions < MOST_ACTIONS_EACH
    expect(asked.get_by_role("region", name="This deal").get_by_text("all answered")).to_be_visible()
    asked.get_by_role("button", name="Proofread").click()
    expect(
        asked.get_by_role("heading", name=re.compile("Nothing|look|must|should", re.I)).first
    ).to_be_visible()


def test_a_half_typed_answer_is_kept_whatever_leaves_it(product: str, context: BrowserContext) -> None:
    page = context.new_page()
    signed_in(page, product, BERTIL)
    open_deal(page, "van der Meer")
    page.keyboard.press("F2")
    deal = page.url.split("/deals/")[1].split("/")[0]
    documents = told(page, f"/api/deals/{deal}")["documents"]
    document = next(d["id"] for d in documents if d["number"] == "301")
    leaving = [
        lambda: page.keyboard.press("F2"),
        lambda: page.reload(),
        lambda: page.go_back(),
        lambda: part(page, "Parties"),
        lambda: page.keyboard.press("Control+Shift+Enter"),
        lambda: page.get_by_role("link", name="Tasks").first.click(),
    ]
    at = f"{product}/deals/{deal}/write?by=questions&document={document}&field=additional-terms"
    for n, leave in enumerate(leaving):
        page.goto(at)
        expect(page.get_by_role("heading", name="What additional terms apply?")).to_be_visible()
        page.locator("#work").get_by_label("Additional terms").fill(f"Half a term {n}")
        leave()
        page.wait_for_timeout(300)
        page.goto(at)
        saved(page)
        expect(page.locator("#work").get_by_label("Additional terms")).to_have_value(f"Half a term {n}")


def test_what_can_not_be_read_is_asked_again_and_says_why(product: str, context: BrowserContext) -> None:
    page = context.new_page()
    signed_in(page, product, BERTIL)
    open_deal(page, "Tanaka")
    page.keyboard.press("F2")
    part(page, "Dates")
    first = question(page)
    page.keyboard.type("someday")
    page.keyboard.press("Enter")
    expect(heading(page)).not_to_have_text(first)
    saved(page)
    expect(page.get_by_role("region", name="This deal").get_by_text("1 answer to look at")).to_be_visible()
    part(page, "Dates")
    expect(heading(page)).to_have_text(first)
    expect(page.locator("#work").get_by_role("alert")).to_contain_text("“someday”")
    dates = page.get_by_role("navigation", name="Parts of the work").get_by_role("button", name="Dates")
    before = str(dates.text_content())
    page.keyboard.press("Alt+c")  # left to the client: what can't be read goes with it
    saved(page)
    expect(page.get_by_text("1 answer to look at")).to_have_count(0)
    expect(dates).not_to_have_text(before)
    page.get_by_role("button", name="Undo my last change").click()
    expect(dates).to_have_text(before)
    page.keyboard.press("Control+Shift+Enter")
    expect(heading(page)).to_have_text(first)


def test_paper_and_questions_are_one_key_apart_at_the_same_place(
    product: str, context: BrowserContext
) -> None:
    page = context.new_page()
    signed_in(page, product, BERTIL)
    open_deal(page, "van der Meer")
    page.keyboard.press("F2")
    part(page, "Dates")
    said = question(page)
    place = page.get_by_test_id("place").locator(".outline-green").first
    expect(place).to_be_visible()
    page.keyboard.press("F2")
    expect(page.get_by_test_id("paper")).to_be_visible()
    expect(page.locator("[data-blank]:focus")).to_be_visible()
    page.keyboard.press("F2")
    expect(heading(page)).to_have_text(said)
    page.get_by_role("button", name="All forms").click()
    page.get_by_role("menuitemcheckbox", name=re.compile("^101")).click()
    page.keyboard.press("Escape")
    expect(page.get_by_role("navigation", name="Parts of the work")).not_to_contain_text("Price and money")


def test_a_whole_address_answers_several_questions_at_once(product: str, context: BrowserContext) -> None:
    page = context.new_page()
    signed_in(page, product)
    open_deal(page, "Pereira & Brannigan")
    page.keyboard.press("F2")
    part(page, "Property")
    expect(heading(page)).to_have_text("What is the full address?")
    page.keyboard.type("214 N Alder Street, Port Linden, CW 09914")
    page.keyboard.press("Enter")
    expect(heading(page)).to_have_text("What county is it in?")
    expect(page.get_by_role("region", name="This deal")).to_contain_text("214 N Alder Street")


def test_a_day_is_picked_from_a_month_by_keys(product: str, context: BrowserContext) -> None:
    page = context.new_page()
    signed_in(page, product)
    open_deal(page, "Nguyễn")
    page.keyboard.press("F2")
    part(page, "Dates")
    picks = page.locator("#work").get_by_role("button", name=re.compile("^Pick a day"))
    for _ in range(8):
        if picks.count():
            break
        said = question(page)
        page.keyboard.press("Control+Enter")
        expect(heading(page)).not_to_have_text(said)
    said = question(page)
    picks.focus()
    page.keyboard.press("Enter")
    days = page.get_by_role("group", name="Days")
    before = days.locator(":focus").get_attribute("data-day")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("ArrowRight")
    chosen = str(days.locator(":focus").get_attribute("data-day"))
    assert chosen > str(before)
    page.keyboard.press("Enter")
    expect(heading(page)).not_to_have_text(said)
    saved(page)
    page.get_by_role("button", name="Undo my last change").click()
    saved(page)
