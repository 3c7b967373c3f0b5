"""Journeys about contacts and clients: kept once, started from a home seen, handed on."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, expect

from tests.journeys.conftest import open_deal, saved, signed_in

pytestmark = pytest.mark.journey
ROLL = (
    b"KEY NO;WHO;WHERE;PLACE;YR\n9-1;OKAFOR AMARA J & CHIDI;214 N ALDER ST #3;PORT LINDEN;1962\n9-2;VOSS LENA"
    b" TR;9 MILL LN;ASHGROVE;1988\n"
)


@pytest.fixture
def page(context: BrowserContext, product: str) -> Page:
    made = context.new_page()
    signed_in(made, product)
    return made


def test_a_contact_is_made_used_in_a_deal_and_merged(page: Page) -> None:
    page.get_by_role("link", name="Contacts", exact=True).click()
    page.get_by_role("button", name="New contact").click()
    page.get_by_label("Kind", exact=True).select_option("Inspector")
    page.get_by_label("Company or entity").fill("Level & Square")
    page.get_by_label("Phone").fill("12")
    page.get_by_role("button", name="Keep it").click()
    expect(page.get_by_role("alert")).to_contain_text("phone")
    page.get_by_label("Phone").fill("555 555 0188")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Level & Square")).to_be_visible()
    page.get_by_label("Find a contact").fill("otto")
    page.get_by_role("button", name="Otto Blume").first.click()
    page.get_by_role("button", name="Merge contacts").click()
    expect(page.get_by_role("list", name="Contacts").get_by_role("listitem")).to_have_count(1)
    page.get_by_role("link", name="Good Quill, Today").click()
    open_deal(page, "Ridgeline", "Facts")
    page.locator("#group-inspector").get_by_role("button", name="From contacts").click()
    page.keyboard.type("level")
    expect(page.get_by_role("option", name="Level & Square")).to_be_visible()
    page.keyboard.press("Enter")
    expect(page.get_by_label("Inspection company")).to_have_value("Level & Square")
    page.get_by_role("button", name="Undo my last change").click()
    expect(page.get_by_label("Inspection company")).to_have_value("")


def test_a_home_seen_becomes_a_deal_with_the_fitting_template(page: Page) -> None:
    page.get_by_role("link", name="Contacts", exact=True).click()
    page.get_by_role("button", name="Amara Okafor").click()
    expect(page.get_by_text("No representation agreement with Amara Okafor is on record.")).to_be_visible()
    page.get_by_role("button", name="Start a lease").click()
    expect(page.get_by_text("Listing 26-1153")).to_be_visible()
    page.get_by_role("button", name="Accept").click()
    expect(page.get_by_role("heading", name="964 S Willow Street · Okafor")).to_be_visible()
    expect(page.get_by_role("region", name="This deal").get_by_text("renting")).to_be_visible()
    page.get_by_role("navigation", name="Sections of this deal").get_by_role("link", name="Package").click()
    page.get_by_role("button", name="Keep with the client").first.click()
    expect(page.get_by_text("is on record with Amara Okafor")).to_be_visible()


def test_a_deal_that_fell_through_goes_on_to_the_next_home(context: BrowserContext, product: str) -> None:
    page = context.new_page()
    signed_in(page, product, "bertil@marrowfinch.example")
    open_deal(page, "Kowalczyk", "Facts")
    page.get_by_role("button", name="More about this deal").click()
    page.get_by_role("menuitem", name="It fell through, go on to another home").click()
    expect(page.get_by_role("heading", name="Kowalczyk", exact=True)).to_be_visible()
    expect(page.get_by_label("Purchase price", exact=True)).to_have_value("")
    page.get_by_role("link", name="Good Quill, Today").click()
    expect(page.get_by_role("heading", name="Fell through")).to_be_visible()


def test_a_deal_that_closed_asks_for_nothing_until_it_goes_on(context: BrowserContext, product: str) -> None:
    page = context.new_page()
    errors = signed_in(page, product, "bertil@marrowfinch.example")
    open_deal(page, "Haddad", "Tasks")
    head, more = (
        page.get_by_role("region", name="This deal"),
        page.get_by_role("button", name="More about this deal"),
    )
    more.click()
    page.get_by_role("menuitem", name="It closed").click()
    expect(head.get_by_text("closed")).to_be_visible()
    expect(head.get_by_role("button", name="unanswered, go to the next")).to_have_count(0)
    page.get_by_role("link", name="Good Quill, Today").click()
    expect(page.get_by_role("heading", name="Closed 1")).to_be_visible()
    open_deal(page, "Haddad", "Tasks")
    more.click()
    page.get_by_role("menuitem", name="Reopen the deal").click()
    expect(head.get_by_text("unanswered", exact=False).first).to_be_visible()
    assert errors == []


def test_a_countys_file_is_mapped_and_brought_in(page: Page) -> None:
    open_deal(page, "Pereira", "Facts")
    page.get_by_role("button", name="Import a property").click()
    page.get_by_label("File with property data").set_input_files(
        {"name": "linden.csv", "mimeType": "text/csv", "buffer": ROLL}
    )
    for column, holds in (
        ("KEY NO", "parcel"),
        ("WHO", "owner"),
        ("WHERE", "situs"),
        ("PLACE", "situs_city"),
    ):
        page.get_by_label(f"{column} holds").select_option(holds)
    page.get_by_role("button", name="Use these columns").click()
    page.get_by_role("list", name="Homes in the file").get_by_role("button", name="9 Mill Ln").click()
    expect(page.get_by_text("Parcel 9-2 · linden.csv")).to_be_visible()
    page.get_by_role("button", name="Accept").click()
    expect(page.get_by_role("heading", name="9 Mill Ln · Pereira & Brannigan")).to_be_visible()
    expect(page.get_by_text("The tax roll names VOSS LENA TR")).to_be_visible()
    page.get_by_role("button", name="Undo my last change").click()
    expect(page.get_by_role("heading", name="Pereira & Brannigan", exact=True)).to_be_visible()


def test_an_address_is_pasted_and_the_keyboard_goes_from_fact_to_fact(page: Page) -> None:
    open_deal(page, "Pereira", "Facts")
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    page.evaluate("navigator.clipboard.writeText('214 N Alder Street #3, Port Linden, CW 09914')")
    page.get_by_label("Street name").focus()
    page.keyboard.press("Control+v")
    expect(page.get_by_label("Unit", exact=True)).to_have_value("3")
    saved(page)
    page.keyboard.press("Enter")
    page.keyboard.type("Avenue")
    page.keyboard.press("ArrowUp")
    expect(page.get_by_label("Street name")).to_be_focused()
    expect(page.get_by_label("Street suffix")).to_have_value("Avenue")
    saved(page)
    for _ in range(2):
        page.get_by_role("button", name="Undo my last change").click()
    expect(page.get_by_role("heading", name="Pereira & Brannigan", exact=True)).to_be_visible()


def test_a_property_report_starts_a_deal(page: Page) -> None:
    page.get_by_role("link", name="Property", exact=True).click()
    page.get_by_label("Find a property").fill("574 ropewalk")
    page.get_by_role("option", name="574 N Ropewalk Road").click()
    expect(page.get_by_role("heading", name="Assessment and taxes by year")).to_be_visible()
    with page.expect_download() as download:
        page.get_by_role("link", name="PDF", exact=True).click()
    assert download.value.suggested_filename.startswith("Property report, 574 N Ropewalk Road")
    page.get_by_role("button", name="Start a deal").click()
    expect(page.get_by_text("Listing 26-1118")).to_be_visible()


def test_a_shared_contact_open_in_two_windows_loses_nothing_of_either(browser: Browser, product: str) -> None:
    agent, coordinator = browser.new_context().new_page(), browser.new_context().new_page()
    signed_in(agent, product)
    signed_in(coordinator, product, "tomas@marrowfinch.example")
    agent.goto(f"{product}/contacts?contact=new")
    agent.get_by_label("Given name").fill("Wendeline")
    agent.get_by_label("Family name").fill("Twowin")
    agent.get_by_label("Shared in the brokerage").check()
    agent.get_by_role("button", name="Keep it").click()
    expect(agent).to_have_url(re.compile("contact=[0-9a-f-]{36}"))
    coordinator.goto(agent.url)
    phone, theirs = agent.get_by_label("Phone"), coordinator.get_by_label("Phone")
    expect(theirs).to_be_visible()
    phone.fill("555 555 0111")
    coordinator.get_by_label("E-mail").fill("w@post.example")
    coordinator.get_by_role("button", name="Save", exact=True).click()
    expect(coordinator.get_by_role("button", name="Save", exact=True)).to_be_disabled()
    # Back in the first window all is asked for again, behind what is typed.
    with agent.expect_response("**/api/contacts*"):
        agent.evaluate("window.dispatchEvent(new Event('visibilitychange'))")
    agent.get_by_role("button", name="Save", exact=True).click()
    expect(phone).to_have_value("(555) 555-0111")
    expect(agent.get_by_label("E-mail")).to_have_value("w@post.example")
    theirs.fill("555 555 0122")
    coordinator.get_by_role("button", name="Save", exact=True).click()
    said = coordinator.get_by_role("alert")
    expect(said).to_contain_text("was changed meanwhile: now it says Phone “(555) 555-0111”")
    expect(theirs).to_have_value("555 555 0122")
    coordinator.get_by_role("button", name="Save", exact=True).click()
    expect(theirs).to_have_value("(555) 555-0122")
    expect(coordinator.get_by_label("E-mail")).to_have_value("w@post.example")


def test_what_is_typed_while_a_contact_is_being_saved_is_not_lost(page: Page, product: str) -> None:
    errors = signed_in(page, product)
    page.goto(f"{product}/contacts?contact=new")
    page.get_by_label("Family name").fill("Slowline")
    page.get_by_role("button", name="Keep it").click()
    expect(page).to_have_url(re.compile("contact=[0-9a-f-]{36}"))
    notes, save = page.get_by_label("Notes"), page.get_by_role("button", name="Save", exact=True)
    page.route("**/api/contacts/*", lambda route: None)  # on its way for as long as this test wants
    notes.fill("Calls")
    save.click()
    expect(save).to_be_disabled()
    notes.press_sequentially(" back")
    page.unroute("**/api/contacts/*")  # what waits goes on
    expect(save).to_be_enabled()
    expect(notes).to_have_value("Calls back")
    page.reload()
    expect(notes).to_have_value("Calls back")
    save.click()
    expect(save).to_be_disabled()
    page.reload()
    expect(notes).to_have_value("Calls back")
    assert errors == []
