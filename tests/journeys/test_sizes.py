"""Every screen at every size, and a deal by thumb."""

from __future__ import annotations

from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.journeys.conftest import deals_of, saved, signed_in

pytestmark = pytest.mark.journey
HOUSE = [
    "/",
    "/duties",
    "/new",
    "/property",
    "/contacts",
    "/templates",
    "/clauses",
    "/forms",
    "/forms/papers",
    "/forms/releases",
    "/profile",
]
DEAL = ["facts", "offers", "money", "package", "proof", "duties", "write?by=paper", "write?by=questions"]
SIZES = [(390, 844), (640, 400), (1024, 768), (1280, 800)]  # 640 by 400 is 1280 by 800 at 200 %


def overflows(page: Page) -> int:
    found: int = page.evaluate("document.documentElement.scrollWidth - window.innerWidth")
    return found


@pytest.mark.parametrize("size", SIZES, ids=lambda s: f"{s[0]}x{s[1]}")
def test_nothing_is_wider_than_the_window(product: str, browser: Browser, size: tuple[int, int]) -> None:
    page = browser.new_context(viewport={"width": size[0], "height": size[1]}).new_page()
    errors = signed_in(page, product)
    deal = deals_of(page)[-1]["id"]
    for path in [*HOUSE, *(f"/deals/{deal}/{place}" for place in DEAL)]:
        page.goto(product + path)
        expect(page.get_by_role("navigation", name="Places", exact=True)).to_be_visible()
        page.wait_for_load_state("networkidle")
        assert overflows(page) <= 0, f"{path} at {size}"
    page.goto(f"{product}/deals/{deal}/write?by=paper")
    paper = page.get_by_test_id("paper").bounding_box()
    assert paper is not None and paper["height"] >= size[1] * 0.4, "the paper is no slit"
    assert paper["width"] >= min(size[0], 600)
    assert not errors
    page.context.close()


def test_by_thumb_from_today_to_the_downloaded_package(
    product: str, browser: Browser, tmp_path: Path
) -> None:
    context = browser.new_context(
        viewport={"width": 390, "height": 844}, has_touch=True, is_mobile=True, accept_downloads=True
    )
    page = context.new_page()
    errors = signed_in(page, product)
    page.get_by_role("link", name="574 N Ropewalk Road · Okafor").first.tap()
    # On a phone it begins with the questions; the paper is one tap away.
    parts = page.get_by_role("navigation", name="Parts of the work")
    parts.get_by_role("button", name="Property").tap()
    expect(page.get_by_role("heading", name="Which items does the seller take along?")).to_be_visible()
    page.get_by_role("textbox", name="Excluded items").fill("The porch swing")
    page.get_by_role("button", name="Next", exact=True).tap()
    expect(page.get_by_role("heading", name="Which items does the seller take along?")).not_to_be_visible()
    saved(page)
    lens = page.get_by_role("region", name="Lens")
    lens.get_by_role("button", name="Draw the lens up").tap()
    expect(page.get_by_test_id("place").get_by_role("img").or_(page.get_by_test_id("place"))).to_be_visible()
    lens.get_by_role("button", name="Put the lens down").tap()
    lens.get_by_role("button", name="Paper", exact=True).tap()
    lens.get_by_role("button", name="Next open").tap()
    field = lens.get_by_role("textbox").first
    expect(field).to_be_visible()
    field.fill("none")
    lens.get_by_role("button", name="Put the lens down").tap()
    expect(lens.get_by_role("button", name="Draw the lens up")).to_be_visible()
    saved(page)
    with page.expect_download() as coming:
        page.get_by_role("button", name="Download", exact=True).tap()
    out = tmp_path / "package.pdf"
    coming.value.save_as(out)
    assert out.read_bytes().startswith(b"%PDF")
    assert not errors
    context.close()
