"""The running product in a browser: for each file of journeys a database and web workers of its own."""

from __future__ import annotations

import re
from collections.abc import Iterator
from functools import partial
from typing import Any

import pytest
from goodquill.demo.world import PASSWORD
from playwright.sync_api import Browser, BrowserContext, Page, expect

from tests.running import BROWSER, PATIENCE, Running, answered

INES = "ines@marrowfinch.example"
WAITS = PATIENCE * 1_000
"""Milliseconds that a journey waits for what has to come."""
PAPERS_FOR_PACKAGE = "Papers for the package: PDFs or pictures"
"""The package's own choice of files: other screens have one, too, and are there until the next has come."""


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict[str, Any]:
    """Debian's Chromium, quiet and without network of its own."""
    return BROWSER


@pytest.fixture(scope="module")
def web_workers() -> int:
    """One serves a person; what several do beside each other is looked at in the faults."""
    return 1


@pytest.fixture(scope="module")
def product(running: Running) -> str:
    """Its address."""
    return running.address


@pytest.fixture(scope="session", autouse=True)
def no_text_as_script() -> Iterator[None]:
    """`wait_for_function` asks again by `eval`, which the product's policy refuses: a test that waits
    with it passes where the first look is enough and fails on a slower day."""

    def refused(*_: object, **__: object) -> None:
        raise AssertionError("wait with expect(): wait_for_function is refused by the page's policy")

    expect.set_options(timeout=WAITS)  # also for a test that opens windows of its own
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(Page, "wait_for_function", refused)
        yield


@pytest.fixture(scope="module")
def kept_context(browser: Browser) -> Iterator[BrowserContext]:
    """The browser of one person, for a file of tests.  Its user has asked for no motion, so no color is
    between two when a test looks."""
    made = browser.new_context(
        viewport={"width": 1280, "height": 800}, accept_downloads=True, reduced_motion="reduce"
    )
    made.set_default_timeout(WAITS)
    yield made
    made.close()


@pytest.fixture
def context(kept_context: BrowserContext, product: str) -> Iterator[BrowserContext]:
    """That browser as somebody finds it who was never here: no window is open, nobody is signed in, nothing
    is kept but what never changes, which need not be fetched again."""
    yield kept_context
    kept_context.set_offline(False)
    kept_context.clear_permissions()
    left, *others = kept_context.pages or [kept_context.new_page()]
    for page in others:
        page.close()
    left.goto("about:blank")  # what is written when a window is left is written now
    tools = kept_context.new_cdp_session(left)
    tools.send("Storage.clearDataForOrigin", {"origin": product, "storageTypes": "local_storage"})
    left.close()
    kept_context.clear_cookies()


@pytest.fixture(scope="module")
def worker(running: Running, stamps: None) -> Iterator[None]:
    """The worker that seals."""
    with running.start_worker():
        yield


@pytest.fixture
def phone(browser: Browser) -> Iterator[Page]:
    """A phone in somebody's hand."""
    context = browser.new_context(
        viewport={"width": 390, "height": 844}, has_touch=True, is_mobile=True, device_scale_factor=2
    )
    context.set_default_timeout(WAITS)
    yield context.new_page()
    context.close()


def complaints(page: Page) -> list[str]:
    """The list to which the page's errors are added."""
    errors: list[str] = []
    page.on("pageerror", lambda error: errors.append(str(error)))
    page.on(
        "console",
        lambda m: errors.append(m.text) if m.type == "error" and "Content Security" in m.text else None,
    )
    return errors


_cookies: dict[tuple[str, str], list[Any]] = {}
"""Sessions that tests of this file began, by product and member."""


def enter(context: BrowserContext, product: str, email: str) -> None:
    """Give a window a session: one that an earlier test began where it still holds, since looking at a
    password takes a third of a second on purpose."""
    context.add_cookies(_cookies.get((product, email), []))
    session = f"{product}/api/session"
    if context.request.get(session).status == 200:
        return
    token = next(c["value"] for c in context.cookies(product) if c["name"] == "csrftoken")
    said = {"email": email, "password": PASSWORD}
    headers = {"X-CSRFToken": token, "Referer": product}
    # A few passwords are looked at at a time; further ones are asked to come again.
    ask = partial(context.request.post, session, data=said, headers=headers)
    answer = answered(ask, lambda a: a.status != 429)
    assert answer.ok, answer.text()
    _cookies[product, email] = list(context.cookies(product))


def signed_in(page: Page, product: str, email: str = INES) -> list[str]:
    """Begin at Today, with a session; gives the list to which page errors are added."""
    errors = complaints(page)
    enter(page.context, product, email)
    page.goto(product)
    expect(page.get_by_role("heading", name="Today")).to_be_visible()
    return errors


def past_the_screen(page: Page, address: str) -> Any:
    """What the server itself says; a busy one is asked again, as the screens do."""
    answer = answered(lambda: page.request.get(address), lambda a: a.status not in (429, 503))
    assert answer.ok, answer.text()
    return answer.json()


def writing(page: Page, product: str, deal: str, email: str = INES) -> None:
    """Begin in Write of a deal that is named so, on its paper."""
    enter(page.context, product, email)
    deals = past_the_screen(page, f"{product}/api/deals")
    found = next(d["id"] for d in deals if deal in d["name"])
    page.goto(f"{product}/deals/{found}/write?by=paper")


def sign_in(page: Page, product: str, email: str = INES) -> list[str]:
    """Sign in as a user would; gives the list to which page errors are added."""
    errors = complaints(page)
    page.goto(product)
    page.get_by_label("E-mail").fill(email)
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("heading", name="Today")).to_be_visible()
    return errors


def told(page: Page, path: str) -> Any:
    """What the server says under a path; a busy one is asked again, as the screens do."""
    ask = partial(page.evaluate, "path => fetch(path).then(r => r.ok ? r.json() : null)", path)
    found = answered(ask, lambda said: said is not None)
    assert found is not None, "the server stays busy"
    return found


def deals_of(page: Page) -> list[dict[str, Any]]:
    """The user's deals."""
    return list(told(page, "/api/deals"))


def open_deal(page: Page, name: str, place: str = "Write") -> None:
    """Open a deal from Today and go to one of its places."""
    page.get_by_role("link", name=name).click()
    page.get_by_role("navigation", name="Sections of this deal").get_by_role("link", name=place).click()
    if place == "Facts":
        all_facts(page)


def all_facts(page: Page) -> None:
    """Show every fact: the list begins with what is open."""
    page.get_by_role("radio", name=re.compile("^All ")).click()


def go_to_page(page: Page, label: str) -> None:
    """Go to a page of the paper by the package map."""
    page.get_by_role("navigation", name="Package map").get_by_role("button", name=label).click()


def saved(page: Page) -> None:
    """Wait until the header says that all is saved."""
    head = page.get_by_role("region", name=re.compile("^This (deal|template)$"))
    expect(head.get_by_role("status")).to_have_text("Saved")


def blank_in_hand(page: Page, other_than: str = "") -> str:
    """The place of the blank that has the focus on the paper; waits for one (other than the one named)."""
    hand = page.locator(f"[data-blank]:focus:not([data-blank='{other_than}'])")
    expect(hand).to_have_count(1)
    return str(hand.get_attribute("data-blank"))
