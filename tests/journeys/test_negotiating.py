"""An offer that goes back and forth: countered with a paper that is sent alone; the other side's copy comes
back changed, is compared, taken over, accepted."""

from __future__ import annotations

import io
import re
from pathlib import Path

import pikepdf
import pytest
from playwright.sync_api import BrowserContext, expect

from tests.journeys.conftest import PAPERS_FOR_PACKAGE, open_deal, saved, signed_in, told
from tests.journeys.test_access import findings

pytestmark = pytest.mark.journey
BERTIL = "bertil@marrowfinch.example"
HOME = "Haddad"


def test_an_offer_is_countered_compared_and_accepted(
    product: str, context: BrowserContext, tmp_path: Path
) -> None:
    page = context.new_page()
    errors = signed_in(page, product, BERTIL)
    open_deal(page, HOME, "Offers")
    deal = page.url.split("/deals/")[1].split("/")[0]
    turns = page.get_by_role("region", name="Turns of")

    # Our counter: what is typed is on its paper, and nowhere else.
    turns.get_by_role("button", name="Counter", exact=True).click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Purchase price, to be").fill("a lot")
    dialog.get_by_role("button", name="Make the counter-offer").click()
    expect(page.get_by_text("Purchase price: “a lot” isn't an amount")).to_be_visible()
    dialog.get_by_label("Purchase price, to be").fill("401k")
    page.reload()  # half typed
    turns.get_by_role("button", name="Counter", exact=True).click()
    expect(dialog.get_by_label("Purchase price, to be")).to_have_value("401k")
    assert not findings(page)
    dialog.get_by_role("button", name="Make the counter-offer").click()
    expect(turns.get_by_role("columnheader", name="Counter-offer 1")).to_be_visible()
    expect(turns.get_by_role("cell", name="$401,000 (moved)")).to_be_visible()
    turns.get_by_role("link", name="Counter-Offer").click()
    paper = page.get_by_role("region", name="320 Counter-Offer, page 1")
    price = paper.get_by_label("Countered price", exact=True)
    expect(price).to_have_value("401,000.00")

    # Changed on its paper, it is the turn that changes, and what follows from it.
    price.fill("402,500")
    price.press("Tab")
    saved(page)
    expect(paper.get_by_label("Countered deposit", exact=True)).to_have_value("4,025.00")

    # It goes alone.
    page.get_by_role("navigation", name="Sections of this deal").get_by_role("link", name="Offers").click()
    expect(turns.get_by_role("cell", name="$402,500 (moved)")).to_be_visible()
    expect(turns.get_by_text("Not sent yet")).to_be_visible()
    turns.get_by_role("button", name="Change Counter-offer 1").click()
    expect(dialog.get_by_label("Purchase price, to be")).to_have_value("402,500.00")
    dialog.get_by_label("Purchase price, to be").fill("403k")
    dialog.get_by_role("button", name="Cancel").click()
    turns.get_by_role("button", name="Change Counter-offer 1").click()
    expect(dialog.get_by_label("Purchase price, to be")).to_have_value("402,500.00")
    dialog.get_by_label("Purchase price, to be").fill("401k")
    dialog.get_by_role("button", name="Save the changes").click()
    expect(turns.get_by_role("cell", name="$401,000 (moved)")).to_be_visible()
    # Nobody agrees to it for the other side.
    turns.get_by_role("button", name="Both agreed on Counter-offer 1").click()
    expect(dialog.get_by_text("the other side hasn’t answered it")).to_be_visible()
    expect(dialog.get_by_role("button", name="Accept")).to_be_disabled()
    assert not findings(page)
    dialog.get_by_role("button", name="Cancel").click()
    turns.get_by_role("button", name="Send Counter-offer 1 to be signed").click()
    papers = page.get_by_role("region", name="Papers of this round")
    expect(papers.get_by_role("checkbox", checked=True)).to_have_count(1)
    expect(papers.get_by_role("checkbox", checked=True)).to_have_accessible_name(re.compile("^320 "))

    # Their copy of the agreement comes back with another price.
    documents = told(page, f"/api/deals/{deal}")["documents"]
    agreement = next(d["id"] for d in documents if d["number"] == "301")
    ours = context.request.get(f"{product}/api/deals/{deal}/documents/{agreement}.pdf").body()
    back = tmp_path / "Agreement back from them.pdf"
    with pikepdf.open(io.BytesIO(ours)) as pdf:
        del pdf.pages[-1]
        pdf.save(back)
    page.get_by_role("navigation", name="Sections of this deal").get_by_role("link", name="Package").click()
    page.get_by_label(PAPERS_FOR_PACKAGE).set_input_files(back)
    page.get_by_role("button", name="Put it there").click()
    page.get_by_role("button", name="Changes in").click()
    expect(dialog.get_by_text("A page of ours is missing")).to_be_visible()
    expect(dialog.get_by_label("Compared with")).to_have_value(agreement)
    expect(dialog.get_by_text("No signatures found.")).to_be_visible()
    assert not findings(page)
    page.keyboard.press("Escape")
    expect(page.get_by_role("button", name="Changes in")).to_be_focused()

    # What they said otherwise, and both agree.
    page.get_by_role("navigation", name="Sections of this deal").get_by_role("link", name="Offers").click()
    turns.get_by_role("button", name="They countered").click()
    dialog.get_by_label("Purchase price, to be").fill("407,500")
    dialog.get_by_label("Paper to use").select_option(index=1)
    dialog.get_by_role("button", name="Save their changes").click()
    expect(turns.get_by_role("columnheader", name=re.compile("^Counter-offer 2"))).to_be_visible()
    expect(turns.get_by_text("Answered by Counter-offer 2")).to_be_visible()
    turns.get_by_role("button", name="Both agreed on Counter-offer 2").click()
    expect(dialog.get_by_role("row", name="Purchase price").get_by_text("(changes)")).to_be_attached()
    dialog.get_by_label("How you know").fill("Told by their agent by phone")
    dialog.get_by_role("button", name="Accept").click()
    amended = page.get_by_role("region", name="Amendments to")
    expect(amended.get_by_text("Told by their agent by phone. Recorded by Bertil Osei")).to_have_count(2)
    saved(page)
    facts = {f["key"]: f.get("shown") for f in told(page, f"/api/deals/{deal}")["facts"]}
    assert facts["terms.purchase_price"] == "$407,500.00"
    assert errors == []
