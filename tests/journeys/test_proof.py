"""A package proofread: from a remark to its place, to its remedy, to a reason that is kept."""

from __future__ import annotations

import pytest
from playwright.sync_api import BrowserContext, expect

from tests.journeys.conftest import open_deal, saved, signed_in

pytestmark = pytest.mark.journey


def test_a_remark_leads_to_its_place_its_remedy_or_a_reason(product: str, context: BrowserContext) -> None:
    page = context.new_page()
    errors = signed_in(page, product, "bertil@marrowfinch.example")
    open_deal(page, "835 Willow Place · Kowalczyk", "Proofread")  # nobody else's test fills it
    expect(page.get_by_role("status").filter(has_text="Not ready yet")).to_be_visible()

    called = page.get_by_role("listitem").filter(has_text="420 Owners’ Association Addendum belongs")
    called.get_by_role("button", name="Add 420").press("Enter")
    expect(called).to_have_count(0)
    page.get_by_role("button", name="Undo", exact=True).last.click()
    expect(called).to_have_count(1)

    first = page.get_by_role("listitem").filter(has_text="no answer yet.").first
    said = first.inner_text().split(": no answer yet.")[0]
    first.get_by_role("button", name="Keep as is").click()
    first.get_by_label("Reason for keeping it as is").fill("The seller tells us on Friday")
    page.reload()
    first.get_by_role("button", name="Keep as is").click()
    why = first.get_by_label("Reason for keeping it as is")
    expect(why).to_have_value("The seller tells us on Friday")
    why.press("Enter")
    kept = page.get_by_role("region", name="Kept as is").get_by_role("listitem")
    expect(kept).to_contain_text("The seller tells us on Friday")
    expect(kept).to_contain_text(f"{said}: no answer yet.")
    kept.get_by_role("button", name="Ask again").click()
    expect(kept).to_have_count(0)

    page.get_by_role("link", name=f"Go to: {said}: no answer yet.").click()
    expect(page.get_by_test_id("paper")).to_be_visible()
    saved(page)
    assert not errors
