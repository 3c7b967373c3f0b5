"""Nothing typed is lost or hidden: leaving in the middle of typing, refusals, double presses, mistaken deals,
kept forms."""

from __future__ import annotations

import re
import subprocess
from collections.abc import Callable, Iterator
from functools import partial
from pathlib import Path
from typing import Any

import httpx
import pytest
from playwright.sync_api import Browser, BrowserContext, Page, Route, expect

from tests.journeys.conftest import (
    INES,
    go_to_page,
    open_deal,
    past_the_screen,
    saved,
    signed_in,
    told,
    writing,
)
from tests.running import LOOPBACK, Running, until

pytestmark = pytest.mark.journey
CHANGES = re.compile(r"/changes(\?offer=\d+)?$")
TWO = "301 Residential Purchase Agreement, page 2"
DEAL = "Haddad"
BERTIL = "bertil@marrowfinch.example"


@pytest.fixture
def paper(product: str, context: BrowserContext) -> Page:
    page = context.new_page()
    writing(page, product, DEAL, BERTIL)
    go_to_page(page, TWO)
    expect(price_of(page)).to_be_visible()
    return page


def price_of(page: Page) -> Any:
    return page.get_by_role("region", name=TWO).get_by_label("Purchase price", exact=True).first


def server_says(page: Page, key: str) -> str:
    """What the server holds of a fact."""
    deal = re.search(r"/deals/([0-9a-f-]+)", page.url)
    assert deal is not None
    found = past_the_screen(page, page.url.split("/deals/")[0] + f"/api/deals/{deal[1]}")
    return next(str(f.get("shown", "")) for f in found["facts"] if f["key"] == key)


def wait_until(page: Page, text: str) -> None:
    said = partial(server_says, page, "terms.purchase_price")
    assert until(lambda: said() == text), f"the server says {said()}, not {text}"


LEAVING: dict[str, Callable[[Page], object]] = {
    "the key for the next open blank": lambda page: page.keyboard.press("Control+Enter"),
    "the browser's Back": lambda page: page.go_back(),
    "a link": lambda page: page.get_by_role("link", name="Package").click(),
    "a reload": lambda page: page.reload(),
    "another address": lambda page: page.goto(page.url.split("/deals/")[0] + "/contacts"),
    "a far page by the map": lambda page: go_to_page(page, "510 Wire Fraud Warning, page 1"),
}


@pytest.mark.parametrize(("how", "amount"), [(how, 401_000 + n) for n, how in enumerate(LEAVING)])
def test_what_is_typed_is_saved_however_it_is_left(paper: Page, how: str, amount: int) -> None:
    address = paper.url
    price_of(paper).click()
    paper.keyboard.type(str(amount))
    expect(paper.get_by_role("region", name="This deal").get_by_role("status")).to_have_text("Saving …")
    LEAVING[how](paper)
    if "/deals/" not in paper.url:
        paper.goto(address)
    wait_until(paper, f"${amount:,}.00")


def test_a_closed_window_takes_nothing_along(paper: Page, context: BrowserContext, product: str) -> None:
    address = paper.url
    price_of(paper).click()
    paper.keyboard.type("433,000")
    paper.close(run_before_unload=False)
    again = context.new_page()
    again.goto(address)
    go_to_page(again, TWO)
    wait_until(again, "$433,000.00")


def test_a_refused_edit_stops_nothing_and_what_was_typed_stays_at_hand(paper: Page) -> None:
    refused = {"count": 0}

    def refuse(route: Route) -> None:
        if route.request.method == "POST" and "444,000" in (route.request.post_data or ""):
            refused["count"] += 1
            body = (
                '{"title":"Refusal","status":409,"detail":"It can’t be.","mend":"Look'
                ' again.","rule":"x","again":false}'
            )
            return route.fulfill(status=409, content_type="application/problem+json", body=body)
        return route.continue_()

    paper.route(CHANGES, refuse)
    price_of(paper).click()
    paper.keyboard.type("444,000")
    paper.keyboard.press("Tab")
    told = paper.get_by_role("alert").filter(has_text="It can’t be. Look again.")
    expect(told).to_contain_text("444,000")
    price_of(paper).click()
    paper.keyboard.type("445,000")
    paper.keyboard.press("Tab")
    wait_until(paper, "$445,000.00")
    paper.reload()
    expect(paper.get_by_role("alert").filter(has_text="444,000")).to_be_visible()
    assert refused["count"] == 1, "neither a pause nor a reload sends it again"
    paper.get_by_role("button", name="Discard").click()
    saved(paper)


def test_a_draft_is_asked_about_before_a_download_and_escape_gives_the_value_back(
    paper: Page, tmp_path: Path
) -> None:
    price_of(paper).click()
    paper.keyboard.type("450,000")
    paper.keyboard.press("Tab")
    saved(paper)
    price_of(paper).click()
    paper.keyboard.type("abc12")
    paper.keyboard.press("Tab")
    expect(paper.get_by_role("button", name="1 answer to look at")).to_be_visible()
    for way in ("Download", "Download in another way"):
        paper.get_by_role("button", name=way, exact=True).click()
        if way != "Download":
            paper.get_by_role("menuitem", name="Answers only").click()
        expect(paper.get_by_role("alertdialog")).to_contain_text(
            "“abc12” can’t be read; the paper prints “$450,000.00”."
        )
        paper.get_by_role("button", name="Review first").click()
    paper.get_by_role("button", name="Download", exact=True).click()
    with paper.expect_download() as download:
        paper.get_by_role("button", name="Download anyway").click()
    download.value.save_as(tmp_path / "package.pdf")
    text = subprocess.run(
        ["pdftotext", "-layout", tmp_path / "package.pdf", "-"], capture_output=True, text=True, check=True
    ).stdout
    assert "450,000.00" in text
    price_of(paper).click()
    paper.keyboard.press("Escape")
    expect(price_of(paper)).to_have_value("450,000.00")
    expect(paper.get_by_role("button", name="1 answer to look at")).to_have_count(0)


def test_only_here_puts_the_cursor_where_it_writes(paper: Page) -> None:
    price_of(paper).click()
    paper.keyboard.type("460,000")
    paper.keyboard.press("Enter")
    saved(paper)
    paper.get_by_role("button", name="Only here").click()
    expect(paper.get_by_role("button", name="Rejoin the shared answer")).to_be_visible()
    paper.keyboard.type("461,000")
    paper.keyboard.press("Tab")
    saved(paper)
    expect(price_of(paper)).to_have_value("461,000.00")
    assert server_says(paper, "terms.purchase_price") == "$460,000.00"
    price_of(paper).click()
    paper.get_by_role("button", name="Rejoin the shared answer").click()
    saved(paper)


def test_undo_is_the_deals_and_redo_is_there(paper: Page) -> None:
    for amount in ("470,000", "471,000"):
        price_of(paper).click()
        paper.keyboard.type(amount)
        paper.keyboard.press("Tab")
        saved(paper)
    paper.reload()
    go_to_page(paper, TWO)
    paper.get_by_role("button", name="Undo my last change").click()
    expect(price_of(paper)).to_have_value("470,000.00")
    paper.get_by_role("button", name="Redo").click()
    expect(price_of(paper)).to_have_value("471,000.00")
    paper.get_by_role("button", name="History").click()
    expect(paper.get_by_role("dialog").get_by_text("$470,000.00 → $471,000.00").first).to_be_visible()


def test_start_makes_one_deal_however_it_is_pressed(product: str, context: BrowserContext) -> None:
    page = context.new_page()
    signed_in(page, product, BERTIL)
    before = len(past_the_screen(page, f"{product}/api/deals"))
    page.goto(f"{product}/new")
    page.get_by_label("Buyer 1, family name").fill("Twice")
    page.get_by_label("Buyer 1, family name").press("Enter")
    page.get_by_label("Find among contacts").fill("zz")
    page.get_by_label("Find among contacts").press("Enter")
    page.wait_for_timeout(800)
    assert len(past_the_screen(page, f"{product}/api/deals")) == before, "Enter in a field starts nothing"
    page.get_by_role("button", name="Start the deal").dblclick()
    expect(page.get_by_role("navigation", name="Sections of this deal")).to_be_visible()
    page.wait_for_timeout(500)
    assert len(past_the_screen(page, f"{product}/api/deals")) == before + 1


def test_a_lost_answer_does_not_start_a_second_deal(product: str, context: BrowserContext) -> None:
    page = context.new_page()
    signed_in(page, product, BERTIL)
    before = len(past_the_screen(page, f"{product}/api/deals"))
    page.goto(f"{product}/new")
    page.get_by_label("Buyer 1, family name").fill("Lost")
    lost = {"once": True}

    def lose(route: Route) -> None:
        if route.request.method == "POST" and lost.pop("once", False):
            route.fetch()  # the server has it, but its answer never comes
            return route.abort()
        return route.continue_()

    page.route(re.compile(r"/api/deals$"), lose)
    start = page.get_by_role("button", name="Start the deal")
    start.click()
    expect(page.get_by_role("alert").filter(has_text="can't be reached")).to_be_visible()
    start.click()
    expect(page.get_by_role("navigation", name="Sections of this deal")).to_be_visible()
    assert len(past_the_screen(page, f"{product}/api/deals")) == before + 1


def test_a_home_chosen_by_enter_just_before_start_comes_along(product: str, context: BrowserContext) -> None:
    page = context.new_page()
    signed_in(page, product, BERTIL)
    page.goto(f"{product}/new")
    page.route("**/api/properties?*", lambda route: (page.wait_for_timeout(700), route.continue_()))
    page.get_by_label("Property", exact=True).fill("26-1104")
    page.get_by_label("Property", exact=True).press("Enter")
    page.get_by_role("button", name=re.compile("^Start")).click()
    expect(page).to_have_url(re.compile(r"listing=%2226-1104%22|listing=26-1104"))


SLOW_MS = 900


def slow(page: Page, path: str) -> None:
    """Answers from a path come late."""
    page.route(path, lambda route: (page.wait_for_timeout(SLOW_MS), route.continue_()))


@pytest.mark.parametrize("by", ["Find a deal", "Find anything"])
def test_enter_before_the_answer_opens_the_deal_that_is_typed(
    product: str, context: BrowserContext, by: str
) -> None:
    """And not the first of those that stand there from before."""
    page = context.new_page()
    signed_in(page, product, BERTIL)
    expect(page.get_by_role("link", name=re.compile("Haddad")).first).to_be_visible()
    slow(page, "**/api/deals?*")
    if by == "Find anything":
        page.keyboard.press("Control+k")
        expect(page.get_by_role("option", name=re.compile("Haddad"))).to_be_visible()
    else:
        page.get_by_label(by).focus()
    page.keyboard.type("van der")
    page.keyboard.press("Enter")
    expect(page).to_have_url(re.compile("/deals/"))
    expect(page.get_by_role("heading", level=1)).to_contain_text("van der Meer")


def test_what_is_pressed_while_something_is_done_is_done_next(product: str, context: BrowserContext) -> None:
    page = context.new_page()
    signed_in(page, product, BERTIL)
    open_deal(page, "van der Meer", "Package")
    slow(page, "**/api/deals/*/package")
    page.get_by_role("button", name="Add forms").click()
    for number in ("420", "430"):
        page.get_by_role("button", name=re.compile(f"^Add {number}")).click()
    page.get_by_label("Expected paper").fill("Proof of a pilot's license")
    page.get_by_role("button", name="Expect it").click()
    page.keyboard.press("Escape")
    for paper in ("Owners", "Possession before", "Proof of a pilot's license"):
        expect(page.get_by_role("listitem").filter(has_text=paper).first).to_be_visible()


def test_a_paper_stays_where_it_was_put_while_that_is_kept(product: str, context: BrowserContext) -> None:
    page = context.new_page()
    signed_in(page, product, BERTIL)
    open_deal(page, "van der Meer", "Package")
    moves = page.get_by_role("button", name=re.compile("^Move "))
    names = [str(m.get_attribute("aria-label")) for m in moves.all()]
    page.route("**/api/deals/*/package", lambda route: None)  # on its way for as long as this test wants
    moves.first.focus()
    page.keyboard.press("Space")
    expect(page.get_by_text("would come to place 1.")).to_be_attached()
    page.keyboard.press("ArrowDown")
    expect(page.get_by_text("would come to place 2.")).to_be_attached()
    page.keyboard.press("Space")
    expect(moves.first).to_have_attribute("aria-label", names[1])
    page.unroute("**/api/deals/*/package")  # what waits goes on
    deal = page.url.split("/deals/")[1].split("/")[0]
    titles = partial(told, page, f"/api/deals/{deal}")
    assert until(lambda: names[1].endswith(titles()["documents"][0]["title"]))


def test_a_mistaken_deal_is_renamed_thrown_away_and_found_again(
    product: str, context: BrowserContext
) -> None:
    page = context.new_page()
    signed_in(page, product, BERTIL)
    page.goto(f"{product}/new")
    page.get_by_label("Buyer 1, family name").fill("Mistaken")
    page.get_by_role("button", name="Start the deal").click()
    banner = page.get_by_role("region", name="This deal")
    banner.get_by_role("button", name="Mistaken").click()
    page.get_by_label("Name of the deal").fill("A mistake of mine")
    page.get_by_label("Name of the deal").press("Enter")
    expect(banner.get_by_role("button", name="A mistake of mine")).to_be_visible()
    page.get_by_role("button", name="More about this deal").click()
    page.get_by_role("menuitem", name="Delete this deal").click()
    expect(page.get_by_role("heading", name="Today")).to_be_visible()
    expect(page.get_by_role("link", name="A mistake of mine")).to_have_count(0)
    page.reload()
    page.get_by_role("button", name=re.compile("Deleted in the last 30 days")).click()
    page.get_by_role("button", name="Bring back A mistake of mine").click()
    expect(banner.get_by_role("button", name="A mistake of mine")).to_be_visible()


def test_a_contact_being_typed_outlives_an_ended_session_and_a_reload(
    product: str, context: BrowserContext
) -> None:
    page = context.new_page()
    signed_in(page, product, BERTIL)
    page.goto(f"{product}/contacts")
    page.get_by_role("button", name="New contact").click()
    page.get_by_label("Given name").fill("Halvard")
    page.get_by_label("Family name").fill("Quist")
    context.clear_cookies(name="sessionid")
    page.get_by_role("button", name="Keep it").click()
    expect(page.get_by_label("Given name")).to_have_value("Halvard")
    page.reload()
    page.get_by_label("E-mail").fill(BERTIL)
    page.get_by_label("Password").fill("inkwell-and-vellum")
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("button", name="New contact").click()
    expect(page.get_by_label("Family name")).to_have_value("Quist")
    page.get_by_role("button", name="Keep it").click()
    expect(page.get_by_role("heading", name="Halvard Quist")).to_be_visible()


def test_signing_out_ends_the_session_everywhere(product: str, context: BrowserContext) -> None:
    page = context.new_page()
    signed_in(page, product, INES)
    cookies = {c["name"]: c["value"] for c in context.cookies()}
    page.get_by_role("button", name="Inês Calloway-Bright").click()
    page.get_by_role("menuitem", name="Sign out").click()
    expect(page.get_by_label("Password")).to_be_visible()
    with httpx.Client(base_url=product, trust_env=False, verify=LOOPBACK, cookies=cookies) as replay:
        assert {replay.get("/api/deals").status_code for _ in range(30)} == {401}


@pytest.fixture
def unlocked(running: Running) -> Iterator[None]:
    """Whoever a test locks out may sign in again afterwards."""
    yield
    running.rows("DELETE FROM axes_accessattempt")


def test_the_locked_sign_in_says_how_long_and_a_known_device_stays_open(
    product: str, browser: Browser, unlocked: None
) -> None:
    known = browser.new_context()
    own = known.new_page()
    signed_in(own, product, "tomas@marrowfinch.example")
    stranger = browser.new_context().new_page()
    stranger.goto(product)
    for _ in range(9):
        stranger.get_by_label("E-mail").fill("tomas@marrowfinch.example")
        stranger.get_by_label("Password").fill("wrong")
        stranger.get_by_role("button", name="Sign in").click()
        stranger.wait_for_timeout(250)
    expect(stranger.get_by_role("alert")).to_contain_text("Try again in 15 minutes.")
    known.clear_cookies(name="sessionid")
    signed_in(known.new_page(), product, "tomas@marrowfinch.example")
