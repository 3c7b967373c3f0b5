"""The main job, as a user does it: from a listing number to a filled package on paper."""

from __future__ import annotations

import re
import subprocess
from pathlib import Path

import pytest
from playwright.sync_api import BrowserContext, Locator, Page, expect

from tests.journeys.conftest import blank_in_hand, go_to_page, saved, sign_in

pytestmark = pytest.mark.journey
NUMBER = "26-1118"  # 574 N Ropewalk Road, Quarry Bend; the roll says another living area


def test_from_a_listing_number_to_a_filled_package(
    product: str, context: BrowserContext, tmp_path: Path
) -> None:
    page = context.new_page()
    errors = sign_in(page, product)
    page.get_by_role("button", name="Start a deal").first.click()
    page.get_by_label("Buyer 1, given name").fill("Saoirse")
    page.get_by_label("Buyer 1, family name").fill("Lindqvist")
    page.get_by_role("combobox", name="Property").fill(NUMBER)
    page.get_by_role("option", name=NUMBER).click()
    expect(page.get_by_role("checkbox", name="Buying a home, conventional loan")).to_be_checked()
    page.get_by_role("button", name="Start and compare").click()

    # The comparison: the heavy difference first, nothing written yet.
    expect(page.get_by_text(f"Listing {NUMBER}")).to_be_visible()
    first = page.get_by_role("table").first.get_by_role("row").nth(1)
    expect(first).to_contain_text("Living area")
    first.get_by_role("radio", name="from the tax roll").check()
    page.get_by_role("button", name="Accept").click()

    # A second buyer.
    page.get_by_role("button", name="Add a buyer").click()
    page.get_by_label("Buyer 2, given name").fill("Min Seo")
    page.get_by_label("Buyer 2, family name").fill("Park")
    page.get_by_label("Buyer 2, e-mail").fill("minseo@post.example")
    page.keyboard.press("Tab")
    saved(page)
    expect(page.get_by_role("heading", name="574 N Ropewalk Road · Lindqvist & Park")).to_be_visible()

    # The price, on the paper.
    page.get_by_role("navigation", name="Sections of this deal").get_by_role("link", name="Write").click()
    go_to_page(page, "301 Residential Purchase Agreement, page 2")
    price = (
        page.get_by_role("region", name="301 Residential Purchase Agreement, page 2")
        .get_by_label("Purchase price", exact=True)
        .first
    )
    price.click()
    page.keyboard.type("437.25k")
    page.keyboard.press("Tab")
    saved(page)
    paper = page.get_by_test_id("paper")
    second = page.get_by_role("region", name="301 Residential Purchase Agreement, page 2")
    expect(second.get_by_label("Purchase price in words")).to_have_value(
        "Four Hundred Thirty-Seven Thousand Two Hundred Fifty and 00/100 Dollars"
    )
    for text in ("437,250.00", "349,800.00", "4,372.50"):
        expect(second.get_by_text(text).first).to_be_visible()
    go_to_page(page, "301 Residential Purchase Agreement, page 1")
    expect(paper.get_by_text("Saoirse Lindqvist and Min Seo Park").first).to_be_attached()
    go_to_page(page, "510 Wire Fraud Warning, page 1")
    expect(paper.get_by_text("Saoirse Lindqvist and Min Seo Park").first).to_be_attached()

    with page.expect_download() as download:
        page.get_by_role("button", name="Download", exact=True).click()
    download.value.save_as(tmp_path / "package.pdf")
    text = subprocess.run(
        ["pdftotext", "-layout", str(tmp_path / "package.pdf"), "-"],
        capture_output=True,
        text=True,
        check=True,
    ).stdout
    pages = [" ".join(p.split()) for p in text.split("\f")]
    assert "Lindqvist" in download.value.suggested_filename
    assert len([p for p in pages if p]) == 19, (
        "fifteen of the forms, four of the disclosure attached to the listing"
    )
    whole = " ".join(pages)
    assert (
        "Given to Saoirse Lindqvist and Min Seo Park concerning property at 574 N Ropewalk Road, Quarry Bend,"
        " CW 09937" in pages[0]
    )
    assert "Client: Saoirse Lindqvist and Min Seo Park" in pages[2]
    assert "1.1 Buyer. Saoirse Lindqvist and Min Seo Park" in pages[4]
    assert "parcel number 5-0404-0084" in pages[4]
    assert "built in 1895" in pages[4]
    assert (
        "Buyer will pay $ 437,250.00 ( Four Hundred Thirty-Seven Thousand Two Hundred Fifty and 00/100"
        " Dollars )" in pages[5]
    )
    assert "(a) Deposit under Section 4 $ 4,372.50" in pages[5]
    assert "(c) Loan proceeds under Section 5 $ 349,800.00" in pages[5]
    assert "(d) Balance, in good funds at Closing $ 83,077.50" in pages[5]
    assert "Total, equal to the purchase price $ 437,250.00" in pages[5]
    assert "Tidewater & Oak Homes" in pages[11], "the seller's firm came with the listing"
    assert "Marrow & Finch Realty" in pages[11], "the own firm from the profile"
    assert "Year built 1895" in pages[13]
    assert "Min Seo Park" in whole
    for stranger in ("Okafor", "429,000", "Voss", "Kowalczyk"):  # other deals, one of them on the same home
        assert stranger not in whole
    assert errors == []


class Hand:
    """A practised hand.  An action is a press of a button, a key that does something by itself, or an answer:
    what is typed into one field with the key that ends it."""

    def __init__(self, page: Page) -> None:
        self.page, self.actions = page, 0

    def press(self, keys: str) -> None:
        self.actions += 1
        self.page.keyboard.press(keys)

    def answer(self, text: str, ends: str) -> None:
        self.actions += 1
        self.page.keyboard.type(text)
        self.page.keyboard.press(ends)

    def click(self, what: Locator) -> None:
        self.actions += 1
        what.click()


MOST_ACTIONS = 45
# What is answered, by a part of what is asked; the rest by "none".
ANSWERS = {
    "begins": "today",
    "agreement date": "today",
    "offer date": "today",
    "closing": "+40",
    "expires": "+3",
    "firm": "10,930",
    "letter in days": "10",
    "loan costs": "2",
    "concessions": "0",
    "paid by seller": "0",
    "second loan": "0",
    "who signs": "Hugo Heron",
}
IN_HAND = """() => { const e = document.activeElement
    const [label, role] = ['aria-label', 'role'].map(name => e.getAttribute(name))
    return {label: label ?? '', role, fixed: e.readOnly === true} }"""


def answer_to(label: str) -> str:
    return next((text for part, text in ANSWERS.items() if part in label.lower()), "none")


def test_the_main_job_in_few_actions(
    product: str, context: BrowserContext, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    """From *Start a deal* to the package as PDF, every blank that needs an answer answered."""
    page = context.new_page()
    errors = sign_in(page, product)
    hand = Hand(page)
    hand.click(page.get_by_role("button", name="Start a deal"))
    expect(page.get_by_label("Buyer 1, given name")).to_be_focused()
    for text in ("Saoirse", "Handsome", "saoirse@post.example", "555 555 0123"):
        hand.answer(text, "Tab")
    hand.click(page.get_by_role("combobox", name="Property"))
    hand.answer("26-1118", "Enter")
    expect(page.get_by_text("Listing 26-1118")).to_be_visible()
    hand.click(page.get_by_label("Offered"))
    hand.answer("437.25k", "Tab")
    hand.click(page.get_by_role("button", name="Start and compare"))
    hand.click(page.get_by_role("button", name="Accept"))
    coming_next = page.get_by_role("region", name="Next")
    hand.click(coming_next.get_by_role("button", name="Name as seller"))
    saved(page)
    head = page.get_by_role("region", name="This deal")
    hand.press("Control+Enter")
    blank_in_hand(page)
    for _ in range(MOST_ACTIONS):
        page.wait_for_timeout(150)
        at = page.evaluate(IN_HAND)
        if at["role"] in ("radio", "checkbox"):
            hand.answer(" ", "Control+Enter")
        elif at["fixed"]:  # a name of a party: asked where the parties are
            hand.press("Enter")
            hand.answer(answer_to("who signs"), "Control+Enter")
        else:
            hand.answer(answer_to(at["label"]), "Control+Enter")
        saved(page)
        if head.get_by_text("all answered").count():
            break
    expect(head.get_by_text("all answered")).to_be_visible()
    with page.expect_download() as coming:
        hand.click(page.get_by_role("button", name="Download", exact=True))
    coming.value.save_as(tmp_path / "package.pdf")
    with capsys.disabled():
        print(f"\nFrom Start a deal to the PDF: {hand.actions} actions", end=" ")
    assert hand.actions <= MOST_ACTIONS
    name = coming.value.suggested_filename
    assert re.fullmatch(r"574 N Ropewalk Road, Handsome, \d{4}-\d\d-\d\d\.pdf", name), name
    assert errors == []


def tab_to(page: Page, name: str, most: int = 40) -> None:
    """Go on by Tab until the cursor stands on something of that name."""
    named = "document.activeElement.getAttribute('aria-label') || document.activeElement.textContent || ''"
    for _ in range(most):
        if page.evaluate(named).strip() == name:
            return
        page.keyboard.press("Tab")
    raise AssertionError(f"Tab never comes to {name}")


def test_the_main_job_by_keyboard_alone(product: str, context: BrowserContext, tmp_path: Path) -> None:
    page = context.new_page()
    errors = sign_in(page, product)
    keys = page.keyboard
    keys.press("Control+k")
    keys.type("start a deal")
    keys.press("Enter")
    expect(page.get_by_label("Buyer 1, given name")).to_be_focused()
    keys.type("Mirelle")
    keys.press("Tab")
    keys.type("Keyes")
    tab_to(page, "Property")
    keys.type("574 north ropewalk rd")
    expect(page.get_by_role("option", name="26-1118")).to_be_visible()
    keys.press("Enter")
    tab_to(page, "Offered")
    keys.type("430k")
    tab_to(page, "Start and compare")
    keys.press("Enter")
    expect(page.get_by_role("button", name="Accept")).to_be_visible()
    tab_to(page, "Accept")
    keys.press("Enter")
    expect(page.get_by_role("region", name="Next")).to_be_visible()
    tab_to(page, "Name as seller")
    keys.press("Enter")
    saved(page)
    keys.press("Control+Enter")
    blank_in_hand(page)
    keys.type("today")
    keys.press("Control+Enter")
    saved(page)
    page.wait_for_timeout(200)
    with page.expect_download() as coming:
        keys.press("Control+k")
        keys.type("download")
        keys.press("Enter")
    coming.value.save_as(tmp_path / "package.pdf")
    assert (tmp_path / "package.pdf").read_bytes().startswith(b"%PDF")
    assert errors == []
