"""Writing and its troubles: wrong input, echo before the answer, offline, two windows, reload, keyboard only,
failing services."""

from __future__ import annotations

import io
import re
from typing import Any

import pypdf
import pytest
from django.conf import settings
from goodquill.demo.world import PASSWORD
from playwright.sync_api import BrowserContext, Page, Route, expect

from tests.journeys.conftest import INES, go_to_page, open_deal, saved, signed_in, writing
from tests.running import until

pytestmark = pytest.mark.journey
CHANGES = re.compile(r"/changes(\?offer=\d+)?$")
TWO = "301 Residential Purchase Agreement, page 2"


def price_of(page: Page) -> Any:
    return page.get_by_role("region", name=TWO).get_by_label("Purchase price", exact=True).first


def total_of(page: Page) -> Any:
    return page.get_by_role("region", name=TWO).get_by_label("Purchase price", exact=True).last


@pytest.fixture
def paper(product: str, context: BrowserContext) -> Page:
    """Page 2 of the purchase agreement of one deal."""
    page = context.new_page()
    writing(page, product, "199 E Nettle Drive")
    go_to_page(page, TWO)
    expect(price_of(page)).to_be_visible()
    return page


def retype(page: Page, text: str) -> None:
    price_of(page).click()
    page.keyboard.type(text)
    page.keyboard.press("Tab")


def test_what_cannot_be_read_is_told_at_its_place_and_survives_a_reload(paper: Page) -> None:
    retype(paper, "abc")
    expect(
        paper.get_by_role("alert").filter(
            has_text="“abc” isn't an amount. Type digits, such as 412,500 or 412.5k."
        )
    ).to_be_visible()
    paper.reload()
    go_to_page(paper, TWO)
    expect(price_of(paper)).to_have_value("abc")
    retype(paper, "320,000")
    expect(price_of(paper)).to_have_value("320,000.00")
    expect(paper.get_by_role("alert")).to_have_count(0)


def test_every_place_shows_what_is_typed_before_the_server_answers(paper: Page) -> None:
    held: list[Route] = []
    paper.route(
        CHANGES, lambda route: held.append(route) if route.request.method == "POST" else route.continue_()
    )
    price_of(paper).click()
    paper.keyboard.type("333,333")
    region = paper.get_by_role("region", name=TWO)
    expect(region.get_by_text("333,333", exact=True)).to_be_visible()
    paper.keyboard.press("Tab")
    expect(paper.get_by_role("region", name="This deal").get_by_role("status")).to_have_text("Saving …")
    for route in held:
        route.continue_()
    paper.unroute(CHANGES)
    saved(paper)
    expect(total_of(paper)).to_have_value("333,333.00")


def test_entering_blanks_asks_the_server_for_nothing(paper: Page) -> None:
    paper.locator("[data-blank]").first.click()
    for _ in range(8):
        paper.keyboard.press("Tab")
    paper.wait_for_load_state("networkidle")
    asked: list[str] = []
    paper.on("request", lambda request: asked.append(request.url))
    for _ in range(8):
        paper.keyboard.press("Shift+Tab")
        paper.wait_for_timeout(100)
    # Whether others have changed something is asked by the clock; pages come as they are scrolled to.
    by_itself = re.compile(r"/changes\?|/news|/pages/")
    assert [url for url in asked if not by_itself.search(url)] == []


def test_what_is_typed_offline_is_kept_here_and_sent_later_also_after_a_reload(
    paper: Page, context: BrowserContext
) -> None:
    paper.route(CHANGES, lambda route: route.abort() if route.request.method == "POST" else route.continue_())
    retype(paper, "341,000")
    expect(paper.get_by_role("region", name="This deal").get_by_role("status")).to_have_text(
        "Offline, kept here"
    )
    paper.reload()
    go_to_page(paper, TWO)
    paper.unroute(CHANGES)
    saved(paper)
    expect(price_of(paper)).to_have_value("341,000.00")


def test_two_windows_see_each_others_changes(paper: Page, product: str, context: BrowserContext) -> None:
    other = context.browser.new_context().new_page()  # type: ignore[union-attr]
    signed_in(other, product, "rosalind@marrowfinch.example")
    open_deal(other, "199 E Nettle Drive")
    go_to_page(other, TWO)
    retype(paper, "351,500")
    expect(price_of(other)).to_have_value("351,500.00")
    other.context.close()


def test_undo_takes_back_the_last_change(paper: Page) -> None:
    retype(paper, "300,000")
    expect(total_of(paper)).to_have_value("300,000.00")
    retype(paper, "310,000")
    expect(total_of(paper)).to_have_value("310,000.00")
    paper.get_by_role("button", name="Undo my last change").click()
    expect(total_of(paper)).to_have_value("300,000.00")


def test_a_session_that_ends_asks_to_sign_in_and_loses_nothing(paper: Page, context: BrowserContext) -> None:
    price_of(paper).click()
    expect(paper.get_by_role("heading", name="Purchase price", exact=True)).to_be_visible()
    paper.keyboard.type("377,000")
    context.clear_cookies(name="sessionid")
    paper.keyboard.press("Tab")
    expect(paper.get_by_label("E-mail")).to_be_visible()
    paper.get_by_label("E-mail").fill(INES)
    paper.get_by_label("Password").fill(PASSWORD)
    paper.get_by_role("button", name="Sign in").click()
    saved(paper)
    expect(total_of(paper)).to_have_value("377,000.00")


def test_the_undo_button_takes_a_bring_in_back(product: str, context: BrowserContext) -> None:
    page = context.new_page()
    signed_in(page, product)
    open_deal(page, "Pereira", "Facts")
    page.goto(page.url.split("?")[0] + "?listing=26-1104")
    page.get_by_role("button", name="Accept").click()
    expect(page.get_by_role("heading", name="44 S Juniper Drive · Pereira & Brannigan")).to_be_visible()
    page.get_by_role("button", name="Undo my last change").click()
    expect(page.get_by_role("heading", name="Pereira & Brannigan", exact=True)).to_be_visible()


def test_boxes_are_marked_by_key_and_next_open_leads_on(paper: Page) -> None:
    box = paper.get_by_role("radio", name="Loan: cash")
    box.focus()
    paper.keyboard.press("Space")
    expect(box).to_be_checked()
    expect(paper.get_by_role("radio", name="Loan: conventional")).not_to_be_checked()
    paper.keyboard.press("Control+Enter")
    focused = paper.evaluate("document.activeElement.getAttribute('data-blank')")
    assert focused is not None
    go_to_page(paper, TWO)
    paper.get_by_role("radio", name="Loan: conventional").click()
    saved(paper)


def test_only_here_differs_and_rejoins(paper: Page) -> None:
    price_of(paper).click()
    paper.get_by_role("button", name="Only here").click()
    saved(paper)
    paper.get_by_role("button", name="Rejoin the shared answer").click()
    saved(paper)
    expect(paper.get_by_role("button", name="Only here")).to_be_visible()


def test_a_long_text_goes_to_the_continuation_page(paper: Page) -> None:
    go_to_page(paper, "301 Residential Purchase Agreement, page 7")
    terms = paper.get_by_role("region", name="page 7").get_by_label("Additional terms").first
    terms.fill("The seller will leave the piano. " * 60)
    paper.keyboard.press("Tab")
    saved(paper)
    expect(paper.get_by_text("see continuation 1")).to_be_attached()
    terms.fill("None")
    expect(terms).to_have_value("None")
    paper.keyboard.press("Tab")
    saved(paper)
    expect(paper.get_by_text("see continuation 1")).to_have_count(0)


def test_an_unknown_number_and_a_service_that_is_down_are_told(
    product: str, context: BrowserContext, mood: Any
) -> None:
    page = context.new_page()
    signed_in(page, product)
    open_deal(page, "199 E Nettle Drive", "Facts")
    page.goto(page.url.split("?")[0] + "?listing=99-0000")
    expect(page.get_by_role("alert")).to_contain_text("The listing service has no listing “99-0000”.")
    mood(settings.LISTING_SERVICE["url"], "down")
    page.get_by_role("button", name="Back to the facts").click()
    page.get_by_role("button", name="Import a property").click()
    page.get_by_role("combobox", name="Bring in").fill("Ropewalk")
    expect(page.get_by_text("The listing service refused the request (503)")).to_be_visible()
    expect(page.get_by_role("listbox", name="Homes found").get_by_role("option").first).to_contain_text(
        "parcel"
    )


def test_the_package_is_reordered_and_extended_by_keyboard(product: str, context: BrowserContext) -> None:
    page = context.new_page()
    signed_in(page, product)
    open_deal(page, "Pereira & Brannigan", "Package")
    page.get_by_role("button", name="Add forms").click()
    page.get_by_label("Find a form").fill("lead")
    page.get_by_role("button", name="Add again 503").click()
    page.keyboard.press("Escape")
    expect(page.get_by_role("link", name="Lead-Based Paint Disclosure", exact=True)).to_have_count(2)
    page.get_by_role("button", name="Take out").last.click()
    expect(page.get_by_role("link", name="Lead-Based Paint Disclosure", exact=True)).to_have_count(1)
    handle = page.get_by_role("button", name="Move 101 Agency Relationships Disclosure")
    handle.focus()
    page.keyboard.press("Space")
    page.wait_for_timeout(200)
    page.keyboard.press("ArrowDown")
    page.wait_for_timeout(300)
    page.keyboard.press("Space")
    expect(page.get_by_role("listitem").first).to_contain_text("Wire Fraud Warning")
    page.get_by_role("button", name="Leave out").first.click()
    expect(page.get_by_text("left out", exact=True)).to_be_visible()


def test_everything_is_found_from_the_keyboard(product: str, context: BrowserContext) -> None:
    page = context.new_page()
    signed_in(page, product)
    page.keyboard.press("Control+k")
    page.keyboard.type("Nguyễn")
    expect(page.get_by_role("option", name="Nguyễn")).to_be_visible()
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("paper")).to_be_visible()
    page.keyboard.press("Control+k")
    page.keyboard.type("purchase price")
    expect(page.get_by_role("option", name="Purchase price in words")).to_be_visible()
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Purchase price", exact=True)).to_be_visible()
    page.go_back()
    expect(page.get_by_test_id("paper")).to_be_visible()


def test_what_does_not_fit_is_read_on_a_page_behind_the_form(product: str, context: BrowserContext) -> None:
    page = context.new_page()
    errors = signed_in(page, product)
    open_deal(page, "199 E Nettle Drive", "Facts")
    words = "Seller leaves the piano where it stands. " * 40
    page.get_by_label("Additional terms", exact=True).fill(words)
    page.keyboard.press("Tab")
    saved(page)
    places = page.get_by_role("navigation", name="Sections of this deal")
    places.get_by_role("link", name="Write").click()
    go_to_page(page, "301 Residential Purchase Agreement, continuation 1 of 1")
    behind = page.get_by_label("301 Residential Purchase Agreement, continuation 1 of 1").last
    expect(behind.get_by_text("Continuation 1: Additional terms")).to_be_visible()
    expect(behind.get_by_text("Seller leaves the piano").first).to_be_visible()
    page.get_by_role("button", name="Undo my last change").click()
    expect(page.get_by_role("button", name=re.compile("continuation 1"))).to_have_count(0)
    assert errors == []


def test_text_is_found_in_print_and_in_blanks_and_left_at_its_place(paper: Page) -> None:
    paper.keyboard.press("Control+f")
    find = paper.get_by_role("textbox", name="Find in this package")
    expect(find).to_be_focused()
    said = paper.get_by_role("search").get_by_role("status")
    find.fill("inspection")
    expect(said).to_have_text(re.compile(r"^\d+ of \d+$"))
    first = said.inner_text()
    here = paper.locator("[data-found=here]")
    expect(here.first).to_be_in_viewport()
    paper.keyboard.press("Enter")
    expect(said).not_to_have_text(first)
    paper.keyboard.press("Shift+Enter")
    expect(said).to_have_text(first)
    find.fill("nothing like this")
    expect(said).to_have_text("Not in this package")
    # What stands in a blank: where one leaves off, the cursor is in it.
    find.fill("Nguyễn")
    expect(said).to_have_text(re.compile(r"^\d+ of \d+$"))
    expect(here.first).to_be_in_viewport()
    paper.keyboard.press("Escape")
    expect(paper.get_by_role("search")).to_have_count(0)
    expect(paper.locator(":focus")).to_have_value(re.compile("Nguyễn"))


def test_the_paper_is_seen_whole_and_enlarged(paper: Page) -> None:
    sheet = paper.get_by_role("region", name=TWO)
    fitted = sheet.bounding_box()
    assert fitted is not None

    def width_at(size: str) -> tuple[float, float]:
        paper.get_by_role("button", name=re.compile("^Size of the paper")).click()
        paper.get_by_role("menuitem", name=size).click()
        expect(paper.get_by_role("button", name=f"Size of the paper: {size}")).to_be_visible()
        box = sheet.bounding_box()
        assert box is not None
        return box["width"], box["height"]

    wide, high = width_at("Whole page")
    room = paper.get_by_test_id("paper").bounding_box()
    assert room is not None and high <= room["height"] and wide < fitted["width"]
    assert abs(width_at("200 %")[0] - 2 * fitted["width"]) <= 2
    drawn = sheet.locator("img")
    expect(drawn).to_have_attribute("src", re.compile(r"/220\.png$"))
    price_of(paper).focus()
    expect(price_of(paper)).to_be_in_viewport()
    assert abs(width_at("As wide as there is room")[0] - fitted["width"]) <= 1


def test_the_browser_prints_the_pages_of_the_package_and_nothing_else(paper: Page) -> None:
    paper.evaluate("window.print = () => { window.asked = true }")
    paper.keyboard.press("Control+p")
    sheets = paper.locator(".sheets img")
    expect(sheets.first).to_be_attached()
    assert until(lambda: paper.evaluate("window.asked === true"))
    printed = pypdf.PdfReader(io.BytesIO(paper.pdf(prefer_css_page_size=True, print_background=True)))
    deal = re.search(r"/deals/([^/?]+)", paper.url)
    assert deal is not None
    answer = paper.context.request.get(f"{paper.url.split('/deals')[0]}/api/deals/{deal[1]}/package.pdf")
    package = pypdf.PdfReader(io.BytesIO(answer.body()))
    assert len(printed.pages) == len(package.pages)
    assert [float(n) for n in printed.pages[0].mediabox] == [0, 0, 612, 792]
    texts = [page.extract_text() for page in printed.pages]
    assert "Thị" in "".join(texts) or "Nguyễn" in "".join(texts)
    assert "Next blank" not in "".join(texts)
    paper.evaluate("window.dispatchEvent(new Event('afterprint'))")
    expect(paper.locator(".sheets")).to_have_count(0)
