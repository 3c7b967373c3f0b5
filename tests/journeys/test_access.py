"""For every hand and eye: no finding of the accessibility checker on any screen, menu or dialog; the focus is
never lost; what is chosen and open is told apart in the reader's own colors."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, ViewportSize, expect

from ops.processes import ROOT
from tests.journeys.conftest import (
    INES,
    blank_in_hand,
    complaints,
    enter,
    open_deal,
    past_the_screen,
    saved,
    signed_in,
)

pytestmark = pytest.mark.journey
RULES = {
    "type": "tag",
    "values": ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"],
}
OF_COLOR = {"type": "rule", "values": ["color-contrast", "link-in-text-block"]}
"""All that another scheme can change."""
LOOK = """rules => axe.run({runOnly: rules, resultTypes: ['violations']}).then(found =>
    found.violations.flatMap(v => v.nodes.map(node => [v.id, node.html.slice(0, 160)])))"""
"""What fails alone: all that passes, told to Python with its markup, takes three times as long as looking."""
AXE = ROOT / "web" / "node_modules" / "axe-core" / "axe.min.js"
HOME = "574 N Ropewalk Road · Okafor"
DESK: ViewportSize = {"width": 1280, "height": 800}
PHONE: ViewportSize = {"width": 390, "height": 844}
ENLARGED: ViewportSize = {"width": 640, "height": 400}
"""A desk at 200 %."""
SIZES = [PHONE, ENLARGED, ViewportSize(width=1024, height=768), DESK]
"""The last is the one that walks go on in."""
DRAWN = "new Promise(done => requestAnimationFrame(() => requestAnimationFrame(done)))"
"""What follows the window's size or its colors has followed them."""


def findings(page: Page, rules: dict[str, Any] = RULES) -> list[str]:
    """All that the checker finds, of whatever weight."""
    if not page.evaluate("'axe' in window"):
        page.evaluate(AXE.read_text())
    every: list[tuple[str, str]] = [(rule, html) for rule, html in page.evaluate(LOOK, rules)]
    # A blank is as large as it is printed: its size on the paper is the thing shown, which the criterion
    # excepts.
    found = [
        f"{rule}: {html}" for rule, html in every if not (rule == "target-size" and "data-blank" in html)
    ]
    return found + wider_than_the_window(page)


def wider_than_the_window(page: Page) -> list[str]:
    over = page.evaluate("document.documentElement.scrollWidth - innerWidth")
    return [f"wider than the window by {over} points"] if over > 0 else []


def paper_as_a_slit(page: Page, size: ViewportSize) -> list[str]:
    """A deal's paper is there, and has room."""
    if not re.search(r"/deals/.*by=paper", page.url):
        return []
    box = page.get_by_test_id("paper").bounding_box()
    is_slit = box is None or box["height"] < size["height"] * 0.4 or box["width"] < min(size["width"], 600)
    return [f"the paper is a slit: {box}"] if is_slit else []


def unnamed(page: Page) -> list[str]:
    """A screen has a title of its own, and one heading that says what it is."""
    headings = page.locator("h1:visible").count()
    wrong = [] if page.title().endswith(" · Good Quill") else [f"has the title {page.title()!r}"]
    return wrong + ([] if headings == 1 else [f"has {headings} headings"])


def settled(page: Page) -> None:
    """What the screen asked for is there: on a slow day nothing is on its way for a moment before it."""
    expect(page.get_by_role("navigation", name="Places", exact=True)).to_be_visible()
    expect(page.locator("h1").first).to_be_attached()
    page.wait_for_load_state("networkidle")


def begun(page: Page, product: str) -> list[str]:
    """A session, before any screen; gives the list to which page errors are added."""
    enter(page.context, product, INES)
    return complaints(page)


def ropewalk(page: Page, product: str) -> str:
    """A deal with much in it, by its id."""
    deals = past_the_screen(page, f"{product}/api/deals")
    return next(str(d["id"]) for d in deals if "Ropewalk" in d["name"])


def press(name: str | re.Pattern[str], role: Any = "button", nth: int = 0) -> Callable[[Page], None]:
    return lambda page: page.get_by_role(role, name=name).nth(nth).click()


def from_menu(menu: str, name: str) -> Callable[[Page], None]:
    def choose(page: Page) -> None:
        page.get_by_role("button", name=menu).click()
        page.get_by_role("menuitem", name=name).click()

    return choose


def key(keys: str) -> Callable[[Page], None]:
    return lambda page: page.keyboard.press(keys)


Step = Callable[[Page], None]
# Each screen of the house, and what opens on it: every menu and dialog is looked at, and closed by Escape.
SCREENS: list[tuple[str, list[Step]]] = [
    ("/", [key("Control+k"), press("Inês Calloway-Bright"), key("?")]),
    ("/tasks", [press("Month", "radio"), press("Calendar feed")]),
    ("/new", []),
    ("/property", []),
    ("/property?parcel=5-0404-0084", []),
    ("/contacts", [press("New contact"), press("Amara Okafor")]),
    ("/templates", [press("New template")]),
    ("/clauses", [press("New clause"), press("As it stands")]),
    ("/forms", []),
    ("/forms/papers", []),
    ("/forms/releases", []),
    ("/profile", []),
    ("/no-such-place", []),
]
DEAL: list[tuple[str, list[Step]]] = [
    ("facts", [press("History"), press("More about this deal"), press(re.compile("^From contacts"))]),
    ("facts?listing=26-1104", []),
    (
        "offers",
        [
            press(re.compile("^More for ")),
            press(re.compile("Another offer|An offer came in")),
            press(re.compile("^(Counter|Amend)$")),
        ],
    ),
    ("package", [press("Add forms"), press("Who signs"), press(re.compile("^More for 101"))]),
    ("money", [press("Purchase price")]),
    (
        "write?by=paper",
        [
            press("Next blank"),
            press("Download in another way"),
            press("Find in this package"),
            press(re.compile("^Size of the paper")),
            press("Work on the paper"),
            from_menu("Work on the paper", "Change by hand"),
            from_menu("Work on the paper", "Places to sign"),
        ],
    ),
    ("write?by=questions", [press("Next"), press("All forms")]),
    ("proof", []),
    ("tasks", [press("Add a task")]),
]
TEMPLATE = ["about", "package", "write?by=paper", "write?by=questions", "facts", "tasks"]


def in_the_dark(page: Page) -> list[str]:
    page.emulate_media(color_scheme="dark")
    page.evaluate(DRAWN)
    found = findings(page, OF_COLOR)
    page.emulate_media(color_scheme="light")
    page.evaluate(DRAWN)
    return [f"in the dark, {f}" for f in found]


def at_every_size(page: Page) -> list[str]:
    """What is wrong of a screen, by size: looked at whole as on a desk and on a phone, and for its width at
    those between."""
    wrong = []
    for size in SIZES:
        page.set_viewport_size(size)
        page.evaluate(DRAWN)
        found = findings(page) if size in (DESK, PHONE) else wider_than_the_window(page)
        wrong += [f"at {size['width']}: {f}" for f in found + paper_as_a_slit(page, size)]
    return wrong


def walk(page: Page, product: str, screens: list[tuple[str, list[Step]]]) -> list[str]:
    """What is wrong with screens, and with what opens on them."""
    wrong, titles = [], set[str]()
    for address, steps in screens:
        page.goto(product + address)
        settled(page)
        titles.add(page.title())
        wrong += [f"{address} {f}" for f in unnamed(page) + at_every_size(page) + in_the_dark(page)]
        for number, step in enumerate(steps, 1):
            step(page)
            page.wait_for_timeout(200)
            wrong += [f"{address}, opened {number}: {f}" for f in findings(page) + in_the_dark(page)]
            page.keyboard.press("Escape")
    if len(titles) < len({address.partition("?")[0] for address, _ in screens}):
        wrong.append(f"two screens have one title: {sorted(titles)}")
    return wrong


def test_signing_in_has_no_finding(product: str, context: BrowserContext) -> None:
    page = context.new_page()
    page.goto(product)
    expect(page.get_by_label("E-mail")).to_be_visible()
    assert unnamed(page) + at_every_size(page) + in_the_dark(page) == []


def test_no_screen_of_the_house_and_nothing_that_opens_there_has_a_finding(
    product: str, context: BrowserContext
) -> None:
    page = context.new_page()
    errors = begun(page, product)
    wrong = walk(page, product, SCREENS)
    assert not wrong, "\n".join(wrong)
    assert errors == []


def test_no_place_of_a_deal_and_nothing_that_opens_there_has_a_finding(
    product: str, context: BrowserContext
) -> None:
    page = context.new_page()
    errors = begun(page, product)
    deal = ropewalk(page, product)
    wrong = walk(page, product, [(f"/deals/{deal}/{place}", steps) for place, steps in DEAL])
    assert not wrong, "\n".join(wrong)
    assert errors == []


def test_no_place_of_a_template_has_a_finding(product: str, context: BrowserContext) -> None:
    page = context.new_page()
    errors = begun(page, product)
    page.goto(f"{product}/templates?begin=true")
    page.get_by_label("Name").fill("Looked at")
    page.get_by_role("button", name="Begin").click()
    page.wait_for_url("**/package")
    template = page.url.split("/")[-2]
    wrong = walk(page, product, [(f"/templates/{template}/{place}", []) for place in TEMPLATE])
    assert not wrong, "\n".join(wrong)
    assert errors == []


def focused(page: Page) -> str:
    """What has the focus, by its name; "BODY" where it is lost."""
    said: str = page.evaluate(
        """() => { const e = document.activeElement, named = e.getAttribute('aria-label')
            return e === document.body ? 'BODY' : (named || e.textContent || e.id).trim() }"""
    )
    return said


def test_the_focus_goes_to_what_was_added_and_is_never_lost(product: str, context: BrowserContext) -> None:
    page = context.new_page()
    errors = signed_in(page, product)
    open_deal(page, "Ridgeline", "Facts")
    page.get_by_role("button", name="Add a buyer").click()
    expect(page.get_by_label(re.compile(r"Buyer \d, given name")).last).to_be_focused()
    page.get_by_role("button", name=re.compile("^Remove buyer")).last.press("Enter")
    saved(page)
    page.wait_for_timeout(300)
    assert focused(page) != "BODY"
    page.get_by_role("button", name="History", exact=True).press("Enter")
    expect(page.get_by_role("dialog")).to_be_visible()
    page.get_by_role("dialog").get_by_role("button", name="Close").press("Enter")
    expect(page.get_by_role("button", name="History", exact=True)).to_be_focused()
    page.get_by_role("navigation", name="Sections of this deal").get_by_role("link", name="Package").press(
        "Enter"
    )
    add = page.get_by_role("button", name="Add forms")
    for opened in (lambda: add.press("Enter"), lambda: (add.focus(), page.keyboard.press("Control+k"))):
        opened()
        expect(page.get_by_role("dialog")).to_be_visible()
        page.keyboard.press("Escape")
        expect(add).to_be_focused()
    more = page.get_by_role("button", name=re.compile("^More for 101"))
    more.press("Enter")
    page.get_by_role("menuitem", name="Under another heading").press("Enter")
    expect(page.get_by_role("dialog")).to_be_visible()
    page.keyboard.press("Escape")
    expect(more).to_be_focused()
    page.get_by_role("button", name=re.compile("^Take out ")).first.press("Enter")
    saved(page)
    page.wait_for_timeout(300)
    assert focused(page).startswith("Take out "), "the next paper's, where the one taken out stood"
    page.get_by_role("button", name="Undo my last change").press("Enter")
    saved(page)
    page.wait_for_timeout(300)
    assert focused(page) != "BODY"
    assert errors == []


def test_two_keys_lead_past_the_header_to_the_first_blank(product: str, context: BrowserContext) -> None:
    page = context.new_page()
    errors = signed_in(page, product)
    open_deal(page, HOME)
    page.reload()
    settled(page)
    page.keyboard.press("Tab")
    assert focused(page) == "Skip to the work"
    page.keyboard.press("Enter")
    page.keyboard.press("Tab")
    first = page.locator("[data-blank]").first
    expect(first).to_be_focused()
    assert errors == []


def test_from_every_place_a_key_leads_to_the_next_open_blank_and_back(
    product: str, context: BrowserContext
) -> None:
    page = context.new_page()
    errors = signed_in(page, product)
    open_deal(page, HOME, "Package")
    settled(page)
    page.keyboard.press("Control+Enter")
    expect(page.get_by_test_id("paper")).to_be_visible()
    seen = [blank_in_hand(page)]
    for _ in range(2):
        page.keyboard.press("Control+Enter")
        seen.append(blank_in_hand(page, other_than=seen[-1]))
    assert len(set(seen)) == 3
    page.keyboard.press("Control+Shift+Enter")
    expect(page.locator(f"[data-blank='{seen[1]}']")).to_be_focused()
    # Write comes back to where it was left.
    page.get_by_role("navigation", name="Sections of this deal").get_by_role("link", name="Offers").click()
    page.get_by_role("navigation", name="Sections of this deal").get_by_role("link", name="Write").click()
    expect(page.locator(f"[data-blank='{seen[1]}']")).to_be_focused()
    # The count in the header is the same way.
    page.get_by_role("region", name="This deal").get_by_role("button", name=re.compile("unanswered")).click()
    expect(page.locator(f"[data-blank='{seen[2]}']")).to_be_focused()
    assert errors == []


def test_owners_that_the_roll_names_are_one_key_away_on_the_paper(
    product: str, context: BrowserContext
) -> None:
    page = context.new_page()
    errors = begun(page, product)
    page.goto(f"{product}/new")
    page.get_by_label("Buyer 1, family name").fill("Enterkey")
    page.get_by_role("combobox", name="Property").fill("26-1118")
    page.get_by_role("option", name="26-1118").click()
    page.get_by_role("button", name="Start and compare").click()
    page.get_by_role("button", name="Accept").click()
    expect(page.get_by_role("region", name="Next")).to_contain_text("Blue Heron Rentals LLC")
    page.get_by_role("button", name="Go to the next unanswered blank").click()
    expect(page.get_by_test_id("paper")).to_be_visible()
    for _ in range(40):
        page.keyboard.press("Control+Enter")
        page.wait_for_timeout(60)
        if "eller" in (page.evaluate("document.activeElement.getAttribute('aria-label')") or ""):
            break
    lens = page.get_by_role("region", name="Lens")
    expect(lens).to_contain_text("Enter on the paper names Blue Heron Rentals LLC")
    page.keyboard.press("Enter")
    saved(page)
    expect(page.locator(":focus")).to_have_value("Blue Heron Rentals LLC")
    assert errors == []


def test_in_the_readers_own_colors_what_is_chosen_and_open_is_told_apart(
    product: str, browser: Browser
) -> None:
    page = browser.new_context(viewport={"width": 1280, "height": 800}, forced_colors="active").new_page()
    errors = signed_in(page, product)
    open_deal(page, HOME, "Facts")
    outline = "e => getComputedStyle(e).outlineStyle + ' ' + getComputedStyle(e).outlineWidth"
    chosen = page.get_by_role("radio", name=re.compile("^All "))
    other = page.get_by_role("radio", name=re.compile("^Differing "))
    page.get_by_label("Living area").focus()
    assert chosen.evaluate(outline) != other.evaluate(outline)
    places = page.get_by_role("navigation", name="Sections of this deal")
    here, there = (places.get_by_role("link", name=name) for name in ("Facts", "Offers"))
    assert here.evaluate(outline) != there.evaluate(outline)
    page.get_by_label("Living area").focus()
    assert page.get_by_label("Living area").evaluate(outline).startswith("solid")
    assert errors == []


def test_dark_surroundings_leave_the_paper_white(product: str, browser: Browser) -> None:
    page = browser.new_context(viewport={"width": 1280, "height": 800}, color_scheme="dark").new_page()
    errors = signed_in(page, product)
    open_deal(page, HOME)
    settled(page)
    color = "e => getComputedStyle(e).backgroundColor"
    assert page.locator("[data-testid=paper] section").first.evaluate(color) == "rgb(255, 255, 255)"
    light = page.evaluate(
        "getComputedStyle(document.documentElement).backgroundColor.match(/\\d+/g).map(Number)"
    )
    assert max(light) < 60, "the workspace is dark"
    assert errors == []


@pytest.mark.parametrize(
    "path", ["/", "/new", "facts", "money", "package", "write?by=paper", "write?by=questions"]
)
def test_larger_text_loses_and_covers_nothing(product: str, browser: Browser, path: str) -> None:
    page = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
    errors = begun(page, product)
    deal = ropewalk(page, product)
    page.goto(product + (path if path.startswith("/") else f"/deals/{deal}/{path}"))
    settled(page)
    page.evaluate("document.documentElement.style.fontSize = '150%'")
    assert page.evaluate("document.documentElement.scrollWidth - window.innerWidth") <= 0
    covered = page.evaluate(
        """() => [...document.querySelectorAll('main button, main a, main input, header a, header button')]
            .filter(e => !e.closest('[data-testid=paper]'))
            .filter(e => { const r = e.getBoundingClientRect()
                if (!r.width || r.bottom > innerHeight || r.top < 0 || r.right > innerWidth) return false
                const at = document.elementFromPoint(r.left + r.width / 2, r.top + r.height / 2)
                return at && !e.contains(at) && !at.contains(e) && !e.closest('label')?.contains(at)
                    && !e.classList.contains('sr-only') })
            .map(e => e.outerHTML.slice(0, 120))"""
    )
    assert covered == []
    assert errors == []


def test_the_checker_tells_what_is_wrong(product: str, context: BrowserContext) -> None:
    page = context.new_page()
    page.goto(product)
    expect(page.get_by_label("E-mail")).to_be_visible()
    page.evaluate("document.querySelector('main, body').append(document.createElement('img'))")
    assert any(found.startswith("image-alt: <img") for found in findings(page))
    page.evaluate("document.querySelector('main, body').style.width = '400px'")
    wide = [found for found in at_every_size(page) if "wider than the window" in found]
    assert wide == ["at 390: wider than the window by 10 points"]
