"""The money sheets: typed over and given back, a case beside the deal, and a price asked for backwards."""

from __future__ import annotations

import pytest
from playwright.sync_api import BrowserContext, Page, expect

from tests.journeys.conftest import open_deal, saved, signed_in

pytestmark = pytest.mark.journey
MOVES = "changes the totals"
# The amounts of the lines that aren't sums of others, with their signs.
LINES = """() => [...document.querySelectorAll('tbody tr')]
    .map(row => [row.querySelector('span')?.textContent, row.querySelector('input')?.value])
    .filter(([sign, value]) => value !== undefined && (sign === '+' || sign === '\u2212'))
    .map(([sign, value]) => (sign === '+' ? '' : '-') + (value || '0'))"""


@pytest.fixture
def money(product: str, context: BrowserContext) -> Page:
    """The money of a deal being bought."""
    page = context.new_page()
    signed_in(page, product, "bertil@marrowfinch.example")
    open_deal(page, "van der Meer", "Money")
    page.get_by_role("button", name="Seller's proceeds").click()
    return page


def say(page: Page, label: str, text: str) -> None:
    field = page.get_by_role("table").get_by_label(label, exact=True)
    if field.evaluate("e => e.tagName") == "SELECT":
        field.select_option(text)
    else:
        field.fill(text)
        field.press("Enter")
    saved(page)


def total(page: Page) -> str:
    return str(page.locator("tfoot td").nth(2).inner_text())


def as_amount(text: str) -> float:
    return float(text.replace("$", "").replace(",", ""))


def test_a_sheet_is_filled_typed_over_given_back_and_asked_backwards(money: Page) -> None:
    for label, text in (
        ("Purchase price", "612,500"),
        ("Commission in percent of price", "5.25"),
        ("Escrow fee paid by", "split equally"),
        ("Transfer tax paid by", "seller"),
        ("Home warranty paid by", "buyer"),
        ("Closing agent's fee", "850"),
        ("Owner's title insurance paid by", "seller"),
        ("Annual tax", "4,812.36"),
        ("Closing by", "6/15/2027"),
    ):
        named = f"{label}, {MOVES}"
        if money.get_by_role("table").get_by_label(named, exact=True).count():
            say(money, named, text)
    expect(money.locator("tfoot")).not_to_contain_text("waits for")
    before = as_amount(total(money))
    shown = [as_amount(text) for text in money.evaluate(LINES)]
    assert abs(sum(shown) - before) < 0.005, "the sum is that of the lines that are shown"
    say(money, "Seller's title premium", "2,000")
    expect(money.locator("tfoot")).not_to_contain_text(f"{before:,.2f}")
    money.get_by_role("button", name="Seller's title premium").click()
    money.get_by_role("region", name="Lens").get_by_role("button", name="Clear this answer").click()
    saved(money)
    expect(money.locator("tfoot")).to_contain_text(f"{before:,.2f}")
    backwards = money.get_by_role("region", name="Work backward")
    backwards.get_by_role("textbox", name="Amount").fill("400,000")
    backwards.get_by_role("button", name="Ask").click()
    expect(backwards.get_by_role("status")).to_contain_text("makes it $400,000.00, to the cent.")
    backwards.get_by_role("button", name="Use it in the deal").click()
    saved(money)
    expect(money.locator("tfoot")).to_contain_text("400,000.00")


def test_a_case_beside_the_deal_is_kept_here_and_is_not_the_deals(money: Page) -> None:
    price = money.get_by_role("table").get_by_label(f"Purchase price, {MOVES}", exact=True)
    stands = price.input_value()
    money.get_by_role("button", name="What if …").click()
    other = money.get_by_label("Purchase price, what if")
    other.fill("abc")
    other.press("Enter")
    expect(money.get_by_role("alert")).to_contain_text("isn't an amount")
    other.fill("455k")
    other.press("Enter")
    expect(other).to_have_value("455,000.00")
    money.reload()
    expect(money.get_by_label("Purchase price, what if")).to_have_value("455,000.00")
    expect(price).to_have_value(stands)
    money.get_by_role("button", name="as in the deal").click()
    expect(money.get_by_label("Purchase price, what if")).to_have_value(stands)
    money.get_by_role("button", name="Take out What if").click()
    expect(money.get_by_label("Purchase price, what if")).to_have_count(0)


def test_the_form_of_a_sheet_is_added_and_stands_beside_it(money: Page) -> None:
    money.get_by_role("button", name="Buyer's cash to close").click()
    lens = money.get_by_role("region", name="Lens")
    lens.get_by_role("button", name="Add 701").click()
    expect(lens.get_by_text("701 Cash-to-Close Worksheet, Buyer, page 1")).to_be_visible()
    money.get_by_role("button", name="Loan amount").first.click()
    expect(lens.get_by_role("heading", name="Loan amount")).to_be_visible()
    expect(lens.get_by_test_id("place").locator(".outline-green").first).to_be_visible()
