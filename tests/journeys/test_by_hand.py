"""A paper is changed by hand: words struck out by pointer and by keys, others written in, and taken back."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import BrowserContext, Page, expect

from tests.journeys.conftest import deals_of, go_to_page, saved, signed_in, told

pytestmark = pytest.mark.journey
BERTIL = "bertil@marrowfinch.example"
FOUR = "301 Residential Purchase Agreement, page 4"


@pytest.fixture
def paper(product: str, context: BrowserContext) -> Page:
    """Page 4 of the purchase agreement of one deal, about to be changed by hand."""
    page = context.new_page()
    signed_in(page, product, BERTIL)
    deal = next(d["id"] for d in deals_of(page) if "Tanaka" in d["name"])
    page.goto(f"{product}/deals/{deal}/write?by=paper")
    go_to_page(page, FOUR)
    by_hand(page)
    return page


def by_hand(page: Page) -> None:
    page.get_by_role("button", name="Work on the paper").click()
    page.get_by_role("menuitem", name="Change by hand").click()
    expect(page.get_by_role("region", name=FOUR).locator("[data-words]")).to_be_visible()


def changes_of(page: Page) -> list[dict[str, object]]:
    deal = re.search(r"/deals/([^/?]+)", page.url)
    assert deal is not None
    documents = told(page, f"/api/deals/{deal[1]}")["documents"]
    return [c for d in documents if d["number"] == "301" for c in d["by_hand"]]


def test_words_are_struck_out_and_others_written_above_by_keys_alone(paper: Page) -> None:
    layer = paper.get_by_role("region", name=FOUR).locator("[data-words]")
    layer.focus()
    keys = paper.keyboard
    for _ in range(3):
        keys.press("ArrowDown")
    for _ in range(3):
        keys.press("Shift+ArrowRight")
    struck = paper.get_by_role("region", name="Lens").locator("del").first
    words = struck.inner_text()
    assert len(words.split()) == 4
    keys.press("Enter")
    text = paper.get_by_label("Written in above, if anything")
    expect(text).to_be_focused()
    keys.type("Buyer does not")
    keys.press("Enter")
    expect(paper.get_by_role("button", name=f"Take out: {words}")).to_be_visible()
    marks = paper.get_by_role("region", name=FOUR).locator("[data-by-hand]")
    expect(marks).to_contain_text("Buyer does not")
    [made] = changes_of(paper)
    assert made["words"] == words and made["initials"]
    # It is on what leaves, and remarked on.
    paper.get_by_role("link", name="Proofread").click()
    expect(paper.get_by_text(f"“{words}” struck out and “Buyer does not” written in")).to_be_visible()
    paper.get_by_role("button", name="Undo my last change").click()
    saved(paper)
    expect(paper.get_by_text("struck out and")).to_have_count(0)
    assert changes_of(paper) == []


def test_by_pointer_words_are_chosen_and_a_place_is_written_in(paper: Page) -> None:
    sheet = paper.get_by_role("region", name=FOUR)
    box = sheet.bounding_box()
    assert box is not None
    scale = box["width"] / 612
    paper.mouse.move(box["x"] + 90 * scale, box["y"] + 98 * scale)
    paper.mouse.down()
    paper.mouse.move(box["x"] + 300 * scale, box["y"] + 98 * scale, steps=8)
    paper.mouse.up()
    words = paper.get_by_role("region", name="Lens").locator("del").first
    expect(words).to_have_text(re.compile(r"\w+ \w+"))
    paper.get_by_role("button", name="Strike out", exact=True).click()
    expect(paper.get_by_role("button", name=re.compile("^Take out"))).to_have_count(1)
    paper.mouse.click(box["x"] + 560 * scale, box["y"] + 240 * scale)
    text = paper.get_by_label("Written in here")
    expect(text).to_be_focused()
    paper.keyboard.type("See below")
    paper.keyboard.press("Escape")  # left by mistake
    expect(paper.locator("[data-words]")).to_have_count(0)
    by_hand(paper)
    paper.mouse.click(box["x"] + 560 * scale, box["y"] + 240 * scale)
    expect(text).to_have_value("See below")
    paper.get_by_role("button", name="Write in", exact=True).click()
    out = paper.get_by_role("button", name=re.compile("^Take out"))
    expect(out).to_have_count(2)
    paper.mouse.click(box["x"] + 560 * scale, box["y"] + 340 * scale)
    expect(text).to_have_value("")
    for left in (1, 0):
        out.first.click()
        expect(out).to_have_count(left)
    paper.keyboard.press("Escape")
    expect(paper.locator("[data-words]")).to_have_count(0)
