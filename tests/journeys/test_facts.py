"""Journeys about facts: offers side by side, two people in one deal."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, expect

from tests.journeys.conftest import all_facts, open_deal, saved, signed_in

pytestmark = pytest.mark.journey


@pytest.fixture
def page(context: BrowserContext) -> Page:
    return context.new_page()


def test_offers_are_compared_and_one_is_accepted(page: Page, product: str) -> None:
    signed_in(page, product)
    open_deal(page, "Delacroix", "Offers")
    here = page.get_by_label("Purchase price, Offer 1")
    expect(here).to_have_value("781,000.00")
    expect(page.get_by_role("row", name="Purchase price")).to_contain_text("$802,500")
    page.get_by_role("button", name="Accept").nth(2).click()
    page.get_by_role("dialog").get_by_label("How you know").fill("Told by their agent by phone")
    page.get_by_role("dialog").get_by_role("button", name="Accept").click()
    expect(page.get_by_text("Accepted Offer 3: its terms are in force")).to_be_visible()
    expect(page.get_by_label("Offer at hand: Offer 3")).to_be_visible()
    page.get_by_role("button", name="Undo my last change").click()
    expect(page.get_by_text("Undid: Accepted Offer 3")).to_be_visible()
    expect(page.get_by_label("Offer at hand: Offer 1")).to_be_visible()
    page.get_by_role("button", name="Open", exact=True).nth(1).click()
    expect(page.get_by_label("Offer at hand: Offer 2")).to_be_visible()
    all_facts(page)
    page.get_by_label("Inspection period in days").fill("7")
    page.keyboard.press("Tab")
    saved(page)
    page.reload()
    all_facts(page)
    expect(page.get_by_label("Inspection period in days")).to_have_value("7")
    page.get_by_label("Offer at hand: Offer 2").click()
    page.get_by_role("menuitem", name="Offer 1").click()
    expect(page.get_by_label("Inspection period in days")).to_have_value("10")


def test_terms_are_typed_where_the_offers_stand_side_by_side(page: Page, product: str) -> None:
    errors = signed_in(page, product)
    open_deal(page, "Delacroix", "Offers")
    here = page.get_by_label("Closing by, Offer 1")
    before = here.input_value()
    here.fill("+30")
    page.keyboard.press("Tab")
    saved(page)
    assert here.input_value() not in ("+30", before)
    # A term of another offer: that one comes to hand, with the cursor in the term.
    page.get_by_role("link", name=re.compile("^Purchase price, Offer 2")).click()
    other = page.get_by_label("Purchase price, Offer 2")
    expect(other).to_be_focused()
    other.fill("756,500")
    page.keyboard.press("Tab")
    saved(page)
    expect(other).to_have_value("756,500.00")
    expect(page.get_by_role("link", name=re.compile("^Purchase price, Offer 1"))).to_contain_text("$781,000")
    for _ in range(2):
        page.get_by_role("button", name="Undo my last change").click()
        saved(page)
    assert not errors


def test_two_people_see_each_other_and_a_clash_keeps_both(browser: Browser, product: str) -> None:
    agent, coordinator = browser.new_context().new_page(), browser.new_context().new_page()
    signed_in(agent, product)
    signed_in(coordinator, product, "tomas@marrowfinch.example")
    for person in (agent, coordinator):
        open_deal(person, "Ridgeline", "Facts")
    agent.get_by_label("Home warranty up to").fill("650")
    agent.keyboard.press("Tab")
    expect(coordinator.get_by_label("Home warranty up to")).to_have_value("650.00")
    # Both change one fact from the same state: hold back the coordinator's looking, as a slow line would.
    coordinator.route("**/changes?since=*", lambda route: route.abort())
    agent.get_by_label("Highest interest rate").fill("6.5")
    agent.keyboard.press("Tab")
    saved(agent)
    coordinator.get_by_label("Highest interest rate").fill("6.875")
    coordinator.keyboard.press("Tab")
    saved(coordinator)
    expect(coordinator.get_by_label("Highest interest rate")).to_have_value("6.5")
    expect(coordinator.get_by_text("You typed “6.875” while it was changed elsewhere.")).to_be_visible()
    expect(agent.get_by_text("Tomas Wray typed “6.875”")).to_be_visible()
    for person in (agent, coordinator):
        expect(person.get_by_role("button", name="1 answer to look at")).to_be_visible()


def test_whoever_goes_on_typing_writes_over_nothing_that_came_meanwhile(
    browser: Browser, product: str
) -> None:
    agent, coordinator = browser.new_context().new_page(), browser.new_context().new_page()
    signed_in(agent, product)
    signed_in(coordinator, product, "tomas@marrowfinch.example")
    for person in (agent, coordinator):
        open_deal(person, "Ridgeline", "Facts")
    theirs = agent.get_by_label("Deposit in percent")
    coordinator.route("**/changes?since=*", lambda route: route.abort())
    theirs.fill("2")
    agent.keyboard.press("Tab")
    saved(agent)
    mine = coordinator.get_by_label("Deposit in percent")
    mine.fill("1.")
    coordinator.unroute("**/changes?since=*")
    agent.get_by_label("Home warranty up to").fill("660")
    agent.keyboard.press("Tab")
    # What the other changed has come, behind what is typed: its author has not seen it.
    expect(coordinator.get_by_label("Home warranty up to")).to_have_value("660.00")
    expect(mine).to_have_value("1.")
    coordinator.keyboard.type("5")
    coordinator.keyboard.press("Tab")
    saved(coordinator)
    expect(coordinator.get_by_text("You typed “1.5” while it was changed elsewhere.")).to_be_visible()
    expect(mine).to_have_value("2")
    # Typed anew, with theirs before one's eyes, it is one's own decision.
    mine.fill("3")
    coordinator.keyboard.press("Tab")
    saved(coordinator)
    expect(mine).to_have_value("3")
    expect(coordinator.get_by_text("You typed “1.5”")).to_have_count(0)
    expect(theirs).to_have_value("3")
