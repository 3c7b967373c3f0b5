"""A clause is written once, put into a deal by its name, and follows the deal's facts."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import BrowserContext, Page, expect

from tests.journeys.conftest import deals_of, saved, signed_in

pytestmark = pytest.mark.journey
BERTIL = "bertil@marrowfinch.example"


@pytest.fixture
def page(product: str, context: BrowserContext) -> Page:
    made = context.new_page()
    signed_in(made, product, BERTIL)
    return made


def keep_clause(page: Page, product: str, name: str, before: str, fact: str, behind: str) -> None:
    page.goto(f"{product}/clauses")
    page.get_by_role("button", name="New clause").click()
    page.get_by_label("Name", exact=True).fill(name)
    page.get_by_label("Wording").fill(before)
    page.get_by_role("combobox", name="Put in a fact").fill(fact)
    page.get_by_role("option", name=re.compile(fact)).first.click()
    expect(page.get_by_label("Wording")).to_be_focused()
    page.keyboard.type(behind)


def go_to_terms(page: Page, deal: str) -> None:
    page.goto(f"{deal}/write?by=paper")
    expect(page.get_by_test_id("paper")).to_be_visible()
    page.keyboard.press("Control+f")
    page.keyboard.type("additional terms")
    expect(page.locator("[data-found=here]").first).to_be_in_viewport()
    page.keyboard.press("Escape")


def test_written_once_it_is_named_while_typing_and_follows_the_deal(page: Page, product: str) -> None:
    keep_clause(
        page, product, "Dock and lift", "Seller leaves the dock, part of ", "Purchase price", ", in place."
    )
    expect(page.get_by_label("How it reads")).to_contain_text("part of Purchase price, in place.")
    # What is typed and not kept yet survives a reload.
    page.reload()
    expect(page.get_by_label("Name", exact=True)).to_have_value("Dock and lift")
    page.get_by_role("button", name="Keep", exact=True).click()
    expect(page.get_by_text("“Dock and lift” was saved.")).to_be_visible()
    deal = next(d["id"] for d in deals_of(page) if "Tanaka" in d["name"])
    go_to_terms(page, f"{product}/deals/{deal}")
    terms = page.get_by_label("Additional terms").first
    terms.click()
    before = terms.input_value()
    page.keyboard.type(f"{'' if before in ('', None) else ' '}dock and")
    clause = page.get_by_role("region", name="Clauses").get_by_role("button").first
    expect(clause).to_contain_text("Dock and lift")
    page.keyboard.press("Alt+ArrowDown")
    expect(clause).to_be_focused()
    expect(clause).to_contain_text("Seller leaves the dock")
    page.keyboard.press("Enter")
    expect(terms).to_have_value(re.compile(r"Seller leaves the dock, part of \$[\d,.]+, in place\.$"))
    assert "dock and" not in terms.input_value()
    saved(page)
    # Typed on, it goes on following.
    expect(terms).to_be_focused()
    page.keyboard.press("End")
    page.keyboard.type(" And the lift.")
    page.keyboard.press("Tab")
    saved(page)
    page.goto(f"{product}/deals/{deal}/facts?fact=terms.purchase_price")
    price = page.get_by_label("Purchase price", exact=True).first
    price.fill("512,000")
    price.press("Tab")
    saved(page)
    go_to_terms(page, f"{product}/deals/{deal}")
    expect(page.get_by_label("Additional terms").first).to_have_value(
        re.compile(r"part of \$512,000\.00, in place\. And the lift\.$")
    )
    # Where it stands is told where it is kept.
    page.goto(f"{product}/clauses")
    page.get_by_role("button", name="Dock and lift").click()
    expect(page.get_by_role("link", name=re.compile("Tanaka"))).to_be_visible()


def test_what_makes_no_sense_is_said_and_nothing_lost(page: Page, product: str) -> None:
    page.goto(f"{product}/clauses")
    page.get_by_role("button", name="New clause").click()
    page.get_by_label("Name", exact=True).fill("Odd")
    page.get_by_label("Wording").fill("Pay {nobody.knows} today.")
    page.get_by_role("button", name="Keep", exact=True).click()
    expect(page.get_by_role("alert")).to_contain_text("“{nobody.knows}” is not a fact.")
    expect(page.get_by_label("Wording")).to_have_value("Pay {nobody.knows} today.")
    page.get_by_role("button", name="Discard changes").click()
    expect(page.get_by_label("Wording")).to_have_value("")


def test_removed_it_comes_back_by_undo(page: Page, product: str) -> None:
    page.goto(f"{product}/clauses")
    page.get_by_role("button", name="Chimney swept").click()
    page.get_by_role("button", name="Remove").click()
    expect(page.get_by_role("button", name="Chimney swept")).to_have_count(0)
    page.get_by_role("button", name="Undo", exact=True).click()
    expect(page.get_by_role("button", name="Chimney swept")).to_be_visible()


def test_the_brokerages_are_read_by_agents_and_not_changed(page: Page, product: str) -> None:
    page.goto(f"{product}/clauses")
    page.get_by_role("button", name="As it stands").click()
    expect(page.get_by_text("Approved by Rosalind Achterberg.")).to_be_visible()
    expect(page.get_by_label("Wording")).to_have_count(0)


def test_two_windows_on_one_clause_lose_nothing_of_either(
    page: Page, product: str, context: BrowserContext
) -> None:
    keep_clause(page, product, "Shared well", "The well is shared, at ", "Purchase price", ".")
    page.get_by_role("button", name="Keep", exact=True).click()
    expect(page.get_by_text("“Shared well” was saved.")).to_be_visible()
    expect(page).to_have_url(re.compile("clause=[0-9a-f-]{36}"))
    other = context.new_page()
    other.goto(page.url)
    theirs = other.get_by_label("Wording")
    expect(theirs).not_to_have_value("")
    page.get_by_label("Wording").fill("The well is shared by two.")
    page.get_by_role("button", name="Keep", exact=True).click()
    expect(page.get_by_role("button", name="Keep", exact=True)).to_be_disabled()
    theirs.fill("The well is shared by three.")
    # Back in that window all is asked for again, behind what is typed: it has not been seen.
    with other.expect_response("**/api/clauses/*"):
        other.evaluate("window.dispatchEvent(new Event('visibilitychange'))")
    other.get_by_role("button", name="Keep", exact=True).click()
    said = other.get_by_role("alert")
    expect(said).to_contain_text("changed this clause")
    expect(said).to_contain_text("Saved version: The well is shared by two.")
    expect(theirs).to_have_value("The well is shared by three.")
    other.get_by_role("button", name="Keep", exact=True).click()
    expect(said).to_have_count(0)
    earlier = other.get_by_role("paragraph").filter(has_text="The well is shared by two.")
    expect(earlier).to_be_visible()
    other.reload()
    expect(theirs).to_have_value("The well is shared by three.")
