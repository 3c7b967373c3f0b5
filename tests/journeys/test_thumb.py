"""A deal by thumb."""

from __future__ import annotations

from pathlib import Path

import pytest
from playwright.sync_api import Browser, expect

from tests.journeys.conftest import saved, signed_in

pytestmark = pytest.mark.journey


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
    expect(page.get_by_role("heading", name="Which items will the seller remove?")).to_be_visible()
    page.get_by_role("textbox", name="Excluded items").fill("The porch swing")
    page.get_by_role("button", name="Next", exact=True).tap()
    expect(page.get_by_role("heading", name="Which items will the seller remove?")).not_to_be_visible()
    saved(page)
    lens = page.get_by_role("region", name="Lens")
    lens.get_by_role("button", name="Show details").tap()
    expect(page.get_by_test_id("place").get_by_role("img").or_(page.get_by_test_id("place"))).to_be_visible()
    lens.get_by_role("button", name="Hide details").tap()
    lens.get_by_role("button", name="Paper", exact=True).tap()
    lens.get_by_role("button", name="Next blank").tap()
    field = lens.get_by_role("textbox").first
    expect(field).to_be_visible()
    field.fill("none")
    lens.get_by_role("button", name="Hide details").tap()
    expect(lens.get_by_role("button", name="Show details")).to_be_visible()
    saved(page)
    with page.expect_download() as coming:
        page.get_by_role("button", name="Download", exact=True).tap()
    out = tmp_path / "package.pdf"
    coming.value.save_as(out)
    assert out.read_bytes().startswith(b"%PDF")
    assert not errors
    context.close()
