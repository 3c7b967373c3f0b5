"""The main job, as a user does it: from a listing number to a filled package on paper."""

from __future__ import annotations

import subprocess
from pathlib import Path

import pytest
from playwright.sync_api import BrowserContext, expect

from tests.journeys.conftest import go_to_page, saved, sign_in

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
    expect(page.get_by_role("heading", name=f"Listing {NUMBER}")).to_be_visible()
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
    page.get_by_role("navigation", name="Places of this deal").get_by_role("link", name="Write").click()
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
